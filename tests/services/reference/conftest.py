"""A drawing of the demo, and pictures opened in it."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from tests.services.at_home import VELLUM
from tests.services.reference.pictures import until_settled

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Blacks, WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import DrawingAs, begin_drawing
from tidy_tinder.services.reference.opening import PictureOpener
from tidy_tinder.services.reference.store import add_reference


@pytest.fixture
def opener(demo: Collection) -> Iterator[PictureOpener]:
    opener = PictureOpener(demo)
    yield opener
    opener.close()


@pytest.fixture
def drawing(demo: Collection) -> int:
    said = DrawingAs("Plate", VELLUM, 210, 297, Closest.OVERALL, False, Blacks.ALLOWED, False, WorkOrder.LIGHT_TO_DARK)
    return begin_drawing(demo, said)[0]


@pytest.fixture
def opened(demo: Collection, opener: PictureOpener, drawing: int) -> Callable[[bytes], int]:
    def open_file(content: bytes) -> int:
        number, _ = add_reference(demo, drawing, "cap.png", content)
        opener.wake()
        until_settled(demo, number)
        return number

    return open_file
