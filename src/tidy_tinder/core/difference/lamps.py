"""Whether two colours that agree in daylight part under lamp light: only where both spectra were measured.

Lab under a lamp is relative to the lamp's own white, as CIE 15 has it; a recovered spectrum would say nothing here.
Tables: tools/derive_weights.py.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.quantities import BANDS, Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab, xyz_to_lab

# A pair parts where a lamp adds more than this to its difference in daylight: from 1 on a difference can just be seen
# edge to edge (ours, a rule of thumb).
_PARTS_BY = 1.0


class Lamp(StrEnum):
    """A lamp; the value is its name in the tables of CIE 15."""

    INCANDESCENT = "A"
    LED = "LED-B3"


@dataclass(frozen=True)
class UnderLamp:
    """ΔE00 of two spectra under one lamp."""

    lamp: Lamp
    delta_e: float


@dataclass(frozen=True)
class UnderLamps:
    """ΔE00 of two measured spectra in daylight (D65) and under each lamp; parts: whether a lamp shows them apart."""

    daylight: float
    lamps: tuple[UnderLamp, ...]
    parts: bool


def lab_under(lamp: Lamp, reflectance: ArrayLike) -> Lab:
    """Lab (…, 3) under a lamp, relative to its white, 2°, of reflectance (…, 31). Raises ShapeError."""
    R = np.asarray(reflectance, dtype=np.float64)
    if R.ndim == 0 or R.shape[-1] != BANDS.size:
        raise ShapeError(f"Reflectance needs {BANDS.size} bands on its last axis, but has shape {R.shape}.")
    weights = _weights()[lamp.value]
    return xyz_to_lab(R @ weights, white=weights.sum(axis=0))


def under_lamps(one: ArrayLike, other: ArrayLike) -> UnderLamps:
    """How two measured reflectances (31,) differ in daylight and under lamps. Raises ShapeError."""
    first, second = np.asarray(one, dtype=np.float64), np.asarray(other, dtype=np.float64)
    daylight = float(delta_e_2000(reflectance_to_lab(first), reflectance_to_lab(second)))
    lamps = tuple(
        UnderLamp(lamp, float(delta_e_2000(lab_under(lamp, first), lab_under(lamp, second)))) for lamp in Lamp
    )
    return UnderLamps(daylight, lamps, any(one.delta_e > daylight + _PARTS_BY for one in lamps))


def parting(one: Sequence[float] | None, other: Sequence[float] | None) -> UnderLamps | None:
    """How two measured spectra (31,) part under lamp light; None where one of them was not measured."""
    return under_lamps(one, other) if one is not None and other is not None else None


@cache
def _weights() -> dict[str, NDArray[np.float64]]:
    text = resources.files("tidy_tinder.core.reflectance").joinpath("weights_lamps_2deg.json").read_text("utf-8")
    tables = json.loads(text)
    return {lamp.value: np.asarray(tables[lamp.value], dtype=np.float64) for lamp in Lamp}
