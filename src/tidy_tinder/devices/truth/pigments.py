"""Invented colourants: absorption and scattering per unit of mass on a fine wavelength grid.

No real pigment is meant. Each absorption is a sum of smooth steps (which make yellows to reds) and bell
curves (which make blues, greens and violets), plus a flat part.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

# 395 to 705 nm step 5: finer than the 31 bands that a reader reports.
WAVELENGTHS: Array = np.arange(395.0, 706.0, 5.0)


@dataclass(frozen=True)
class Pigment:
    """K and S, each (63,), per unit of pigment in a unit of mass."""

    name: str
    K: Array
    S: Array


def _step(edge: float, width: float, height: float) -> Array:
    """Absorbs below `edge` nm."""
    return height / (1.0 + np.exp((WAVELENGTHS - edge) / width))


def _bell(centre: float, width: float, height: float) -> Array:
    """Absorbs round `centre` nm."""
    return height * np.exp(-0.5 * ((WAVELENGTHS - centre) / width) ** 2)


def _slope(height: float, length: float) -> Array:
    """Absorbs short waves more than long ones, as earths do."""
    return height * np.exp(-(WAVELENGTHS - 400.0) / length)


def _flat(height: float) -> Array:
    return np.full_like(WAVELENGTHS, height)


def _scatter(at_560: float, power: float) -> Array:
    """Scattering falls with wavelength by a power."""
    return at_560 * (560.0 / WAVELENGTHS) ** power


PIGMENTS: tuple[Pigment, ...] = (
    Pigment("lemon", _step(487, 7, 9.0) + _flat(0.004), _scatter(0.16, 0.8)),
    Pigment("yellow", _step(512, 8, 10.0) + _flat(0.005), _scatter(0.14, 0.8)),
    Pigment("golden", _step(532, 9, 10.0) + _flat(0.006), _scatter(0.14, 0.7)),
    Pigment("orange", _step(563, 9, 11.0) + _flat(0.008), _scatter(0.13, 0.7)),
    Pigment("scarlet", _step(588, 9, 11.0) - _bell(430, 18, 1.5) + _flat(0.01), _scatter(0.12, 0.6)),
    Pigment("red", _step(604, 10, 10.0) - _bell(435, 22, 4.0) + _flat(0.012), _scatter(0.11, 0.6)),
    Pigment("crimson", _bell(535, 42, 8.0) + _bell(570, 25, 4.0) + _bell(410, 30, 1.6) + _flat(0.02),
            _scatter(0.06, 0.6)),
    Pigment("rose", _bell(540, 30, 8.0) + _bell(566, 16, 4.0) + _flat(0.012), _scatter(0.05, 0.6)),
    Pigment("violet", _bell(560, 40, 8.0) + _bell(612, 24, 3.0) + _flat(0.03), _scatter(0.05, 0.7)),
    Pigment("indigo", _bell(585, 48, 9.0) + _bell(660, 30, 2.0) + _flat(0.03), _scatter(0.05, 0.8)),
    Pigment("deep blue", _bell(598, 50, 8.5) + _bell(520, 25, 1.0) + _flat(0.015), _scatter(0.06, 0.9)),
    Pigment("blue", _bell(622, 45, 9.0) + _bell(692, 35, 7.0) + _bell(560, 20, 0.7) + _flat(0.015),
            _scatter(0.05, 0.9)),
    Pigment("turquoise", _bell(645, 42, 9.0) + _bell(700, 30, 5.0) + _bell(405, 15, 0.6) + _flat(0.012),
            _scatter(0.06, 0.8)),
    Pigment("sea green", _bell(645, 48, 8.5) + _bell(700, 30, 5.0) + _step(452, 12, 5.0) + _flat(0.015),
            _scatter(0.06, 0.7)),
    Pigment("leaf", _bell(655, 40, 7.5) + _bell(700, 26, 5.0) + _step(483, 10, 8.0) + _flat(0.02),
            _scatter(0.08, 0.7)),
    Pigment("ochre", _step(538, 22, 3.4) + _slope(0.3, 260) + _flat(0.06), _scatter(0.30, 0.5)),
    Pigment("red earth", _step(577, 13, 4.2) + _slope(0.5, 300) + _flat(0.16), _scatter(0.34, 0.4)),
    Pigment("umber", _slope(4.2, 150) + _flat(0.55), _scatter(0.20, 0.4)),
    Pigment("black", _flat(7.5) + _slope(0.4, 200), _scatter(0.06, 0.2)),
    Pigment("blue black", _flat(5.5) + _bell(640, 70, 1.6), _scatter(0.06, 0.3)),
    Pigment("white", _flat(0.004) + _step(405, 6, 0.25), _scatter(1.15, 0.35)),
)  # fmt: skip

PIGMENT_NAMES: tuple[str, ...] = tuple(p.name for p in PIGMENTS)
PIGMENT_K: Array = np.maximum(np.stack([p.K for p in PIGMENTS]), 0.002)
PIGMENT_S: Array = np.stack([p.S for p in PIGMENTS])
