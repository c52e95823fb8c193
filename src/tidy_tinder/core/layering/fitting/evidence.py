"""What is known of a pencil before it is fitted: its marks, each on a known ground."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.fitting.paper_unknowns import PAPER_UNKNOWNS, paper_follows
from tidy_tinder.core.layering.optics.film import strip_surface
from tidy_tinder.core.layering.optics.response import Marks
from tidy_tinder.core.layering.optics.tooth import PaperModel
from tidy_tinder.core.quantities import BANDS, Lab, Reflectance, check_lab
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]


@dataclass(frozen=True)
class Kind:
    """A kind of dry mark: pressure, layers of the one pencil, over the paper or a printed black bar."""

    pressure: Pressure
    layers: int = 1
    over_black: bool = False


# Standard deviation of a reading in ΔE*ab: the reader, and where on the mark it is put (ours).
READING_SD = 0.35


@dataclass(frozen=True)
class Evidence:
    """One dry mark of one pencil: Lab (3,), D65, 2°, on a paper, and its kind.

    noise: standard deviation of the value in ΔE*ab, the hand not counted (a reader's is .35; ours); alike: how much of
    it all marks of the pencil that have such a part share, as those that one camera saw do. spectrum: total reflectance
    (31,) where it was measured, else None. at_home: whether the paper is the one that pencils are fitted on first,
    which their fits follow.
    """

    lab: Lab
    paper: PaperModel
    kind: Kind
    noise: float = READING_SD
    spectrum: Reflectance | None = None
    at_home: bool = False
    alike: float = 0.0


# Places of a pencil's unknowns. The cosine coefficients of ln k come first, then ln of its scattering and softness,
# then ln of how it answers to pressures otherwise than pencils do; to a heavy one its softness does.
COSINES = 9
LN_S, LN_H = COSINES, COSINES + 1
LN_ANSWER = {Pressure.LIGHT: COSINES + 2, Pressure.MEDIUM: COSINES + 3, Pressure.BURNISH: COSINES + 4}
UNKNOWNS = COSINES + 5

_AT = (np.arange(BANDS.size) + 0.5) / BANDS.size
# (9, 31): cosines over the bands.
BASIS: _Array = np.cos(np.pi * np.arange(COSINES)[:, None] * _AT)

# A printed black solid: density near 1.4, that is a reflectance of 4 % (ISO 12647-2 puts offset black between L* 16 on
# coated and 31 on uncoated paper; from memory).
BLACK_BAR = strip_surface(np.full(BANDS.size, 0.04))


@dataclass(frozen=True)
class Packed:
    """The marks of N pencils, S places each, as arrays; places without a mark have weight 0.

    lab (N, S, 3), noise, alike, weight, ln_offered, ln_grain, ln_over, logit_chance, hold (N, S), body (N, S, 31),
    layers, burnished (N, S); answers (N, S, unknowns): which of a pencil's unknowns each load follows; loads (N, S, 9):
    which of a paper's; at_home (N, S): 1 for marks on the paper that pencils are fitted on first, else 0.
    """

    lab: Lab
    noise: _Array
    alike: _Array
    weight: _Array
    ln_offered: _Array
    ln_grain: _Array
    ln_over: _Array
    logit_chance: _Array
    hold: _Array
    body: Reflectance
    layers: NDArray[np.int64]
    burnished: NDArray[np.bool_]
    answers: _Array
    loads: _Array
    at_home: _Array

    def marks(self, pencils: _Array, fine: _Array, slips: _Array) -> Marks:
        """These places as pencils with unknowns (N, unknowns) and fine (N, 31) would fill them; slips (N, S): ln of
        what the hand laid more.
        """
        shape = self.weight.shape
        ln_k = pencils[:, :COSINES] @ BASIS + fine
        return Marks(
            np.broadcast_to(ln_k[:, None, :], (*shape, BANDS.size)),
            np.broadcast_to(pencils[:, LN_S, None], shape),
            self.ln_offered + (self.answers @ pencils[..., None])[..., 0] + slips,
            self.ln_grain,
            self.ln_over,
            self.logit_chance,
            self.hold,
            self.body,
            self.layers,
            self.burnished,
        )

    def some(self, which: NDArray[np.int64]) -> Packed:
        """Some of the pencils."""
        return Packed(**{name: of[which] for name, of in vars(self).items()})


@cache
def load_follows(pressure: Pressure) -> _Array:
    """Which of a pencil's unknowns (14,) the ln of its load at a pressure follows; not to be written to."""
    follows = np.zeros(UNKNOWNS)
    follows[[LN_H, *((LN_ANSWER[pressure],) if pressure in LN_ANSWER else ())]] = 1.0
    follows.flags.writeable = False
    return follows


def _check(one: Evidence) -> None:
    """Raises OutOfRangeError for a mark that cannot be: no finite Lab, no noise, no layer."""
    check_lab(one.lab, "The Lab of a mark")
    if not 0.0 < one.noise < np.inf:
        raise OutOfRangeError(f"A reading has some noise, in ΔE*ab: it is {one.noise}.")
    if not 0.0 <= one.alike <= one.noise:
        raise OutOfRangeError(f"Marks share a part of their noise of {one.noise}, not {one.alike}.")
    if one.kind.layers < 1:
        raise OutOfRangeError(f"A mark has at least one layer, not {one.kind.layers}.")


def pack(evidence: Sequence[Sequence[Evidence]]) -> Packed:
    """Arrays of the evidence for several pencils at once.

    Raises OutOfRangeError for an unknown pressure, a Lab that no surface has, and where there is no noise or no layer.
    """
    places = max((len(marks) for marks in evidence), default=0)
    shape = (len(evidence), places)
    lab, body = np.full((*shape, 3), 50.0), np.full((*shape, BANDS.size), 0.5)
    noise, alike, weight = np.ones(shape), np.zeros(shape), np.zeros(shape)
    offered, grain, over, chance, hold = (np.zeros(shape) for _ in range(5))
    layers, burnished = np.ones(shape, dtype=np.int64), np.zeros(shape, dtype=bool)
    answers, loads, home = np.zeros((*shape, UNKNOWNS)), np.zeros((*shape, PAPER_UNKNOWNS)), np.zeros(shape)
    for i, marks in enumerate(evidence):
        for j, one in enumerate(marks):
            _check(one)
            lab[i, j], body[i, j] = one.lab, BLACK_BAR if one.kind.over_black else one.paper.body
            noise[i, j], alike[i, j], weight[i, j] = one.noise, one.alike, 1.0
            offered[i, j] = np.log(one.paper.load(one.kind.pressure))
            grain[i, j], over[i, j] = np.log(one.paper.grain), np.log(one.paper.exponent - 1.0)
            chance[i, j] = np.log(one.paper.by_chance / (1.0 - one.paper.by_chance))
            hold[i, j] = one.paper.hold
            layers[i, j], burnished[i, j] = one.kind.layers, one.kind.pressure == Pressure.BURNISH
            answers[i, j], loads[i, j] = load_follows(one.kind.pressure), paper_follows(one.kind.pressure)
            home[i, j] = one.at_home
    return Packed(
        lab, noise, alike, weight, offered, grain, over, chance, hold, body, layers, burnished, answers, loads, home
    )  # fmt: skip
