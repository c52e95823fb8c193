"""How well printed pages are read from photos of a phone that works on its pictures: sheets and frames as in `sheets`,
through tests/core/phone_camera.py, which was written before the reader was seen through it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray
from tests.core.phone_camera import Phone, PhoneCamera
from tests.core.sheet_camera import Shot
from tests.core.sheet_eyes import Eye

from benchmarks.extent import every_other, some
from benchmarks.page import Row
from benchmarks.sheets import (
    FRAME_PAPERS,
    MODES,
    NIKON,
    SHEET_PAPERS,
    SIGMA,
    Page,
    Tally,
    count,
    figures,
    knowledge_of,
    lights,
    merged,
    page_of,
)
from tidy_tinder.core.sheet.errors import NotReadableError
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.layout import Layout, LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.reading import see_page, tell_page

Condition: TypeAlias = tuple[Shot, Phone, str, tuple[str, str]]
"""How it is held, what the phone does, its sensor, and the lamps of its two lights."""
LEAST = Phone(
    glare=0.01, corners=0.1, bend=0.002, film=0.2, lively=0.0, turned=0.0, smoothed=1.0, sharpened=0.3, quality=92
)
WINDOW_AND_LAMP = ((0.9, 1.0, 1.1), (0.5, 0.42, 0.28))
EVENING = ((1.0, 0.88, 0.66), (0.0, 0.0, 0.0))
DAY = ("D65", "D65")

CONDITIONS: dict[str, Condition] = {
    "by the window": (Shot(tilt=5, turn=2, blur=0.08), Phone(evened=0.15), NIKON, DAY),
    "a window and a warm lamp": (
        Shot(tilt=8, turn=-3, blur=0.08),
        Phone(lights=WINDOW_AND_LAMP, evened=0.15, lively=0.2),
        NIKON,
        ("D65", "LED-B1"),
    ),
    "evened out": (
        Shot(tilt=10, curl=4, shade=0.3, blur=0.08),
        Phone(evened=0.35, film=0.6, lively=0.25, sharpened=1.0),
        SIGMA,
        DAY,
    ),
    "in the evening": (
        Shot(tilt=6, blur=0.1),
        Phone(lights=EVENING, evened=0.2, noise=0.02, smoothed=5, quality=75),
        NIKON,
        ("LED-B2", "LED-B2"),
    ),
    "a hand's shadow": (Shot(tilt=6, shadow=0.3, blur=0.08), Phone(evened=0.2), NIKON, ("D50", "D50")),
    "glare": (Shot(tilt=4, blur=0.09), Phone(glare=0.05, corners=0.3, film=0.3), SIGMA, DAY),
    "a neon lamp": (Shot(tilt=4, blur=0.08), Phone(evened=0.1, lively=0.1), NIKON, ("FL11", "FL11")),
    "left alone": (Shot(tilt=4, blur=0.07), LEAST, NIKON, DAY),
    "made lively": (Shot(tilt=4, blur=0.07), replace(LEAST, lively=0.3), SIGMA, DAY),
}


def phoned(page: Page, condition: Condition, seed: int) -> NDArray[np.uint8]:
    """A photo of a page that was coloured in, under two lights."""
    shot, phone, sensor, lamps = condition
    first, second = (Eye(sensor, lamp) for lamp in lamps)
    zones = lights(page.reflectances, page, first), lights(page.reflectances, page, second)
    art = lights({0: page.paper}, page, first)[0], lights({0: page.paper}, page, second)[0]
    bars = _bars(page, first), _bars(page, second)
    return PhoneCamera(page.layout, shot, phone, zones, art, bars).photo(seed)


def _bars(page: Page, eye: Eye) -> Mapping[int, tuple[tuple[float, float, float], float]]:
    return {index: (light, 1.0) for index, light in lights(page.bars, page, eye).items()}


def rows() -> list[Row]:
    """The figures."""
    sheets = _rows_of("sheets", sheet_layout(PageSize.A4, CellCount.NINETY), some((51, 52, 53), 1))
    return sheets + _rows_of("frames", frame_layout(PageSize.A4), some((54, 55), 1))


def _rows_of(what: str, layout: Layout, seeds: Sequence[int]) -> list[Row]:
    tallies, read, taken = measure(layout, every_other(CONDITIONS), seeds)
    made: list[Row] = [(f"{what}: found and read", f"{read} of {taken}", "≥ 97 %")]
    for mode, by_name in tallies.items():
        made.append((f"{what}, by {mode}", figures(merged(list(by_name.values()))), "bands hold ≥ 85 %"))
    for name in CONDITIONS:
        told = [
            f"by {mode} spread {np.median(by_name[name].spreads):.1f} holds {np.mean(by_name[name].held):.0%}"
            for mode, by_name in tallies.items()
            if name in by_name and by_name[name].held
        ]
        if told:
            made.append((f"{what}: {name}", "; ".join(told), ""))
    return made


def measure(
    layout: Layout, conditions: Mapping[str, Condition], seeds: Sequence[int]
) -> tuple[dict[str, dict[str, Tally]], int, int]:
    """Tallies by mode and condition; photos that were read, of how many."""
    papers = FRAME_PAPERS if layout.kind is LayoutKind.FRAME else SHEET_PAPERS
    tallies = {mode: {name: Tally() for name in conditions} for mode in MODES}
    read = 0
    for seed in seeds:
        for i, (name, condition) in enumerate(conditions.items()):
            page = page_of(layout, seed, papers[(seed + i) % len(papers)])
            try:
                seen = see_page(phoned(page, condition, seed * 100 + i), [layout])
            except NotReadableError:
                continue
            read += 1
            rng = np.random.default_rng(seed + i)
            for mode, (ramp, cells) in MODES.items():
                known = knowledge_of(page, ramp, cells, rng)
                count(tallies[mode][name], page, tell_page(seen, known).cells, known)
    return tallies, read, len(seeds) * len(conditions)
