"""A photographed page read: from pixels to the colour of every zone, with how far each may be off and what is doubtful.

Nothing is decided here for the artist: what is read goes into a review (design page 6-sheet).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE, CameraSpace
from tidy_tinder.core.sheet.bars import with_bars
from tidy_tinder.core.sheet.cells import CellLight, cells_of
from tidy_tinder.core.sheet.code import code_on
from tidy_tinder.core.sheet.correction import Correction
from tidy_tinder.core.sheet.errors import NoSheetError, RefusedPageError
from tidy_tinder.core.sheet.finding import find_page, markers_in, page_among
from tidy_tinder.core.sheet.flattening import FlatPage, flatten
from tidy_tinder.core.sheet.furniture import MARKERS
from tidy_tinder.core.sheet.judging import CellReading, cells_judged
from tidy_tinder.core.sheet.knowledge import Guide, PageKnowledge, art_paper_on, black_on, corrected
from tidy_tinder.core.sheet.layout import Layout
from tidy_tinder.core.sheet.light import LightField, light_of
from tidy_tinder.core.sheet.quality import Quality, quality_of
from tidy_tinder.core.sheet.reflections import reflections_on

Picture: TypeAlias = NDArray[np.uint8]


# Where only half of the markers are seen, so many of the printed dots must lie where they should.
_DOTS_THAT_CONFIRM = 0.4


class ReadingStep(StrEnum):
    """What is being done, in order."""

    FINDING = "finding"
    FLATTENING = "flattening"
    MEASURING = "measuring"
    CORRECTING = "correcting"


@dataclass(frozen=True, eq=False)
class PageReading:
    """A page as it was read. guide: what the correction rests on; flat: with the picture made flat; code: the text of
    its code, empty where it cannot be read; art_paper: the paper in a frame's bare windows as the rest of the picture
    has it, with its spread in ΔE00.
    """

    guide: Guide
    flat: FlatPage
    quality: Quality
    correction: Correction
    code: str
    cells: tuple[CellReading, ...]
    art_paper: tuple[Lab, float] | None


@dataclass(frozen=True, eq=False)
class SeenPage:
    """A page in a picture that is good enough, before any colour is spoken of. which: its place among those asked
    for.
    """

    which: int
    flat: FlatPage
    light: LightField
    cells: tuple[CellLight, ...]
    quality: Quality


def read_page(
    picture: Picture,
    pages: Sequence[tuple[Layout, PageKnowledge]],
    space: CameraSpace = SRGB_SPACE,
    said: Callable[[ReadingStep], None] = lambda step: None,
) -> PageReading:
    """Read from a picture (height, width, 3) the one of these pages that it shows.

    said: told what is begun; it may raise to stop. Raises NotReadableError and its kinds, which say what to do.
    """
    seen = see_page(picture, [layout for layout, _ in pages], space, said)
    said(ReadingStep.CORRECTING)
    return tell_page(seen, pages[seen.which][1])


def see_page(
    picture: Picture,
    layouts: Sequence[Layout],
    space: CameraSpace = SRGB_SPACE,
    said: Callable[[ReadingStep], None] = lambda step: None,
) -> SeenPage:
    """Find the one of these pages that a picture (height, width, 3) shows, and measure its light. Raises as
    `read_page`.
    """
    said(ReadingStep.FINDING)
    grey = _grey(picture)
    markers = markers_in(grey)
    layout = page_among(markers, layouts)
    found = find_page(grey, layout, markers)
    said(ReadingStep.FLATTENING)
    flat = flatten(picture, found, space)
    if len(found.seen) <= MARKERS // 2 and flat.dots < _DOTS_THAT_CONFIRM * flat.dots_in_all:
        raise NoSheetError(
            f"Only {len(found.seen)} of its eight marks are seen, and too few of the dots between the cells to tell "
            "the page by. Put nothing over it, and photograph the whole of it."
        )
    said(ReadingStep.MEASURING)
    light = light_of(flat)
    cells = cells_of(flat, light)
    quality = quality_of(flat, light, _bare(layout, cells))
    if quality.refused:
        raise RefusedPageError(" ".join(finding.advice for finding in quality.findings if finding.refused))
    return SeenPage(layouts.index(layout), flat, light, cells, quality)


def tell_page(seen: SeenPage, known: PageKnowledge) -> PageReading:
    """The colours of a page that was seen, by all that is known of it."""
    flat, light = seen.flat, seen.light
    correction = corrected(flat, light, seen.cells, known)
    judged = cells_judged(flat.found.layout, seen.cells, correction, reflections_on(flat, light), known)
    cells = with_bars(judged, seen.cells, correction, black_on(flat, light))
    art_paper = art_paper_on(flat, light, seen.cells, known)
    return PageReading(known.guide, flat, seen.quality, correction, code_on(flat), cells, art_paper)


def _grey(picture: Picture) -> Picture:
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    return np.asarray(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), dtype=np.uint8)


def _bare(layout: Layout, seen: tuple[CellLight, ...]) -> Mapping[int, CellLight]:
    """The cells of a frame that stay bare art paper."""
    bare = {cell.index for cell in layout.cells if cell.bare}
    return {cell.index: cell for cell in seen if cell.index in bare}
