"""How well stacks are predicted, in worlds of four physics: layers of one and of several pencils, burnishing, what a
pair that was chosen is promised to be, and how candidates rank in a passage.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from scipy.stats import spearmanr

from benchmarks.optics import (
    HOME,
    KINDS,
    OVER_BLACK,
    PHYSICS,
    PRESSURES,
    Figures,
    Readings,
    all_worlds,
    known_from,
    said,
    worlds_of,
)
from benchmarks.timing import best_ms
from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.expected import expected_difference, expected_of
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layering.collection_fit.strips import SeenStrip
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, Survey, survey
from tidy_tinder.core.layering.collection_fit.telling_strips import telling_strips
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.optics.stack import stack_each
from tidy_tinder.core.layering.prediction.marks import PaperFit, pencil_on, predict
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.standins.nearest_pairs import NearPair, nearest_pairs
from tidy_tinder.core.standins.pairs import mix_pairs
from tidy_tinder.core.standins.passage import Passage, rank_in_passage
from tidy_tinder.core.vocabulary import Pressure

Array = NDArray[np.float64]
Passes = tuple[tuple[int, str], ...]
Draw = Callable[[Generator, int], Passes]

HEAVY, BURNISH = str(Pressure.HEAVY), str(Pressure.BURNISH)
COUNT, NEAREST, SEARCHES, ROUNDS = 50, 48, 15, 6


def of_several(many: int, pressures: Sequence[str] = PRESSURES) -> Draw:
    """So many different pencils, each at one of these pressures."""

    def draw(rng: Generator, count: int) -> Passes:
        pencils = rng.choice(count, many, replace=False)
        return tuple((int(i), str(rng.choice(list(pressures)))) for i in pencils)

    return draw


def of_one(rng: Generator, count: int) -> Passes:
    """Two to four layers of one pencil."""
    one = (int(rng.integers(count)), str(rng.choice(PRESSURES)))
    return (one,) * int(rng.integers(2, 5))


def burnished(rng: Generator, count: int) -> Passes:
    """One pencil, burnished on bare paper."""
    return ((int(rng.integers(count)), BURNISH),)


def burnished_over(rng: Generator, count: int) -> Passes:
    """One pencil, and another burnished over it."""
    below, above = of_several(2)(rng, count)
    return (below, (above[0], BURNISH))


STACKS: dict[str, tuple[Draw, tuple[float, float]]] = {
    "two layers of two pencils": (of_several(2), (1.5, 4.6)),
    "two heavy layers of two": (of_several(2, (HEAVY,)), (3.3, 7.7)),
    "three layers of three": (of_several(3), (1.9, 4.6)),
    "two to four layers of one": (of_one, (1.4, 5.6)),
    "burnished alone": (burnished, (4.1, 9.5)),
    "one burnished over another": (burnished_over, (4.2, 8.0)),
}
# Passages are of so many; no misses of theirs were ever asked for.
MANY: dict[str, Draw] = {"four layers of four": of_several(4), "six layers of six": of_several(6)}
AFTER_STRIPS = ("two layers of two pencils", "two heavy layers of two", "two to four layers of one")
# What a swatching session asks for: four of 36 pencils in three layers.
LAYERED = ((4, "medium"), (13, "heavy"), (22, "medium"), (31, "heavy"))
AFTER_LAYERED = (
    "two layers of two pencils",
    "two heavy layers of two",
    "three layers of three",
    "two to four layers of one",
)


def judge(made: Readings, known: Survey, draw: Draw, into: Figures, seed: int) -> None:
    """Add how well stacks are predicted, and whether readings of them lie within the bands."""
    rng, paper = np.random.default_rng(seed), paper_of(made, known)
    passes = [draw(rng, len(made.world.opacities)) for _ in range(COUNT)]
    told = predict_stacks([layers_of(known, one) for one in passes], paper)
    truth = np.array([made.world.true_lab(HOME, one) for one in passes])
    seen = np.array(
        [made.world.reading(np.random.default_rng([seed, i]), HOME, one)[0] for i, one in enumerate(passes)]
    )
    into.misses.append(delta_e_2000(told.lab, truth))
    into.read.append(delta_e_2000(told.lab, seen))
    into.bands.append(told.radius)


def paper_of(made: Readings, known: Survey) -> PaperFit:
    """The home paper."""
    return known.papers[made.seen_paper(HOME).key]


def layers_of(known: Survey, passes: Passes) -> list[FittedLayer]:
    """Passes as layers of fitted pencils."""
    return [Layer(known.pencils[i], Pressure(pressure)) for i, pressure in passes]


def taught(
    made: Readings, burnish: bool = False, strips: int = 0, layered: bool = False, worth: bool = False, over: int = 0
) -> Survey:
    """All pencils swatched at home, burnished too or a few of them in three layers where that is asked, so many of them
    heavy over a black bar too, with so many strips of one and of two, and with those that were then worth making.
    """
    pencils = range(len(made.world.opacities))
    marks = made.marks(HOME, pencils, KINDS)
    key, rng = marks[0].paper, np.random.default_rng(77)
    if burnish:
        for i in pencils:
            lab, spectrum = made.world.reading(rng, HOME, ((i, BURNISH),))
            marks.append(SeenMark(i, key, Kind(Pressure.BURNISH), lab, spectrum=spectrum))
    for i, pressure in LAYERED if layered else ():
        lab, spectrum = made.world.reading(rng, HOME, ((i, pressure),) * 3)
        marks.append(SeenMark(i, key, Kind(Pressure(pressure), 3), lab, spectrum=spectrum))
    marks += made.marks(HOME, pencils[:: len(pencils) // over][:over], OVER_BLACK[-1:]) if over else []
    seen = []
    for nth in range(strips):
        passes = (of_several(2) if nth % 2 else of_one)(rng, len(pencils))
        layers = tuple(Layer(i, Pressure(pressure)) for i, pressure in passes)
        seen.append(SeenStrip(key, layers, made.world.reading(rng, HOME, passes)[0]))
    colours = [SeenColour(i, made.world.opacities[i]) for i in pencils]
    known = survey([made.seen_paper(HOME)], marks, colours, strips=seen)
    if not worth:
        return known
    for one in telling_strips(known.pencils, paper_of(made, known)).strips:
        passes = tuple((layer.pencil, str(layer.pressure)) for layer in one.layers)
        seen.append(SeenStrip(key, one.layers, made.world.reading(rng, HOME, passes)[0]))
    return survey([made.seen_paper(HOME)], marks, colours, strips=seen)


# What an artist is offered to make beside her swatches of one layer.
AFTER: dict[str, Callable[[Readings], Survey]] = {
    "four pencils in three layers": partial(taught, layered=True),
    "the strips worth making": partial(taught, worth=True),
    "four pencils in three layers and the strips worth making": partial(taught, layered=True, worth=True),
    "eight pencils heavy over black too": partial(taught, over=8),
    "each pencil heavy over black too": lambda made: taught(made, over=len(made.world.opacities)),
    "each pencil heavy over black too and four in three layers": lambda made: taught(
        made, over=len(made.world.opacities), layered=True
    ),
}


@dataclass
class Chosen:
    """What was promised of each pair that was chosen, what it truly was, and what the best single pencil truly was."""

    promised: list[float] = field(default_factory=list)
    true: list[float] = field(default_factory=list)
    single: list[float] = field(default_factory=list)

    def said(self, where: str) -> str:
        """In words."""
        nearer = np.mean(np.array(self.true) < np.array(self.single))
        return (
            f"{where} said {np.median(self.promised):.2f}, true {np.median(self.true):.2f}, nearer than the best "
            f"single in {nearer:.0%} of {len(self.true)}"
        )


def choose(made: Readings, into: Chosen) -> None:
    """Look for a pair in the place of pencils that are not there, and take the one that is promised to be nearest."""
    known, _ = known_from(made, HOME, 0)
    paper = paper_of(made, known)
    table = mix_pairs({i: pencil_on(fit, paper) for i, fit in known.pencils.items()}, paper.model)
    rng = np.random.default_rng(3)
    for missing in (int(i) for i in rng.choice(len(table.keys), SEARCHES, replace=False)):
        wanted = made.world.true_lab(HOME, ((missing, HEAVY),))
        others = np.array([key != missing for key in table.keys])
        near = tuple(nearest_pairs(table, wanted, limit=NEAREST, below=others, above=others))
        told = predict_stacks([layers_of(known, passes_of(one)) for one in near], paper)
        apart = delta_e_2000(wanted, told.lab)
        expected = expected_of(apart, told.lab - wanted, told.of_a_steady_hand, told.lab)
        best = int(np.argmin(expected))
        into.promised.append(float(expected[best]))
        into.true.append(float(delta_e_2000(wanted, made.world.true_lab(HOME, passes_of(near[best])))))
        into.single.append(_best_single(made, known, missing, wanted))


def passes_of(near: NearPair) -> Passes:
    """A pair as passes."""
    return tuple((one.pencil, str(one.pressure)) for one in (near.pair.below, near.pair.above))


def _best_single(made: Readings, known: Survey, missing: int, wanted: Array) -> float:
    """What the single pencil that is promised to be nearest truly is."""
    keys = [i for i in known.pencils if i != missing]
    told = predict([known.pencils[i] for i in keys], paper_of(made, known), KINDS)
    expected = expected_difference(delta_e_2000(wanted, told.lab), told.radius)
    pencil, kind = divmod(int(np.argmin(expected)), len(KINDS))
    return float(delta_e_2000(wanted, made.world.true_lab(HOME, ((keys[pencil], PRESSURES[kind]),))))


@dataclass
class Ranked:
    """Of rankings of 25 candidates in a passage: rank correlation with the truth, regret in ΔE00, that of the order by
    their marks alone, the share whose difference lay within ±.
    """

    correlation: list[float] = field(default_factory=list)
    regret: list[float] = field(default_factory=list)
    alone: list[float] = field(default_factory=list)
    held: list[float] = field(default_factory=list)

    def said(self, where: str) -> str:
        """In words."""
        return (
            f"{where} rank correlation {np.median(self.correlation):.2f}, regret {np.mean(self.regret):.2f}, by marks "
            f"alone {np.mean(self.alone):.2f}, ± holds {np.mean(self.held):.0%} (n = {len(self.regret)})"
        )


def rank(made: Readings, glaze: bool, into: Ranked) -> None:
    """Exchange what lies over a ground, and under a light glaze where that is asked, for each of 25 candidates."""
    known, _ = known_from(made, HOME, 0)
    fits, paper = known.pencils, paper_of(made, known)
    marks = made.true_labs(HOME)[:, 2]
    rng = np.random.default_rng(7)
    for _ in range(ROUNDS):
        ground, asked, over = (int(i) for i in rng.choice(len(fits), 3, replace=False))
        below, pressure = (str(rng.choice(PRESSURES)) for _ in range(2))
        order = np.argsort(delta_e_2000(marks, marks[asked]))
        candidates = [int(i) for i in order if i not in (asked, ground, over)][:25]
        above: Passes = ((over, "light"),) if glaze else ()
        truth = [made.world.true_lab(HOME, ((ground, below), (i, pressure), *above)) for i in (asked, *candidates)]
        apart = dict(zip(candidates, delta_e_2000(truth[0], np.array(truth[1:])).tolist(), strict=True))
        passage = Passage(tuple(layers_of(known, ((ground, below),))), tuple(layers_of(known, above)))
        layers = {i: layers_of(known, ((i, pressure),)) for i in (asked, *candidates)}
        offers = rank_in_passage(
            passage, layers[asked], {i: layers[i] for i in candidates}, paper, Closest.OVERALL
        ).offers
        least = min(apart.values())
        alone = predict([fits[i] for i in (asked, *candidates)], paper, [Kind(Pressure(pressure))]).lab[:, 0]
        first = candidates[int(np.argmin(delta_e_2000(alone[0], alone[1:])))]
        into.correlation.append(float(spearmanr([apart[o.key] for o in offers], [o.expected for o in offers])[0]))
        into.regret.append(apart[offers[0].key] - least)
        into.alone.append(apart[first] - least)
        into.held.append(float(np.mean([abs(apart[o.key] - o.ranked_by) <= o.plus_minus for o in offers])))


def speed() -> tuple[float, float]:
    """Milliseconds for a stack of four deposits, of 256 in a batch: what it looks like, and with all its doubts."""
    made = worlds_of(PHYSICS[0])[1]
    known, _ = known_from(made, HOME, 0)
    paper, rng = paper_of(made, known), np.random.default_rng(1)
    fitted = [layers_of(known, of_several(4)(rng, len(known.pencils))) for _ in range(256)]
    models = [[one.of(pencil_on(one.pencil, paper)) for one in layers] for layers in fitted]
    look = best_ms(lambda: stack_each(models, paper.model), runs=5)
    return look / len(models), best_ms(lambda: predict_stacks(fitted, paper), runs=3) / len(models)


def rows() -> list[tuple[str, str, str]]:
    """The rows of docs/benchmarks.md."""
    return [*_stack_rows(), *_promise_rows()]


def times() -> list[tuple[str, str, str]]:
    """How long a stack takes."""
    look, doubted = speed()
    figure = f"{look:.2f} ms; with all doubts {doubted:.2f} ms"
    return [("a stack of four deposits, of 256 in a batch", figure, "≤ 0.25 ms")]


def _stack_rows() -> Iterator[tuple[str, str, str]]:
    found: dict[str, list[str]] = {}
    for where in PHYSICS:
        by_question: dict[str, Figures] = {}
        for made in all_worlds(where):
            known, after = known_from(made, HOME, 0)[0], taught(made, strips=6)
            for seed, (question, (draw, _)) in enumerate(STACKS.items()):
                judge(made, known, draw, by_question.setdefault(question, Figures()), seed + 5)
            for seed, (question, draw) in enumerate(MANY.items()):
                judge(made, known, draw, by_question.setdefault(question, Figures()), seed + 11)
            for seed, question in enumerate(AFTER_STRIPS):
                figures = by_question.setdefault(f"{question}, after six strips", Figures())
                judge(made, after, STACKS[question][0], figures, seed + 5)
            for words, teach in AFTER.items():
                offered = teach(made)
                for question in AFTER_LAYERED:
                    figures = by_question.setdefault(f"{question}, after {words}", Figures())
                    judge(made, offered, STACKS[question][0], figures, list(STACKS).index(question) + 5)
            swatched = by_question.setdefault("burnished, after one burnished swatch of each pencil", Figures())
            judge(made, taught(made, burnish=True), burnished, swatched, 9)
        for question, figures in by_question.items():
            found.setdefault(question, []).append(said(where, figures))
    for question, told in found.items():
        yield (f"ΔE00, {question}", "; ".join(told), f"{_aim(question)}bands hold ≥ 86 %")


def _aim(question: str) -> str:
    """What a question's misses should be, where there is an aim."""
    if question in MANY:
        return ""
    if question not in STACKS:
        return "1.2 / 3; " if "swatch" in question else "better; "
    return "{:g} / {:g}; ".format(*STACKS[question][1])


def _promise_rows() -> Iterator[tuple[str, str, str]]:
    chosen, ranked = [], {False: [], True: []}  # type: tuple[list[str], dict[bool, list[str]]]
    for where in PHYSICS:
        pairs = Chosen()
        for made in all_worlds(where):
            choose(made, pairs)
        chosen.append(pairs.said(where))
        for glaze, told in ranked.items():
            of = Ranked()
            for made in worlds_of(where):
                rank(made, glaze, of)
            told.append(of.said(where))
    yield ("the pair promised to be nearest", "; ".join(chosen), "medians within .8; nearer in ≥ 85 %")
    yield ("25 candidates over a ground", "; ".join(ranked[False]), "≥ .88; regret below by marks alone")
    yield ("25 candidates over a ground, under a glaze", "; ".join(ranked[True]), "≥ .88; regret below by marks alone")
