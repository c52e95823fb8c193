"""One pencil on a paper: how much it leaves, how much of the tooth that covers, and what is seen.

A pass leaves a load that grows with pressure and softness and shrinks as the tooth fills; the wax covers a share of
the paper, the more the smoother that is, and lies as a film on the covered share; film and bare paper mix as
Yule and Nielsen describe halftones (J. Yule, W. Nielsen, “The penetration of light into paper and its effect on
halftone reproduction”, TAGA Proc. 3 (1951) 65). Coverage, loads and defaults are ours (docs/model.md).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.optics.film import film
from tidy_tinder.core.quantities import BANDS, Reflectance
from tidy_tinder.core.vocabulary import Opacity, Pressure, PrintedOpacity, Tooth

_Array = NDArray[np.float64]

# Load of one pass by pressure, where the capacity of the tooth is 2.5 (ours, reached against independent simulators).
LOADS = {Pressure.LIGHT: 0.14, Pressure.MEDIUM: 0.38, Pressure.HEAVY: 1.25, Pressure.BURNISH: 2.4}
CAPACITY = 2.5
# Who burnishes presses wax into a tooth that is full to any other pass (ours, decision 0054).
_PRESSED_CAPACITY = 5.0
# Grain of a paper by its tooth class (ours, decision 0050).
TOOTH = {Tooth.SMOOTH: 0.49, Tooth.MEDIUM: 0.55, Tooth.ROUGH: 0.62}
# How much more a stroke leaves on a smooth paper than on one of medium tooth, and how much less on a rough one, over
# whose hollows it rides; a heavy one reaches into them (the amounts are ours, decision 0050; that a light stroke leaves
# white specks on a rough paper is common practice, no source).
_SMOOTH_TAKES = {Pressure.LIGHT: 1.22, Pressure.MEDIUM: 1.13}
_TAKES_MORE = {Tooth.SMOOTH: 1.0, Tooth.MEDIUM: 0.0, Tooth.ROUGH: -1.0}
# Scattering per load by what the chart says of the cover (ours: what fits of marks over black find in three simulated
# physics, decision 0054).
SCATTERING = {Opacity.TRANSPARENT: 0.06, Opacity.SEMI: 0.15, Opacity.OPAQUE: 0.34}
# Scattering where no class is known.
UNKNOWN_SCATTERING = 0.15
YULE_NIELSEN = 2.0
# Burnishing leaves this share of the grain.
BURNISHED_GRAIN = 0.6
# Scattering (31,) beside what it is at 550 nm: white fillers of a pencil scatter blue light more than red, as
# (λ/550)^−m with m between 0 for coarse grains and 4 for the finest (van de Hulst, “Light scattering by small
# particles”, 1957; the range from memory). One m for all pencils, chosen in two simulated physics (docs/model.md).
SCATTERING_FALL = 0.5
FALLING: _Array = (BANDS / 550.0) ** -SCATTERING_FALL

# Share of a layer that lies evenly over all heights: where it misses, that is by chance, and the next one misses
# elsewhere. The rest goes to the highest first and leaves open what the layers before did (ours).
BY_CHANCE = 0.35
# How much of several layers is one smeared film (ours).
SMEARED = 0.3
# ln of how much more than by its room alone a full tooth holds of what is offered (ours).
HOLD = 0.0

_HALVINGS = 60
_LEAST_K, _MOST_K = 1e-7, 1e4
_MOST_COVERED = 0.97
# A film in the gaps' stead keeps this share of their light at most.
_GAP_SHARE = 0.8
_MOST_S = 8.0


def scattering_of(opacity: PrintedOpacity) -> float:
    """Scattering per load of an ordinary pencil of a class of cover. Raises OutOfRangeError for another word."""
    if opacity and opacity not in SCATTERING:
        raise OutOfRangeError(f"A class of cover is {', '.join(SCATTERING)} or “”, not “{opacity}”.")
    return SCATTERING[opacity] if opacity else UNKNOWN_SCATTERING


def usual_load(pressure: Pressure, tooth: Tooth = Tooth.MEDIUM) -> float:
    """The load of one pass at a pressure on an ordinary paper of a tooth class. Raises OutOfRangeError for another
    word.
    """
    if pressure not in LOADS:
        raise OutOfRangeError(f"A pressure is {', '.join(LOADS)}, not “{pressure}”.")
    return LOADS[pressure] * tooth_takes(tooth, pressure)


def usual_grain(tooth: Tooth) -> float:
    """The grain of an ordinary paper of a tooth class. Raises OutOfRangeError for another word."""
    return TOOTH[_known(tooth)]


def tooth_takes(tooth: Tooth, pressure: Pressure) -> float:
    """How much a pass leaves on a paper of a tooth class beside one of medium tooth. Raises OutOfRangeError for
    another class.
    """
    return float(_SMOOTH_TAKES.get(pressure, 1.0) ** _TAKES_MORE[_known(tooth)])


def _known(tooth: Tooth) -> Tooth:
    if tooth not in TOOTH:
        raise OutOfRangeError(f"A tooth is {', '.join(TOOTH)}, not “{tooth}”.")
    return tooth


@dataclass(frozen=True)
class PaperModel:
    """A paper: body reflectance (31,), grain, Yule–Nielsen exponent, factors on the loads by pressure, the share of a
    layer that misses by chance, how much of several layers is one smeared film, and how well wax holds on wax.
    """

    body: Reflectance
    grain: float = TOOTH[Tooth.MEDIUM]
    exponent: float = YULE_NIELSEN
    load_factors: tuple[tuple[Pressure, float], ...] = ()
    by_chance: float = BY_CHANCE
    smeared: float = SMEARED
    hold: float = HOLD

    def load(self, pressure: Pressure) -> float:
        """The load of one pass at a pressure; raises OutOfRangeError for another word."""
        return usual_load(pressure) * self._factors.get(pressure, 1.0)

    @cached_property
    def _factors(self) -> dict[Pressure, float]:
        return dict(self.load_factors)


@dataclass(frozen=True)
class PencilModel:
    """A pencil: absorption (31,) and scattering (31,) per load, softness (1 is ordinary), factors on its loads by
    pressure where it answers to one otherwise than pencils do.
    """

    absorption: _Array
    scattering: _Array
    softness: float = 1.0
    load_factors: tuple[tuple[Pressure, float], ...] = ()

    def offered(self, paper: PaperModel, pressure: Pressure) -> float:
        """The wax that one pass offers to a paper; raises OutOfRangeError for an unknown pressure."""
        return paper.load(pressure) * self.softness * self._factors.get(pressure, 1.0)

    @cached_property
    def _factors(self) -> dict[Pressure, float]:
        return dict(self.load_factors)


@dataclass(frozen=True)
class Deposit:
    """What one pass left: load, share of the paper covered, thickness of the film on that share."""

    load: float
    coverage: float
    thickness: float


def deposit(pencil: PencilModel, paper: PaperModel, pressure: Pressure) -> Deposit:
    """What one pass leaves on bare paper. Raises OutOfRangeError for an unknown pressure."""
    laid = spread(pencil.offered(paper, pressure), paper.grain, pressure == Pressure.BURNISH)
    return Deposit(*(float(of) for of in laid))


def capacity(burnished: ArrayLike) -> _Array:
    """The most that a bare tooth takes from one pass (…), which burnishes or not."""
    return np.where(burnished, _PRESSED_CAPACITY, CAPACITY)


def spread(offered: ArrayLike, grain: ArrayLike, burnished: ArrayLike = False) -> tuple[_Array, _Array, _Array]:
    """Load, coverage and thickness of what a bare paper of some grain keeps of the wax offered, in
    the model's units of load; (…,), they broadcast.
    """
    most = capacity(burnished)
    load = most * -np.expm1(-np.asarray(offered, dtype=np.float64) / most)
    left = np.asarray(grain, dtype=np.float64) * np.where(burnished, BURNISHED_GRAIN, 1.0)
    coverage = -np.expm1(-load / left)
    return load, coverage, load / coverage


@dataclass(frozen=True)
class SpreadSlopes:
    """Coverage and thickness (…) of what a bare paper keeps, with their slopes by ln offered and by ln grain."""

    coverage: _Array
    thickness: _Array
    coverage_by_ln_offered: _Array
    thickness_by_ln_offered: _Array
    coverage_by_ln_grain: _Array
    thickness_by_ln_grain: _Array


def spread_slopes(offered: _Array, grain: _Array, burnished: NDArray[np.bool_]) -> SpreadSlopes:
    """What `spread` says with its slopes, each array (…)."""
    load, coverage, thickness = spread(offered, grain, burnished)
    left = grain * np.where(burnished, BURNISHED_GRAIN, 1.0)
    more_load = offered * np.exp(-offered / capacity(burnished))
    by_load = np.exp(-load / left) / left
    more_coverage, less_coverage = by_load * more_load, -by_load * load
    return SpreadSlopes(
        coverage, thickness,
        more_coverage, (more_load - thickness * more_coverage) / coverage,
        less_coverage, -thickness * less_coverage / coverage,
    )  # fmt: skip


def mark(pencil: PencilModel, paper: PaperModel, pressure: Pressure) -> Reflectance:
    """Body reflectance (31,) of a mark of one pass on bare paper; `stack` has further ones. Raises OutOfRangeError."""
    laid = deposit(pencil, paper, pressure)
    seen = film(pencil.absorption * laid.thickness, pencil.scattering * laid.thickness, paper.body)
    return mix(laid.coverage, seen, paper.body, paper.exponent)


def mix(coverage: ArrayLike, covered: ArrayLike, bare: ArrayLike, exponent: ArrayLike) -> Reflectance:
    """Yule–Nielsen: (c·covered^(1/n) + (1 − c)·bare^(1/n))^n; n = 1 is Murray–Davies."""
    c, n = np.asarray(coverage), np.asarray(exponent)
    return np.asarray((c * np.asarray(covered) ** (1.0 / n) + (1.0 - c) * np.asarray(bare) ** (1.0 / n)) ** n)


@dataclass(frozen=True)
class Swatch:
    """One swatch of a pencil: body reflectance (31,), its paper, the pencil's class of cover ("" for unknown)."""

    body: ArrayLike
    paper: PaperModel
    opacity: PrintedOpacity
    pressure: Pressure = Pressure.HEAVY
    layers: int = 1


def pencil_from_swatch(
    body: ArrayLike, paper: PaperModel, opacity: PrintedOpacity, pressure: Pressure = Pressure.HEAVY, layers: int = 1
) -> PencilModel:
    """The pencil that leaves a swatch of body reflectance (31,), as `pencils_from_swatches` finds it."""
    (pencil,) = pencils_from_swatches([Swatch(body, paper, opacity, pressure, layers)])
    return pencil


def pencils_from_swatches(swatches: Sequence[Swatch]) -> list[PencilModel]:
    """The pencils that leave swatches, one each.

    The coverage is undone, then ln k is found band by band, of all of them together; softness is raised where the gaps
    alone would be lighter than the swatch, scattering where even a film that absorbs nothing is too dark (pale on
    black). Of several layers the wax is taken to lie where the first one does: a beginning for a fit, near what `stack`
    would say. Raises OutOfRangeError for an unknown pressure.
    """
    if not swatches:
        return []
    films = [_film_of(swatch) for swatch in swatches]
    thickness = np.array([one.thickness for one in films])[:, None]
    wanted, scattering = np.stack([one.wanted for one in films]), np.stack([one.scattering for one in films])
    ground = np.stack([np.broadcast_to(swatch.paper.body, BANDS.shape) for swatch in swatches])
    absorption = _absorption(wanted, scattering, thickness, ground)
    return [
        PencilModel(k, one.scattering, one.softness) for k, one in zip(absorption, films, strict=True)
    ]  # fmt: skip


@dataclass(frozen=True)
class _CoveredShare:
    """What the covered share of a swatch must look like (31,), how it scatters (31,), how thick and soft it is."""

    wanted: _Array
    scattering: _Array
    thickness: float
    softness: float


def _film_of(swatch: Swatch) -> _CoveredShare:
    paper, pressure, layers = swatch.paper, swatch.pressure, swatch.layers
    seen = np.broadcast_to(np.asarray(swatch.body, dtype=np.float64), BANDS.shape)
    softness = _soft_enough(seen, paper, pressure, layers)
    laid = _one_over_another(paper, pressure, softness, layers)
    wanted = _under_gaps(seen, paper, laid)
    scattering = scattering_of(swatch.opacity) * FALLING
    scattering = _scattering_enough(wanted, scattering, laid.thickness, paper.body)
    return _CoveredShare(wanted, scattering, laid.thickness, softness)


def with_softness(pencil: PencilModel, softness: float) -> PencilModel:
    """The same pencil, softer or harder."""
    return replace(pencil, softness=softness)


def _soft_enough(seen: _Array, paper: PaperModel, pressure: Pressure, layers: int) -> float:
    """1, or the softness at which the gaps are no lighter than the swatch allows."""
    darkest = float(np.min(seen / paper.body))
    needed = min(_MOST_COVERED, 1.0 - _GAP_SHARE * max(darkest, 0.0) ** (1.0 / paper.exponent))
    if _one_over_another(paper, pressure, 1.0, layers).coverage >= needed:
        return 1.0
    burnished = pressure == Pressure.BURNISH
    grain, most = paper.grain * (BURNISHED_GRAIN if burnished else 1.0), float(capacity(burnished))
    load = -grain * np.log1p(-needed)
    return float(-most * np.log1p(-min(load / most, 0.999)) / paper.load(pressure))


def _one_over_another(paper: PaperModel, pressure: Pressure, softness: float, layers: int) -> Deposit:
    """Layers of one pencil as if all of them covered what the first one does."""
    if layers < 1:
        raise OutOfRangeError(f"A mark has at least one layer, not {layers}.")
    offered = paper.load(pressure) * softness
    _, coverage, _ = spread(offered, paper.grain, pressure == Pressure.BURNISH)
    load, _, _ = spread(layers * offered, paper.grain, pressure == Pressure.BURNISH)
    return Deposit(float(load), float(coverage), float(load / coverage))


def _under_gaps(seen: _Array, paper: PaperModel, laid: Deposit) -> _Array:
    """What the covered share must look like, so that with the gaps it is the swatch."""
    n, c = paper.exponent, laid.coverage
    root = (seen ** (1.0 / n) - (1.0 - c) * paper.body ** (1.0 / n)) / c
    return np.asarray(np.clip(root, 1e-3, None) ** n)


def _scattering_enough(wanted: _Array, scattering: _Array, thickness: float, ground: _Array) -> _Array:
    """Scattering raised, band by band, until a film that absorbs nothing is light enough."""
    clear = film(0.0, scattering * thickness, ground)
    lacking = clear < wanted
    if not bool(lacking.any()):
        return scattering
    # Without absorption R = (Rg + s(1 − Rg)) / (1 + s(1 − Rg)), which is solved for s.
    reach = np.clip(wanted, None, 0.995)
    s = (reach - ground) / ((1.0 - ground) * (1.0 - reach)) / thickness
    return np.asarray(np.where(lacking, np.clip(s, scattering, _MOST_S), scattering))


def _absorption(wanted: _Array, scattering: _Array, thickness: _Array, ground: _Array) -> _Array:
    """k (…, 31) by bisection of ln k, band by band: a film darkens as it absorbs more."""
    low, high = np.full(wanted.shape, np.log(_LEAST_K)), np.full(wanted.shape, np.log(_MOST_K))
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        too_light = film(np.exp(middle) * thickness, scattering * thickness, ground) > wanted
        low, high = np.where(too_light, middle, low), np.where(too_light, high, middle)
    return np.asarray(np.exp(0.5 * (low + high)))
