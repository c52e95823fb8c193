"""Printed pages as PDF, all of it vectors: markers, cells, dots, ramp, code and labels, where the layout has them.

Only black ink is asked for (grey by its share), so that no printer mixes a grey from colours.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from functools import cache
from typing import TYPE_CHECKING, Any

from tidy_tinder.core.sheet.layout import Box, Cell, Layout, LayoutKind, Marker
from tidy_tinder.formats.mm_canvas import BOLD, CODE, MM, TEXT, MmCanvas, load_fonts
from tidy_tinder.formats.sheet_page import Label, PrintedPage

if TYPE_CHECKING:
    from numpy.typing import NDArray

_HAIR = 0.15  # mm; lines that are no edge of anything measured
_RULERS = (60, 40)  # mm, to be checked with a ruler after printing; the shorter one where the page is narrow

SHEET_WORDS = (
    "Colour each cell in three parts: light, medium, heavy. Go on over the black bar with the heavy one. Leave the "
    "white strips and the dots clean: light is measured there."
)
FRAME_WORDS = (
    "Cut out the long windows. Lay this over your paper and tape two corners. Colour each cell in three parts: light, "
    "medium, heavy; the first and the last stay bare. Photograph it as it lies."
)
BLADE_WORDS = (
    "Cut on a mat along a metal rule, the blade away from your hand, and cap it afterwards. What is written on the "
    "knife comes first."
)
LAYERS_WORDS = "Where “×{0}” stands, lay {0} layers: go over each part {0} times, alike."
SCALE_WORDS = "Print at 100 %, not fitted to the page. This line is {} mm long:"


def sheet_pdf(pages: Sequence[PrintedPage]) -> bytes:
    """All pages of a set as one PDF."""
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 -- loaded only to print

    load_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setTitle(pages[0].title)
    canvas.setCreator("Tidy Tinder")
    for page in pages:
        width, height = page.layout.page_mm
        canvas.setPageSize((width * MM, height * MM))
        _Drawing(canvas, page).draw()
        canvas.showPage()
    canvas.save()
    return out.getvalue()


@cache
def _bits(number: int) -> NDArray[Any]:
    """The modules of a marker with its border, (8, 8); true is white. From OpenCV's own dictionary."""
    import cv2  # noqa: PLC0415 -- loaded only to print

    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_ARUCO_MIP_36h12)
    modules = dictionary.markerSize + 2
    image: NDArray[Any] = cv2.aruco.generateImageMarker(dictionary, number, modules)
    return image > 0


class _Drawing(MmCanvas):
    """One page on a canvas, drawn in mm from the upper left corner."""

    def __init__(self, canvas: Any, page: PrintedPage) -> None:
        super().__init__(canvas, page.layout.page_mm[1])
        self._page = page

    def draw(self) -> None:
        layout = self._page.layout
        for marker in layout.markers:
            self._marker(marker)
        for patch in layout.ramp:
            self.fill(patch.box, patch.black)
        for x, y in layout.dots:
            self.dot(x, y, layout.dot_mm / 2)
        for window in layout.windows:
            self.outline(window, 0.25, 0.8)
        for cell in layout.cells:
            self._cell(cell, layout)
        self._code(layout.code)
        self._texts(layout)

    def _marker(self, marker: Marker) -> None:
        """A black square with its white modules; those beside one another in a row are one box, without a seam."""
        box, bits = marker.box, _bits(marker.number)
        module = box.width / len(bits)
        self.fill(box, 1.0)
        for row, line in enumerate(bits):
            start = None
            for column, white in enumerate([*line, False]):
                if white and start is None:
                    start = column
                elif not white and start is not None:
                    at = Box(box.x + start * module, box.y + row * module, (column - start) * module, module)
                    self.fill(at, 0.0)
                    start = None

    def _cell(self, cell: Cell, layout: Layout) -> None:
        if cell.bar is not None:
            self.fill(cell.bar, 1.0)
        first, last = cell.zones[0].box, cell.zones[-1].box
        if layout.kind is LayoutKind.SHEET:
            self.outline(Box(first.x, first.y, last.right - first.x, first.height), _HAIR, 0.5)
        for zone in cell.zones[1:]:
            self._tick(zone.box, layout.kind)
        if layout.kind is LayoutKind.FRAME and first.x > min(w.x for w in layout.windows if w.holds(*first.middle)):
            self.line(first.x, first.y - 1.6, first.x, first.y, 0.3, 0.8)
        label = self._page.labels.get(cell.index)
        if cell.bare:
            label = Label("", "leave bare")
        if label is not None:
            self._label(cell.label, label, lines=2 if layout.kind is LayoutKind.FRAME else 1)

    def _tick(self, zone: Box, kind: LayoutKind) -> None:
        """Where one pressure ends: short lines at the edges, so that no line lies under the pencil."""
        if kind is LayoutKind.SHEET:
            self.line(zone.x, zone.y, zone.x, zone.y + 0.9, _HAIR, 0.5)
            self.line(zone.x, zone.bottom - 0.9, zone.x, zone.bottom, _HAIR, 0.5)
        else:
            self.line(zone.x, zone.y - 0.8, zone.x, zone.y, _HAIR, 0.8)

    def _label(self, box: Box, label: Label, lines: int) -> None:
        """Code and name beside each other, or one above the other, clear of the ticks below."""
        if lines == 1:
            used = self.text(box.x + 0.4, box.y + box.height * 0.76, label.marked, CODE, 6.6, box.width - 0.8)
            gap = used + 1.2
            self.text(box.x + 0.4 + gap, box.y + box.height * 0.76, label.name, TEXT, 6.6, box.width - 0.8 - gap)
            return
        self.text(box.x + 0.4, box.y + 2.0, label.marked, CODE, 5.6, box.width - 0.8)
        self.text(box.x + 0.4, box.y + 4.2, label.name, TEXT, 5.6, box.width - 0.8)

    def _code(self, box: Box) -> None:
        from reportlab.graphics import renderPDF  # noqa: PLC0415 -- loaded only to print
        from reportlab.graphics.barcode.qr import QrCodeWidget  # noqa: PLC0415
        from reportlab.graphics.shapes import Drawing  # noqa: PLC0415

        side = box.width * MM
        widget = QrCodeWidget(
            self._page.said_in_code, barLevel="M", barBorder=1, barWidth=side, barHeight=side
        )  # fmt: skip
        drawing = Drawing(side, side)
        drawing.add(widget)
        renderPDF.draw(drawing, self.canvas, box.x * MM, (self.height - box.bottom) * MM)

    def _texts(self, layout: Layout) -> None:
        page, (title, how, scale, foot) = self._page, layout.texts
        words = FRAME_WORDS if layout.kind is LayoutKind.FRAME else SHEET_WORDS
        if several := max((label.layers for label in page.labels.values() if label.layers > 1), default=0):
            words = f"{words} {LAYERS_WORDS.format(several)}"
        self.text(title.x, title.y + 4.0, page.title, BOLD, 10.0, title.width)
        self.text(title.x, title.y + 8.0, f"Page {page.page} of {page.pages}", TEXT, 8.0, title.width)
        self.text(title.x, title.y + 12.0, page.said_in_code, CODE, 6.6, title.width)
        self.paragraph(how, words, 8.0)
        ruler = next(length for length in _RULERS if length < scale.width - 1.0)
        self.paragraph(Box(scale.x, scale.y, scale.width, 7.0), SCALE_WORDS.format(ruler), 7.5)
        self._ruler(scale.x + 0.5, scale.y + 10.0, ruler)
        if layout.kind is LayoutKind.FRAME:
            self.paragraph(foot, BLADE_WORDS, 7.0)

    def _ruler(self, x: float, y: float, length: float) -> None:
        self.line(x, y, x + length, y, 0.2, 1.0)
        for end in (x, x + length):
            self.line(end, y - 1.2, end, y + 1.2, 0.2, 1.0)
