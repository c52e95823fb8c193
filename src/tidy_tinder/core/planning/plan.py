"""Working out a plan, from a first answer to the best one with its proof."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from tidy_tinder.core.planning.certificate import Certificate, Surety, dearest_that_helps
from tidy_tinder.core.planning.columns import Columns
from tidy_tinder.core.planning.couples import Choice
from tidy_tinder.core.planning.eliminate import alive, within_reach
from tidy_tinder.core.planning.evaluate import Plans
from tidy_tinder.core.planning.laying import Laid
from tidy_tinder.core.planning.objective import Cost
from tidy_tinder.core.planning.question import AskedPassage, Question, Way
from tidy_tinder.core.planning.search import cheapest_alone, search
from tidy_tinder.core.planning.solve import Solved, solve
from tidy_tinder.core.planning.stacking import Stacking, Ways, chosen
from tidy_tinder.core.quantities import Lab

# The program for the proof may take so long.
SECONDS = 5.0
_SAME = 1e-9


@dataclass(frozen=True, eq=False)
class PlannedPassage:
    """One passage of a plan: the way of each call; Lab after each call, as asked for and as planned (calls, 3); band:
    the ΔE00 within which nine of ten lie of how the finished ones differ; expected: that difference.
    """

    passage: AskedPassage
    ways: tuple[Way, ...]
    asked: Lab
    states: Lab
    band: float
    expected: float


@dataclass(frozen=True, eq=False)
class Plan:
    """A plan with what it costs and what is known of it; call_by_call: what answering each call by itself costs."""

    passages: tuple[PlannedPassage, ...]
    cost: Cost
    call_by_call: Cost
    certificate: Certificate


@dataclass(frozen=True)
class Step:
    """How far it is: passages laid of all there are."""

    done: int
    total: int


def work_out(
    question: Question, by_itself: Callable[[AskedPassage], Ways], go_on: Callable[[], bool] = lambda: True,
    seconds: float = SECONDS,
) -> Iterator[Step | Plan]:  # fmt: skip
    """Plans, each better or surer than the one before; between them how far it is.

    by_itself: the way of each call of a passage (calls,) that answers it by itself; the first plan is nothing else.
    go_on: asked now and then; where it says no, what was found last stands.
    """
    if not question.passages:
        return
    stacking = Stacking(question)
    starts = [by_itself(passage) for passage in question.passages]
    alone = [
        Laid(_only(p, ways), stacking, np.zeros_like(ways)) for p, ways in zip(question.passages, starts, strict=True)
    ]
    first = _told(Plans([each.columns() for each in alone]), np.zeros(len(alone), np.int64), Surety.QUICK)
    yield first
    laid: list[Laid] = []
    for done, (passage, start) in enumerate(zip(question.passages, starts, strict=True)):
        yield Step(done, len(starts))
        if not go_on():
            return
        laid.append(Laid(passage, stacking, start).look())
    plans = Plans([each.columns() for each in laid])
    best = _search(plans, starts, go_on)
    yield _told(plans, best, Surety.FOUND, call_by_call=first.cost)
    if go_on():
        yield _proven(laid, plans, best, first.cost, go_on, seconds)


def _search(plans: Plans, starts: Sequence[Ways], go_on: Callable[[], bool]) -> Choice:
    """The best plan that is found from what is cheapest alone, and from what answers each call by itself."""
    begins = [cheapest_alone(plans)]
    if (start_row := _rows_of(plans.columns, starts)) is not None:
        begins.append(start_row)
    found = [search(plans, begin, go_on) for begin in begins]
    return min(found, key=lambda choice: plans.cost(choice).total)


def _only(passage: AskedPassage, ways: Ways) -> AskedPassage:
    """The passage with one way for each call."""
    calls = (replace(c, ways=(c.ways[int(way)],)) for c, way in zip(passage.calls, ways, strict=True))
    return replace(passage, calls=tuple(calls))


def _proven(
    laid: Sequence[Laid], plans: Plans, known: Choice, call_by_call: Cost, go_on: Callable[[], bool], seconds: float
) -> Plan:  # fmt: skip
    """The best of all plans of the columns that were laid, as far as that can be proven in the time."""
    for last in (False, True):
        best, solved = _best_of(plans, known, seconds)
        value = plans.cost(best).total
        if not solved.proven:
            return _told(plans, best, Surety.FOUND, solved.bound, call_by_call)
        dearest = dearest_that_helps(plans, value, go_on)
        if all(each.cut >= limit for each, limit in zip(plans.columns, dearest, strict=True)):
            return _told(plans, best, Surety.PROVEN, value, call_by_call)
        if last:
            break
        # What was cut and may yet help is taken in, and the best is looked for once more.
        ways = [each.ways[at] for each, at in zip(plans.columns, best, strict=True)]
        plans = _with_what_may_help(laid, dearest, value)
        rows = _rows_of(plans.columns, ways)
        assert rows is not None, "what was kept before is kept again"
        known = rows
    return _told(plans, best, Surety.KEPT, value, call_by_call)


def _with_what_may_help(laid: Sequence[Laid], dearest: Sequence[float], value: float) -> Plans:
    """The plans of all columns that may be in one that costs less than `value`: what cannot, at the least that it can
    cost, is left out before the paper's doubts are worked out for the rest.
    """
    wide = Plans([each.columns(limit, at_least=True) for each, limit in zip(laid, dearest, strict=True)])
    fewer = wide.only(within_reach(wide, value))
    return Plans([each.priced(columns) for each, columns in zip(laid, fewer.columns, strict=True)], fewer.couples)


def _best_of(plans: Plans, known: Choice, seconds: float) -> tuple[Choice, Solved]:
    """The best plan that the program finds, or the one known where it finds none that is better."""
    value = plans.cost(known).total
    kept = alive(plans, value)
    solved = solve(plans.only(kept), seconds)
    if solved.choice is None:
        return known, solved
    found = np.array([those[at] for those, at in zip(kept, solved.choice, strict=True)], dtype=np.int64)
    return (found if plans.cost(found).total < value - _SAME else known), solved


def _rows_of(columns: Sequence[Columns], starts: Sequence[Ways]) -> Choice | None:
    """Which column of each passage holds exactly these ways; None where the paper does not take one of them."""
    rows = [np.flatnonzero((each.ways == ways).all(axis=1)) for each, ways in zip(columns, starts, strict=True)]
    return np.array([int(row[0]) for row in rows]) if all(row.size for row in rows) else None


def _told(
    plans: Plans, choice: Choice, standing: Surety, bound: float = -np.inf, call_by_call: Cost | None = None
) -> Plan:  # fmt: skip
    """One plan with what is known of it."""
    cost = plans.cost(choice)
    tried = sum(each.tried for each in plans.columns)
    passages = tuple(_passage(each, int(at)) for each, at in zip(plans.columns, choice, strict=True))
    return Plan(passages, cost, call_by_call or cost, Certificate(standing, cost.total, bound, tried))


def _passage(columns: Columns, at: int) -> PlannedPassage:
    return PlannedPassage(
        columns.passage, tuple(chosen(columns.passage, columns.ways[at])), columns.asked, columns.states[at],
        float(columns.band[at]), float(columns.expected[at]),
    )  # fmt: skip
