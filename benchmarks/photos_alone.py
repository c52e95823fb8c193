"""How well marks and layers are predicted where a collection knows photos only: no reader, the paper alone to tell
colours by, with and without what photos tell of the sheets' black bars.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from tests.core.sheet_camera import Shot
from tests.core.sheet_eyes import Eye

from benchmarks.optics import HOME, KINDS, OVER_BLACK, PHYSICS, Figures, Readings, judge, known_from, said, worlds_of
from benchmarks.page import Row
from benchmarks.sheets import NIKON, WARM, Page, photographed
from benchmarks.stacks import STACKS
from benchmarks.stacks import judge as judge_stacks
from benchmarks.worlds import World
from tidy_tinder.core.layering.collection_fit.survey import SeenMark
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.judging import BarReading
from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.sheet.layout import Layout, LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.reading import read_page
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Opacity, Source
from tidy_tinder.services.background.inputs import camera_noise, reading_noise

# Another evening for each paper: a window, a lamp at one side, a warm lamp.
EVENINGS = (
    (Shot(tilt=6, contrast=0.3), Eye(NIKON, "D65", 0.05)),
    (Shot(shade=0.35, contrast=0.25), Eye(NIKON, "LED-B3", 0.05)),
    (Shot(lamp=WARM, contrast=0.3), Eye(NIKON, "LED-B2", 0.05)),
)
Told = Mapping[tuple[int, Kind], tuple[Lab, float]]
BAR = OVER_BLACK[-1]


class PhotoReadings(Readings):
    """A world whose artist photographs sheets and frames; what is judged is judged by the truth and by a reader."""

    def __init__(self, world: World, seed: int) -> None:
        super().__init__(world, seed)
        self._by_photo: dict[str, Told] = {}

    def reading(self, paper: str, pencil: int, kind: Kind, again: int = 0) -> tuple[Lab, Reflectance]:
        """By photo the first time, over bare paper; by a reader when it is to be judged."""
        made = super().reading(paper, pencil, kind, again)
        return made if again or kind.over_black else (self._photos(paper)[pencil, kind][0], made[1])

    def marks(self, paper: str, pencils: Sequence[int], kinds: Sequence[Kind]) -> list[SeenMark]:
        """Swatches with the doubt that the photo has of each; of those over black the ones that it tells."""
        key, told = sorted(self.world.papers).index(paper), self._photos(paper)
        return [_seen(i, key, kind, *told[i, kind]) for i in pencils for kind in kinds if (i, kind) in told]

    def _photos(self, paper: str) -> Told:
        if paper not in self._by_photo:
            self._by_photo[paper] = self._photographed(paper)
        return self._by_photo[paper]

    def _photographed(self, paper: str) -> Told:
        kind = LayoutKind.SHEET if paper.startswith("white") else LayoutKind.FRAME
        layout = frame_layout(PageSize.A4) if kind is LayoutKind.FRAME else sheet_layout(PageSize.A4, CellCount.NINETY)
        page = self._coloured_in(layout, paper, kind is LayoutKind.SHEET)
        shot, eye = EVENINGS[(self.seed + sorted(self.world.papers).index(paper)) % len(EVENINGS)]
        read = read_page(photographed(page, shot, eye, self.seed), [(layout, PageKnowledge(page.paper_lab))])
        by_index = {cell.index: cell for cell in read.cells}
        told: dict[tuple[int, Kind], tuple[Lab, float]] = {}
        for i, place in enumerate(layout.places[: len(self.world.opacities)]):
            cell = by_index[place.index]
            told |= {(i, Kind(p)): (cell.zones[p].lab, _sd(cell.zones[p].covariance)) for p in MARK_PRESSURES}
            if cell.bar is not None and self._believed(i, cell.bar):
                told[i, BAR] = (cell.bar.lab, _sd(cell.bar.covariance))
        return told

    def _coloured_in(self, layout: Layout, paper: str, bars: bool) -> Page:
        cells = dict(zip(range(len(self.world.opacities)), (place.index for place in layout.places), strict=False))
        spectra = {
            (cell, pressure): super(PhotoReadings, self).reading(paper, i, Kind(pressure))[1]
            for i, cell in cells.items()
            for pressure in MARK_PRESSURES
        }
        over = {cell: super(PhotoReadings, self).reading(paper, i, BAR)[1] for i, cell in cells.items() if bars}
        body = self.world.true_reflectance(paper, ())
        printed = body if bars else self.world.true_reflectance("white smooth", ())
        L, a, b = reflectance_to_lab(body)
        return Page(layout, {}, spectra, body, printed, (float(L), float(a), float(b)), over)

    def _believed(self, pencil: int, bar: BarReading) -> bool:
        """As services/photos/over_black.py has it: one as black as a bare one is that of a transparent pencil."""
        return not bar.bare or self.world.opacities[pencil] == Opacity.TRANSPARENT


def _seen(pencil: int, paper: int, kind: Kind, lab: Lab, doubt: float) -> SeenMark:
    """As services/background/inputs.py has it."""
    noise = reading_noise(Source.PHOTO, doubt)
    alike = 0.0 if kind.over_black else camera_noise(Source.PHOTO, noise)
    return SeenMark(pencil, paper, kind, lab, noise, alike=alike)


def _sd(covariance: np.ndarray) -> float:
    return float(np.sqrt(np.trace(covariance) / 3))


# What is asked, the papers, how many pencils are photographed there, and whether the bars at home are gone over too.
MARKS: dict[str, tuple[tuple[str, ...], int, bool]] = {
    "again on the paper photographed": ((HOME,), 0, False),
    "other white papers, 0 anchors": (("white smooth", "white rough"), 0, False),
    "other white papers, 4 anchors": (("white smooth", "white rough"), 4, False),
    "other white papers, 8 anchors": (("white smooth", "white rough"), 8, False),
    "toned paper, 8 anchors": (("toned",), 8, False),
    "black paper, 8 anchors": (("black",), 8, False),
    "black paper, 8 anchors, black bars gone over": (("black",), 8, True),
    "black paper, 0 anchors, black bars gone over": (("black",), 0, True),
}
_BARS = {"": KINDS, ", black bars gone over": OVER_BLACK}


def photo_figures(made: PhotoReadings, found: dict[str, Figures]) -> None:
    """Add what one world says to all questions."""
    for what, (papers, anchors, bars) in MARKS.items():
        for paper in (paper for paper in papers if paper in made.world.papers):
            judge(made, paper, anchors, found.setdefault(what, Figures()), OVER_BLACK if bars else KINDS)
    for bars_too, kinds in _BARS.items():
        known, _ = known_from(made, HOME, 0, kinds)
        for seed, (what, (draw, _)) in enumerate(STACKS.items()):
            judge_stacks(made, known, draw, found.setdefault(what + bars_too, Figures()), seed + 5)


def rows() -> list[Row]:
    """From photos alone."""
    told: dict[str, list[str]] = {}
    for physics in PHYSICS:
        found: dict[str, Figures] = {}
        for by_reader in worlds_of(physics):
            photo_figures(PhotoReadings(by_reader.world, by_reader.seed), found)
        for what, whole in found.items():
            told.setdefault(what, []).append(said(physics, whole))
    return [(f"ΔE00, {what}", "; ".join(lines), "bands hold ≥ 85 %") for what, lines in told.items()]
