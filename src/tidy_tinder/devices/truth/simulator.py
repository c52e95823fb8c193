"""Pencil on paper, simulated: heights, passes, light.

A paper is a column of sites at different heights. A pass rides on the highest sites and reaches deeper
with pressure; what it leaves fills the valleys. Wax that is passed over again is partly picked up and
mixed. Light goes through each site's own stack of films (two-flux theory on 63 bands), enters the
paper, spreads sideways there, and comes out through other sites; the surface reflects a little before
and within (Saunderson 1942). The model of the application knows none of this: it has one film,
31 bands, a coverage and a Yule–Nielsen exponent.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import Enum
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.devices.truth.pigments import PIGMENT_K, PIGMENT_S, WAVELENGTHS

Array = NDArray[np.float64]

SITES = 96
# Reach of a pass: share of the sites that the core touches, and mass it would leave on a flat, dry ground.
_REACH = {"light": 0.26, "medium": 0.52, "heavy": 0.90, "burnish": 0.998}
_LOAD = {"light": 0.19, "medium": 0.45, "heavy": 1.25, "burnish": 2.6}
# Mass at which a site is full, and what it lets pass then.
_FULL = 4.2
# Height in µm that a unit of mass adds.
_THICKNESS = 3.2
# Share of the wax underneath that a pass picks up and mixes in, by pressure.
_PICK_UP = {"light": 0.04, "medium": 0.10, "heavy": 0.22, "burnish": 0.40}
# Share of the light in the paper that comes out at another site.
_SIDEWAYS = 0.30
# Saunderson's internal reflection, and the external one that the reader still sees.
_INTERNAL = 0.36
_EXTERNAL = 0.017
# Uneven hand: three loads within one patch (Gauss–Hermite points and weights for a spread of 20 %).
_HAND = ((np.exp(-0.20 * 3**0.5), 1 / 6), (1.0, 2 / 3), (np.exp(0.20 * 3**0.5), 1 / 6))


class Effect(Enum):
    """What a pencil does beside absorbing and scattering."""

    ORDINARY = "ordinary"
    METALLIC = "metallic"
    NEON = "neon"
    PEARL = "pearl"


@dataclass(frozen=True)
class TruePencil:
    """The hidden make-up of one colour.

    amounts: mass of each pigment in a unit of mass. filler: scattering of filler and binder at 560 nm.
    softness: factor on the load. grip: how much of the reach it has (a hard core rides higher).
    """

    key: str
    amounts: tuple[float, ...]
    filler: float
    softness: float
    grip: float
    effect: Effect = Effect.ORDINARY
    soluble: bool = False

    @property
    def K(self) -> Array:
        """Absorption per unit of mass, (63,)."""
        result: Array = np.asarray(self.amounts) @ PIGMENT_K + 0.004
        return result

    @property
    def S(self) -> Array:
        """Scattering per unit of mass, (63,)."""
        result: Array = np.asarray(self.amounts) @ PIGMENT_S + self.filler * (560.0 / WAVELENGTHS) ** 0.6
        return result


@dataclass(frozen=True)
class TruePaper:
    """The hidden make-up of one paper: spectrum (63,), roughness in µm, skew of the heights, absorbency 0 to 1."""

    key: str
    spectrum: Array
    roughness: float
    skew: float
    absorbency: float
    drag: float = 1.0

    @property
    def heights(self) -> Array:
        """Heights of the sites in µm, highest first (Cornish–Fisher quantiles)."""
        at = (np.arange(SITES) + 0.5) / SITES
        z = np.array([NormalDist().inv_cdf(1.0 - float(p)) for p in at])
        result: Array = self.roughness * (z + self.skew * (z * z - 1.0) / 6.0)
        return result


@dataclass(frozen=True)
class Pass:
    """One layer: which pencil, and light, medium, heavy or burnish."""

    pencil: TruePencil
    pressure: str


@dataclass(frozen=True)
class Patch:
    """A patch as it was made: passes in order, what it lies on, and what was done after."""

    passes: tuple[Pass, ...]
    over_black: bool = False
    solvent: bool = False
    wet: bool = False


@dataclass
class _Film:
    """One film of mixed wax: mass of each pencil at each site, (sites, pencils)."""

    mass: Array


@dataclass
class _Ground:
    """What lies on the paper so far."""

    pencils: tuple[TruePencil, ...]
    films: list[_Film] = field(default_factory=list)
    polish: float = 0.0

    def total(self) -> Array:
        """Mass at each site, (sites,)."""
        if not self.films:
            return np.zeros(SITES)
        return np.asarray(np.sum([f.mass.sum(axis=1) for f in self.films], axis=0))


def reflectance(patch: Patch, paper: TruePaper, hand: float = 1.0) -> Reflectance:
    """What an ideal reader sees: reflectance (31,) of the patch; hand multiplies every load."""
    fine = sum(weight * _one_hand(patch, paper, hand * float(load)) for load, weight in _HAND)
    return _report(np.asarray(fine))


def lab(patch: Patch, paper: TruePaper, hand: float = 1.0) -> Lab:
    """Lab (3,) of the patch, D65, 2°."""
    return reflectance_to_lab(reflectance(patch, paper, hand))


def _report(fine: Array) -> Reflectance:
    """63 fine bands → 31 reported ones: a triangular slit of 10 nm."""
    return np.clip(0.25 * fine[0:-2:2] + 0.5 * fine[1:-1:2] + 0.25 * fine[2::2], 1e-4, 1.6)


def _one_hand(patch: Patch, paper: TruePaper, load: float) -> Array:
    """Reflectance on the fine grid for one load within the patch."""
    ground = _Ground(tuple(dict.fromkeys(p.pencil for p in patch.passes)))
    previous = None
    for one in patch.passes:
        _lay(ground, one, paper, load, same_as_below=one.pencil is previous)
        previous = one.pencil
    if patch.solvent:
        _dissolve(ground, level=0.50, sink=0.10 * paper.absorbency)
    if patch.wet and any(p.soluble for p in ground.pencils):
        _dissolve(ground, level=0.92, sink=0.06 + 0.25 * paper.absorbency)
    # The printed black bar lies under the wax.
    base = np.full_like(paper.spectrum, 0.038) if patch.over_black else paper.spectrum
    return _light(ground, base)


def _lay(ground: _Ground, one: Pass, paper: TruePaper, load: float, same_as_below: bool) -> None:
    """One pass: where the core touches, what it leaves, what it picks up."""
    total = ground.total()
    surface = paper.heights + _THICKNESS * total
    # A rough ground carries the core on fewer, higher points; 6 µm is the vellum board's roughness.
    ease = one.pencil.grip * load**0.5 * (6.0 / paper.roughness) ** 0.55
    reach = 1.0 - (1.0 - _REACH[one.pressure]) ** ease
    plane = float(np.quantile(surface, 1.0 - reach))
    blur = 0.22 * paper.roughness + 0.5
    touch = 1.0 / (1.0 + np.exp(-(surface - plane) / blur))
    room = np.clip(1.0 - total / _FULL, 0.02, 1.0)
    left = _LOAD[one.pressure] * one.pencil.softness * load * paper.drag * touch / max(float(touch.mean()), 0.3)
    left = left * room * min(1.0, 0.35 + reach)
    column = ground.pencils.index(one.pencil)
    film = np.zeros((SITES, len(ground.pencils)))
    film[:, column] = left
    if ground.films:
        below = ground.films[-1].mass
        share = 0.9 if same_as_below else _PICK_UP[one.pressure]
        taken = below * np.minimum(1.0, share * touch)[:, None]
        ground.films[-1] = _Film(below - taken)
        film = film + taken
    ground.films.append(_Film(film))
    if one.pressure == "burnish":
        _level(ground, 0.45)
        ground.polish = 1.0
    else:
        ground.polish *= 0.5


def _level(ground: _Ground, share: float) -> None:
    """Rubbing moves wax from full sites to lean ones."""
    for film in ground.films:
        film.mass[:] = (1.0 - share) * film.mass + share * film.mass.mean(axis=0)


def _dissolve(ground: _Ground, level: float, sink: float) -> None:
    """A solvent or water makes one film of all, nearly level; some of it sinks into the paper."""
    if not ground.films:
        return
    everything = np.sum([f.mass for f in ground.films], axis=0)
    evened = (1.0 - level) * everything + level * everything.mean(axis=0)
    ground.films = [_Film(evened * (1.0 - sink))]
    ground.polish = 0.25


def _light(ground: _Ground, base: Array) -> Array:
    """Reflectance (63,) of the whole: stack, sideways light in the paper, surface."""
    paper = _inside(base)
    K = np.stack([p.K for p in ground.pencils]) if ground.pencils else np.zeros((0, WAVELENGTHS.size))
    S = np.stack([p.S for p in ground.pencils]) if ground.pencils else np.zeros((0, WAVELENGTHS.size))
    front = np.zeros((SITES, WAVELENGTHS.size))
    back = np.zeros_like(front)
    through = np.ones_like(front)
    for film in ground.films:  # the lowest first: each new film goes on top
        R, T = _film(film.mass @ K, film.mass @ S)
        bounce = 1.0 / (1.0 - R * front)
        front, back, through = (
            R + T * T * front * bounce,
            back + through**2 * R * bounce,
            through * T * bounce,
        )
    entering = through / (1.0 - back * paper)
    leaving = paper * ((1.0 - _SIDEWAYS) * entering + _SIDEWAYS * entering.mean(axis=0))
    inner = (front + through * leaving).mean(axis=0)
    covered = float(np.mean(1.0 - np.exp(-3.0 * ground.total())))
    inner = _effects(inner, ground, covered)
    external = _EXTERNAL * (1.0 - 0.45 * ground.polish * covered)
    result: Array = external + (1.0 - external) * (1.0 - _INTERNAL) * inner / (1.0 - _INTERNAL * inner)
    return result


def _inside(base: Array) -> Array:
    """Reflectance under the surface of a bare ground whose measured reflectance is `base`."""
    outer = np.clip((base - _EXTERNAL) / (1.0 - _EXTERNAL), 1e-4, 0.999)
    result: Array = outer / (1.0 - _INTERNAL + _INTERNAL * outer)
    return result


def _film(k: Array, s: Array) -> tuple[Array, Array]:
    """Reflectance and transmittance of free films with absorption k and scattering s (Kubelka 1948)."""
    k = np.maximum(k, 1e-9)
    s = np.maximum(s, 1e-9)
    a = 1.0 + k / s
    b = np.sqrt(a * a - 1.0)
    x = np.minimum(b * s, 30.0)
    sinh, cosh = np.sinh(x), np.cosh(x)
    d = a * sinh + b * cosh
    return sinh / d, b / d


def _effects(inner: Array, ground: _Ground, covered: float) -> Array:
    """Neon glows, metal flakes mirror, pearl tints; rough stand-ins, enough to be refused by the model."""
    for i, pencil in enumerate(ground.pencils):
        if pencil.effect is Effect.ORDINARY:
            continue
        mass = float(np.mean([f.mass[:, i].mean() for f in ground.films]) * len(ground.films))
        share = covered * (1.0 - np.exp(-1.6 * mass))
        if pencil.effect is Effect.NEON:
            peak = WAVELENGTHS[int(np.argmax(np.gradient(inner)))] + 18.0
            absorbed = float((1.0 - inner)[peak > WAVELENGTHS].mean())
            inner = inner + 0.55 * share * absorbed * np.exp(-0.5 * ((WAVELENGTHS - peak) / 16.0) ** 2)
        elif pencil.effect is Effect.METALLIC:
            inner = inner * (1.0 - 0.4 * share) + 0.4 * share * (0.35 + 0.25 * inner)
        else:
            inner = inner + share * 0.05 * np.cos((WAVELENGTHS - 460.0) / 60.0)
    return np.clip(inner, 1e-4, 1.5)


def mean_lab(patches: Sequence[Patch], paper: TruePaper, hands: Sequence[float]) -> Lab:
    """Mean Lab (3,) of several makings of a patch."""
    return np.asarray(np.mean([lab(p, paper, h) for p, h in zip(patches, hands, strict=True)], axis=0))
