"""The bench: bands of drying times for simulated artists, and how much waiting the offered order of sections leaves."""

from __future__ import annotations

import numpy as np

from benchmarks.extent import some
from tidy_tinder.core.bench.drying import Answer, drying_time
from tidy_tinder.core.bench.turns import SectionNow, Turn, next_turn

_ARTISTS = len(some(range(1000), 200))
_DRAWINGS = 200


def rows() -> list[tuple[str, str, str]]:
    """(what, figure, aim) for each."""
    found = []
    for answers in (3, 6):
        for name, scatter in (("all", (0.15, 0.6)), ("steady", (0.15, 0.25)), ("restless", (0.4, 0.6))):
            held, width = drying_bands(answers, scatter, _ARTISTS, seed=71)
            span = f"{scatter[0]:g} to {scatter[1]:g}"
            what = f"drying: bands that hold after {answers} answers, {name} artists (scatter {span} in ln minutes)"
            found.append((what, f"{100 * held:.0f} %; highest / lowest {width:.1f}", "85 to 98 %"))
    in_order, offered = waiting(_DRAWINGS, seed=72)
    found.append(
        ("waiting for sections to dry, in the order of work; going to the next dry one that is offered",
         f"{in_order:.0f}; {offered:.0f} min a drawing", "less"),
    )  # fmt: skip
    return found


def drying_bands(answers: int, scatter: tuple[float, float], artists: int, seed: int) -> tuple[float, float]:
    """The share of next times within the band, and its usual width as a factor.

    Medians of 3 to 25 minutes, evenly in ln; each answer comes a little late, by 8 % in the mean.
    """
    rng = np.random.default_rng(seed)
    held, widths = 0, []
    for _ in range(artists):
        median, spread = np.exp(rng.uniform(np.log(3.0), np.log(25.0))), rng.uniform(*scatter)
        times = median * np.exp(spread * rng.normal(size=answers + 1))
        said = times[:answers] * np.exp(rng.exponential(0.08, size=answers))
        told = drying_time([Answer(float(t)) for t in said])
        held += told.low <= times[-1] <= told.high
        widths.append(told.high / told.low)
    return held / artists, float(np.median(widths))


def waiting(drawings: int, seed: int) -> tuple[float, float]:
    """Minutes of waiting a drawing, in order and as offered: 6 to 20 sections, three passes of 4 to 20 minutes, each
    left to dry for 8 minutes in the median.
    """
    rng = np.random.default_rng(seed)
    waits = []
    for _ in range(drawings):
        sections = int(rng.integers(6, 21))
        work = rng.uniform(4.0, 20.0, 3).tolist()
        dry = (8.0 * np.exp(0.4 * rng.normal(size=(sections, 3)))).tolist()
        waits.append((waited(work, dry, False), waited(work, dry, True)))
    in_order, offered = np.mean(waits, axis=0)
    return float(in_order), float(offered)


def waited(work: list[float], dry: list[list[float]], offered: bool) -> float:
    """Minutes of waiting for sections that are each worked in passes with drying between them."""
    clock = idle = 0.0
    left, wet_until, at = [len(work)] * len(dry), [0.0] * len(dry), 0
    while any(left):
        waits = [until - clock if until > clock else None for until in wet_until]
        now = [SectionNow(i, left[i] == 0, waits[i]) for i in range(len(dry))]
        turn = next_turn(now, at) if offered else Turn(next(i for i, passes in enumerate(left) if passes))
        if turn.key is None:
            wait = turn.minutes or 0.0
            idle, clock = idle + wait, clock + wait
            continue
        at = turn.key
        wait, done = waits[at] or 0.0, len(work) - left[at]
        idle, clock = idle + wait, clock + wait + work[done]
        left[at] -= 1
        wet_until[at] = clock + dry[at][done]
    return idle
