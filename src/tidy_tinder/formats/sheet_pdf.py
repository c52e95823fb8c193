"""Printed pages as PDF, all of it vectors: markers, cells, dots, ramp, code and labels, where the layout has them.

Only black ink is asked for (grey by its share), so that no printer mixes a grey from colours.
"""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tidy_tinder.core.sheet.layout import Box, Cell, Layout, LayoutKind, Marker
from tidy_tinder.formats.sheet_page import Label, PrintedPage

if TYPE_CHECKING:
    from numpy.typing import NDArray

_MM = 72 / 25.4
_FONTS = Path(__file__).parent / "fonts"
_TEXT, _BOLD, _CODE = "TidyText", "TidyBold", "TidyCode"
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
SCALE_WORDS = "Print at 100 %, not fitted to the page. This line is {} mm long:"


def sheet_pdf(pages: Sequence[PrintedPage]) -> bytes:
    """All pages of a set as one PDF."""
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 -- loaded only to print

    _load_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setTitle(pages[0].title)
    canvas.setCreator("Tidy Tinder")
    for page in pages:
        width, height = page.layout.page_mm
        canvas.setPageSize((width * _MM, height * _MM))
        _Drawing(canvas, page).draw()
        canvas.showPage()
    canvas.save()
    return out.getvalue()


@cache
def _load_fonts() -> None:
    from reportlab.pdfbase.pdfmetrics import registerFont  # noqa: PLC0415 -- loaded only to print
    from reportlab.pdfbase.ttfonts import TTFont  # noqa: PLC0415

    for name, file in ((_TEXT, "Text.ttf"), (_BOLD, "TextBold.ttf"), (_CODE, "Code.ttf")):
        registerFont(TTFont(name, _FONTS / file))


@cache
def _bits(number: int) -> NDArray[Any]:
    """The modules of a marker with its border, (8, 8); true is white. From OpenCV's own dictionary."""
    import cv2  # noqa: PLC0415 -- loaded only to print

    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_ARUCO_MIP_36h12)
    modules = dictionary.markerSize + 2
    image: NDArray[Any] = cv2.aruco.generateImageMarker(dictionary, number, modules)
    return image > 0


def _cut_in_middle(words: str) -> Iterator[str]:
    """Words with ever more of their middle left away: what tells tints apart stands at the end."""
    for kept in range(len(words) - 1, 1, -1):
        head = (kept + 1) // 2
        yield f"{words[:head].rstrip()}…{words[len(words) - (kept - head) :].lstrip()}"


class _Drawing:
    """One page on a canvas, drawn in mm from the upper left corner."""

    def __init__(self, canvas: Any, page: PrintedPage) -> None:
        self._canvas = canvas
        self._page = page
        self._height = page.layout.page_mm[1]

    def draw(self) -> None:
        layout = self._page.layout
        for marker in layout.markers:
            self._marker(marker)
        for patch in layout.ramp:
            self._fill(patch.box, patch.black)
        for x, y in layout.dots:
            self._dot(x, y, layout.dot_mm / 2)
        for window in layout.windows:
            self._outline(window, 0.25, 0.8)
        for cell in layout.cells:
            self._cell(cell, layout)
        self._code(layout.code)
        self._texts(layout)

    def _marker(self, marker: Marker) -> None:
        """A black square with its white modules; those beside one another in a row are one box, without a seam."""
        box, bits = marker.box, _bits(marker.number)
        module = box.width / len(bits)
        self._fill(box, 1.0)
        for row, line in enumerate(bits):
            start = None
            for column, white in enumerate([*line, False]):
                if white and start is None:
                    start = column
                elif not white and start is not None:
                    at = Box(box.x + start * module, box.y + row * module, (column - start) * module, module)
                    self._fill(at, 0.0)
                    start = None

    def _cell(self, cell: Cell, layout: Layout) -> None:
        if cell.bar is not None:
            self._fill(cell.bar, 1.0)
        first, last = cell.zones[0].box, cell.zones[-1].box
        if layout.kind is LayoutKind.SHEET:
            self._outline(Box(first.x, first.y, last.right - first.x, first.height), _HAIR, 0.5)
        for zone in cell.zones[1:]:
            self._tick(zone.box, layout.kind)
        if layout.kind is LayoutKind.FRAME and first.x > min(w.x for w in layout.windows if w.holds(*first.middle)):
            self._line(first.x, first.y - 1.6, first.x, first.y, 0.3, 0.8)
        label = self._page.labels.get(cell.index)
        if cell.bare:
            label = Label("", "leave bare")
        if label is not None:
            self._label(cell.label, label, lines=2 if layout.kind is LayoutKind.FRAME else 1)

    def _tick(self, zone: Box, kind: LayoutKind) -> None:
        """Where one pressure ends: short lines at the edges, so that no line lies under the pencil."""
        if kind is LayoutKind.SHEET:
            self._line(zone.x, zone.y, zone.x, zone.y + 0.9, _HAIR, 0.5)
            self._line(zone.x, zone.bottom - 0.9, zone.x, zone.bottom, _HAIR, 0.5)
        else:
            self._line(zone.x, zone.y - 0.8, zone.x, zone.y, _HAIR, 0.8)

    def _label(self, box: Box, label: Label, lines: int) -> None:
        """Code and name beside each other, or one above the other, clear of the ticks below."""
        if lines == 1:
            used = self._text(box.x + 0.4, box.y + box.height * 0.76, label.code, _CODE, 6.6, box.width - 0.8)
            gap = used + 1.2
            self._text(box.x + 0.4 + gap, box.y + box.height * 0.76, label.name, _TEXT, 6.6, box.width - 0.8 - gap)
            return
        self._text(box.x + 0.4, box.y + 2.0, label.code, _CODE, 5.6, box.width - 0.8)
        self._text(box.x + 0.4, box.y + 4.2, label.name, _TEXT, 5.6, box.width - 0.8)

    def _code(self, box: Box) -> None:
        from reportlab.graphics import renderPDF  # noqa: PLC0415 -- loaded only to print
        from reportlab.graphics.barcode.qr import QrCodeWidget  # noqa: PLC0415
        from reportlab.graphics.shapes import Drawing  # noqa: PLC0415

        side = box.width * _MM
        widget = QrCodeWidget(
            self._page.said_in_code, barLevel="M", barBorder=1, barWidth=side, barHeight=side
        )  # fmt: skip
        drawing = Drawing(side, side)
        drawing.add(widget)
        renderPDF.draw(drawing, self._canvas, box.x * _MM, (self._height - box.bottom) * _MM)

    def _texts(self, layout: Layout) -> None:
        page, (title, how, scale, foot) = self._page, layout.texts
        words = FRAME_WORDS if layout.kind is LayoutKind.FRAME else SHEET_WORDS
        self._text(title.x, title.y + 4.0, page.title, _BOLD, 10.0, title.width)
        self._text(title.x, title.y + 8.0, f"Page {page.page} of {page.pages}", _TEXT, 8.0, title.width)
        self._text(title.x, title.y + 12.0, page.said_in_code, _CODE, 6.6, title.width)
        self._paragraph(how, words, 8.0)
        ruler = next(length for length in _RULERS if length < scale.width - 1.0)
        self._paragraph(Box(scale.x, scale.y, scale.width, 7.0), SCALE_WORDS.format(ruler), 7.5)
        self._ruler(scale.x + 0.5, scale.y + 10.0, ruler)
        if layout.kind is LayoutKind.FRAME:
            self._paragraph(foot, BLADE_WORDS, 7.0)

    def _paragraph(self, box: Box, words: str, largest: float) -> None:
        """Words broken into lines, as large as the box lets them be."""
        from reportlab.lib.utils import simpleSplit  # noqa: PLC0415 -- loaded only to print

        size = largest
        while len(lines := simpleSplit(words, _TEXT, size, box.width * _MM)) * size * 1.25 > box.height * _MM:
            size -= 0.25
        for i, line in enumerate(lines, 1):
            self._text(box.x, box.y + i * size * 1.25 / _MM - 0.6, line, _TEXT, size, box.width + 1.0)

    def _ruler(self, x: float, y: float, length: float) -> None:
        self._line(x, y, x + length, y, 0.2, 1.0)
        for end in (x, x + length):
            self._line(end, y - 1.2, end, y + 1.2, 0.2, 1.0)

    def _text(self, x: float, y: float, words: str, font: str, size: float, width: float) -> float:
        """Words at a base line, smaller by up to a fifth and then cut in their middle where they are too long.

        Returns their width in mm.
        """
        from reportlab.pdfbase.pdfmetrics import stringWidth  # noqa: PLC0415 -- loaded only to print

        def wide(text: str, at: float) -> float:
            return float(stringWidth(text, font, at)) / _MM

        size = max(size * 0.8, min(size, size * width / max(wide(words, size), 1e-6)))
        shown = next(
            (text for text in (words, *_cut_in_middle(words)) if wide(text, size) <= width), ""
        )  # fmt: skip
        self._canvas.setFillGray(0.0)
        self._canvas.setFont(font, size)
        self._canvas.drawString(x * _MM, (self._height - y) * _MM, shown)
        return wide(shown, size)

    def _fill(self, box: Box, black: float) -> None:
        self._canvas.setFillGray(1.0 - black)
        self._canvas.rect(*self._placed(box), stroke=0, fill=1)

    def _outline(self, box: Box, width: float, black: float) -> None:
        self._canvas.setStrokeGray(1.0 - black)
        self._canvas.setLineWidth(width * _MM)
        self._canvas.rect(*self._placed(box), stroke=1, fill=0)

    def _line(self, x0: float, y0: float, x1: float, y1: float, width: float, black: float) -> None:
        self._canvas.setStrokeGray(1.0 - black)
        self._canvas.setLineWidth(width * _MM)
        self._canvas.line(x0 * _MM, (self._height - y0) * _MM, x1 * _MM, (self._height - y1) * _MM)

    def _dot(self, x: float, y: float, radius: float) -> None:
        self._canvas.setFillGray(0.0)
        self._canvas.circle(x * _MM, (self._height - y) * _MM, radius * _MM, stroke=0, fill=1)

    def _placed(self, box: Box) -> tuple[float, float, float, float]:
        return box.x * _MM, (self._height - box.bottom) * _MM, box.width * _MM, box.height * _MM
