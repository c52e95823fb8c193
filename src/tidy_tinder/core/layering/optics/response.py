"""How a mark's Lab answers to what is unknown of pencil and paper: the slopes that every fit needs.

All arrays broadcast over leading axes (…); a band axis is 31 long. Bands are independent of each other before
they are summed to XYZ. The slopes of a mark of one layer are worked out by the chain rule; those of several layers,
which may lie in many ways over one another, by a step in each unknown: one step in ln k at all bands together gives
the slope at each.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.layering.optics.film import SURFACE, add_surface, film, film_slopes
from tidy_tinder.core.layering.optics.heights import Grounds, lay_all
from tidy_tinder.core.layering.optics.tooth import FALLING, SMEARED, spread, spread_slopes
from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_xyz, weights, xyz_to_lab

_Array = NDArray[np.float64]

# Step of the one-sided differences: small beside every spread that a fit knows, large beside rounding.
_STEP = 1e-5
# What slopes are by, in the order in which they are worked out.
_UNKNOWNS = ("ln_k", "ln_s", "ln_offered", "ln_grain", "ln_over", "logit_chance", "hold")
# A film so dark is black, whatever rounding makes of the rest: its logarithm is asked for.
_DARKEST = 1e-12
_EPSILON, _KAPPA = (6.0 / 29.0) ** 3, 24389.0 / 27.0


@dataclass(frozen=True)
class Marks:
    """Marks to be looked at together, each given by logarithms.

    ln_k (…, 31), ln_s, ln_offered, ln_grain, ln_over, logit_chance (…): absorption per load, scattering per load at
    550 nm, wax offered in each pass, grain of the paper, n − 1 of its Yule–Nielsen exponent n, the share of a layer
    that misses by chance; hold (…): ln of how much more a full tooth holds. body (…, 31): the bare ground. layers,
    burnished (…): how many passes there are, and whether they burnish.
    """

    ln_k: _Array
    ln_s: _Array
    ln_offered: _Array
    ln_grain: _Array
    ln_over: _Array
    logit_chance: _Array
    hold: _Array
    body: Reflectance
    layers: NDArray[np.int64]
    burnished: NDArray[np.bool_]

    def some(self, which: NDArray[np.bool_]) -> Marks:
        """Some of them (N,), of whatever shape they are."""
        return Marks(**{name: of[which] for name, of in vars(self).items()})


@dataclass(frozen=True)
class Response:
    """Lab (…, 3) of marks and its slopes: by ln k (…, 3, 31); by ln s, ln offered, ln grain, ln(n − 1), logit chance
    and hold (…, 3).
    """

    lab: Lab
    by_ln_k: _Array
    by_ln_s: _Array
    by_ln_offered: _Array
    by_ln_grain: _Array
    by_ln_over: _Array
    by_logit_chance: _Array
    by_hold: _Array


def body_of(marks: Marks) -> Reflectance:
    """Body reflectance (…, 31) of marks."""
    _, coverage, thickness = spread(np.exp(marks.ln_offered), np.exp(marks.ln_grain), marks.burnished)
    k, s = _wax(marks, thickness)
    n = 1.0 + np.exp(marks.ln_over)[..., None]
    c = coverage[..., None]
    root = c * film(k, s, marks.body) ** (1.0 / n) + (1.0 - c) * marks.body ** (1.0 / n)
    body = np.asarray(root**n)
    for layers in set(marks.layers[marks.layers > 1].tolist()):
        several = marks.layers == layers
        body[several] = _in_layers(marks.some(several), layers)
    return body


def from_logit(of: ArrayLike) -> _Array:
    """The share whose logit this is."""
    return np.asarray(1.0 / (1.0 + np.exp(-np.asarray(of))))


def _in_layers(marks: Marks, layers: int) -> Reflectance:
    """Body reflectance (N, 31) of marks of several passes, each a deposit of its own."""
    # Layers of one pencil smear into what they are.
    on = Grounds(
        marks.body, np.exp(marks.ln_grain), 1.0 + np.exp(marks.ln_over), from_logit(marks.logit_chance),
        np.array([SMEARED]), marks.hold,
    )  # fmt: skip
    k, s = np.exp(marks.ln_k), np.exp(marks.ln_s)[:, None] * FALLING
    wishes, burnished = (np.repeat(of[:, None], layers, axis=1) for of in (np.exp(marks.ln_offered), marks.burnished))
    k, s = (np.repeat(of[:, None], layers, axis=1) for of in (k, s))
    *_, heights = lay_all(on, k, s, wishes, burnished)
    return heights.look()


def lab_of(marks: Marks) -> Lab:
    """Lab (…, 3) of marks."""
    return _lab(reflectance_to_xyz(add_surface(body_of(marks))))


def response(marks: Marks) -> Response:
    """Lab of marks with its slopes by each unknown."""
    R, by = _one_layer(marks)
    for layers in set(marks.layers[marks.layers > 1].tolist()):
        several = marks.layers == layers
        R[several], by[:, several] = _stepwise(marks.some(several), layers)
    xyz = reflectance_to_xyz(add_surface(R))
    to_lab = (1.0 - SURFACE) * (lab_slopes(xyz) @ weights().T)  # (…, 3, 31): Lab by body reflectance
    summed = to_lab @ np.moveaxis(by[1:], 0, -1)
    return Response(_lab(xyz), to_lab * by[0][..., None, :], *np.moveaxis(summed, -1, 0))


def _one_layer(marks: Marks) -> tuple[Reflectance, _Array]:
    """Body reflectance (…, 31) of marks as if each were of one layer, and its slopes (7, …, 31) by `_UNKNOWNS`.

    One layer does not know what misses by chance, nor how wax holds on wax.
    """
    laid = spread_slopes(np.exp(marks.ln_offered), np.exp(marks.ln_grain), marks.burnished)
    k, s = _wax(marks, laid.thickness)
    over, c = np.exp(marks.ln_over)[..., None], laid.coverage[..., None]
    n = 1.0 + over
    seen = film_slopes(k, s, marks.body)
    # (c·F^(1/n) + (1 − c)·B^(1/n))^n by Yule and Nielsen, in logarithms, which the slope by n asks for.
    F = np.maximum(seen.reflectance, _DARKEST)
    ln_film, ln_bare = np.log(F), np.log(np.maximum(marks.body, _DARKEST))
    film_root, bare_root = np.exp(ln_film / n), np.exp(ln_bare / n)
    root = c * film_root + (1.0 - c) * bare_root
    ln_root = np.log(root)
    R = np.exp(n * ln_root)
    by_root = n * R / root
    by_film = by_root * c * film_root / (n * F)
    by_coverage = by_root * (film_root - bare_root)
    by_n = R * ln_root - by_root * (c * film_root * ln_film + (1.0 - c) * bare_root * ln_bare) / n**2
    by_ln_k, by_ln_s = by_film * seen.by_k * k, by_film * seen.by_s * s
    # Thickness moves k and s alike.
    by_thickness = (by_ln_k + by_ln_s) / laid.thickness[..., None]

    def through(coverage: _Array, thickness: _Array) -> _Array:
        return np.asarray(by_coverage * coverage[..., None] + by_thickness * thickness[..., None])

    by_offered = through(laid.coverage_by_ln_offered, laid.thickness_by_ln_offered)
    by_grain = through(laid.coverage_by_ln_grain, laid.thickness_by_ln_grain)
    return R, np.stack([by_ln_k, by_ln_s, by_offered, by_grain, by_n * over, *np.zeros((2, *R.shape))])


def _wax(marks: Marks, thickness: _Array) -> tuple[_Array, _Array]:
    """Absorption and scattering (…, 31) of films of a thickness (…)."""
    return np.exp(marks.ln_k) * thickness[..., None], (np.exp(marks.ln_s) * thickness)[..., None] * FALLING


def _stepwise(marks: Marks, layers: int) -> tuple[Reflectance, _Array]:
    """The same of marks (N,) of several passes."""
    R = _in_layers(marks, layers)

    def slope(name: str) -> _Array:
        stepped = Marks(**{**vars(marks), name: getattr(marks, name) + _STEP})
        return (_in_layers(stepped, layers) - R) / _STEP

    return R, np.stack([slope(name) for name in _UNKNOWNS])


def lab_slopes(xyz: _Array) -> _Array:
    """∂(L*, a*, b*)/∂(X, Y, Z), (…, 3, 3), at XYZ (…, 3), the white being that of the weights (CIE 15)."""
    white = weights().sum(axis=0)
    t = xyz / white
    f = np.where(t > _EPSILON, np.cbrt(np.maximum(t, _EPSILON)) / (3.0 * np.maximum(t, _EPSILON)), _KAPPA / 116.0)
    f = f / white
    by = np.zeros((*xyz.shape[:-1], 3, 3))
    by[..., 0, 1] = 116.0 * f[..., 1]
    by[..., 1, 0], by[..., 1, 1] = 500.0 * f[..., 0], -500.0 * f[..., 1]
    by[..., 2, 1], by[..., 2, 2] = 200.0 * f[..., 1], -200.0 * f[..., 2]
    return by


def _lab(xyz: _Array) -> Lab:
    return xyz_to_lab(xyz, white=weights().sum(axis=0))
