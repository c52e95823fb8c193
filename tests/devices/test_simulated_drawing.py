"""The simulated drawing: what is laid, what is left bare, faults that are the same each time and are mended."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from tidy_tinder.devices.simulated_camera.conditions import SHOTS, Condition
from tidy_tinder.devices.simulated_camera.drawn_picture import SimulatedDrawing, photograph_drawing

PENCILS = ("Heron 101", "Heron 140", "Heron 119", "Tallow M40")


@pytest.fixture
def drawing() -> SimulatedDrawing:
    """From dark to light across, and no hue."""
    picture = np.broadcast_to(np.linspace(0.02, 0.7, 300)[None, :, None], (200, 300, 3)).astype(np.float32)
    return SimulatedDrawing(picture, (300.0, 200.0), "Vellum board", PENCILS, (), "one")


def seen(drawing: SimulatedDrawing) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(photograph_drawing(drawing, SHOTS[Condition.WINDOW]))).convert("L"), float)


def test_it_lies_across_with_a_bare_margin_and_follows_the_picture(drawing: SimulatedDrawing) -> None:
    photo = seen(drawing)
    high, wide = photo.shape
    assert wide > high
    inside = np.median(photo[int(0.25 * high) : int(0.75 * high)], axis=0)
    dark, light = (np.median(inside[int(at * wide) : int((at + 0.15) * wide)]) for at in (0.2, 0.65))
    assert dark < light - 20
    assert inside[int(0.06 * wide)] > light + 10  # the margin


def test_the_same_is_drawn_each_time_and_mending_changes_only_some_places(drawing: SimulatedDrawing) -> None:
    one, again, mended = seen(drawing), seen(drawing), seen(replace(drawing, mended=True))
    assert (one == again).all()
    changed = np.abs(one - mended) > 15
    assert 0.002 < changed.mean() < 0.2


def test_pencils_that_are_still_to_come_leave_the_paper_bare(drawing: SimulatedDrawing) -> None:
    begun = seen(replace(drawing, laid=(), to_come=PENCILS))
    high, wide = begun.shape
    inside = begun[int(0.3 * high) : int(0.7 * high), int(0.3 * wide) : int(0.7 * wide)]
    assert inside.std() < 8  # nothing but light falling off
