"""Simulated observers of known sharpness and bias, and how well they are found out.

An observer answers by a logistic function of the logarithm of the level, and slips now and then; its threshold, slope
and slips are drawn around what the fit holds likely, not at it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from benchmarks.page import Row
from tidy_tinder.core.practice.bias import Judged, bias_by_region
from tidy_tinder.core.practice.drills import SCALES, Drill, Scale
from tidy_tinder.core.practice.staircase import TARGET, next_level
from tidy_tinder.core.practice.threshold import threshold_of

_OBSERVERS, _ANSWERS, _BIAS_ANSWERS = 200, 60, 80
_REGIONS = (
    "dark reds", "light reds", "light yellows", "dark greens", "light greens", "dark blues", "light blues",
    "dark violets", "light oranges and browns", "dark oranges and browns",
)  # fmt: skip


@dataclass(frozen=True)
class Observer:
    """threshold: the level at which three of four are right; slope: of the logistic in the level's logarithm."""

    threshold: float
    slope: float
    scale: Scale
    slips: float = 0.02

    def share(self, level: float) -> float:
        """How often it is right at a level."""
        room = 1.0 - self.scale.guess - self.slips
        wanted = (TARGET - self.scale.guess) / room
        above = np.log(level / self.threshold) / self.slope + np.log(wanted / (1.0 - wanted))
        return float(self.scale.guess + room / (1.0 + np.exp(-above)))


def observer(rng: Generator, scale: Scale) -> Observer:
    """Any observer of a kind of question."""
    threshold = float(np.exp(rng.normal(np.log(scale.begin / 2.6), 0.5)))
    threshold = float(np.clip(threshold, 1.3 * scale.least, scale.most / 2.0))
    return Observer(threshold, float(np.exp(rng.normal(np.log(0.3), 0.3))), scale, float(rng.uniform(0.0, 0.04)))


def answered(eye: Observer, rng: Generator, count: int) -> tuple[list[float], list[bool]]:
    """Levels and answers; colours that are there are never quite as hard as they were wanted."""
    levels: list[float] = []
    rights: list[bool] = []
    for _ in range(count):
        level = next_level(rights, eye.scale) * float(np.exp(rng.normal(0.0, 0.1)))
        levels.append(level)
        rights.append(bool(rng.random() < eye.share(level)))
    return levels, rights


def biased_answers(rng: Generator, count: int, bias: float) -> list[Judged]:
    """Which of two is lighter, by an eye to which dark reds look lighter by so much L*, and is asked of them again."""
    scale, spread = SCALES[Drill.LIGHTER], float(rng.uniform(1.5, 3.5))
    judged: list[Judged] = []
    rights: list[bool] = []
    for _ in range(count):
        first, second = (str(name) for name in rng.choice(_REGIONS, 2, replace=False))
        if _REGIONS[0] not in (first, second) and rng.random() < 0.4:
            first = _REGIONS[0]
        size = next_level(rights, scale) * float(np.exp(rng.normal(0.0, 0.2)))
        by = size if rng.random() < 0.5 else -size
        seen = by + bias * ((first == _REGIONS[0]) - (second == _REGIONS[0]))
        said = bool(seen + spread * rng.standard_normal() > 0.0)
        judged.append(Judged(first, second, by, said))
        rights.append(said == (by > 0.0))
    return judged


def rows() -> list[Row]:
    """The figures."""
    return [*_thresholds(), *_biases()]


def _thresholds() -> list[Row]:
    rng, found = np.random.default_rng(2026), []
    for drill, scale in SCALES.items():
        off, inside = [], []
        for _ in range(_OBSERVERS):
            eye = observer(rng, scale)
            told = threshold_of(*answered(eye, rng, _ANSWERS), scale)
            off.append(abs(np.log(told.level / eye.threshold)))
            inside.append(told.low <= eye.threshold <= told.high)
        median, worst = (float(np.exp(np.quantile(off, q)) - 1.0) for q in (0.5, 0.95))
        figure = f"{100 * median:.0f} % / {100 * worst:.0f} %; {100 * np.mean(inside):.0f} % within their range"
        what = f"threshold, “{drill.value}”, {_ANSWERS} answers: off, median / 95th of {_OBSERVERS} observers"
        found.append((what, figure, "15 % in the median; 90 %"))
    return found


def _biases() -> list[Row]:
    rng, off, told, blamed = np.random.default_rng(2027), [], [], []
    for _ in range(_OBSERVERS):
        found = bias_by_region(biased_answers(rng, _BIAS_ANSWERS, -4.0))
        off.append(abs(found[_REGIONS[0]].by + 4.0))
        told.append(found[_REGIONS[0]].is_sure)
        blamed += [one.is_sure for name, one in found.items() if name != _REGIONS[0]]
    unbiased = [
        one.is_sure for _ in range(60) for one in bias_by_region(biased_answers(rng, _BIAS_ANSWERS, 0.0)).values()
    ]
    return [
        (
            f"a bias of 4 L* of one region, {_BIAS_ANSWERS} answers: off, median / 95th",
            f"{np.median(off):.1f} / {np.quantile(off, 0.95):.1f}",
            "1.5",
        ),
        (
            "the same told to the artist; another region blamed; blamed where there is none",
            f"{100 * np.mean(told):.0f} %; {100 * np.mean(blamed):.0f} %; {100 * np.mean(unbiased):.0f} %",
            "",
        ),
    ]
