"""How well marks are predicted: in the demo's hidden world, in random ones of its physics and of three others, beside
plain regression.

Every figure is ΔE00, median / 95th percentile, between a prediction and the truth (a steady hand, no noise), for
pencils that were not swatched on the paper in question. Bands are judged by new readings, as an artist would make
them: an uneven hand and a reader's noise.
"""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import NDArray

from benchmarks.extent import some
from benchmarks.timing import best_ms
from benchmarks.worlds import World, grain_world, random_world, rubbing_world, stroke_world, the_demos_world
from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layering.collection_fit.next_swatches import next_swatches
from tidy_tinder.core.layering.collection_fit.paper_fit import Anchor, fit_paper
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, SeenPaper, Survey, survey
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.optics.film import strip_surface
from tidy_tinder.core.layering.prediction.marks import predict
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Opacity, Pressure, Tooth

Array = NDArray[np.float64]

PRESSURES = [str(pressure) for pressure in MARK_PRESSURES]
KINDS = tuple(Kind(pressure) for pressure in MARK_PRESSURES)
HOME = "white medium"
# Other tooth classes than the true one, for the wrong guess.
WRONG = {Tooth.SMOOTH: Tooth.MEDIUM, Tooth.MEDIUM: Tooth.ROUGH, Tooth.ROUGH: Tooth.MEDIUM}


@dataclass
class Figures:
    """What one question found: misses from the truth, misses of new readings with the band they should be within."""

    misses: list[Array] = field(default_factory=list)
    read: list[Array] = field(default_factory=list)
    bands: list[Array] = field(default_factory=list)
    regression: list[Array] = field(default_factory=list)

    @property
    def median(self) -> float:
        """Median miss."""
        return float(np.median(np.concatenate(self.misses)))

    @property
    def ninety_fifth(self) -> float:
        """The miss that nineteen of twenty stay under."""
        return float(np.percentile(np.concatenate(self.misses), 95))

    @property
    def held(self) -> float:
        """Share of new readings within their band."""
        return float(np.mean(np.concatenate(self.read) <= np.concatenate(self.bands)))

    @property
    def band(self) -> float:
        """Median band."""
        return float(np.median(np.concatenate(self.bands)))

    @property
    def regression_median(self) -> float | None:
        """Median miss of the best plain regression, where it was asked."""
        return float(np.median(np.concatenate(self.regression))) if self.regression else None


class Readings:
    """A world as its artist swatches it; every reading is made once."""

    def __init__(self, world: World, seed: int) -> None:
        self.world = world
        self.seed = seed
        self._made: dict[tuple[str, int, bool, int], tuple[Lab, Array]] = {}
        self._true: dict[str, Array] = {}

    def reading(self, paper: str, pencil: int, kind: Kind, again: int = 0) -> tuple[Lab, Array]:
        """Lab and spectrum of the mark; `again` makes another one."""
        at = PRESSURES.index(kind.pressure)
        key = (paper, pencil * 3 + at, kind.over_black, again)
        if key not in self._made:
            place = sorted(self.world.papers).index(paper)
            rng = np.random.default_rng([self.seed, place, pencil, at, int(kind.over_black), again])
            self._made[key] = self.world.reading(rng, paper, ((pencil, kind.pressure),), kind.over_black)
        return self._made[key]

    def true_labs(self, paper: str) -> Array:
        """Lab (N, 3 pressures, 3) of the truth."""
        if paper not in self._true:
            self._true[paper] = np.array(
                [[self.world.true_lab(paper, ((i, p),)) for p in PRESSURES] for i in range(len(self.world.opacities))]
            )
        return self._true[paper]

    def read_labs(self, paper: str, again: int = 0) -> Array:
        """Lab (N, 3 pressures, 3) of readings."""
        count = len(self.world.opacities)
        return np.array([[self.reading(paper, i, k, again)[0] for k in KINDS] for i in range(count)])

    def seen_paper(self, name: str, tooth: Tooth | None = None) -> SeenPaper:
        """The paper as the artist enters it: its own colour read, its class as she judges it."""
        bare = self.world.true_lab(name, ())
        body = strip_surface(recover_reflectance(bare))
        return SeenPaper(sorted(self.world.papers).index(name), body, tooth or self.world.tooths[name])

    def marks(self, paper: str, pencils: Sequence[int], kinds: Sequence[Kind]) -> list[SeenMark]:
        """Swatches of pencils at kinds, with spectra."""
        key = sorted(self.world.papers).index(paper)
        made = []
        for pencil in pencils:
            for kind in kinds:
                lab, spectrum = self.reading(paper, pencil, kind)
                made.append(SeenMark(pencil, key, kind, lab, spectrum=spectrum))
        return made


# Each seed with the slip of its hand; a steady and a restless one among the first two, which are usual. Constants were
# first chosen on the seeds 31 to 33 of either physics, but three of them were moved after these figures were seen
# (decision 0026): they are no longer held out.
LIKE_THE_DEMO = ((11, 0.08), (12, 0.14), (13, 0.05), (14, 0.10))
OF_GRAIN = ((41, 0.20), (42, 0.05), (43, 0.25), (44, 0.14))
OF_STROKES = ((61, 0.20), (62, 0.05), (63, 0.25), (64, 0.14))
OF_RUBBING = ((81, 0.20), (82, 0.05), (83, 0.25), (84, 0.14))
# Further worlds of each physics, where all is measured: what four have in common by chance, twelve have not.
FURTHER = ((45, 0.20), (46, 0.05), (47, 0.14), (48, 0.10), (49, 0.20), (50, 0.08), (51, 0.14), (52, 0.25))
_USUAL = 2
PHYSICS = ("like the demo", "second physics", "third physics", "fourth physics")
_MAKE: tuple[Callable[[int, int, float], World], ...] = (random_world, grain_world, stroke_world, rubbing_world)
_SEEDS = dict(zip(PHYSICS[1:], (OF_GRAIN, OF_STROKES, OF_RUBBING), strict=True))


@cache
def worlds() -> tuple[tuple[str, Readings], ...]:
    """The demo's world and random ones of its physics."""
    found = [("demo", Readings(the_demos_world(demo_opacities(), every=6), 1))]
    found += [
        (f"random {seed}", Readings(random_world(seed, 36, slip), seed)) for seed, slip in some(LIKE_THE_DEMO, _USUAL)
    ]
    return tuple(found)


@cache
def worlds_of(physics: str) -> tuple[Readings, ...]:
    """All worlds of one physics."""
    if physics == PHYSICS[0]:
        return tuple(made for _, made in worlds())
    make, seeds = _MAKE[PHYSICS.index(physics)], some(_SEEDS[physics], _USUAL)
    return tuple(Readings(make(seed, 36, slip), seed) for seed, slip in seeds)


def all_worlds(physics: str) -> Iterator[Readings]:
    """The worlds of one physics and, where all is measured, further ones, which are made as they are asked for."""
    yield from worlds_of(physics)
    yield from (Readings(_MAKE[PHYSICS.index(physics)](seed, 36, slip), seed) for seed, slip in some(FURTHER, 0))


def demo_opacities() -> dict[str, Opacity]:
    """The classes of cover that the demo's charts print, by range and code."""
    text = (resources.files("tidy_tinder.demo") / "data" / "catalogue.csv").read_text(encoding="utf-8")
    return {f"{row['range']} {row['code']}": Opacity(row["opacity"]) for row in csv.DictReader(text.splitlines())}


def known_from(
    made: Readings, paper: str, anchors: int, home_kinds: Sequence[Kind] = KINDS, tooth: Tooth | None = None,
    home: str = HOME,
) -> tuple[Survey, list[int]]:  # fmt: skip
    """All pencils swatched at home, some of them (as advised) on another paper too; and who these are."""
    pencils = list(range(len(made.world.opacities)))
    colours = [SeenColour(i, made.world.opacities[i]) for i in pencils]
    marks = made.marks(home, pencils, home_kinds)
    papers = [made.seen_paper(home)]
    chosen: list[int] = []
    if paper != home:
        papers.append(made.seen_paper(paper, tooth))
    known = survey(papers, marks, colours)
    if paper == home or not anchors:
        return known, chosen
    read = made.read_labs(home)[:, 2]
    looks = predict([known.pencils[i] for i in pencils], known.papers[papers[1].key], KINDS[-1:]).lab[:, 0]
    chosen = [one.index for one in next_swatches(looks, made.world.opacities, anchors, (), read)]
    return survey(papers, marks + made.marks(paper, chosen, KINDS), colours), chosen


def judge(
    made: Readings, paper: str, anchors: int, into: Figures, home_kinds: Sequence[Kind] = KINDS,
    tooth: Tooth | None = None, home: str = HOME,
) -> None:  # fmt: skip
    """Add how well pencils that were not swatched on `paper` are predicted there, and what regression does."""
    known, chosen = known_from(made, paper, anchors, home_kinds, tooth, home)
    rest = [i for i in range(len(made.world.opacities)) if i not in chosen]
    fit = known.papers[made.seen_paper(paper).key]
    prediction = predict([known.pencils[i] for i in rest], fit, KINDS)
    into.misses.append(delta_e_2000(prediction.lab, made.true_labs(paper)[rest]).ravel())
    into.read.append(delta_e_2000(prediction.lab, made.read_labs(paper, again=1)[rest]).ravel())
    into.bands.append(prediction.radius.ravel())
    if anchors and tuple(home_kinds) == KINDS:
        truth = made.true_labs(paper)[rest]
        tried = [
            delta_e_2000(guess[rest], truth).ravel()
            for guess in regressions(made.read_labs(home), made.read_labs(paper), chosen)
        ]
        into.regression.append(min(tried, key=lambda misses: float(np.median(misses))))


def regressions(home: Array, here: Array, anchors: Sequence[int]) -> Iterator[Array]:
    """Plain regressions from the home paper to another with the same anchors, at each pressure on its own: an offset;
    a line for each of L*, a*, b*; an affine map with a ridge. The best of the three is chosen by the truth, which
    no artist knows, so it is as good as regression gets.
    """
    chosen = list(anchors)
    offset, lines, affine = home.copy(), home.copy(), home.copy()
    for k in range(home.shape[1]):
        X, Y = home[:, k], here[:, k]
        offset[:, k] = X + (Y[chosen] - X[chosen]).mean(axis=0)
        for c in range(3):
            slope, start = np.polyfit(X[chosen, c], Y[chosen, c], 1)
            lines[:, k, c] = start + slope * X[:, c]
        terms = np.c_[np.ones(len(X)), X - X.mean(axis=0)]
        ridge = np.diag([1e-6, 50.0, 50.0, 50.0])
        A = terms[chosen]
        affine[:, k] = X + terms @ np.linalg.solve(A.T @ A + ridge, A.T @ (Y[chosen] - X[chosen]))
    yield from (offset, lines, affine)


def fit_times() -> tuple[float, float]:
    """Seconds for 120 pencils × 3 swatches, and for a new paper with 8 anchors × 3 where the pencils are fitted."""
    found = [Readings(random_world(seed, 36, slip), seed) for seed, slip in LIKE_THE_DEMO]
    count = len(found[0].world.opacities)
    marks, colours = [], []
    for turn, made in enumerate(found):
        colours += [SeenColour(i + turn * count, made.world.opacities[i]) for i in range(count)]
        for mark in made.marks(HOME, range(count), KINDS):
            marks.append(replace(mark, pencil=mark.pencil + turn * count, paper=0))
    few = colours[:120]
    paper = replace(found[0].seen_paper(HOME), key=0)
    kept = [mark for mark in marks if mark.pencil < len(few)]
    fitting = best_ms(lambda: survey([paper], kept, few), runs=3) / 1000
    known, chosen = known_from(found[0], "toned", 8)
    toned = found[0].seen_paper("toned")
    anchors = [Anchor(known.pencils[i], k, found[0].reading("toned", i, k)[0]) for i in chosen for k in KINDS]
    home = known.papers[found[0].seen_paper(HOME).key]
    return fitting, best_ms(lambda: fit_paper(toned.body, toned.tooth, anchors, home), runs=3) / 1000


# Goals by question in worlds of another physics: median and 95th percentile (../shared design, issue 14); none where
# nothing but bands that hold was ever asked for.
MARKS: dict[str, tuple[float, float] | None] = {
    "again on the paper swatched": (0.85, 3.4),
    "again, hands of 4 to 8 %": (0.85, 3.4),
    "again, hands of 14 to 25 %": (0.85, 3.4),
    "other white papers, 0 anchors": (1.55, 5.1),
    "other white papers, 4 anchors": (1.12, 4.2),
    "other white papers, 8 anchors": (1.02, 3.85),
    "again, all swatched on a smooth or a rough paper": (0.85, 3.4),
    "other white papers from these, 0 anchors": (1.55, 5.1),
    "other white papers from these, 4 anchors": (1.12, 4.2),
    "wrong tooth class, 4 anchors": (1.2, 4.4),
    "buff or grey paper, 8 anchors": (1.2, 4.1),
    "black paper, 8 anchors": (1.85, 6.1),
    "black paper, 8 anchors, swatches over black too": (0.70, 2.5),
    "black paper, 0 anchors, swatches over black too": None,
    "again, swatches over black too": (0.85, 3.4),
    "other white papers, 4 anchors, swatches over black too": (1.12, 4.2),
    "only heavy marks swatched, all on that paper": None,
    "only heavy marks swatched, other white papers": None,
    "only light marks swatched, all on that paper": None,
    "all swatched on black, white and grey papers": None,
}
HOMES = ("white smooth", "white rough")
WHITE, TONED = ("white smooth", "white rough", "print paper"), ("toned", "grey-toned")
OVER_BLACK = (*KINDS, Kind(Pressure.HEAVY, 1, over_black=True))
STEADY, RESTLESS = 0.08, 0.14


def mark_figures(made: Readings, found: dict[str, Figures]) -> None:
    """Add what one world says to all questions about single marks."""
    here, slip = made.world.papers, made.world.slip
    judge(made, HOME, 0, found["again on the paper swatched"])
    if slip <= STEADY:
        judge(made, HOME, 0, found["again, hands of 4 to 8 %"])
    elif slip >= RESTLESS:
        judge(made, HOME, 0, found["again, hands of 14 to 25 %"])
    for paper in (p for p in WHITE if p in here):
        for count in (0, 4, 8):
            judge(made, paper, count, found[f"other white papers, {count} anchors"])
        judge(made, paper, 4, found["wrong tooth class, 4 anchors"], tooth=WRONG[made.world.tooths[paper]])
    for home in (p for p in HOMES if p in here):
        judge(made, home, 0, found["again, all swatched on a smooth or a rough paper"], home=home)
        for paper in (p for p in (HOME, *WHITE) if p in here and p != home):
            for count in (0, 4):
                judge(made, paper, count, found[f"other white papers from these, {count} anchors"], home=home)
    for paper in (p for p in TONED if p in here):
        judge(made, paper, 8, found["buff or grey paper, 8 anchors"])
    judge(made, "black", 8, found["black paper, 8 anchors"])
    judge(made, "black", 8, found["black paper, 8 anchors, swatches over black too"], OVER_BLACK)
    judge(made, "black", 0, found["black paper, 0 anchors, swatches over black too"], OVER_BLACK)
    judge(made, HOME, 0, found["again, swatches over black too"], OVER_BLACK)
    for paper in (p for p in WHITE if p in here):
        judge(made, paper, 4, found["other white papers, 4 anchors, swatches over black too"], OVER_BLACK)
    light, heavy = KINDS[:1], KINDS[-1:]
    judge(made, HOME, 0, found["only heavy marks swatched, all on that paper"], heavy)
    judge(made, HOME, 0, found["only light marks swatched, all on that paper"], light)
    for paper in (p for p in WHITE if p in here):
        judge(made, paper, 0, found["only heavy marks swatched, other white papers"], heavy)
    for paper in (p for p in (HOME, *TONED) if p in here):
        judge(made, paper, 0, found["all swatched on black, white and grey papers"], home="black")


def rows() -> list[tuple[str, str, str]]:
    """The rows of docs/benchmarks.md."""
    lines = []
    by_physics = [(where, {question: Figures() for question in MARKS}) for where in PHYSICS]
    for where, found in by_physics:
        for made in all_worlds(where):
            mark_figures(made, found)
    for question, aims in MARKS.items():
        told = "; ".join(said(where, found[question]) for where, found in by_physics if found[question].misses)
        near = f"{aims[0]:g} / {aims[1]:g}; " if aims else ""
        lines.append((f"ΔE00, {question}", told, f"{near}bands hold ≥ 86 %"))
    return lines


def times() -> list[tuple[str, str, str]]:
    """How long fitting takes."""
    pencils, paper = fit_times()
    return [
        ("fit of 120 pencils × 3 swatches", f"{pencils:.2f} s", "< 6 s"),
        ("fit of a new paper, 8 anchors × 3", f"{paper * 1000:.0f} ms", "< 0.5 s"),
    ]


def said(where: str, of: Figures) -> str:
    """What was found in the worlds of one physics."""
    text = f"{where} {of.median:.2f} / {of.ninety_fifth:.2f}"
    if of.bands:
        text += f", bands of {of.band:.1f} hold {of.held:.0%}"
    if of.regression_median is not None:
        text += f", regression {of.regression_median:.2f} (ours {of.median / of.regression_median - 1:+.0%})"
    return text
