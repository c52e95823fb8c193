"""One colour of a picture parted into the two that it was made of."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.main_colours import showing_place
from tidy_tinder.core.reference.working import Light, nearest_colour, picture_lab

_MEDIAN, _ROUNDS = 3, 12
# Fewer pixels than this are one colour and its noise.
_FEWEST = 60
# Two colours that differ by less than this (ΔE00) are told apart by nobody on paper (a rule of thumb).
_TOLD_APART = 2.0


@dataclass(frozen=True, eq=False)
class TwoColours:
    """The lighter one first. lab: (2, 3); shares: (2,) of the picture; spreads: (2,) rms distance in Lab of what
    belongs to each; places: (2, 2), x and y from 0 to 1 of a pixel that shows each.
    """

    lab: Lab
    shares: NDArray[np.float64]
    spreads: NDArray[np.float64]
    places: NDArray[np.float64]


def split_colour(light: Light, colours: Lab, at: int) -> TwoColours:
    """Part what of a picture (h, w, 3) is nearest to colour `at` of these (n, 3).

    Two means in Lab, begun one deviation to either side along the direction in which it varies most, so that the same
    picture has the same answer. Raises OutOfRangeError where too little of the picture has the colour, or where it is
    one colour.
    """
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    lab = cv2.medianBlur(picture_lab(light).astype(np.float32), _MEDIAN).astype(np.float64)
    nearest, _ = nearest_colour(lab.reshape(-1, 3), colours)
    mine = nearest.reshape(lab.shape[:2]) == at
    own = lab[mine]
    if len(own) < _FEWEST:
        raise OutOfRangeError("Too little of the picture has this colour to part it. Pick the two colours by hand.")
    two = _two_means(own)
    if float(delta_e_2000(two[0], two[1])) < _TOLD_APART:
        raise OutOfRangeError("What has this colour is one colour: its two halves could not be told apart.")
    which, squares = (values.reshape(lab.shape[:2]) for values in nearest_colour(lab.reshape(-1, 3), two))
    parts, off = [mine & (which == i) for i in (0, 1)], np.sqrt(squares)
    if min(int(part.sum()) for part in parts) < _FEWEST // 4:
        raise OutOfRangeError("What has this colour is one colour and a few specks. Pick the two colours by hand.")
    return TwoColours(
        two, np.array([part.mean() for part in parts]),
        np.array([float(np.sqrt((off[part] ** 2).mean())) for part in parts]),
        np.array([showing_place(part, off, lab, two[i]) for i, part in enumerate(parts)]),
    )  # fmt: skip


def _two_means(own: Lab) -> Lab:
    mean = own.mean(axis=0)
    spread, directions = np.linalg.eigh(np.cov((own - mean).T))
    step = directions[:, -1] * np.sqrt(max(float(spread[-1]), 0.0))
    two = np.array([mean + step, mean - step])
    for _ in range(_ROUNDS):
        which = ((own[:, None, :] - two) ** 2).sum(axis=-1).argmin(axis=-1)
        if not 0 < int(which.sum()) < len(own):
            break
        two = np.array([own[which == i].mean(axis=0) for i in (0, 1)])
    return np.asarray(two[np.argsort(-two[:, 0], kind="stable")])
