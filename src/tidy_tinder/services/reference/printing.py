"""What of a picture is printed: its palette card, large patches, and the picture at its drawing's size with a grid."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

import numpy as np

from tidy_tinder.core.difference.components import value_step
from tidy_tinder.core.reference.adjusting import adjusted
from tidy_tinder.core.reference.sections import section_grid
from tidy_tinder.core.reference.views import coded_for_screen
from tidy_tinder.core.reference.words import name_of
from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.formats.palette_card_pdf import CardRow, PaletteCard, palette_card_pdf, pdf_as_png
from tidy_tinder.formats.patches_pdf import LargePatch, patches_pdf
from tidy_tinder.formats.picture_pages_pdf import GridLines, picture_pages_pdf
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.reference.answers import shown_labs
from tidy_tinder.services.reference.palette import Palette, PaletteRow
from tidy_tinder.services.reference.pictures import working_picture
from tidy_tinder.services.reference.store import find_reference, steps_of
from tidy_tinder.services.reference.view import png_of

FINEST_GRID_MM = 5.0
"""Lines that stand nearer are finer than a pencil draws."""
_WORDS = (
    "In each row: the picture's colour, and edge to edge with it what is laid for it, as predicted. A printer is no "
    "pencil: swatch each way in its blank, on the paper you draw on, and trust that."
)
MOST_FIELDS = 60
"""Columns or rows of a grid."""


@dataclass(frozen=True)
class GridWish:
    """A grid by its step in mm, or by its columns and rows; with neither, of sections of about 29 cm²."""

    every_mm: float | None = None
    columns: int | None = None
    rows: int | None = None


def palette_card(palette: Palette, size: PageSize) -> bytes:
    """A palette as a card, PDF."""
    order = f"{palette.order}; laid into the paper's range" if palette.mapped else str(palette.order)
    subtitle = f"Colours of {palette.picture}, on {palette.paper_name}, {order}"
    return palette_card_pdf(PaletteCard(palette.drawing, subtitle, _WORDS, [_card_row(r) for r in palette.rows]), size)


def palette_picture(palette: Palette) -> bytes:
    """The same as PNG, its pages below one another."""
    return pdf_as_png(palette_card(palette, PageSize.A4))


def patches_page(collection: Collection, reference_id: int, size: PageSize) -> bytes:
    """Each pick as a large patch, from light to dark, as PDF. Raises NotFoundError, RefusedError without picks."""
    with collection() as session:
        name = find_reference(session, reference_id).name
        labs = sorted(shown_labs(session, reference_id).values(), key=lambda lab: -lab[0])
    if not labs:
        raise RefusedError("Nothing is picked in this picture yet. Pick a colour, or find the main ones with k.")
    large = []
    for lab in labs:
        figures = f"value {float(value_step(lab)):.1f}, L* {lab[0]:.0f}, a* {lab[1]:.0f}, b* {lab[2]:.0f}"
        large.append(LargePatch(patch(lab).hex, name_of(lab), figures))
    return patches_pdf(f"Colours of {name}", large, size)


def picture_at_size(collection: Collection, reference_id: int, wish: GridWish, size: PageSize) -> bytes:
    """A picture at its drawing's size with a grid, over several pages, as PDF.

    Raises NotFoundError, RefusedError for a grid that is finer than a pencil draws, UnreadableError for too many pages.
    """
    with collection() as session:
        reference = find_reference(session, reference_id)
        drawing = find_drawing(session, reference.drawing_id)
        light = adjusted(working_picture(session, reference_id).light(), steps_of(reference))
        title, wide, high = drawing.name, drawing.width_mm, drawing.height_mm
    return picture_pages_pdf(title, png_of(coded_for_screen(light)), wide, high, _lines(wide, high, wish), size)


def _lines(width_mm: float, height_mm: float, wish: GridWish) -> GridLines:
    if wish.columns and wish.rows:
        across, down = width_mm / wish.columns, height_mm / wish.rows
    elif wish.every_mm is not None:
        across = down = wish.every_mm
    else:
        grid = section_grid(width_mm, height_mm)
        across, down = grid.width_mm, grid.height_mm
    if min(across, down) < FINEST_GRID_MM:
        raise RefusedError(
            f"The lines of a grid stand at least {FINEST_GRID_MM:g} mm apart, not {min(across, down):.3g}."
        )
    return GridLines(_steps(width_mm, across), _steps(height_mm, down))


def _steps(side: float, step: float) -> tuple[float, ...]:
    return tuple(float(v) for v in np.arange(1, ceil(side / step - 1e-6)) * step)


def _card_row(row: PaletteRow) -> CardRow:
    if row.way is None:
        return CardRow(str(row.number), row.called, row.wanted.hex, None, (row.why_open.replace(" ΔE", ""),), row.area)
    lines = []
    for i, one in enumerate(row.way.laid):
        colour = one.pencil.colour
        times = f" × {one.layers}" if one.layers > 1 else ""
        place = f" ({row.places[i]})" if row.places[i] else ""
        then = "then " if i else ""
        lines.append(f"{then}{colour.range_name} {colour.code} {colour.name}, {one.pressure}{times}{place}")
    # The fonts that ship for print have no Greek.
    off = f"off by probably {row.way.expected:.1f} (CIEDE2000)"
    return CardRow(
        str(row.number), row.called, row.wanted.hex, row.way.offered.hex, tuple(lines),
        f"{row.area}: {off}" if row.area else off,
    )  # fmt: skip
