"""The drawing laid on its reference: blocks of locally normalised lightness found again, and a robust affine map."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reference.value_check.refusal import UNLIKE, CannotCheckError, Gate

_Array = NDArray[np.float64]
_Floats = NDArray[np.float32]

# The design's figures, as shares of the width: blocks, their distance, how far each is looked for, in two passes.
_BLOCK, _EVERY, _SEARCH, _AGAIN = 0.11, 0.07, 0.025, 0.008
# A block counts from this height of its peak and this margin over the next one on.
_PEAK, _MARGIN = 0.35, 0.03
# Few blocks: the search is widened by this factor once.
_LEAST_BLOCKS, _WIDER = 20, 2.0
_MOST_RESIDUAL = 0.008
_TUKEY = 4.685
_ROUNDS = 15
# What lightness is normalised over, as a share of the width.
_LOCAL = 0.03
# Within so many pixels of a peak nothing is another peak.
_SAME_PEAK = 4


@dataclass(frozen=True, eq=False)
class LaidOn:
    """map: (2, 3), from pixels of the reference to pixels of the drawing; residual: scatter of the blocks about it, as
    a share of the width; blocks: how many it rests on; widened: the taps were looser than usual.
    """

    map: _Array
    residual: float
    blocks: int
    widened: bool


def lay_on(drawing: _Floats, reference: _Floats) -> LaidOn:
    """Lay a drawing on its reference: L* (h, w) of each, of equal size.

    Raises CannotCheckError where it is not found.
    """
    wide = drawing.shape[1]
    mine, theirs = _normalised(drawing), _normalised(reference)
    search, widened = _SEARCH, False
    at, moved = _found(mine, theirs, np.eye(2, 3), round(search * wide))
    if len(at) < _LEAST_BLOCKS:
        search, widened = _WIDER * _SEARCH, True
        at, moved = _found(mine, theirs, np.eye(2, 3), round(search * wide))
    if len(at) < _LEAST_BLOCKS // 2:
        raise CannotCheckError(UNLIKE, Gate.LIKENESS)
    first, _ = _affine(at, moved)
    at, moved = _found(mine, theirs, first, round(_AGAIN * wide))
    if len(at) < _LEAST_BLOCKS // 2:
        raise CannotCheckError(UNLIKE, Gate.LIKENESS)
    fitted, residual = _affine(at, moved)
    if residual / wide > _MOST_RESIDUAL:
        raise CannotCheckError(
            "The drawing cannot be laid on the picture: tap the corners again, as exactly as you can.", Gate.RESIDUAL
        )
    return LaidOn(fitted, residual / wide, len(at), widened)


def laid(values: NDArray[np.float32], on: LaidOn, size: tuple[int, int]) -> NDArray[np.float32]:
    """What a drawing shows (h, w) or (h, w, 3) where the reference lies; size: (h, w) of that."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(
        cv2.warpAffine(values, on.map, (size[1], size[0]), flags=flags, borderMode=cv2.BORDER_REPLICATE), np.float32
    )


def _normalised(lightness: _Floats) -> _Floats:
    """Lightness less its local mean, by its local deviation: what is left of light and of the artist's contrast."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    sigma = _LOCAL * lightness.shape[1]
    fine = cv2.GaussianBlur(lightness, (0, 0), 1.5)
    mean = cv2.GaussianBlur(fine, (0, 0), sigma)
    spread = np.sqrt(np.maximum(cv2.GaussianBlur((fine - mean) ** 2, (0, 0), sigma), 0.0))
    return np.asarray((fine - mean) / (spread + 1.0), dtype=np.float32)


def _found(mine: _Floats, theirs: _Floats, along: _Array, search: int) -> tuple[_Array, _Array]:
    """Middles of blocks of the reference (N, 2), and where each is found in the drawing (N, 2)."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    high, wide = mine.shape
    half, step = round(_BLOCK * wide) // 2, max(1, round(_EVERY * wide))
    at, moved = [], []
    for y in range(half, high - half, step):
        for x in range(half, wide - half, step):
            block = theirs[y - half : y + half, x - half : x + half]
            cx, cy = along @ (x, y, 1.0)
            left, top = round(cx) - half - search, round(cy) - half - search
            right, bottom = round(cx) + half + search, round(cy) + half + search
            if left < 0 or top < 0 or right > wide or bottom > high or float(block.std()) < 0.25:
                continue
            score = cv2.matchTemplate(mine[top:bottom, left:right], block, cv2.TM_CCOEFF_NORMED)
            place = _peak(np.asarray(score, dtype=np.float32))
            if place is not None:
                at.append((x, y))
                moved.append((left + half + place[0], top + half + place[1]))
    return np.array(at, dtype=np.float64).reshape(-1, 2), np.array(moved, dtype=np.float64).reshape(-1, 2)


def _peak(score: _Floats) -> tuple[float, float] | None:
    """The place of the one peak of a score, finer than a pixel; None where it is low, at the edge or one of several."""
    y, x = (int(v) for v in np.unravel_index(int(score.argmax()), score.shape))
    best = float(score[y, x])
    if best < _PEAK or not (0 < y < score.shape[0] - 1 and 0 < x < score.shape[1] - 1):
        return None
    others = score.copy()
    others[max(y - _SAME_PEAK, 0) : y + _SAME_PEAK + 1, max(x - _SAME_PEAK, 0) : x + _SAME_PEAK + 1] = -1.0
    if best - float(others.max()) < _MARGIN:
        return None
    return x + _vertex(score[y, x - 1 : x + 2]), y + _vertex(score[y - 1 : y + 2, x])


def _vertex(three: NDArray[np.float32]) -> float:
    """Where a parabola through three scores is highest, from the middle one."""
    a, b, c = (float(v) for v in three)
    bend = a - 2.0 * b + c
    return 0.0 if bend >= 0.0 else float(np.clip(0.5 * (a - c) / bend, -0.5, 0.5))


def _affine(at: _Array, moved: _Array) -> tuple[_Array, float]:
    """The robust affine map (2, 3), and the scatter of what is left in pixels."""
    terms = np.column_stack([at, np.ones(len(at))])
    weights = np.ones(len(at))
    # From the median shift, so that a crowd of wrong blocks does not draw it away at the beginning.
    off = np.hypot(*(moved - at - np.median(moved - at, axis=0)).T)
    fitted = np.zeros((3, 2))
    for _ in range(_ROUNDS):
        scale = max(1.4826 * float(np.median(off)), 0.3)
        weights = np.maximum(1.0 - (off / (_TUKEY * scale)) ** 2, 0.0) ** 2
        root = np.sqrt(weights)[:, None]
        fitted = np.linalg.lstsq(terms * root, moved * root, rcond=None)[0]
        off = np.hypot(*(moved - terms @ fitted).T)
    return np.asarray(fitted.T), 1.4826 * float(np.median(off))
