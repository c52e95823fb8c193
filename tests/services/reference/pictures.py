"""Small pictures as files, and waiting until one is opened."""

from __future__ import annotations

import io
import time

import numpy as np
from PIL import Image
from tests.core.painted_scenes import coded

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.storage.models import PictureState, ReferencePicture

LONG = 20.0
RED, BLUE = (45.0, 55.0, 35.0), (40.0, 0.0, -35.0)


def as_file(pixels: np.ndarray, kind: str = "PNG", **saved: object) -> bytes:
    kept = io.BytesIO()
    Image.fromarray(pixels).save(kept, kind, **saved)
    return kept.getvalue()


def halves(left: tuple[float, float, float] = RED, right: tuple[float, float, float] = BLUE) -> np.ndarray:
    """A picture of two colours, 300 × 200."""
    lab = np.tile(np.array(left, dtype=float), (200, 300, 1))
    lab[:, 150:] = right
    return coded(lab)


def until_settled(collection: Collection, number: int) -> PictureState:
    end = time.monotonic() + LONG
    while True:
        with collection() as session:
            state = session.get_one(ReferencePicture, number).state
        if state in (PictureState.READY, PictureState.REFUSED):
            return state
        assert time.monotonic() < end
        time.sleep(0.02)
