"""Spectra that others measured, put onto our bands: picked, averaged or interpolated by a stated rule, never extended.

The rule, in the spirit of ASTM E2022 (from memory), which keeps weights and values of different steps apart:
- what was measured at our very bands is taken as it is;
- of finer steps each band is the mean under a triangle of 10 nm half width, as an instrument of that bandpass sees it;
- of coarser steps, up to 20 nm, a cubic through the two measured values on either side is followed (Lagrange's, as
  E2022 recommends for the colour of reflecting objects).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.quantities import BANDS, Reflectance

_STEP = 10.0  # nm, the step and the bandpass of our bands
MOST_STEP = 20.0
"""nm: what was measured in coarser steps says too little of what lies between."""
_SAME = 1e-6
# Steps below this are finer than ours: what lies between our bands is averaged in.
_FINER = 8.0


def on_our_bands(wavelengths: ArrayLike, values: ArrayLike) -> Reflectance:
    """Values (31,) at 400 to 700 nm of values (N,) at increasing wavelengths (N,) in nm.

    Raises ShapeError where the two are not of one length, OutOfRangeError where the wavelengths do not increase, do not
    reach from 400 to 700 nm, or leave more than 20 nm between two, and where a value is no number.
    """
    at, R = np.asarray(wavelengths, dtype=np.float64), np.asarray(values, dtype=np.float64)
    if at.ndim != 1 or at.shape != R.shape:
        raise ShapeError(f"A spectrum has one value for each wavelength, not {R.size} for {at.size}.")
    _check(at, R)
    if np.diff(at).min() < _FINER:
        return _averaged(at, R)
    return np.array([_followed(at, R, band) for band in BANDS])


def _check(at: NDArray[np.float64], R: NDArray[np.float64]) -> None:
    if not (np.isfinite(at).all() and np.isfinite(R).all()):
        raise OutOfRangeError("The spectrum holds a value that is not a finite number.")
    if at.size < 2 or (np.diff(at) <= 0).any():
        raise OutOfRangeError("The wavelengths of a spectrum increase from one to the next.")
    if at[0] > BANDS[0] + _SAME or at[-1] < BANDS[-1] - _SAME:
        raise OutOfRangeError(
            f"The spectrum reaches from {at[0]:g} to {at[-1]:g} nm; 400 to 700 nm are needed, and nothing is made up."
        )
    inside = at[(at >= BANDS[0] - MOST_STEP) & (at <= BANDS[-1] + MOST_STEP)]
    if np.diff(inside).max() > MOST_STEP + _SAME:
        raise OutOfRangeError(f"The spectrum has steps of more than {MOST_STEP:g} nm, which says too little.")


def _averaged(at: NDArray[np.float64], R: NDArray[np.float64]) -> Reflectance:
    """Means under triangles on a grid of 1 nm; at an end of what was measured, where half a triangle is missing, the
    value there: half a triangle would look to one side.
    """
    grid = np.arange(np.ceil(at[0] - _SAME), np.floor(at[-1] + _SAME) + 1.0)
    fine = np.interp(grid, at, R)
    weights = np.maximum(1.0 - np.abs(grid - BANDS[:, None]) / _STEP, 0.0)
    means = (weights @ fine) / weights.sum(axis=1)
    whole = (grid[0] <= BANDS - _STEP + _SAME) & (grid[-1] >= BANDS + _STEP - _SAME)
    return np.where(whole, means, np.interp(BANDS, at, R))


def _followed(at: NDArray[np.float64], R: NDArray[np.float64], band: float) -> float:
    """The value at one band: as measured there, or on the cubic through the four nearest."""
    nearest = int(np.abs(at - band).argmin())
    if abs(at[nearest] - band) < _SAME:
        return float(R[nearest])
    start = int(np.clip(np.searchsorted(at, band) - 2, 0, max(at.size - 4, 0)))
    x, y = at[start : start + 4], R[start : start + 4]
    parts = [y[i] * np.prod([(band - x[j]) / (x[i] - x[j]) for j in range(x.size) if j != i]) for i in range(x.size)]
    return float(np.sum(parts))
