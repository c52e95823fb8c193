"""Steps kept beside a picture and laid on it when it is shown: each can be undone, the file stays as it came."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.working import Light, picture_lab
from tidy_tinder.core.reflectance.colorimetry import (
    WHITE_D65,
    lab_to_linear_rgb,
    lab_to_xyz,
    linear_rgb_to_lab,
    linear_rgb_to_xyz_matrix,
)

# CAT16 (Li, Li, Wang, Zu, Luo, Cui, Melgosa, Brill and Pointer 2017): XYZ to its cone-like responses.
CAT16 = np.array([[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]])
# What is tapped as a grey must not be strongly coloured, nor so dark that its noise is its colour.
_MOST_CHROMA, _DARKEST = 40.0, 15.0
LEAST_CONTRAST, MOST_CONTRAST = 0.5, 2.0
_MIDDLE_L = 50.0
_LEAST_CROP = 0.02

Box = tuple[float, float, float, float]
WHOLE: Box = (0.0, 0.0, 1.0, 1.0)


@dataclass(frozen=True)
class Adjustments:
    """neutral: Lab of what was tapped as a grey, as the picture came; quarter_turns: clockwise; mirrored: left and
    right exchanged after turning; crop: left, top, right, bottom from 0 to 1 of the turned picture; contrast: by how
    much steps of lightness are stretched about L* 50.
    """

    neutral: tuple[float, float, float] | None = None
    quarter_turns: int = 0
    mirrored: bool = False
    crop: Box = WHOLE
    contrast: float = 1.0

    def check(self) -> None:
        """Raises OutOfRangeError for what no picture can be adjusted by."""
        left, top, right, bottom = self.crop
        if not (0.0 <= left < right <= 1.0 and 0.0 <= top < bottom <= 1.0):
            raise OutOfRangeError("A crop lies inside the picture: left before right, top before bottom, from 0 to 1.")
        if right - left < _LEAST_CROP or bottom - top < _LEAST_CROP:
            raise OutOfRangeError(f"A crop keeps at least {_LEAST_CROP:.0%} of each side.")
        if not LEAST_CONTRAST <= self.contrast <= MOST_CONTRAST:
            raise OutOfRangeError(f"Contrast is {LEAST_CONTRAST} to {MOST_CONTRAST}, not {self.contrast:g}.")
        if not 0 <= self.quarter_turns <= 3:
            raise OutOfRangeError("A picture is turned by 0 to 3 quarters.")
        if self.neutral is not None:
            neutralising(np.array(self.neutral))


def adjusted(light: Light, steps: Adjustments) -> Light:
    """A picture's light (h, w, 3) with the steps laid on it, in the order of the fields. Raises OutOfRangeError."""
    steps.check()
    if steps.neutral is not None:
        light = np.asarray(light @ neutralising(np.array(steps.neutral)).T.astype(np.float32), dtype=np.float32)
    turned = np.rot90(light, -steps.quarter_turns)
    if steps.mirrored:
        turned = turned[:, ::-1]
    height, width = turned.shape[:2]
    left, top, right, bottom = steps.crop
    rows = slice(int(top * height), max(int(top * height) + 1, round(bottom * height)))
    columns = slice(int(left * width), max(int(left * width) + 1, round(right * width)))
    cropped = np.ascontiguousarray(turned[rows, columns])
    return cropped if steps.contrast == 1.0 else with_contrast(cropped, steps.contrast)


def adjusted_lab(lab: Lab, steps: Adjustments) -> Lab:
    """Colours (…, 3) of the picture as it came, as they are in the adjusted one. Raises OutOfRangeError."""
    steps.check()
    shown = np.array(lab, dtype=np.float64)
    if steps.neutral is not None:
        shown = linear_rgb_to_lab(lab_to_linear_rgb(shown) @ neutralising(np.array(steps.neutral)).T)
    shown[..., 0] = np.clip(_MIDDLE_L + steps.contrast * (shown[..., 0] - _MIDDLE_L), 0.0, 100.0)
    return shown


def with_contrast(light: Light, contrast: float) -> Light:
    """Steps of lightness stretched about L* 50, hue and chroma as they are; held between black and white."""
    lab = picture_lab(light)
    lab[..., 0] = np.clip(_MIDDLE_L + contrast * (lab[..., 0] - _MIDDLE_L), 0.0, 100.0)
    return np.asarray(lab_to_linear_rgb(lab), dtype=np.float32)


def neutralising(tapped: Lab) -> NDArray[np.float64]:
    """(3, 3): linear sRGB to linear sRGB, by which the colour `tapped` (3,) becomes a grey of its own Y.

    Von Kries in CAT16 with full adaptation. Raises OutOfRangeError for what can be no grey under any usual light.
    """
    L, a, b = (float(v) for v in tapped)
    if not np.isfinite([L, a, b]).all() or L > 100.0:
        raise OutOfRangeError("What should be neutral is a colour: L* from 0 to 100, a* and b*.")
    if L < _DARKEST:
        raise OutOfRangeError(f"This is too dark to tell its light (L* {L:.0f}). Tap a lighter grey.")
    if np.hypot(a, b) > _MOST_CHROMA:
        raise OutOfRangeError(
            f"This is too strong a colour to be a grey under any usual light (C* {np.hypot(a, b):.0f}). "
            "Tap something that is grey or white."
        )
    xyz = lab_to_xyz(np.array([L, a, b]))
    gains = (CAT16 @ (WHITE_D65 * xyz[1])) / (CAT16 @ xyz)
    adapt = np.linalg.inv(CAT16) @ np.diag(gains) @ CAT16
    to_xyz = linear_rgb_to_xyz_matrix()
    return np.asarray(np.linalg.inv(to_xyz) @ adapt @ to_xyz)


def place_in_original(x: float, y: float, steps: Adjustments) -> tuple[float, float]:
    """Where a place of the adjusted picture (x, y from 0 to 1) lies in the picture as it came."""
    left, top, right, bottom = steps.crop
    x, y = left + x * (right - left), top + y * (bottom - top)
    if steps.mirrored:
        x = 1.0 - x
    for _ in range(steps.quarter_turns):
        x, y = y, 1.0 - x
    return x, y


def place_in_adjusted(x: float, y: float, steps: Adjustments) -> tuple[float, float]:
    """Where a place of the picture as it came lies in the adjusted one; outside 0 to 1 where it is cropped away."""
    for _ in range(steps.quarter_turns):
        x, y = 1.0 - y, x
    if steps.mirrored:
        x = 1.0 - x
    left, top, right, bottom = steps.crop
    return (x - left) / (right - left), (y - top) / (bottom - top)
