"""Opacity of a mark from two measurements: over white and over a printed black bar.

The contrast ratio is the luminous reflectance over black divided by that over white, as ISO 6504-3 and ASTM
D2805 define it for paints. What differs here: the ground is drawing paper and a printed bar instead of a
contrast card (their own Y are about .85 and .04, not .80 and .01 to .05), the film is what one heavy layer of
a pencil leaves and not a drawdown of a stated thickness, and its gaps let the ground through. So the figure
compares pencils with one another; it is not the standard's hiding power.
"""

from __future__ import annotations

from dataclasses import dataclass

from numpy.typing import ArrayLike

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.reflectance.colorimetry import lab_to_xyz
from tidy_tinder.core.vocabulary import Opacity

# Contrast ratio from which a mark is semi-opaque, and opaque. Ours: they part the pencils of the demo's
# hidden world about as their charts class them (lower quartile of semi .38, upper quartile of opaque .75).
SEMI_FROM = 0.38
OPAQUE_FROM = 0.66

# Below this luminous reflectance over white a mark is so dark that black under it changes nothing: the ratio
# nears 1 whatever the pencil. Ours.
TOO_DARK_Y = 0.06


@dataclass(frozen=True)
class OpacityTest:
    """The result with its workings: Y over each ground (perfect white is 1), their ratio, the class.

    opacity is None where the mark is too dark for the ratio to tell.
    """

    Y_over_white: float
    Y_over_black: float
    contrast_ratio: float
    opacity: Opacity | None


def opacity_test(over_white: ArrayLike, over_black: ArrayLike) -> OpacityTest:
    """Contrast ratio and class of a mark from its Lab (3,) over white and over black, D65, 2°.

    Raises OutOfRangeError for a Lab that no surface has, and where the mark over white reflects nothing.
    """
    white = float(lab_to_xyz(check_lab(over_white, "The mark over white"))[..., 1])
    black = float(lab_to_xyz(check_lab(over_black, "The mark over black"))[..., 1])
    if white <= 0.0:
        raise OutOfRangeError("The mark over white reflects no light, so there is no ratio to take.")
    ratio = black / white
    return OpacityTest(white, black, ratio, None if white < TOO_DARK_Y else _class_of(ratio))


def _class_of(ratio: float) -> Opacity:
    if ratio >= OPAQUE_FROM:
        return Opacity.OPAQUE
    return Opacity.SEMI if ratio >= SEMI_FROM else Opacity.TRANSPARENT
