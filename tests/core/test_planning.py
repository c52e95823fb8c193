"""Plans of whole recipes: what they cost by an evaluation of our own with another's ΔE00, brute force, what may not
change them.

The tests ask the questions that an artist would: is it really the best, and does it stay so when she locks, excludes or
buys something?
"""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from itertools import combinations, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.stats import ncx2
from skimage.color import deltaE_ciede2000
from tests.core.small_plans import PENCILS, looks, nearest_alone, small_question, small_world

from tidy_tinder.core.difference.expected import expected_difference
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.optics.shared_layers import finished_on_each, states_of
from tidy_tinder.core.layering.optics.stack import bodies_of, stack
from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning import laying
from tidy_tinder.core.planning.certificate import Surety
from tidy_tinder.core.planning.couples import Couple
from tidy_tinder.core.planning.eliminate import alive
from tidy_tinder.core.planning.evaluate import Plans
from tidy_tinder.core.planning.laying import Laid
from tidy_tinder.core.planning.plan import Plan, PlannedPassage, Step, work_out
from tidy_tinder.core.planning.question import AskedPassage, PlannedCall, Question, Way
from tidy_tinder.core.planning.search import cheapest_alone, search
from tidy_tinder.core.planning.solve import solve
from tidy_tinder.core.planning.stacking import Stacking
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]


def plans_for(question: Question) -> list[Plan]:
    """Every plan in the order in which they come."""
    return [one for one in work_out(question, nearest_alone, seconds=60.0) if isinstance(one, Plan)]


def best_for(question: Question) -> Plan:
    return plans_for(question)[-1]


def laid_in(plan: Plan) -> list[tuple[tuple[Layer[int], ...], ...]]:
    """The layers of every call of every passage."""
    return [tuple(way.layers for way in each.ways) for each in plan.passages]


def another_delta_e(a: object, b: object) -> float:
    """ΔE00 by scikit-image."""
    return float(deltaE_ciede2000(np.asarray(a), np.asarray(b)))


def cost_of(question: Question, passages: tuple[PlannedPassage, ...]) -> float:
    """What a plan costs by the words of the design: min Σ cost + .15·Σ u + Σ slacks; bands are taken as given."""
    total, free = 0.0, question.free
    for each in passages:
        calls = each.passage.calls
        asked: list[Layer[int]] = []
        laid: list[Layer[int]] = []
        after: list[tuple[_Array, _Array]] = []
        for at, (call, way) in enumerate(zip(calls, each.ways, strict=True)):
            asked.append(call.asked)
            laid.extend(way.layers)
            dissolved = each.passage.solvent and at == len(calls) - 1
            after.append((looks([asked], dissolved)[0], looks([laid], dissolved)[0]))
        total += float(expected_difference(another_delta_e(*after[-1]), each.band))
        total += 0.25 * sum(another_delta_e(*states) for states in after[:-1])
        total += 0.3 * sum(len(way.pencils) == 2 for way in each.ways)
        total += sum(
            kept_apart(one.mark, other.mark, a.alone, b.alone)
            for (one, a), (other, b) in combinations(zip(calls, each.ways, strict=True), 2)
            if not (one.settled and other.settled)
        )
    for p, q in combinations(passages, 2):
        total += kept_apart(p.asked[-1], q.asked[-1], p.states[-1], q.states[-1])
    every = [(call, way) for each in passages for call, way in zip(each.passage.calls, each.ways, strict=True)]
    for (one, a), (other, b) in combinations(every, 2):
        if one.asked.pencil != other.asked.pencil and not (one.settled and other.settled) and a.pencils & b.pencils:
            price = 0.1 * max(min(another_delta_e(one.mark, other.mark), 20.0) - 2.0, 0.0)
            total += price * {2: 1.0, 3: 0.5, 4: 0.0}[len(a.pencils) + len(b.pencils)]
    return total + 0.15 * len({pencil for _, way in every for pencil in way.pencils} - free)


def kept_apart(asked_p: _Array, asked_q: _Array, p: _Array, q: _Array) -> float:
    """What it costs that two colours change places in value, or fall together."""
    gap, cost = float(asked_p[0] - asked_q[0]), 0.0
    if abs(gap) >= 4.0:
        cost += max(min(2.0, abs(gap) / 2.0) - float(np.sign(gap)) * float(p[0] - q[0]), 0.0)
    if another_delta_e(asked_p, asked_q) >= 3.5:
        cost += 1.5 * max(2.0 - another_delta_e(p, q), 0.0)
    return cost


def every_plan(plans: Plans) -> list[float]:
    sizes = [range(len(each)) for each in plans.columns]
    return [plans.cost(np.array(choice)).total for choice in product(*sizes)]


def kept_plans(question: Question) -> Plans:
    stacking = Stacking(question)
    return Plans([Laid(p, stacking, nearest_alone(p)).look().columns(np.inf) for p in question.passages])


@pytest.mark.parametrize("seed", range(6))
def test_a_plan_costs_what_its_parts_cost_by_another_reckoning(seed: int) -> None:
    question = small_question(seed, (2, 1, 3))
    for plan in plans_for(question):
        assert plan.cost.total == pytest.approx(cost_of(question, plan.passages), abs=2e-3)
        assert plan.certificate.value == pytest.approx(plan.cost.total)


@pytest.mark.parametrize("seed", range(8))
def test_brute_force_finds_no_better_plan(seed: int) -> None:
    """All ways of all calls tried: so few that every column is kept."""
    question = small_question(seed + 40, (1, 2, 1), ways=5)
    sizes = [[range(len(call.ways)) for call in passage.calls] for passage in question.passages]
    plan = best_for(question)
    assert plan.certificate.standing is Surety.PROVEN
    plans = kept_plans(question)
    assert [len(each) for each in plans.columns] == [int(np.prod([len(s) for s in each])) for each in sizes]
    assert plan.cost.total == pytest.approx(min(every_plan(plans)), abs=1e-9)


def test_what_is_called_proven_is_the_best_of_all_that_were_laid(monkeypatch: pytest.MonkeyPatch) -> None:
    """However few columns are kept at first: also a plan of several columns that were cut could not be better."""
    proven: Counter[int] = Counter()
    for seed in range(8):
        question = small_question(seed + 200, (1, 1, 2), ways=4)
        least = min(every_plan(kept_plans(question)))
        for kept in (1, 2, 4):
            with monkeypatch.context() as fewer:
                fewer.setattr(laying, "_KEPT", kept)
                plan = best_for(question)
            assert plan.cost.total >= least - 1e-9
            if plan.certificate.standing is Surety.PROVEN:
                proven[kept] += 1
                assert plan.cost.total == pytest.approx(least, abs=1e-6)
    assert all(proven[kept] >= 4 for kept in (1, 2, 4)), proven


@pytest.mark.parametrize("seed", range(6))
def test_each_plan_is_no_dearer_than_the_one_before(seed: int) -> None:
    costs = [plan.cost.total for plan in plans_for(small_question(seed, (2, 2, 2, 1)))]
    assert costs == sorted(costs, reverse=True)
    assert len(costs) == 3


@pytest.mark.parametrize("seed", range(5))
def test_the_program_and_the_dead_ends_agree_with_trying_everything(seed: int) -> None:
    plans = kept_plans(small_question(seed + 80, (2, 1, 1), ways=6))
    least = min(every_plan(plans))
    found = solve(plans, 60.0)
    assert found.proven
    assert found.choice is not None
    assert plans.cost(found.choice).total == pytest.approx(least, abs=1e-6)
    assert found.bound == pytest.approx(least, abs=1e-6)
    kept = alive(plans, least)
    assert sum(map(len, kept)) < sum(map(len, plans.columns))
    assert min(every_plan(plans.only(kept))) == pytest.approx(least, abs=1e-9)
    assert plans.cost(search(plans, cheapest_alone(plans))).total >= least - 1e-9


@pytest.mark.parametrize("seed", range(4))
def test_locking_what_was_chosen_changes_nothing(seed: int) -> None:
    question = small_question(seed, (2, 1, 2))
    plan = best_for(question)
    for at in range(3):
        locked = with_call(question, at, 0, lambda call, way: replace(call, ways=(way,), settled=True), plan)
        assert laid_in(best_for(locked)) == laid_in(plan)


@pytest.mark.parametrize("seed", range(4))
def test_excluding_what_was_not_chosen_changes_nothing_and_what_was_never_helps(seed: int) -> None:
    question = small_question(seed, (2, 1, 2))
    plan = best_for(question)

    def without_others(call: PlannedCall, way: Way) -> PlannedCall:
        kept = [one for one in call.ways if one is not way]
        return replace(call, ways=tuple(one for one in call.ways if one is not kept[-1]))

    def without_it(call: PlannedCall, way: Way) -> PlannedCall:
        return replace(call, ways=tuple(one for one in call.ways if one is not way))

    assert laid_in(best_for(with_call(question, 2, 0, without_others, plan))) == laid_in(plan)
    other = best_for(with_call(question, 2, 0, without_it, plan))
    assert other.cost.total >= plan.cost.total - 1e-9
    assert laid_in(other)[2][0] != laid_in(plan)[2][0]


def with_call(question: Question, passage: int, call: int, change: object, plan: Plan) -> Question:
    """The question with one call changed; change is given the call and the way that the plan laid it in."""
    asked = question.passages[passage]
    changed = change(asked.calls[call], plan.passages[passage].ways[call])  # type: ignore[operator]
    calls = (*asked.calls[:call], changed, *asked.calls[call + 1 :])
    passages = list(question.passages)
    passages[passage] = replace(asked, calls=calls)
    return replace(question, passages=tuple(passages))


@pytest.mark.parametrize("seed", range(4))
def test_one_way_more_never_makes_it_dearer_where_all_are_tried(seed: int) -> None:
    question = small_question(seed + 7, (1, 2), ways=5)
    fewer = replace(
        question,
        passages=tuple(
            replace(p, calls=tuple(c if c.settled else replace(c, ways=c.ways[:-1]) for c in p.calls))
            for p in question.passages
        ),
    )
    assert best_for(question).cost.total <= best_for(fewer).cost.total + 1e-9


@pytest.mark.parametrize("factor", [0.1, 3.0])
def test_scaling_every_price_changes_no_plan(factor: float) -> None:
    plans = kept_plans(small_question(3, (2, 1, 2)))
    columns = [replace(c, cost=c.cost * factor, states=c.states * factor) for c in plans.columns]
    couples = {
        both: Couple(
            c.total * factor, c.need * factor, c.collapse * factor,
            tuple(replace(shared, price=shared.price * factor) for shared in c.shared),
        )
        for both, c in plans.couples.items()
    }  # fmt: skip
    scaled = solve(Plans(columns, couples, plans.price * factor), 60.0)
    plain = solve(plans, 60.0)
    assert scaled.choice is not None
    assert plain.choice is not None
    assert scaled.choice.tolist() == plain.choice.tolist()


@pytest.mark.parametrize("most", [5, 7, 9])
def test_no_passage_has_more_layers_than_the_paper_takes(most: int) -> None:
    for seed in range(4):
        question = small_question(seed, (3, 2), most_layers=most)
        for each in best_for(question).passages:
            fewest = sum(min(way.passes for way in call.ways) for call in each.passage.calls)
            assert sum(way.passes for way in each.ways) <= max(most, fewest)


def test_the_order_of_values_is_kept_where_a_plan_can_keep_it() -> None:
    """A light and a dark passage, whose nearest stand-ins would change places."""
    question = swapped()
    lights, darks = best_for(question).passages
    assert lights.asked[-1][0] > darks.asked[-1][0] + 4.0
    assert lights.states[-1][0] > darks.states[-1][0]
    first = plans_for(question)[0].passages
    assert first[0].states[-1][0] < first[1].states[-1][0]


def swapped() -> Question:
    """Two passages of one call; the nearest way of the lighter is darker than the nearest of the other."""
    known, paper = small_world()
    marks = looks([(Layer(i, Pressure.HEAVY),) for i in range(PENCILS)])
    order = np.argsort(marks[:, 0])
    dark, light = next((int(a), int(b)) for a, b in combinations(order, 2) if 4.5 < marks[b, 0] - marks[a, 0] < 9.0)
    below, between = (int(order[0]), int(order[-1]))
    asked = [Layer(i, Pressure.HEAVY) for i in (light, dark)]
    ways = [
        (way_of(Layer(below, Pressure.HEAVY)), way_of(Layer(light, Pressure.MEDIUM, 2))),
        (way_of(Layer(between, Pressure.HEAVY)), way_of(Layer(dark, Pressure.MEDIUM, 3))),
    ]
    passages = tuple(
        AskedPassage(i, (PlannedCall(i, one, looks([(one,)])[0], each),))
        for i, (one, each) in enumerate(zip(asked, ways, strict=True))
    )
    return Question(passages, known.pencils, paper, Closest.OVERALL, 9)


def way_of(*layers: Layer[int]) -> Way:
    return Way(layers, looks([layers])[0])


def test_bands_agree_with_those_of_single_exchanges() -> None:
    """A passage of one call; a plan goes a step along what is in doubt of the paper, the prediction a slope."""
    known, paper = small_world()
    worst = []
    for seed in range(5):
        question = small_question(seed, (1,))
        columns = Laid(question.passages[0], Stacking(question)).look().columns()
        calls = question.passages[0].calls
        for row, band in zip(columns.ways, columns.band, strict=True):
            ways = [call.ways[int(way)] for call, way in zip(calls, row, strict=True)]
            stacks = [[call.asked for call in calls], [one for way in ways for one in way.layers]]
            fitted = [[one.of(known.pencils[one.pencil]) for one in layers] for layers in stacks]
            changed = [fitted[0][0].pencil, *(one.pencil for one in fitted[1][: len(ways[0].layers)])]
            told = predict_stacks(fitted, paper, question.passages[0].solvent, changed)
            worst.append(float(band) / told.radius_between(0, 1))
    assert min(worst) > 0.97
    assert max(worst) < 1.005


def test_stopping_leaves_the_plan_found_last() -> None:
    asked = iter([True, False])
    seen = list(work_out(small_question(1, (2, 2)), nearest_alone, lambda: next(asked, False)))
    assert isinstance(seen[0], Plan)
    assert seen[0].certificate.standing is Surety.QUICK
    assert [one for one in seen[1:] if isinstance(one, Plan)] == []
    assert [one.done for one in seen[1:] if isinstance(one, Step)] == [0, 1]


def test_a_question_that_cannot_be_asked_is_refused() -> None:
    question = small_question(1, (1,))
    call = question.passages[0].calls[0]
    for calls in ((), (replace(call, ways=()),), (replace(call, settled=True),)):
        with pytest.raises(OutOfRangeError):
            replace(question, passages=(AskedPassage(0, calls),))
    assert list(work_out(replace(question, passages=()), nearest_alone)) == []


@given(delta_e=st.floats(0.0, 30.0), band=st.floats(0.01, 10.0))
def test_an_expected_difference_is_the_mean_of_a_noncentral_chi(delta_e: float, band: float) -> None:
    """By scipy: E√X of a noncentral χ² of three degrees, integrated over its quantiles."""
    sd = band / 6.251388631**0.5
    shares = (np.arange(4000) + 0.5) / 4000
    # Beyond, the quantiles of scipy are no longer exact; and there doubt hardly tells.
    away = min(delta_e / sd, 30.0)
    mean = float(np.sqrt(ncx2.ppf(shares, 3, away**2)).mean()) * sd
    assert float(expected_difference(away * sd, band)) == pytest.approx(mean, rel=4e-3)
    assert float(expected_difference(delta_e, 0.0)) == delta_e


coats = st.tuples(st.integers(0, 3), st.sampled_from(list(Pressure)), st.integers(1, 2))


@settings(max_examples=40)
@given(
    passages=st.lists(st.lists(st.lists(coats, max_size=2), min_size=3, max_size=3), min_size=1, max_size=6),
    solvent=st.booleans(),
)
def test_passages_laid_together_look_as_each_by_itself(
    passages: list[list[list[tuple[int, Pressure, int]]]], solvent: bool
) -> None:
    rng = np.random.default_rng(2)
    pencils = [PencilModel(np.exp(rng.normal(-1, 1.5, 31)), np.full(31, 0.2), s) for s in (0.7, 1.0, 1.2, 1.4)]
    paper = PaperModel(np.full(31, 0.85))
    slots = [[[Layer(pencils[i], p, n) for i, p, n in slot] for slot in each] for each in passages]
    states = states_of(slots, paper, solvent)
    for each, body, room in zip(slots, states.body, states.room, strict=True):
        for at in range(3):
            by_itself = stack([one for slot in each[: at + 1] for one in slot], paper, solvent and at == 2)
            assert body[at] == pytest.approx(by_itself.body, abs=1e-12)
        assert room == pytest.approx(by_itself.room)


@settings(max_examples=30)
@given(
    stacks=st.lists(st.lists(coats, max_size=4), min_size=1, max_size=6),
    solvent=st.booleans(),
    grains=st.lists(st.floats(0.3, 1.2), min_size=1, max_size=4),
)
def test_stacks_laid_on_many_papers_look_as_on_each_by_itself(
    stacks: list[list[tuple[int, Pressure, int]]], solvent: bool, grains: list[float]
) -> None:
    rng = np.random.default_rng(3)
    papers = [
        PaperModel(
            np.full(31, 0.2 + 0.15 * i), grain, 1.6 + 0.2 * i, by_chance=0.2 + 0.2 * i, smeared=0.3 * i, hold=0.4 * i
        )
        for i, grain in enumerate(grains)
    ]
    models = [
        {i: PencilModel(np.exp(rng.normal(-1, 1.5, 31)), np.full(31, 0.2), s) for i, s in enumerate((0.7, 1, 1.2, 1.4))}
        for _ in papers
    ]
    layers = [[Layer(i, p, n) for i, p, n in each] for each in stacks]
    bodies = finished_on_each(layers, list(zip(papers, models, strict=True)), solvent)
    assert bodies.shape == (len(papers), len(stacks), 31)
    for paper, of, on_paper in zip(papers, models, bodies, strict=True):
        for each, body in zip(layers, on_paper, strict=True):
            by_itself = stack([one.of(of[one.pencil]) for one in each], paper, solvent and bool(each))
            assert body == pytest.approx(by_itself.body, abs=1e-12)


def test_more_stacks_than_are_laid_at_once_each_keep_their_paper() -> None:
    rng = np.random.default_rng(4)
    papers = [PaperModel(np.full(31, 0.3 * i), 0.3 * i, by_chance=0.3 * i) for i in (1, 2, 3)]
    models = {i: PencilModel(np.exp(rng.normal(-1, 1.5, 31)), np.full(31, 0.2)) for i in range(12)}
    layers = [[Layer(i, Pressure.MEDIUM) for i in rng.choice(12, 3)] for _ in range(200)]
    bodies = finished_on_each(layers, [(paper, models) for paper in papers])
    for paper, on_paper in zip(papers, bodies, strict=True):
        by_itself = bodies_of([[one.of(models[one.pencil]) for one in each] for each in layers], paper)
        assert on_paper == pytest.approx(by_itself, abs=1e-12)
