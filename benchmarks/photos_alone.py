"""How well marks are predicted where a collection knows photos only: no reader, the paper alone to tell colours by."""

from __future__ import annotations

import numpy as np
from tests.core.sheet_camera import Shot
from tests.core.sheet_eyes import Eye

from benchmarks.extent import some
from benchmarks.optics import HOME, KINDS, Figures, Readings, judge
from benchmarks.page import Row
from benchmarks.sheets import NIKON, WARM, Page, photographed
from benchmarks.worlds import random_world
from tidy_tinder.core.layering.collection_fit.survey import SeenMark
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.sheet.layout import LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.reading import read_page
from tidy_tinder.core.vocabulary import MARK_PRESSURES

# Another evening for each paper: a window, a lamp at one side, a warm lamp.
EVENINGS = (
    (Shot(tilt=6, contrast=0.3), Eye(NIKON, "D65", 0.05)),
    (Shot(shade=0.35, contrast=0.25), Eye(NIKON, "LED-B3", 0.05)),
    (Shot(lamp=WARM, contrast=0.3), Eye(NIKON, "LED-B2", 0.05)),
)
_UNEVEN_HAND = 0.6  # as services/background/inputs.py has it


class PhotoReadings(Readings):
    """A world whose artist photographs sheets and frames; what is judged is judged by the truth and by a reader."""

    def __init__(self, seed: int) -> None:
        super().__init__(random_world(seed, 36), seed)
        self._by_photo: dict[str, dict[tuple[int, str], tuple[Lab, float]]] = {}

    def reading(self, paper: str, pencil: int, kind: Kind, again: int = 0) -> tuple[Lab, np.ndarray]:
        """By photo the first time, over bare paper; by a reader when it is to be judged."""
        made = super().reading(paper, pencil, kind, again)
        return made if again or kind.over_black else (self._photos(paper)[pencil, kind.pressure][0], made[1])

    def marks(self, paper: str, pencils: list[int], kinds: list[Kind]) -> list[SeenMark]:  # type: ignore[override]  # lists are what is given
        """Swatches with the doubt that the photo has of each."""
        key = sorted(self.world.papers).index(paper)
        return [
            SeenMark(i, key, kind, lab, float(np.hypot(_UNEVEN_HAND, doubt)))
            for i in pencils
            for kind in kinds
            for lab, doubt in [self._photos(paper)[i, kind.pressure]]
        ]

    def _photos(self, paper: str) -> dict[tuple[int, str], tuple[Lab, float]]:
        if paper not in self._by_photo:
            self._by_photo[paper] = self._photographed(paper)
        return self._by_photo[paper]

    def _photographed(self, paper: str) -> dict[tuple[int, str], tuple[Lab, float]]:
        kind = LayoutKind.SHEET if paper.startswith("white") else LayoutKind.FRAME
        layout = frame_layout(PageSize.A4) if kind is LayoutKind.FRAME else sheet_layout(PageSize.A4, CellCount.NINETY)
        spectra = {
            (cell.index, pressure): super(PhotoReadings, self).reading(paper, i, Kind(pressure))[1]
            for i, cell in zip(range(len(self.world.opacities)), layout.places, strict=False)
            for pressure in MARK_PRESSURES
        }
        body = self.world.true_reflectance(paper, ())
        printed = self.world.true_reflectance("white smooth", ()) if kind is LayoutKind.FRAME else body
        L, a, b = reflectance_to_lab(body)
        page = Page(layout, {}, spectra, body, printed, (float(L), float(a), float(b)))
        shot, eye = EVENINGS[(self._seed + sorted(self.world.papers).index(paper)) % len(EVENINGS)]
        read = read_page(photographed(page, shot, eye, self._seed), [(layout, PageKnowledge(page.paper_lab))])
        by_index = {cell.index: cell for cell in read.cells}
        return {
            (i, str(pressure)): (zone.lab, float(np.sqrt(np.trace(zone.covariance) / 3)))
            for i, cell in zip(range(len(self.world.opacities)), layout.places, strict=False)
            for pressure in MARK_PRESSURES
            for zone in [by_index[cell.index].zones[pressure]]
        }


def rows() -> list[Row]:
    """From photos alone, beside the same with a reader."""
    made = []
    worlds = [(PhotoReadings(seed), Readings(random_world(seed, 36), seed)) for seed in some((11, 12, 13, 14), 1)]
    for what, papers, anchors in (
        ("again on the paper photographed", (HOME,), 0),
        ("other white papers, 0 anchors", ("white smooth", "white rough"), 0),
        ("other white papers, 4 anchors", ("white smooth", "white rough"), 4),
        ("other white papers, 8 anchors", ("white smooth", "white rough"), 8),
        ("toned paper, 8 anchors", ("toned",), 8),
    ):
        photos, reader = Figures(), Figures()
        for by_photo, by_reader in worlds:
            for paper in papers:
                judge(by_photo, paper, anchors, photos, KINDS)
                judge(by_reader, paper, anchors, reader, KINDS)
        made.append(
            (
                what,
                f"{photos.median:.2f} / {photos.ninety_fifth:.2f}, bands of {photos.band:.1f} hold {photos.held:.0%}; "
                f"with a reader {reader.median:.2f} / {reader.ninety_fifth:.2f}, {reader.band:.1f}, {reader.held:.0%}",
                "bands hold ≥ 85 %",
            )
        )
    return made
