"""The corners of a drawn picture found in a photo of its sheet, to be offered: the artist looks at them and moves them.

What is darker than the paper round it and does not run out of the photo is drawn; its outline must be four straight
sides in the proportions of the reference, else nothing is offered: a part that is not drawn yet must not be cut away.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reference.working import Light

_Array = NDArray[np.float64]
_Mask = NDArray[np.uint8]

# All ours, tried on drawings and a camera of their own (benchmarks/value_check.py). Width that it is looked for at.
_WIDTH = 600
# Bare paper sends back at least this share of the light of the lightest place within this share of the width.
_PAPER, _NEAR = 0.8, 0.4
# Strokes that lie no further apart belong together; what is smaller than a speck does not count. Shares of the width.
_TOGETHER, _SPECK = 0.02, 0.00002
# A picture takes so much of the photo; so much of the four-sided figure is filled by what was found.
_LEAST_SHARE, _FILLED = 0.06, 0.97
# Of each side, the ends are left out when its line is laid; the line holds to so much of the width.
_ENDS, _STRAIGHT = 0.12, 0.006
# Height by width may be off by so much, opposite sides from each other by so much, as ln: a phone is never quite level.
_PROPORTION, _TAPER = 0.1, 0.2


def find_picture(photo: Light, aspect: float) -> _Array | None:
    """Corners (4, 2) of the drawn picture, x and y from 0 to 1 of the photo (H, W, 3) in linear light: top left, top
    right, bottom right, bottom left. aspect: height by width of the reference. None where what is drawn has no four
    straight sides, is cut off, or has other proportions.
    """
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    scale = _WIDTH / photo.shape[1]
    size = (_WIDTH, max(1, round(photo.shape[0] * scale)))
    small = cv2.resize(photo, size, interpolation=cv2.INTER_AREA).mean(axis=-1)
    small = cv2.GaussianBlur(small, (0, 0), 1.5)
    outline = _outline(_drawn(np.asarray(small, dtype=np.float32)))
    if outline is None:
        return None
    corners = _four(outline)
    if corners is None:
        return None
    ordered = _in_order(corners)
    return ordered / (size[0], size[1]) if _is_like(ordered, aspect) else None


def _drawn(light: NDArray[np.float32]) -> _Mask:
    """What is darker than the paper near it and does not reach the edge of the photo."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    side = 2 * round(_NEAR * _WIDTH / 2) + 1
    lightest = cv2.dilate(light, cv2.getStructuringElement(cv2.MORPH_RECT, (side, side)))
    dark = (light < _PAPER * lightest).astype(np.uint8)
    _, parts, facts, _ = cv2.connectedComponentsWithStats(dark)
    edge = np.unique(np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]]))
    small = facts[:, cv2.CC_STAT_AREA] < max(4.0, _SPECK * parts.size)
    keep = ~small
    keep[edge] = False
    keep[0] = False
    return np.asarray(keep[parts], dtype=np.uint8)


def _outline(drawn: _Mask) -> _Array | None:
    """Outline (n, 2) of the largest of what lies together; None where there is too little."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    side = 2 * round(_TOGETHER * _WIDTH / 2) + 1
    together = cv2.morphologyEx(drawn, cv2.MORPH_CLOSE, np.ones((side, side), np.uint8))
    contours, _ = cv2.findContours(together, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    largest = max(contours, key=cv2.contourArea, default=None)
    if largest is None or cv2.contourArea(largest) < _LEAST_SHARE * drawn.size:
        return None
    return np.asarray(largest[:, 0], dtype=np.float64)


def _four(outline: _Array) -> _Array | None:
    """The four corners (4, 2) of an outline whose sides are straight; None for any other."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    hull = cv2.convexHull(outline.astype(np.float32))
    length = cv2.arcLength(hull, closed=True)
    simpler = (cv2.approxPolyDP(hull, share * length, True) for share in np.arange(0.01, 0.08, 0.005))
    rough = next((quad for quad in simpler if len(quad) == 4), None)
    if rough is None or cv2.contourArea(outline.astype(np.float32)) < _FILLED * cv2.contourArea(rough):
        return None
    lines = [_side(outline, rough[i, 0], rough[(i + 1) % 4, 0]) for i in range(4)]
    straight = [line for line in lines if line is not None]
    return np.array([_meet(straight[i - 1], straight[i]) for i in range(4)]) if len(straight) == 4 else None


def _side(outline: _Array, start: _Array, end: _Array) -> _Array | None:
    """The line (a, b, c) with a·x + b·y = c, (a, b) of length 1, along the outline between two corners; None where the
    outline there is no line.
    """
    along = (end - start) / np.hypot(*(end - start))
    ahead = (outline - start) @ along / np.hypot(*(end - start))
    across = np.abs((outline - start) @ np.array([-along[1], along[0]]))
    near = outline[(ahead > _ENDS) & (ahead < 1.0 - _ENDS) & (across < 0.03 * _WIDTH)]
    if len(near) < 10:
        return None
    for _ in range(3):
        middle = near.mean(axis=0)
        normal = np.linalg.svd(near - middle, full_matrices=False)[2][1]
        off = np.abs((near - middle) @ normal)
        near = near[off <= max(2.0 * float(np.median(off)), 0.5)]
    if float(np.median(off)) > _STRAIGHT * _WIDTH:
        return None
    return np.array([*normal, float(normal @ middle)])


def _meet(one: _Array, other: _Array) -> _Array:
    return np.asarray(np.linalg.solve(np.array([one[:2], other[:2]]), np.array([one[2], other[2]])))


def _in_order(corners: _Array) -> _Array:
    """Round the picture as the clock goes (y runs down), from the corner that is nearest to the top left."""
    middle = corners.mean(axis=0)
    turn = np.argsort(np.arctan2(*(corners - middle).T[::-1]))
    return np.roll(corners[turn], -int(np.argmin(corners[turn].sum(axis=1))), axis=0)


def _is_like(corners: _Array, aspect: float) -> bool:
    """Whether a four-sided figure can be a picture of these proportions, seen not quite from above."""
    top, right, bottom, left = np.log(np.hypot(*(np.roll(corners, -1, axis=0) - corners).T))
    proportion = 0.5 * (right + left - top - bottom) - np.log(aspect)
    return bool(abs(proportion) < _PROPORTION and abs(top - bottom) < _TAPER and abs(right - left) < _TAPER)
