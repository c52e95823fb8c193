"""A morning of the random artist; `make soak` is her month."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.conftest import demo_copy
from tests.soak.artist import Artist
from tests.soak.disk import small_disk


@pytest.mark.browser
def test_a_morning_with_kills_leaves_a_whole_collection_that_can_be_taken_back(demo_file: Path, tmp_path: Path) -> None:
    # The collection, its tables, of 12 MB each, and some backups of it.
    with small_disk(tmp_path / "disk", 300) as mounted:
        data = tmp_path / "disk" / "data"
        demo_copy(demo_file, data / "collection.sqlite")
        artist = Artist(data, seed=1)
        artist.work(actions=60, kills=2, full_disks=3 if mounted else 0)
        artist.end()
