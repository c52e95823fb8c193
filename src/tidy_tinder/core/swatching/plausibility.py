"""Whether a reading can be right: compared with bare paper, with earlier readings, with what the colour can be.

A doubt never throws a reading away: it is a reason to look and to read again. The limits are ours; the
measurements behind them are in docs/decisions/0007-doubting-a-reading.md.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.quantities import Lab, as_lab
from tidy_tinder.core.reflectance.colorimetry import lab_to_xyz, xyz_to_lab


class Doubt(StrEnum):
    """What makes a reading doubtful."""

    BARE = "bare paper"
    EARLIER = "differs from earlier"
    COLOUR = "cannot be this colour"


# Within this of the bare ground a reading shows no mark, if the colour itself is farther from it than
# _SHOWS_FROM.
_BARE_WITHIN = 1.0
_SHOWS_FROM = 8.0
# Two makings of one mark differ by less than this (99th percentile 2.8 at medium pressure), with room.
EARLIER_WITHIN = 4.0
# Distance from the line between the ground and the full colour. On a pale ground at heavy pressure a chart
# value is near; elsewhere a transparent pencil leaves that line by up to 14.
_NEAR_LINE = 8.0
_FAR_LINE = 16.0
# A ground at least as light as this is pale.
_PALE_L = 85.0
# Coverages tried along the line; a little over 1, since a mark can be fuller than its chart.
_COVERAGES = np.linspace(0.0, 1.15, 47)[:, None]


@dataclass(frozen=True)
class Doubtful:
    """One reason to doubt a reading: delta_e is the figure behind it, against `compared_with` (3,)."""

    doubt: Doubt
    delta_e: float
    compared_with: Lab


@dataclass(frozen=True)
class Expected:
    """What is known before a reading.

    ground: Lab (3,) of what the mark lies on. full: Lab (3,) of the full colour (its heavy mark here or its
    chart value), or None. earlier: Lab (3,) of the same kind of mark measured before, or None. heavy: whether
    a heavy mark of one layer is read. ordinary: False for a metallic, neon or pearl pencil, whose colour proves
    nothing.
    """

    ground: Lab
    full: Lab | None
    earlier: Lab | None
    heavy: bool
    ordinary: bool = True


def doubts(reading: Lab, expected: Expected) -> tuple[Doubtful, ...]:
    """Why a reading Lab (3,), D65, 2°, may be wrong; empty where nothing speaks against it.

    Raises ShapeError for a reading that is no Lab.
    """
    seen = as_lab(reading)
    doubtful: list[Doubtful] = []
    bare = float(delta_e_2000(seen, expected.ground))
    shows = expected.full is None or float(delta_e_2000(expected.full, expected.ground)) > _SHOWS_FROM
    if bare < _BARE_WITHIN and shows:
        doubtful.append(Doubtful(Doubt.BARE, bare, expected.ground))
    if expected.earlier is not None:
        apart = float(delta_e_2000(seen, expected.earlier))
        if apart > EARLIER_WITHIN:
            doubtful.append(Doubtful(Doubt.EARLIER, apart, expected.earlier))
    elif expected.full is not None and expected.ordinary and not doubtful:
        distance, nearest = _from_line(seen, expected.ground, expected.full)
        pale = float(expected.ground[0]) >= _PALE_L
        if distance > (_NEAR_LINE if expected.heavy and pale else _FAR_LINE):
            doubtful.append(Doubtful(Doubt.COLOUR, distance, nearest))
    return tuple(doubtful)


def _from_line(seen: Lab, ground: Lab, full: Lab) -> tuple[float, Lab]:
    """ΔE00 to the nearest mix of ground and full colour, and that mix (Yule–Nielsen 1951, n = 2, on XYZ)."""
    a, b = np.sqrt(lab_to_xyz(ground)), np.sqrt(lab_to_xyz(full))
    line = xyz_to_lab(np.clip((1.0 - _COVERAGES) * a + _COVERAGES * b, 1e-4, None) ** 2)
    distances = delta_e_2000(seen, line)
    at = int(np.argmin(distances))
    return float(distances[at]), line[at]


def farthest_apart(labs: Sequence[Lab]) -> float:
    """The largest ΔE00 between any two of some marks (3,) each; 0 for fewer than two."""
    if len(labs) < 2:
        return 0.0
    stacked = np.asarray(labs)
    return float(np.max(delta_e_2000(stacked[:, None], stacked[None])))
