"""Films by Kubelka–Munk: absorption k = K·X and scattering s = S·X of a thickness X, so that s may be 0.

Sources: P. Kubelka, F. Munk, “Ein Beitrag zur Optik der Farbanstriche”, Z. tech. Physik 12 (1931) 593; P. Kubelka,
“New contributions to the optics of intensely light-scattering materials”, J. Opt. Soc. Am. 38 (1948) 448 and 44
(1954) 330. The form without a division by s is ours (docs/model.md).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.quantities import Reflectance

_Array = NDArray[np.float64]

# Reflection at the front surface that no film beneath changes (Fresnel at an index near 1.31, as waxy papers
# show it; ours, docs/model.md).
SURFACE = 0.018
_LEAST_BODY, _MOST_BODY = 0.001, 0.999
# Below this β nothing of a film is to be seen, and tanh β / β need not be followed further.
_SMALL = 1e-6
# Below this β² the slope of tanh β / β is that of its series, since the form itself would be lost in rounding.
_THIN = 1e-5
# Beyond this β a film is opaque, and cosh would overflow.
_OPAQUE = 350.0


@dataclass(frozen=True)
class FreeFilm:
    """A film on nothing: reflectance R0 and transmittance T."""

    reflectance: Reflectance
    transmittance: Reflectance


def film(k: ArrayLike, s: ArrayLike, ground: ArrayLike) -> Reflectance:
    """Body reflectance of a film of absorption k and scattering s over `ground`, (…, 31); all broadcast together.

    In 64 bits, and in 32 where all three come so.
    """
    k, s, Rg = (_figures(v) for v in (k, s, ground))
    tau, both = _tau(k, s), s + k
    # [Rg + τ(s − (s + k)Rg)] / [1 + τ(s + k − s·Rg)], in place: most of a search for pairs is spent here.
    above = both * Rg
    above -= s
    above *= tau
    below = s * Rg
    below -= both
    below *= tau
    return np.asarray((Rg - above) / (1.0 - below))


@dataclass(frozen=True)
class FilmSlopes:
    """A film over a ground, (…, 31), and how its reflectance goes with k and with s."""

    reflectance: Reflectance
    by_k: _Array
    by_s: _Array


def film_slopes(k: _Array, s: _Array, ground: _Array) -> FilmSlopes:
    """What `film` says, (…, 31), with its slopes by k and by s.

    By the quotient and chain rules: with β² = k(k + 2s) the slope of τ = tanh β / β by β² is (1 − tanh²β − τ) / 2β²,
    and those of β² are 2(k + s) by k and 2k by s.
    """
    both, squared = s + k, np.maximum(k * (k + 2.0 * s), _SMALL**2)
    beta = np.sqrt(squared)
    tanh = np.tanh(beta)
    tau = tanh / beta
    below = 1.0 + tau * (both - s * ground)
    reflectance = (ground + tau * (s - both * ground)) / below
    # Twice the slope of τ by β²; thin films by the series tanh β / β = 1 − β²/3.
    bend = np.where(squared < _THIN, -2.0 / 3.0, (1.0 - tanh * tanh - tau) / np.maximum(squared, _THIN))
    by_tau = s - both * ground - reflectance * (both - s * ground)
    by_k = (by_tau * bend * both - tau * (ground + reflectance)) / below
    by_s = (by_tau * bend * k + tau * (1.0 - ground) * (1.0 - reflectance)) / below
    return FilmSlopes(reflectance, by_k, by_s)


def free_film(k: ArrayLike, s: ArrayLike) -> FreeFilm:
    """Reflectance and transmittance of a film on nothing."""
    k, s = np.asarray(k, dtype=np.float64), np.asarray(s, dtype=np.float64)
    tau = _tau(k, s)
    D = 1.0 + (s + k) * tau
    return FreeFilm(np.asarray(s * tau / D), np.asarray(1.0 / (D * np.cosh(np.minimum(_beta(k, s), _OPAQUE)))))


def k_over_s(reflectance: ArrayLike) -> _Array:
    """K/S of an opaque layer from its body reflectance: (1 − R)² / 2R (Kubelka, Munk 1931)."""
    R = np.asarray(reflectance, dtype=np.float64)
    return np.asarray((1.0 - R) ** 2 / (2.0 * R))


def opaque_reflectance(ratio: ArrayLike) -> Reflectance:
    """Body reflectance of an opaque layer from q = K/S: 1 + q − √(q² + 2q), the inverse of `k_over_s`."""
    q = np.asarray(ratio, dtype=np.float64)
    return np.asarray(1.0 + q - np.sqrt(q * q + 2.0 * q))


def strip_surface(reflectance: ArrayLike) -> Reflectance:
    """Body reflectance, .001 to .999, of a measured total one: R = F0 + (1 − F0)·R_body."""
    R = np.asarray(reflectance, dtype=np.float64)
    return np.asarray(np.clip((R - SURFACE) / (1.0 - SURFACE), _LEAST_BODY, _MOST_BODY))


def add_surface(body: ArrayLike) -> Reflectance:
    """The total reflectance (…, 31) that a reader sees, of a body reflectance (…, 31)."""
    return np.asarray(SURFACE + (1.0 - SURFACE) * np.asarray(body, dtype=np.float64))


def _figures(value: ArrayLike) -> _Array:
    given = np.asarray(value)
    return given if given.dtype == np.float32 else given.astype(np.float64, copy=False)


def _beta(k: _Array, s: _Array) -> _Array:
    beta = k + s
    beta += s
    beta *= k
    return np.asarray(np.sqrt(beta))


def _tau(k: _Array, s: _Array) -> _Array:
    """tanh β / β; where β is small it is 1 − β²/3, which up to _SMALL is 1 to twelve digits."""
    beta = np.maximum(_beta(k, s), _SMALL)
    return np.asarray(np.tanh(beta) / beta)
