"""Plain patches of a colour, and how a shown colour is known."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import hex_of, lab_from_hex, lab_to_linear_rgb, on_screen

LabTriple = tuple[float, float, float]

# A chart is printed on white; it is shown on the screen's own.
CHART_GROUND: LabTriple = (100.0, 0.0, 0.0)


class Trust(StrEnum):
    """How a shown colour is known."""

    MEASURED = "measured"
    PREDICTED = "predicted"
    CHART = "chart"
    NONE = "none"


@dataclass(frozen=True)
class Patch:
    """A plain patch of one colour: Lab, D65, 2°; hex clipped to the screen; grey, the same L* without a hue;
    on_screen says whether the screen can show it.
    """

    lab: LabTriple
    hex: str
    grey: str
    on_screen: bool


@dataclass(frozen=True)
class Seen:
    """What layers look like. band: predicted, or measured by photo, the ΔE00 within which nine of ten lie."""

    patch: Patch
    trust: Trust
    band: float | None


def patch(lab: Sequence[float] | Lab) -> Patch:
    """A plain patch of a Lab (3,)."""
    linear = lab_to_linear_rgb(np.asarray(lab))
    L, a, b = (float(v) for v in lab)
    return Patch((L, a, b), hex_of(linear), grey_hex(L), bool(on_screen(linear)))


def patch_of_hex(text: str) -> Patch:
    """The patch of a colour as a screen has it, six hexadecimal digits. Raises OutOfRangeError."""
    return patch(lab_from_hex(text))


def grey_hex(L: float) -> str:
    """The screen's grey of a lightness L*."""
    return hex_of(lab_to_linear_rgb(np.array([L, 0.0, 0.0])))
