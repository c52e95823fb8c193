"""A collection small enough that all its pairs are mixed in a moment."""

from __future__ import annotations

import pytest
from tests.services.at_home import keep_every

from tidy_tinder.services.background.runtime import Collection


@pytest.fixture
def few(demo: Collection) -> Collection:
    """The demo with every sixth of its pencils."""
    return keep_every(6, demo)
