"""What measured strips teach: stacks and single marks predicted before and after two strips of a pair, by the truth."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.random import Generator

from benchmarks.optics import HOME, PRESSURES, Readings, known_from, worlds
from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layering.collection_fit.strips import SeenStrip, learn_from_strips
from tidy_tinder.core.layering.collection_fit.survey import Survey
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import DeltaE, Lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure

Stack = tuple[tuple[int, Pressure], ...]
SAME, OTHER_PRESSURES, ONE_OF_THEM, SINGLE = (
    "the pair itself, in both orders",
    "the pair at other pressures",
    "one of the two with a third",
    "their single marks",
)


@dataclass
class Taught:
    """ΔE00 from the truth before and after, and whether it lay within the band, by question."""

    before: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    after: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    held: dict[str, list[bool]] = field(default_factory=lambda: defaultdict(list))


def teach(made: Readings, into: Taught, pairs: int = 25) -> None:
    """Read a strip of two pencils in both orders, learn from it, and ask again; each pair by itself."""
    known, _ = known_from(made, HOME, 0)
    key = made.seen_paper(HOME).key
    rng = np.random.default_rng(77)
    for _ in range(pairs):
        pair = _random_stack(rng, len(made.world.opacities), 2)
        strips = [
            SeenStrip(key, tuple(Layer(i, pressure) for i, pressure in order), made.world.reading(rng, HOME, order)[0])
            for order in (pair, pair[::-1])
        ]
        learned = learn_from_strips(strips, known.pencils, known.papers)
        for question, stacks in _questions(rng, pair, len(made.world.opacities)).items():
            truth = np.array([made.world.true_lab(HOME, laid) for laid in stacks])
            old, _ = _told(known, known.pencils, key, stacks)
            new, band = _told(known, learned, key, stacks)
            miss = delta_e_2000(new, truth)
            into.before[question] += [float(v) for v in delta_e_2000(old, truth)]
            into.after[question] += [float(v) for v in miss]
            into.held[question] += [bool(v) for v in miss <= band]


def solvent_held(count: int = 20) -> tuple[float, float, float]:
    """Median and 95th percentile ΔE00 of stacks of two and three after solvent, and the share within their band."""
    misses, held = [], []
    for _, made in worlds():
        known, _ = known_from(made, HOME, 0)
        paper, rng = known.papers[made.seen_paper(HOME).key], np.random.default_rng(4)
        world = made.world
        for size in (2, 3) * count:
            stack = _random_stack(rng, len(world.opacities), size)
            told = predict_stacks([[Layer(known.pencils[i], p) for i, p in stack]], paper, solvent=True)
            truth = world.true_lab(HOME, stack, solvent=True)
            misses.append(float(delta_e_2000(told.lab[0], truth)))
            held.append(misses[-1] <= float(told.radius[0]))
    return float(np.median(misses)), float(np.percentile(misses, 95)), float(np.mean(held))


def rows() -> list[tuple[str, str, str]]:
    """The rows of docs/benchmarks.md."""
    lines = []
    for where in ("demo", "random"):
        found = Taught()
        for name, made in worlds():
            if name.startswith(where):
                teach(made, found)
        for question, after in found.after.items():
            before = found.before[question]
            lines.append(
                (
                    f"{where}: ΔE00 before and after a strip in both orders, {question}",
                    f"{_median(before)} → {_median(after)}; bands then hold {np.mean(found.held[question]):.0%}",
                    "nearer, single marks no farther",
                )
            )
    median, most, held = solvent_held()
    lines.append(
        ("ΔE00, two and three layers after solvent", f"{median:.1f} / {most:.1f}, bands hold {held:.0%}", "85 to 98 %")
    )  # fmt: skip
    return lines


def _questions(rng: Generator, pair: Stack, count: int) -> dict[str, list[Stack]]:
    (one, p), (two, q) = pair
    thirds = [int(i) for i in rng.choice(count, 6, replace=False) if i not in (one, two)]
    with_third: list[Stack] = []
    for third in thirds:
        with_third += [((one, _any(rng)), (third, _any(rng))), ((third, _any(rng)), (two, _any(rng)))]
    return {
        SAME: [pair, pair[::-1]],
        OTHER_PRESSURES: [((one, a), (two, b)) for a in MARK_PRESSURES for b in MARK_PRESSURES if (a, b) != (p, q)],
        ONE_OF_THEM: with_third,
        SINGLE: [((i, a),) for i in (one, two) for a in MARK_PRESSURES],
    }


def _told(known: Survey, pencils: Mapping[int, PencilFit], key: int, stacks: Sequence[Stack]) -> tuple[Lab, DeltaE]:
    told = predict_stacks([[Layer(pencils[i], p) for i, p in laid] for laid in stacks], known.papers[key])
    return told.lab, told.radius


def _random_stack(rng: Generator, count: int, size: int) -> Stack:
    return tuple((int(i), _any(rng)) for i in rng.choice(count, size, replace=False))


def _any(rng: Generator) -> Pressure:
    return Pressure(rng.choice(PRESSURES))


def _median(misses: Sequence[float]) -> str:
    return f"{np.median(misses):.2f} (mean {np.mean(misses):.2f})"
