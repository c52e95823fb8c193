"""What is asked next: of colours that surely differ in what is asked for, as nearly as hard as it should be.

Chance comes in as a generator with the caller's seed. A pair is asked about only where it differs by more than what
both colours may be off: what nobody knows is no question.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import chroma, temperature, value_step
from tidy_tinder.core.practice.drills import CHOICES, IN_ORDER, Drill
from tidy_tinder.core.practice.regions import regions_of
from tidy_tinder.core.quantities import Lab

_Array = NDArray[np.float64]

# So near to the level that was wanted a question may lie, as a logarithm; else the nearest ones are asked (ours).
_NEAR, _NEAREST = 0.2, 12
# Colours of the region that needs it are asked about so much more often (ours).
_FAVOURED = 4.0
# The nearest of four is so far from what is asked for: neither the same nor another colour altogether, ΔE00 (ours).
_FROM, _TO = 3.0, 15.0
_TRIES = 40


@dataclass(frozen=True, eq=False)
class Known:
    """Colours that can be asked about. lab: (N, 3); off: (N,), the ΔE00 within which nine of ten lie.

    off_L, off_temperature: by the weights S_L and S_C of CIEDE2000 (CIE 142; Luo, Cui, Rigg 2001), the larger of those
    of chroma and hue.
    """

    lab: Lab
    off: _Array

    @property
    def off_L(self) -> _Array:
        """The same in L* (N,): CIEDE2000 sees less of it near black and white."""
        from_middle = (self.lab[:, 0] - 50.0) ** 2
        return np.asarray(self.off * (1.0 + 0.015 * from_middle / np.sqrt(20.0 + from_middle)))

    @property
    def off_temperature(self) -> _Array:
        """The same in units of a* and b* (N,): CIEDE2000 sees the less of them, the more vivid a colour is."""
        return np.asarray(self.off * (1.0 + 0.045 * chroma(self.lab)))

    @property
    def regions(self) -> tuple[str, ...]:
        """The region of hue of each."""
        return regions_of(self.lab)


@dataclass(frozen=True)
class Asked:
    """A question. shown: places of the colours that are asked about; choices: places, or value steps, that are offered;
    right: what is right, as places among the choices, in order where several are; level: how hard it is; region,
    other: hues that it is about; signed: first less second where two are compared, the true value where one is named.
    """

    drill: Drill
    shown: tuple[int, ...]
    choices: tuple[int, ...]
    right: tuple[int, ...]
    level: float
    region: str = ""
    other: str = ""
    signed: float | None = None


def ask_two(known: Known, drill: Drill, level: float, favoured: str, rng: Generator) -> Asked | None:
    """Which of two of unlike hue is lighter, or warmer. None where no two are known well enough."""
    lighter = drill is Drill.LIGHTER
    values = known.lab[:, 0] if lighter else np.asarray(temperature(known.lab))
    off = known.off_L if lighter else known.off_temperature
    first, second = np.triu_indices(len(values), 1)
    apart = np.abs(values[first] - values[second])
    regions = known.regions
    family = np.array([name.split(" ", 1)[1] for name in regions])
    sure = apart > np.hypot(off[first], off[second])
    rows = np.flatnonzero(sure & (family[first] != family[second]))
    if not len(rows):
        return None
    named = np.array(regions)
    weight = 1.0 + (_FAVOURED - 1.0) * ((named[first[rows]] == favoured) | (named[second[rows]] == favoured))
    row = rows[_as_hard(apart[rows], level, weight, rng)]
    pair = (int(first[row]), int(second[row]))
    if rng.random() < 0.5:
        pair = (pair[1], pair[0])
    by = float(values[pair[0]] - values[pair[1]])
    return Asked(
        drill, pair, pair, (0 if by > 0.0 else 1,), abs(by), regions[pair[0]], regions[pair[1]], by
    )  # fmt: skip


def ask_closest(known: Known, level: float, rng: Generator) -> Asked | None:
    """Which of four is closest to one; level: by how much the next one is further off. None where none can be asked."""
    best: Asked | None = None
    for asked in rng.permutation(len(known.lab))[:_TRIES]:
        away = np.asarray(delta_e_2000(known.lab[asked], known.lab))
        order = np.argsort(away)
        near = [i for i in order if i != asked and _FROM <= away[i] <= _TO]
        if not near:
            continue
        nearest = near[int(rng.integers(len(near)))]
        gap = away - away[nearest]
        sure = gap > np.hypot(known.off, known.off[nearest])
        others = [i for i in order if sure[i] and i != asked]
        if len(others) < CHOICES - 1:
            continue
        at = int(np.argmin([abs(np.log(gap[i] / level)) for i in others[: -(CHOICES - 2) or None]]))
        found = Asked(
            Drill.CLOSEST, (int(asked),),
            *_shuffled(int(nearest), [int(i) for i in others[at : at + CHOICES - 1]], rng),
            float(gap[others[at]]), known.regions[asked],
        )  # fmt: skip
        if best is None or abs(np.log(found.level / level)) < abs(np.log(best.level / level)):
            best = found
        if abs(np.log(best.level / level)) < _NEAR:
            break
    return best


def ask_order(known: Known, level: float, rng: Generator) -> Asked | None:
    """Six by value, the lightest first; level: the least step of L* between neighbours. None where there are no six."""
    L, off = known.lab[:, 0], known.off_L
    for gap in (level, level / 1.5, level / 2.2, level / 3.3):
        for _ in range(_TRIES):
            ladder = [int(rng.integers(len(L)))]
            for place in rng.permutation(len(L)):
                apart = np.abs(L[place] - L[ladder])
                if len(ladder) < IN_ORDER and bool(np.all(apart > np.maximum(gap, off[place] + off[ladder]))):
                    ladder.append(int(place))
            if len(ladder) == IN_ORDER:
                steps = np.diff(np.sort(L[ladder]))
                right = tuple(int(i) for i in np.argsort(-L[ladder]))
                return Asked(Drill.ORDER, (), tuple(ladder), right, float(steps.min()))
    return None


def ask_value(known: Known, favoured: str, rng: Generator) -> Asked | None:
    """Which step of value, 0 to 10, a colour has: four steps are offered. None where nothing is known well enough."""
    # Known to less than half a step, five L*: else the step itself is not known.
    sure = np.flatnonzero(known.off_L < 2.5)
    if not len(sure):
        return None
    regions = known.regions
    weight = np.array([_FAVOURED if regions[i] == favoured else 1.0 for i in sure])
    place = int(rng.choice(sure, p=weight / weight.sum()))
    value = float(value_step(known.lab[place]))
    step = min(max(round(value), 0), 10)
    lowest = int(rng.integers(max(step - CHOICES + 1, 0), min(step, 11 - CHOICES) + 1))
    choices = tuple(range(lowest, lowest + CHOICES))
    return Asked(Drill.VALUE_STEP, (place,), choices, (choices.index(step),), 1.0, regions[place], "", value)


def ask_result(results: Known, level: float, rng: Generator) -> tuple[tuple[int, ...], int, float] | None:
    """Four results of which the first of all is right: places in order of showing, which is right, and how hard it is.

    None where too few others surely differ from it.
    """
    away = np.asarray(delta_e_2000(results.lab[0], results.lab))
    sure = [i for i in np.argsort(away) if away[i] > float(np.hypot(results.off[0], results.off[i])) and i != 0]
    if len(sure) < CHOICES - 1:
        return None
    at = int(np.argmin([abs(np.log(away[i] / level)) for i in sure[: -(CHOICES - 2) or None]]))
    choices, right = _shuffled(0, [int(i) for i in sure[at : at + CHOICES - 1]], rng)
    return choices, right[0], float(away[sure[at]])


def _as_hard(levels: _Array, wanted: float, weight: _Array, rng: Generator) -> int:
    """One of these, about as hard as it is wanted."""
    off = np.abs(np.log(levels / wanted))
    near = np.flatnonzero(off < _NEAR)
    if len(near) < _NEAREST:
        near = np.argsort(off)[:_NEAREST]
    return int(rng.choice(near, p=weight[near] / weight[near].sum()))


def _shuffled(right: int, wrong: Sequence[int], rng: Generator) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """The choices in any order, and at which place the right one stands."""
    choices = [right, *wrong]
    rng.shuffle(choices)
    return tuple(choices), (choices.index(right),)
