"""How well printed pages are read from photos: other cameras, other worlds than any that the reader was made with."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray
from tests.core.sheet_camera import Camera, Shot, grey_share
from tests.core.sheet_eyes import Eye

from benchmarks.extent import every_other, some
from benchmarks.page import Row
from benchmarks.worlds import World, random_world
from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.sheet.errors import NotReadableError
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.judging import CellReading, CellState
from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.sheet.layout import Layout, LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.reading import see_page, tell_page
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure

K = TypeVar("K")
Array = NDArray[np.float64]

PENCILS = 60
WARM, COOL = (0.78, 0.62, 0.42), (0.55, 0.62, 0.74)
NIKON, SIGMA = "Nikon 5100 (NPL)", "Sigma SDMerill (NPL)"

PHOTOS: dict[str, tuple[Shot, Eye]] = {
    "straight, daylight": (Shot(contrast=0.25), Eye(NIKON, "D65", 0.05)),
    "tilted": (Shot(tilt=15, turn=3, contrast=0.3), Eye(NIKON, "D50", 0.05)),
    "curled": (Shot(curl=9, tilt=6, contrast=0.2), Eye(NIKON, "D65")),
    "a lamp at one side": (Shot(shade=0.45, contrast=0.3), Eye(NIKON, "LED-B3", 0.05)),
    "warm light": (Shot(lamp=WARM, contrast=0.2), Eye(NIKON, "A")),
    "cool light": (Shot(lamp=COOL, contrast=0.2), Eye(NIKON, "D75", 0.1)),
    "a soft shadow": (Shot(shadow=0.35, contrast=0.2), Eye(NIKON, "D65")),
    "blurred": (Shot(blur=0.2, noise=4, contrast=0.2), Eye(NIKON, "LED-V1")),
    "grainy and dim": (Shot(lamp=(0.3, 0.28, 0.24), noise=8, contrast=0.2), Eye(NIKON, "LED-B2")),
    "strong contrast": (Shot(contrast=0.6), Eye(NIKON, "D65", 0.1)),
    "no curve": (Shot(contrast=0.0), Eye(NIKON, "D65")),
    "two marks hidden": (Shot(turn=2, contrast=0.25), Eye(NIKON, "D55", 0.05)),
    "another sensor": (Shot(contrast=0.3), Eye(SIGMA, "D65", 0.05)),
}
SCANS: dict[str, tuple[Shot, Eye]] = {
    "a scan": (Shot(fill=0.995, blur=0.05, noise=1, lamp=(0.86, 0.86, 0.86), quality=97), Eye(NIKON, "LED-B5")),
    "an older scan": (Shot(fill=0.995, blur=0.08, noise=2, lamp=(0.8, 0.8, 0.8)), Eye(SIGMA, "FL11")),
    "a scan, turned": (Shot(fill=0.99, turn=0.8, blur=0.06, noise=1, lamp=(0.86, 0.86, 0.86)), Eye(NIKON, "LED-V2")),
}


@dataclass(frozen=True)
class Page:
    """A page as it was coloured in. truth: Lab of every zone; paper, printed: what is coloured, what is printed on;
    bars: reflectance (31,) of what lies on the black bar of a cell.
    """

    layout: Layout
    truth: dict[tuple[int, Pressure], Array]
    reflectances: dict[tuple[int, Pressure], Array]
    paper: Array
    printed: Array
    paper_lab: tuple[float, float, float]
    bars: Mapping[int, Array] = field(default_factory=dict)


@dataclass
class Tally:
    """ΔE00 of zones that were read, clean cells alone, by pressure; and how many of them lie in their bands."""

    light: list[float] = field(default_factory=list)
    heavy: list[float] = field(default_factory=list)
    every: list[float] = field(default_factory=list)
    held: list[bool] = field(default_factory=list)
    spreads: list[float] = field(default_factory=list)
    flagged: int = 0
    cells: int = 0

    def add(self, pressure: Pressure, off: float, spread: float) -> None:
        """One zone."""
        self.every.append(off)
        self.held.append(off <= spread)
        self.spreads.append(spread)
        if pressure is Pressure.LIGHT:
            self.light.append(off)
        if pressure is Pressure.HEAVY:
            self.heavy.append(off)


@cache
def world(seed: int) -> World:
    """A world with as many pencils as go on a page."""
    return random_world(seed, PENCILS)


def page_of(layout: Layout, seed: int, paper: str) -> Page:
    """A page coloured in by an uneven hand, each pencil once."""
    made, rng = world(seed), np.random.default_rng(seed)
    body = made.true_reflectance(paper, ())
    truth, reflectances = {}, {}
    for cell, pencil in zip(layout.places, range(PENCILS), strict=False):
        for pressure in MARK_PRESSURES:
            _, spectrum = made.reading(rng, paper, ((pencil, pressure.value),))
            reflectances[cell.index, pressure] = spectrum
            truth[cell.index, pressure] = reflectance_to_lab(spectrum)
    lab = reflectance_to_lab(body)
    printed = made.true_reflectance("white smooth", ()) if layout.kind is LayoutKind.FRAME else body
    return Page(layout, truth, reflectances, body, printed, (float(lab[0]), float(lab[1]), float(lab[2])))


def photographed(page: Page, shot: Shot, eye: Eye, seed: int) -> NDArray[np.uint8]:
    """A photo of it."""
    zones, bars = lights(page.reflectances, page, eye), lights(page.bars, page, eye)
    art = lights({0: page.paper}, page, eye)[0]
    return Camera(page.layout, shot, zones, art, 0.06, {i: (light, 1.0) for i, light in bars.items()}).photo(seed)


def lights(of: Mapping[K, Array], page: Page, eye: Eye) -> dict[K, tuple[float, float, float]]:
    """Linear channels of reflectances, as shares of those of the paper that is printed on."""
    if not of:
        return {}
    shares = eye.shares(np.array(list(of.values())), page.printed)
    return {key: (float(r), float(g), float(b)) for key, (r, g, b) in zip(of, shares, strict=True)}


def knowledge_of(page: Page, ramp: bool, cells: int, rng: np.random.Generator) -> PageKnowledge:
    """What is known of a page: its paper; the ramp as a reader reads it; some heavy cells, spread in Lab."""
    steps: dict[float, tuple[float, float, float]] = {}
    if ramp:
        for patch in page.layout.ramp:
            lab = reflectance_to_lab(grey_share(patch.black) * page.printed) + rng.normal(0, 0.15, 3)
            steps[patch.black] = (float(lab[0]), float(lab[1]), float(lab[2]))
    known = {}
    for key in _spread_out({k: v for k, v in page.truth.items() if k[1] is Pressure.HEAVY}, cells):
        lab = page.truth[key] + rng.normal(0, 0.25, 3)
        known[key] = (float(lab[0]), float(lab[1]), float(lab[2]))
    return PageKnowledge(page.paper_lab, steps, known)


def _spread_out(colours: dict[tuple[int, Pressure], Array], count: int) -> list[tuple[int, Pressure]]:
    """So many of them, each as far from those taken as can be."""
    keys, labs = list(colours), np.array(list(colours.values()))
    taken: list[int] = []
    while len(taken) < count:
        far = np.min([((labs - labs[i]) ** 2).sum(-1) for i in taken], axis=0) if taken else -labs[:, 0]
        taken.append(int(np.argmax(far)))
    return [keys[i] for i in taken]


MODES = dict(
    some((("paper", (False, 0)), ("ramp", (True, 0)), ("12 cells", (False, 12)), ("12 cells and ramp", (True, 12))), 3)
)


def measure(
    kind: LayoutKind, conditions: dict[str, tuple[Shot, Eye]], papers: Sequence[str], seeds: Sequence[int]
) -> tuple[dict[str, dict[str, Tally]], int, int]:
    """Tallies by mode and condition; photos that were read, of how many."""
    layout = frame_layout(PageSize.A4) if kind is LayoutKind.FRAME else sheet_layout(PageSize.A4, CellCount.NINETY)
    tallies = {mode: {name: Tally() for name in conditions} for mode in MODES}
    read = taken = 0
    for seed in seeds:
        for i, (name, (shot, eye)) in enumerate(conditions.items()):
            page = page_of(layout, seed, papers[(seed + i) % len(papers)])
            photo = photographed(page, shot, eye, seed * 100 + i)
            if name == "two marks hidden":
                _hide(photo, layout, shot)
            rng = np.random.default_rng(seed + i)
            taken += 1
            try:
                seen = see_page(photo, [layout])
            except NotReadableError:
                continue
            read += 1
            for mode, (ramp, cells) in MODES.items():
                known = knowledge_of(page, ramp, cells, rng)
                count(tallies[mode][name], page, tell_page(seen, known).cells, known)
    return tallies, read, taken


def _hide(photo: NDArray[np.uint8], layout: Layout, shot: Shot) -> None:
    for marker in (layout.markers[0], layout.markers[3]):
        x, y = Camera(layout, shot).places(np.array([marker.box.middle]))[0].astype(int)
        photo[max(y - 80, 0) : y + 80, max(x - 80, 0) : x + 80] = (150, 120, 105)


def count(tally: Tally, page: Page, cells: Sequence[CellReading], known: PageKnowledge) -> None:
    """Add every zone of the clean cells that was not known."""
    for cell in cells:
        if (cell.index, Pressure.LIGHT) not in page.truth:
            continue
        tally.cells += 1
        if cell.state is not CellState.CLEAN:
            tally.flagged += 1
            continue
        for pressure, zone in cell.zones.items():
            if (cell.index, pressure) not in known.cells:
                off = float(delta_e_2000(zone.lab, page.truth[cell.index, pressure]))
                tally.add(pressure, off, zone.spread)


def merged(tallies: Sequence[Tally]) -> Tally:
    """Several as one."""
    whole = Tally()
    for one in tallies:
        whole.light += one.light
        whole.heavy += one.heavy
        whole.every += one.every
        whole.held += one.held
        whole.spreads += one.spreads
        whole.flagged += one.flagged
        whole.cells += one.cells
    return whole


def said(values: Sequence[float]) -> str:
    """Median / 95th percentile."""
    if not values:
        return "none"
    return f"{np.median(values):.2f} / {np.percentile(values, 95):.2f}"


SHEET_PAPERS, FRAME_PAPERS = ("white medium", "white smooth"), ("white rough", "toned", "black", "white medium")
SHEET_AIMS = {
    "paper": "light 1.0 / 3.0, heavy 3.2 / 8",
    "ramp": "all 1.2 / 4.2",
    "12 cells": "all 1.1 / 3.8, heavy 1.6 / 5.2",
    "12 cells and ramp": "",
}
FRAME_AIMS = {
    "paper": "",
    "ramp": "all 1.3 / 4.6, heavy 1.7 / 6.0",
    "12 cells": "all 1.2 / 4.6, heavy 1.6 / 5.8",
    "12 cells and ramp": "",
}


def rows() -> list[Row]:
    """The figures."""
    photos = every_other(PHOTOS)
    made = _rows_of("sheets", LayoutKind.SHEET, photos, SHEET_PAPERS, some((11, 12, 13, 14, 15), 1), SHEET_AIMS)
    scans = {"12 cells": "all 0.9 / 2.8"}
    made += _rows_of("scans", LayoutKind.SHEET, SCANS, SHEET_PAPERS, some((21, 22, 23), 1), scans)
    made += _rows_of("frames", LayoutKind.FRAME, photos, FRAME_PAPERS, some((31, 32, 33, 34), 1), FRAME_AIMS)
    return made


def times() -> list[Row]:
    """How long reading a photo takes."""
    seconds, megabytes = _as_a_process()
    return [
        ("a 12-megapixel photo read, as a process of its own with all it loads", f"{seconds:.1f} s, {megabytes:.0f} MB",
         "3 s, 350 MB"),
    ]  # fmt: skip


def _rows_of(
    what: str,
    kind: LayoutKind,
    conditions: dict[str, tuple[Shot, Eye]],
    papers: Sequence[str],
    seeds: Sequence[int],
    aims: dict[str, str],
) -> list[Row]:
    tallies, read, taken = measure(kind, conditions, papers, seeds)
    made: list[Row] = [(f"{what}: found and read", f"{read} of {taken}", "≥ 97 %")]
    for mode, by_name in tallies.items():
        whole = merged(list(by_name.values()))
        made.append((f"{what}, by {mode}", figures(whole), aims.get(mode, "")))
    for name, one in tallies["12 cells"].items():
        made.append((f"{what}, by 12 cells: {name}", figures(one), ""))
    return made


def figures(tally: Tally) -> str:
    """All of one tally in words."""
    if not tally.every:
        return f"none clean of {tally.cells}"
    return (
        f"all {said(tally.every)}, light {said(tally.light)}, heavy {said(tally.heavy)}; spread "
        f"{np.median(tally.spreads):.1f} holds {np.mean(tally.held):.0%}; {tally.flagged} of {tally.cells} not clean"
    )


def _as_a_process() -> tuple[float, float]:
    """Seconds, the best of three, and megabytes that reading a photo of 12 megapixels takes, imports included."""
    page = page_of(sheet_layout(PageSize.A4, CellCount.NINETY), 11, SHEET_PAPERS[0])
    photo = photographed(page, Shot(tilt=8, curl=4, shade=0.3, height=4000, width=3000), Eye(), 1)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "photo.jpg"
        cv2.imwrite(str(path), cv2.cvtColor(photo, cv2.COLOR_RGB2BGR))
        runs = [
            [
                float(v)
                for v in subprocess.check_output([sys.executable, "-m", "benchmarks.read_photo", str(path)]).split()
            ]
            for _ in range(3)
        ]
    return min(run[0] for run in runs), max(run[1] for run in runs)
