"""Plans of whole recipes: how near, how soon and how surely, beside answering call by call, and in the hidden truth."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from sqlalchemy import select

from benchmarks.extent import WHOLE, some
from benchmarks.page import Row
from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.certificate import Surety
from tidy_tinder.core.planning.plan import Plan, PlannedPassage, Step, work_out
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Effect
from tidy_tinder.demo.loader import load_demo
from tidy_tinder.devices.truth.world import demo_world
from tidy_tinder.services.background.runtime import Collection, mixed_pairs, open_collection
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.recipes.asking import Asker, by_itself
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.standins.layered import NO_WISH
from tidy_tinder.services.standins.nearest import look_at_singles
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import Paper

PAPERS = tuple(some(("Vellum board", "Black paper", "Buff sanded card"), 2))
CALLS, OWNED, MANY = (8, 16, 30), 163, 300
# With many pencils the longest recipes alone tell most.
CALLS_OF_MANY = tuple(some(CALLS[::-1], 1))
# Recipes of each size.
RECIPES = len(some(range(2), 1))
# Calls of an area: a passage of two to five, as the demo's recipes have.
AREA = (2, 6)
# A plan is good that costs at most so much of the best.
_GOOD = 1.01
WORDS = ("", ", light", ", medium", ", heavy", ", two layers")


@dataclass(frozen=True)
class Worked:
    """One plan: how many open calls, its passages, the first answer call by call, seconds to a plan that costs at most
    1 % more than it and to the proof, both from the question on, and what the hidden truth says of each finished
    passage: its ΔE00 planned and call by call.
    """

    calls: int
    plan: Plan
    first: Plan
    good_after: float
    proven_after: float
    truth: tuple[tuple[float, float], ...]
    limit: int


@contextmanager
def _fitted_demo() -> Iterator[Collection]:
    with tempfile.TemporaryDirectory() as folder, closing(open_collection(Path(folder) / "demo.sqlite")) as collection:
        load_demo(collection, drawings=False)
        collection.fit_once()
        yield collection


def times() -> Sequence[Row]:
    """(what, figure, aim): seconds to a good plan and to its proof, with as many pencils as the aims speak of."""
    made: list[Row] = []
    with _fitted_demo() as collection:
        for count, calls, aim in ((OWNED, 16, "≤ 2"), (MANY, 30, "≤ 5")):
            if count == MANY:
                _own_more(collection)
            done = list(_worked(collection, list(_recipes(collection, calls, RECIPES))))
            found, proof = ([getattr(w, name) for w in done] for name in ("good_after", "proven_after"))
            made.append(
                (
                    f"{calls} open calls, {count} pencils, {len(done)} plans, pairs being mixed and marks predicted: "
                    "seconds to a plan within 1 % of the best found, median / most; to its proof",
                    f"{np.median(found):.1f} / {max(found):.1f}; {np.median(proof):.1f} / {max(proof):.1f}",
                    aim,
                )
            )
    return made


def rows() -> Sequence[Row]:
    """(what, figure, aim) for each that no clock tells."""
    made: list[Row] = []
    with _fitted_demo() as collection:
        recipes = {calls: list(_recipes(collection, calls, RECIPES)) for calls in CALLS}
        made.extend(_figures(collection, recipes, f"{OWNED} pencils"))
        _own_more(collection)
        recipes = {calls: list(_recipes(collection, calls, RECIPES)) for calls in CALLS_OF_MANY}
        made.extend(_figures(collection, recipes, f"{MANY} pencils"))
    return made


def _recipes(collection: Collection, calls: int, count: int) -> Iterator[int]:
    """Recipes whose calls ask for pencils that are not owned, two to five to an area."""
    with collection() as session:
        scene = Scene.on(session, 1)
        unowned = [c for i, c in scene.colours.items() if i not in scene.at_hand and c.effect == Effect.ORDINARY]
    for number in range(count):
        rng = np.random.default_rng(1000 * calls + number)
        lines, left, area = [f"Recipe {number} of {calls}"], calls, 0
        while left:
            size = min(int(rng.integers(*AREA)), left)
            left, area = left - size, area + 1
            lines.append(f"Area {'abcdefghijklmnop'[area]}:")
            for _ in range(size):
                colour = unowned[int(rng.integers(len(unowned)))]
                lines.append(f"- {colour.range_name} {colour.code}{WORDS[int(rng.integers(len(WORDS)))]}")
        yield save_recipe(collection, "\n".join(lines))[0]


def _own_more(collection: Collection) -> None:
    with collection() as session:
        scene = Scene.on(session, 1)
        others = [i for i, c in scene.colours.items() if i not in scene.at_hand and c.effect == Effect.ORDINARY]
        count = MANY - len(scene.at_hand)
    mark_owned(collection, [int(i) for i in np.random.default_rng(5).permutation(others)[:count]], True)


def _figures(collection: Collection, recipes: dict[int, list[int]], whose: str) -> Iterator[Row]:
    """The figures of one collection, by the number of calls."""
    for calls, ids in recipes.items():
        done = list(_worked(collection, ids))
        ratio = [w.plan.cost.total / w.plan.call_by_call.total for w in done]
        nearer = [_expected(w.plan) / _expected(w.first) for w in done]
        proven = [w.plan.certificate.standing is Surety.PROVEN for w in done]
        meanings = "three meanings of closest" if WHOLE else "each with another meaning of closest"
        what = f"{calls} open calls, {whose}, {len(done)} plans ({len(PAPERS)} papers, {meanings})"
        over, before = sum(_over(w, w.plan) for w in done), sum(_over(w, w.first) for w in done)
        passages = sum(len(w.plan.passages) for w in done)
        yield (
            f"{what}: expected ΔE of the finished passages beside call by call, median (worst); all weighed",
            f"{np.median(nearer):.2f} ({max(nearer):.2f}); {np.median(ratio):.2f}",
            "≤ .85 at 16 and 30",
        )
        yield (
            f"{what}: proven; passages over the paper's limit of layers, planned; call by call",
            f"{np.mean(proven):.0%}; {over}; {before} of {passages}",
            "≥ 95 %; 0",
        )
        yield from _in_truth(what, done)


def _in_truth(what: str, done: Sequence[Worked]) -> Iterator[Row]:
    """What the hidden truth says of the passages that were planned by the overall difference."""
    told = [
        (each, first, true, true_first)
        for w in done
        for each, first, (true, true_first) in zip(w.plan.passages, w.first.passages, w.truth, strict=False)
    ]
    otherwise = [(true, before) for each, first, true, before in told if each.ways != first.ways]
    plain = [float(delta_e_2000(each.asked[-1], each.states[-1])) for each, *_ in told]
    within = [abs(said - true) <= each.band for said, (each, _, true, _) in zip(plain, told, strict=True)]
    yield (
        f"{what}: in the hidden truth, passages nearer than call by call of those that are laid otherwise; their ΔE, "
        "planned and call by call (median)",
        f"{np.mean([true < before for true, before in otherwise]):.0%} of {len(otherwise)}; "
        f"{np.median([true for true, _ in otherwise]):.1f} and {np.median([before for _, before in otherwise]):.1f}",
        "",
    )
    yield (
        f"{what}: ΔE of a planned passage, expected and true (median); the true one within the band of the predicted",
        f"{np.median([each.expected for each, *_ in told]):.1f} and {np.median([true for _, _, true, _ in told]):.1f}; "
        f"{np.mean(within):.0%} of {len(told)}",
        "≥ 86 %",
    )


def _expected(plan: Plan) -> float:
    """The expected differences of the finished passages, summed."""
    return sum(each.expected for each in plan.passages)


def _over(worked: Worked, plan: Plan) -> int:
    """Passages that have more layers than the paper takes, though they could do with fewer."""
    over = 0
    for each in plan.passages:
        least = sum(min(way.passes for way in call.ways) for call in each.passage.calls)
        over += sum(way.passes for way in each.ways) > max(worked.limit, least)
    return over


def _worked(collection: Collection, ids: Sequence[int]) -> Iterator[Worked]:
    with collection() as session:
        for at, paper in enumerate(session.scalars(select(Paper).where(Paper.name.in_(PAPERS))).all()):
            scene = Scene.on(session, paper.id)
            assert scene.known is not None
            table = mixed_pairs(session, scene.known, scene.fit, paper.id, None).table
            look_at_singles(scene)
            for closest in Closest if WHOLE else (tuple(Closest)[at % len(Closest)],):
                for recipe in ids:
                    yield _one(scene, Asker(scene, scene.known, table, closest, NO_WISH, {}, {}), recipe, closest)


def _one(scene: Scene, asker: Asker, recipe: int, closest: Closest) -> Worked:
    begun = time.perf_counter()
    asking = asker.ask(recipe)
    plans: list[tuple[float, Plan]] = []
    for one in work_out(asking.question, lambda passage: by_itself(passage, closest)):
        if not isinstance(one, Step):
            plans.append((time.perf_counter() - begun, one))
    (_, first), *_, (proven_after, last) = plans
    good_after = next(after for after, plan in plans if plan.cost.total <= _GOOD * last.cost.total)
    truth: tuple[tuple[float, float], ...] = ()
    if closest is Closest.OVERALL:
        both = zip(last.passages, first.passages, strict=True)
        truth = tuple((_true_difference(scene, one), _true_difference(scene, other)) for one, other in both)
    calls = sum(not call.settled for p in asking.question.passages for call in p.calls)
    return Worked(calls, last, first, good_after, proven_after, truth, scene.paper.most_layers)


def _true_difference(scene: Scene, one: PlannedPassage) -> float:
    """ΔE00 of a finished passage in the hidden truth, as asked and as planned."""
    asked = _true_lab(scene, [call.asked for call in one.passage.calls], one.passage.solvent)
    laid = _true_lab(scene, [layer for way in one.ways for layer in way.layers], one.passage.solvent)
    return float(delta_e_2000(asked, laid))


def _true_lab(scene: Scene, layers: Sequence[Layer[int]], solvent: bool) -> Lab:
    names = {i: f"{c.range_name} {c.code}" for i, c in scene.colours.items()}
    passes = tuple((names[one.pencil], str(one.pressure)) for one in layers for _ in range(one.layers))
    return reflectance_to_lab(demo_world().reflectance(scene.paper.name, passes, solvent=solvent))
