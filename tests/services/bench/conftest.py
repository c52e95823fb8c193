"""A drawing of the demo with a bench before it, and a clock that a test sets."""

from __future__ import annotations

from datetime import datetime, timedelta
from importlib import import_module

import pytest
from tests.services.at_home import VELLUM

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Blacks, WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import DrawingAs, begin_drawing
from tidy_tinder.storage.models import Recipe

DRAWING, SCARLET_CAP = 1, 1


class Time:
    """A clock that a test sets."""

    def __init__(self) -> None:
        self.at = datetime(2026, 11, 1, 9, 0)

    def __call__(self) -> datetime:
        return self.at

    def passes(self, **by: float) -> None:
        self.at += timedelta(**by)


@pytest.fixture
def time(monkeypatch: pytest.MonkeyPatch) -> Time:
    time = Time()
    for module in ("clock", "drying", "ending", "log", "place", "view"):
        monkeypatch.setattr(import_module(f"tidy_tinder.services.bench.{module}"), "now", time)
    return time


@pytest.fixture
def drawn(demo: Collection) -> Collection:
    """The demo with a drawing on vellum, and the recipe of the scarlet cap that belongs to it."""
    said = DrawingAs("Plate", VELLUM, 210, 297, Closest.OVERALL, False, Blacks.ALLOWED, False, WorkOrder.LIGHT_TO_DARK)
    assert begin_drawing(demo, said)[0] == DRAWING
    with demo() as session:
        session.get_one(Recipe, SCARLET_CAP).drawing_id = DRAWING
        session.commit()
    return demo
