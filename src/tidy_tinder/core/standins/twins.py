"""Near twins: colours that could be taken for one another, and what parts them.

Two pencils that agree heavy on white board may part in light marks or on toned paper. Every kind of mark that
both are known by is compared; the largest difference says why they are not the same.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.quantities import Lab, check_limit
from tidy_tinder.core.vocabulary import Pressure

# Above this two colours are no twins (the band “another colour” of difference.components).
TWIN_WITHIN = 5.0


@dataclass(frozen=True, order=True)
class Condition:
    """A kind of mark that two colours can both be known by; chart is the printed chart, on no paper."""

    paper: int
    pressure: Pressure | Literal[""]
    layers: int

    @property
    def is_chart(self) -> bool:
        """Whether this is the printed chart."""
        return self.paper == 0


CHART = Condition(0, "", 0)


@dataclass(frozen=True)
class Twin:
    """A near twin: compared at `at`; parted most at `parts_at`, over `kinds` kinds of mark that both have."""

    key: int
    at: Condition
    difference: Difference
    parts_at: Condition
    parting: Difference
    kinds: int


class MarksAt:
    """All marks of one kind: Labs (3,), D65, 2°, by key, kept as one array."""

    def __init__(self, marks: Mapping[int, Lab]) -> None:
        self.keys: tuple[int, ...] = tuple(marks)
        self._place = {key: i for i, key in enumerate(self.keys)}
        self._labs = np.asarray([marks[key] for key in self.keys]).reshape(-1, 3)

    def __contains__(self, key: int) -> bool:
        return key in self._place

    def of(self, key: int) -> Lab:
        """The mark of one colour."""
        lab: Lab = self._labs[self._place[key]]
        return lab

    def distances(self, key: int) -> NDArray[np.float64]:
        """ΔE00 of every mark from that of `key`, in the order of the keys."""
        return delta_e_2000(self._labs, self.of(key))


def near_twins(
    key: int, known: Mapping[Condition, MarksAt], first: Condition, limit: int = 8
) -> tuple[Twin, ...]:  # fmt: skip
    """Colours within 5 ΔE00 of one.

    They are compared at `first` where both are known there, else by chart; where neither serves, a colour is
    left out. The two kinds are never ranked in one list: those compared at `first` come before those by chart,
    each nearest first and at most `limit` of them.
    """
    check_limit(limit)
    on_paper = _near(key, known, first, limit, frozenset())
    here = frozenset(known[first].keys) if first in known and key in known[first] else frozenset()
    by_chart = _near(key, known, CHART, limit, here)
    near = [(other, first) for other in on_paper] + [(other, CHART) for other in by_chart]
    return tuple(_twin(key, other, at, known) for other, at in near)


def _near(
    key: int, known: Mapping[Condition, MarksAt], at: Condition, limit: int, without: frozenset[int]
) -> list[int]:  # fmt: skip
    """The colours within reach at one kind of mark, nearest first."""
    marks = known.get(at)
    if marks is None or key not in marks:
        return []
    near: list[int] = []
    apart = marks.distances(key)
    for i in np.argsort(apart, kind="stable").tolist():
        if apart[i] > TWIN_WITHIN or len(near) == limit:
            break
        if marks.keys[i] != key and marks.keys[i] not in without:
            near.append(marks.keys[i])
    return near


def _twin(key: int, other: int, at: Condition, known: Mapping[Condition, MarksAt]) -> Twin:
    """The twin with what parts it most; a chart parts nothing that a mark on paper can speak of."""
    shared = [c for c, marks in known.items() if key in marks and other in marks]
    measured = [c for c in shared if not c.is_chart] or shared
    partings = {c: difference(known[c].of(key), known[c].of(other)) for c in measured}
    worst = max(partings, key=lambda c: partings[c].delta_e)
    there = difference(known[at].of(key), known[at].of(other))
    return Twin(other, at, there, worst, partings[worst], len(measured))
