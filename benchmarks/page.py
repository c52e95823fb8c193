"""docs/benchmarks.md: one section a part, each with the date of its own run; a run replaces its sections only."""

from __future__ import annotations

import platform
import re
from collections.abc import Sequence
from datetime import date
from pathlib import Path

Row = tuple[str, str, str]

# Sections that are written by hand, at the end of the page.
_BY_HAND = ("## Killed", "## The suite")

TARGET = Path(__file__).parents[1] / "docs/benchmarks.md"
HEAD = """# Benchmarks

`make benchmark` measures all of it with samples, `make benchmark WHOLE=1` with all of them, `make benchmark
PARTS="difference start"` some parts; each section says when it was measured, and of how much. All sections of 2
December are of one run of all samples, 4,489 seconds, with the code of decision 0060, but for Photographed sheets,
Photographed with phones and Predictions from photos alone, which are of that of decision 0062 (it changes nothing of
what a reader measured), measured after it beside other work. During the great run tests of recipes were run beside it
for some minutes of its last half hour.
What a clock tells is measured part by part, while the machine is rested, and then what none does, two parts at a time;
only the large tidy, which must be fitted for it, is timed at the end.
Each time is the best of several runs on two cores; ratios are taken within one run.
The machines that measure are not alike: on 28 November the same start took 1.2 s that had taken 0.7 s the day before,
and the catalogue reader of 27 November 1.0 to 1.2 s that had taken 0.6 s. Each section says how long a million
additions took in plain Python before and after it: 49 to 59 ms in four sections of 2 December, 75 to 115 ms in seven,
and what a clock tells there is as much slower.
"""


# Less than this share of the machine is not worth a word.
_STOLEN = 0.01


def section(
    title: str, intro: str, rows: Sequence[Row], seconds: float, extent: str, stolen: float = 0.0, loop_ms: float = 0.0
) -> str:
    """One part as the page shows it; stolen: the share of the machine that its host took while a clock was read;
    loop_ms: how long a million additions took then, 0 where no clock was read.
    """
    by_host = f"; meanwhile the host took {stolen:.0%} of the machine for others" if stolen >= _STOLEN else ""
    pace = f"; a million additions took {loop_ms:.0f} ms" if loop_ms else ""
    machine = f"Python {platform.python_version()}, {platform.machine()}, {platform.processor() or 'two cores'}"
    lines = [
        f"## {title}",
        "",
        f"{date.today():%d %B %Y}, {machine}; {extent}; it took {seconds:.0f} s{by_host}{pace}.",
        *(["", intro] if intro else []),
        "",
        "| what | figure | aim |",
        "|---|---|---|",
        *(f"| {what} | {figure} | {aim} |" for what, figure, aim in rows),
    ]
    return "\n".join(lines) + "\n"


def merge(page: str, sections: Sequence[str]) -> str:
    """The page with these sections in the place of those of the same title; new ones before what is written by hand."""
    parts = re.split(r"(?m)^(?=## )", page)
    kept = parts[1:] if len(parts) > 1 else []
    for new in sections:
        title = new.splitlines()[0]
        at = next((i for i, old in enumerate(kept) if old.splitlines()[0] == title), None)
        if at is None:
            by_hand = next((i for i, old in enumerate(kept) if old.startswith(_BY_HAND)), len(kept))
            kept.insert(by_hand, new)
        else:
            kept[at] = new
    return "\n".join([HEAD.rstrip("\n"), "", *(part.rstrip("\n") + "\n" for part in kept)])
