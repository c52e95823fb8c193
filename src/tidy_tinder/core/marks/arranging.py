"""By what a shelf can be put in order: value, hue, chroma, temperature, and the family of its hue."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.difference.components import chroma, hue_angle, temperature, value_step
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.quantities import Scalar, as_lab

# Below this chroma a colour is shelved as a grey: ours, a little above what is called grey in paints.
GREY_BELOW = 10.0
# Upper hue angles of the families, CIELAB degrees; ours, between the unitary hues at 24°, 90°, 163°, 246°.
_FAMILIES = (
    (12.0, "pinks and magentas"),
    (42.0, "reds"),
    (72.0, "oranges and browns"),
    (102.0, "yellows"),
    (190.0, "greens"),
    (285.0, "blues"),
    (330.0, "violets"),
    (360.0, "pinks and magentas"),
)
GREYS = "greys"
HUE_FAMILIES = ("yellows", "oranges and browns", "reds", "pinks and magentas", "violets", "blues", "greens", GREYS)


@dataclass(frozen=True)
class Arrangement:
    """Figures of N colours, each (N,): Munsell value, hue angle in degrees, chroma, temperature; family words."""

    value: Scalar
    hue: Scalar
    chroma: Scalar
    temperature: Scalar
    family: tuple[str, ...]


def arrange(lab: ArrayLike) -> Arrangement:
    """What puts Lab (N, 3), D65, 2°, in order. Raises ShapeError for another shape."""
    labs = as_lab(lab)
    if labs.ndim != 2:
        raise ShapeError(f"lab must be (N, 3), not {labs.shape}.")
    hue, strength = hue_angle(labs), chroma(labs)
    return Arrangement(value_step(labs), hue, strength, temperature(labs), _families(hue, strength))


def _families(hue: Scalar, strength: Scalar) -> tuple[str, ...]:
    limits: NDArray[np.float64] = np.array([limit for limit, _ in _FAMILIES])
    at = np.searchsorted(limits, hue, side="right").clip(max=len(_FAMILIES) - 1)
    names = [name for _, name in _FAMILIES]
    return tuple(
        GREYS if grey else names[i] for grey, i in zip((strength < GREY_BELOW).tolist(), at.tolist(), strict=True)
    )


@dataclass(frozen=True)
class Gap:
    """A hole in a ladder of values: after which place (0 counts from the lightest), from value to value."""

    after: int
    lighter: float
    darker: float


# Steps between neighbours from which a ladder has a hole: two steps are plainly seen (common practice, no source).
GAP_STEPS = 2.0


def ladder_gaps(values: ArrayLike) -> tuple[Gap, ...]:
    """The holes between neighbours of Munsell values (N,), put from light to dark."""
    steps = np.sort(np.asarray(values, dtype=np.float64).ravel())[::-1]
    return tuple(
        Gap(i, float(steps[i]), float(steps[i + 1]))
        for i in np.flatnonzero(steps[:-1] - steps[1:] >= GAP_STEPS).tolist()
    )
