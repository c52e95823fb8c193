"""A morning of the random artist; `make soak` is her month."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import demo_copy
from tests.soak.artist import Artist


@pytest.mark.browser
def test_a_morning_with_kills_leaves_a_whole_collection_that_can_be_taken_back(demo_file: Path, tmp_path: Path) -> None:
    demo_copy(demo_file, tmp_path / "data" / "collection.sqlite")
    artist = Artist(tmp_path / "data", seed=1)
    artist.work(actions=60, kills=2)
    artist.end()
