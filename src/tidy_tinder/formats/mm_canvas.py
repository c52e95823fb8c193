"""A page drawn in mm from its upper left corner: words that are made to fit, lines and boxes in greys, patches."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import Any

from tidy_tinder.core.sheet.layout import Box

MM = 72 / 25.4
"""Points in a mm."""
TEXT, BOLD, CODE = "TidyText", "TidyBold", "TidyCode"
_FONTS = Path(__file__).parent / "fonts"


@cache
def load_fonts() -> None:
    """The fonts that ship, made known to ReportLab once."""
    from reportlab.pdfbase.pdfmetrics import registerFont  # noqa: PLC0415 -- loaded only to print
    from reportlab.pdfbase.ttfonts import TTFont  # noqa: PLC0415

    for name, file in ((TEXT, "Text.ttf"), (BOLD, "TextBold.ttf"), (CODE, "Code.ttf")):
        registerFont(TTFont(name, _FONTS / file))


def _cut_in_middle(words: str) -> Iterator[str]:
    """Words with ever more of their middle left away: what tells tints apart stands at the end."""
    for kept in range(len(words) - 1, 1, -1):
        head = (kept + 1) // 2
        yield f"{words[:head].rstrip()}…{words[len(words) - (kept - head) :].lstrip()}"


class MmCanvas:
    """A page on a canvas of ReportLab. height: of the page, in mm."""

    def __init__(self, canvas: Any, height: float) -> None:
        self.canvas = canvas
        self.height = height

    def paragraph(self, box: Box, words: str, largest: float) -> None:
        """Words broken into lines, as large as the box lets them be."""
        from reportlab.lib.utils import simpleSplit  # noqa: PLC0415 -- loaded only to print

        size = largest
        while len(lines := simpleSplit(words, TEXT, size, box.width * MM)) * size * 1.25 > box.height * MM:
            size -= 0.25
        for i, line in enumerate(lines, 1):
            self.text(box.x, box.y + i * size * 1.25 / MM - 0.6, line, TEXT, size, box.width + 1.0)

    def text(self, x: float, y: float, words: str, font: str, size: float, width: float) -> float:
        """Words at a base line, smaller by up to a fifth and then cut in their middle where they are too long.

        Returns their width in mm.
        """
        from reportlab.pdfbase.pdfmetrics import stringWidth  # noqa: PLC0415 -- loaded only to print

        def wide(text: str, at: float) -> float:
            return float(stringWidth(text, font, at)) / MM

        size = max(size * 0.8, min(size, size * width / max(wide(words, size), 1e-6)))
        shown = next(
            (text for text in (words, *_cut_in_middle(words)) if wide(text, size) <= width), ""
        )  # fmt: skip
        self.canvas.setFillGray(0.0)
        self.canvas.setFont(font, size)
        self.canvas.drawString(x * MM, (self.height - y) * MM, shown)
        return wide(shown, size)

    def fill(self, box: Box, black: float) -> None:
        """A box of so much black, 0 to 1."""
        self.canvas.setFillGray(1.0 - black)
        self.canvas.rect(*self.placed(box), stroke=0, fill=1)

    def colour(self, box: Box, hex_rgb: str) -> None:
        """A box of one colour of the screen, #rrggbb."""
        self.canvas.setFillColorRGB(*(int(hex_rgb[i : i + 2], 16) / 255 for i in (1, 3, 5)))
        self.canvas.rect(*self.placed(box), stroke=0, fill=1)

    def outline(self, box: Box, width: float, black: float) -> None:
        """The edge of a box, so many mm wide."""
        self.canvas.setStrokeGray(1.0 - black)
        self.canvas.setLineWidth(width * MM)
        self.canvas.rect(*self.placed(box), stroke=1, fill=0)

    def line(self, x0: float, y0: float, x1: float, y1: float, width: float, black: float) -> None:
        """A line, so many mm wide."""
        self.canvas.setStrokeGray(1.0 - black)
        self.canvas.setLineWidth(width * MM)
        self.canvas.line(x0 * MM, (self.height - y0) * MM, x1 * MM, (self.height - y1) * MM)

    def dot(self, x: float, y: float, radius: float) -> None:
        """A black dot."""
        self.canvas.setFillGray(0.0)
        self.canvas.circle(x * MM, (self.height - y) * MM, radius * MM, stroke=0, fill=1)

    def placed(self, box: Box) -> tuple[float, float, float, float]:
        """A box as ReportLab has it: in points, from the lower left corner."""
        return box.x * MM, (self.height - box.bottom) * MM, box.width * MM, box.height * MM
