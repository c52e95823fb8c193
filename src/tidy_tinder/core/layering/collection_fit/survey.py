"""A whole collection fitted: its papers one after another, its pencils from all their marks, its charts.

The paper with the most swatches is the home paper; pencils are fitted on it first. Every other paper is then fitted
from the pencils that are known from the papers before it, and what is seen on it is added to what is known of them.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.collection_fit.charts import ChartReading, learn_charts
from tidy_tinder.core.layering.collection_fit.overlap import SeenStack, learn_overlap
from tidy_tinder.core.layering.collection_fit.paper_fit import SPREAD_PRIOR, Anchor, fit_home, fit_paper
from tidy_tinder.core.layering.collection_fit.printed_cover import expected_hold, with_hold
from tidy_tinder.core.layering.collection_fit.strips import SeenStrip, learn_from_strips
from tidy_tinder.core.layering.fitting.evidence import READING_SD, Evidence, Kind
from tidy_tinder.core.layering.fitting.hand import USUAL_HAND, learn_hand
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.layering.optics.tooth import usual_load
from tidy_tinder.core.layering.prediction.marks import PaperFit, guess_paper
from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.vocabulary import Pressure, PrintedOpacity, Tooth

Fit = Callable[[Sequence[Sequence[Evidence]], Sequence[PrintedOpacity], float], Sequence[PencilFit]]

# What a mark on another paper than the first is off by because the model is (ΔE*ab): it counts less.
_OTHER_PAPER_NOISE = 0.8
# From so many pencils the hand is learned: their marks tell it to within a step.
_TELLING = 80


@dataclass(frozen=True)
class SeenPaper:
    """A paper by its key: body reflectance (31,) and tooth class."""

    key: int
    body: Reflectance
    tooth: Tooth


@dataclass(frozen=True)
class SeenMark:
    """One dry mark of an ordinary pencil: its kind, Lab (3,), noise in ΔE*ab, total spectrum (31,) if measured; alike:
    how much of the noise its other marks share that have such a part, as those that a camera saw do.
    """

    pencil: int
    paper: int
    kind: Kind
    lab: Lab
    noise: float = READING_SD
    spectrum: Reflectance | None = None
    alike: float = 0.0


@dataclass(frozen=True)
class SeenColour:
    """An ordinary colour: its class of cover ("" for none) and chart value, Lab (3,), if its chart prints one."""

    key: int
    opacity: PrintedOpacity
    chart: Lab | None = None


@dataclass(frozen=True)
class Survey:
    """Everything that was fitted, by key. home: the paper that pencils were fitted on first; by_chart: the pencils
    that are known from their chart value alone, through `charts`. hand: standard deviation of ln load from making to
    making, as the marks on the first paper tell it.
    """

    home: int | None
    papers: Mapping[int, PaperFit]
    pencils: Mapping[int, PencilFit]
    by_chart: frozenset[int]
    charts: ChartReading | None
    hand: float


@dataclass
class _Known:
    """What has been gathered while papers are gone through."""

    colours: Mapping[int, SeenColour]
    fit: Fit
    evidence: dict[int, list[Evidence]] = field(default_factory=dict)
    pencils: dict[int, PencilFit] = field(default_factory=dict)
    hand: float = USUAL_HAND

    def fit_again(self, keys: Sequence[int]) -> None:
        """Fit these pencils to all their evidence."""
        fits = self.fit([self.evidence[k] for k in keys], [self.colours[k].opacity for k in keys], self.hand)
        self.pencils.update(zip(keys, fits, strict=True))


def survey(
    papers: Sequence[SeenPaper],
    marks: Sequence[SeenMark],
    colours: Sequence[SeenColour],
    fit: Fit = fit_pencils,
    strips: Sequence[SeenStrip] = (),
) -> Survey:
    """Fit a collection. `fit` fits pencils; a caller may keep results, tell its progress or stop in it.

    strips: stacks that were measured; pencils learn from them last.

    Raises OutOfRangeError for an unknown tooth class, pressure or class of cover, for a mark of a paper or colour that
    is not among those given, and for one whose Lab, noise or layers cannot be.
    """
    _check(papers, marks, colours)
    known = _Known({colour.key: colour for colour in colours}, fit)
    by_paper: dict[int, list[SeenMark]] = {paper.key: [] for paper in papers}
    for mark in marks:
        by_paper[mark.paper].append(mark)
    fitted: dict[int, PaperFit] = {}
    most_first = sorted(papers, key=lambda paper: -len({mark.pencil for mark in by_paper[paper.key]}))
    for nth, paper in enumerate(most_first):
        here = by_paper[paper.key]
        if nth == 0:
            fitted[paper.key] = _settle_at_home(paper, here, known)
        else:
            fitted[paper.key] = _other(paper, here, known, fitted[most_first[0].key])
            _gather(here, fitted[paper.key], known)
            known.fit_again(sorted({mark.pencil for mark in here}))
    home = most_first[0].key if most_first and by_paper[most_first[0].key] else None
    charts, by_chart = None, frozenset[int]()
    if home is not None:
        charts = _learn(by_paper[home], known)
        by_chart = _fit_by_chart(charts, fitted[home], known)
        fits = [(fit, known.colours[key].opacity) for key, fit in known.pencils.items()]
        fitted = with_hold(fitted, home, expected_hold(fits))
    fitted = learn_overlap(_stacks(strips, known, fitted), fitted)
    return Survey(
        home, fitted, learn_from_strips(sorted(strips, key=_place), known.pencils, fitted), by_chart, charts, known.hand
    )


def _place(strip: SeenStrip) -> tuple[object, ...]:
    """The place of a strip in an order that does not depend on who gives them."""
    layers = tuple((one.pencil, str(one.pressure), one.layers) for one in strip.layers)
    return strip.paper, layers, strip.solvent, tuple(np.asarray(strip.lab).tolist())


def _stacks(strips: Sequence[SeenStrip], known: _Known, papers: Mapping[int, PaperFit]) -> list[SeenStack]:
    """The strips that tell how layers lie over one another: dry ones of known pencils, of more than one layer."""
    return [
        SeenStack(tuple(one.of(known.pencils[one.pencil]) for one in strip.layers), strip.paper, strip.lab, strip.noise)
        for strip in strips
        if not strip.solvent and strip.paper in papers
        if sum(one.layers for one in strip.layers) > 1 and all(one.pencil in known.pencils for one in strip.layers)
    ]


def _check(papers: Sequence[SeenPaper], marks: Sequence[SeenMark], colours: Sequence[SeenColour]) -> None:
    on, of = {paper.key for paper in papers}, {colour.key for colour in colours}
    for mark in marks:
        if mark.paper not in on:
            raise OutOfRangeError(f"A mark lies on paper {mark.paper}, which is not among the papers.")
        if mark.pencil not in of:
            raise OutOfRangeError(f"A mark is of colour {mark.pencil}, which is not among the colours.")


def fits_needed(papers: Sequence[SeenPaper], marks: Sequence[SeenMark], colours: Sequence[SeenColour]) -> int:
    """How many fits of a pencil `survey` will ask for, those by chart counted as if there were enough swatches."""
    on: dict[int, list[int]] = {paper.key: [] for paper in papers}
    for mark in marks:
        on[mark.paper].append(mark.pencil)
    home = max(on, key=lambda paper: len(set(on[paper])), default=None)
    seen = {mark.pencil for mark in marks}
    by_chart = sum(colour.chart is not None and colour.key not in seen for colour in colours) if seen else 0
    bare = Counter(mark.pencil for mark in marks if mark.paper == home and not mark.kind.over_black)
    several = sum(count > 1 for count in bare.values())
    # At home the hand is learned from the fits of some with a usual one.
    return several + min(several, _TELLING) + sum(len(set(pencils)) for pencils in on.values()) + by_chart


def _settle_at_home(paper: SeenPaper, marks: Sequence[SeenMark], known: _Known) -> PaperFit:
    """The first paper, the hand that made the swatches on it, and the pencils that are swatched there."""
    fitted = _home(paper, marks, known)
    _gather(marks, fitted, known, at_home=True)
    known.hand = _hand(marks, known)
    known.fit_again(sorted(known.evidence))
    spread = _spread(known.pencils.values())
    return replace(fitted, hand=known.hand, spread=spread, fitted_at=fitted.unknowns)


def _hand(marks: Sequence[SeenMark], known: _Known) -> float:
    """The hand that made these marks, by those on the bare paper.

    Over black a mark tells how much its pencil covers: what the model misses of that would be taken for slips.
    """
    telling = _telling([mark for mark in marks if not mark.kind.over_black])
    bare = [[one for one in known.evidence[key] if not one.kind.over_black] for key in telling]
    fits = known.fit(bare, [known.colours[key].opacity for key in telling], known.hand)
    return learn_hand(fit.slips for fit in fits if fit.slips is not None)


def _telling(marks: Sequence[SeenMark]) -> list[int]:
    """The pencils from whose marks the hand is learned: some of those with more than one, of all ranges."""
    count = Counter(mark.pencil for mark in marks)
    several = sorted((key for key in count if count[key] > 1), key=lambda key: (-count[key], key))
    apart = max(len(several) // _TELLING, 1)
    return sorted(several[::apart][:_TELLING])


def _spread(pencils: Iterable[PencilFit]) -> float:
    """The variance by which marks miss the model beside the usual, as those that the pencils were fitted to tell it."""
    squares, freedom = np.reshape([pencil.missed for pencil in pencils], (-1, 2)).sum(axis=0) + SPREAD_PRIOR
    return float(squares / freedom)


def _home(paper: SeenPaper, marks: Sequence[SeenMark], known: _Known) -> PaperFit:
    """The first paper, from the lighter marks of pencils that are known by their heaviest."""
    guess = guess_paper(paper.body, paper.tooth)
    heaviest = {key: _heaviest(of) for key, of in _by_pencil(marks).items()}
    lighter = [m for m in marks if not m.kind.over_black and _weight(m) < _weight(heaviest[m.pencil][0])]
    several = sorted({mark.pencil for mark in lighter})
    fits = known.fit(
        [[_evidence(mark, guess, at_home=True) for mark in heaviest[key]] for key in several],
        [known.colours[key].opacity for key in several],
        known.hand,
    )
    by_heaviest = dict(zip(several, fits, strict=True))
    anchors = [Anchor(by_heaviest[m.pencil], m.kind, m.lab) for m in lighter]
    pressed = max(marks, key=_weight).kind.pressure if marks else Pressure.HEAVY
    return fit_home(paper.body, paper.tooth, anchors, pressed=pressed)


def _other(paper: SeenPaper, marks: Sequence[SeenMark], known: _Known, home: PaperFit) -> PaperFit:
    anchors = [Anchor(known.pencils[m.pencil], m.kind, m.lab) for m in marks if m.pencil in known.pencils]
    return fit_paper(paper.body, paper.tooth, anchors, home)


def _gather(marks: Sequence[SeenMark], paper: PaperFit, known: _Known, at_home: bool = False) -> None:
    """What was seen on a paper becomes evidence of its pencils."""
    for mark in marks:
        known.evidence.setdefault(mark.pencil, []).append(_evidence(mark, paper, at_home))


def _evidence(mark: SeenMark, paper: PaperFit, at_home: bool) -> Evidence:
    noise = float(np.hypot(mark.noise, 0.0 if at_home else _OTHER_PAPER_NOISE))
    return Evidence(mark.lab, paper.model, mark.kind, noise, mark.spectrum, at_home, mark.alike)


def _by_pencil(marks: Sequence[SeenMark]) -> dict[int, list[SeenMark]]:
    """The marks of each pencil that do not lie over black."""
    found: dict[int, list[SeenMark]] = {}
    for mark in marks:
        if not mark.kind.over_black:
            found.setdefault(mark.pencil, []).append(mark)
    return found


def _heaviest(marks: Sequence[SeenMark]) -> list[SeenMark]:
    """All makings of the heaviest mark among these."""
    most = max(_weight(mark) for mark in marks)
    return [mark for mark in marks if _weight(mark) == most]


def _weight(mark: SeenMark) -> float:
    """Wax offered by a mark, as far as its kind says; what is burnished is told least by its load."""
    burnished = mark.kind.pressure == Pressure.BURNISH
    return 0.0 if burnished else mark.kind.layers * usual_load(mark.kind.pressure)


def _learn(marks: Sequence[SeenMark], known: _Known) -> ChartReading | None:
    """How chart values relate to heavy marks of one layer on the first paper."""
    both = [
        (chart, mark.lab)
        for mark in marks
        if mark.kind == Kind(Pressure.HEAVY) and (chart := known.colours[mark.pencil].chart) is not None
    ]
    return learn_charts([c for c, _ in both], [m for _, m in both]) if both else None


def _fit_by_chart(charts: ChartReading | None, home: PaperFit, known: _Known) -> frozenset[int]:
    """Fit every colour that has no mark at all to its chart value; which these are."""
    if charts is None:
        return frozenset()
    printed = [(key, c.chart) for key, c in known.colours.items() if key not in known.evidence and c.chart is not None]
    for key, chart in printed:
        lab, kind = charts.read(chart), Kind(Pressure.HEAVY)
        known.evidence[key] = [Evidence(lab, home.model, kind, charts.noise, at_home=True)]
    known.fit_again([key for key, _ in printed])
    return frozenset(key for key, _ in printed)
