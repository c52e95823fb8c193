"""How hard the next question is: a weighted up-down staircase.

Source: C. Kaernbach, “Simple adaptive testing with the weighted up-down method”, Perception & Psychophysics 49 (1991)
227: steps up and down are so weighted that they balance where the target share is right.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import exp, log

from tidy_tinder.core.practice.drills import Scale

TARGET = 0.75
"""The share of right answers that the staircase settles at."""

# Steps of the level's logarithm after a right answer: long until the first mistakes, then short (ours).
_LONG, _SHORT, _MISTAKES = 0.16, 0.08, 2


def next_level(rights: Sequence[bool], scale: Scale, begin: float | None = None) -> float:
    """The level of the next question after these answers, the oldest first. begin: where it starts, else the scale's.

    A right answer makes it harder by a step, a wrong one easier by TARGET / (1 − TARGET) steps.
    """
    level, mistakes = log(scale.begin if begin is None else begin), 0
    for right in rights:
        step = _LONG if mistakes < _MISTAKES else _SHORT
        mistakes += not right
        level += -step if right else step * TARGET / (1.0 - TARGET)
        level = min(max(level, log(scale.least)), log(scale.most))
    return exp(level)
