"""Run all benchmarks and write their figures to docs/benchmarks.md."""

from __future__ import annotations

import platform
from datetime import date
from pathlib import Path

from benchmarks import application, difference, layered, optics, strips

OPTICS = (
    "Optics: ΔE00 as median / 95th percentile between predictions and the truth (a steady hand, no noise), for",
    "pencils that were not swatched on the paper in question, in the demo's hidden world (every sixth ordinary",
    "pencil) and in four random ones (new pigments, pencils, papers, hands; 36 pencils each). Bands are judged by",
    "new readings with an uneven hand and a reader's noise. An anchor is one pencil, swatched light, medium and",
    "heavy. Regression is the best of an offset, lines and an affine map with the same anchors, chosen by the",
    "truth.",
)
TARGET = Path(__file__).parents[1] / "docs/benchmarks.md"


def main() -> None:
    """Measure, print, write."""
    rows = difference.rows() + optics.rows() + strips.rows() + layered.rows() + application.rows()
    lines = [
        "# Benchmarks",
        "",
        f"The last run of `make benchmark`: {date.today():%d %B %Y}, Python {platform.python_version()}, "
        f"{platform.machine()}, two cores. Each time is the best of several runs; ratios are taken within one run.",
        "",
        *OPTICS,
        "",
        "| what | figure | aim |",
        "|---|---|---|",
        *(f"| {what} | {figure} | {aim} |" for what, figure, aim in rows),
        "",
    ]
    for row in rows:
        print(*row, sep="  |  ")
    TARGET.write_text("\n".join(lines), encoding="utf-8")


if __name__ == "__main__":
    main()
