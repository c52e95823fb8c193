"""Where everything on a printed page stands, in mm from its upper left corner; x to the right, y down.

The layout is all that printing, photographing and reading have in common, and is given out as JSON, so that anybody can
check a page against it.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from tidy_tinder.core.vocabulary import Pressure


class PageSize(StrEnum):
    """A size of paper that printers take."""

    A4 = "A4"
    LETTER = "Letter"
    A5 = "A5"


# ISO 216; US Letter is 8.5 × 11 inches (ANSI/ASME Y14.1, size A).
PAGE_MM = {PageSize.A4: (210.0, 297.0), PageSize.LETTER: (215.9, 279.4), PageSize.A5: (148.0, 210.0)}


class LayoutKind(StrEnum):
    """A sheet is coloured in itself; a frame is laid over the paper, which is coloured through its windows."""

    SHEET = "sheet"
    FRAME = "frame"


@dataclass(frozen=True)
class Box:
    """An upright rectangle."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """x of the right edge."""
        return self.x + self.width

    @property
    def bottom(self) -> float:
        """y of the lower edge."""
        return self.y + self.height

    @property
    def middle(self) -> tuple[float, float]:
        """x and y of the middle."""
        return self.x + self.width / 2, self.y + self.height / 2

    def inset(self, by: float, sideways: float | None = None) -> Box:
        """Smaller by so much on every side; sideways: to the left and right, where that is another measure."""
        across = by if sideways is None else sideways
        return Box(self.x + across, self.y + by, self.width - 2 * across, self.height - 2 * by)

    def holds(self, x: float, y: float) -> bool:
        """Whether a point lies in it or on its edge."""
        return self.x <= x <= self.right and self.y <= y <= self.bottom

    def meets(self, other: Box) -> bool:
        """Whether both have more than an edge in common."""
        return (
            self.x < other.right and other.x < self.right and self.y < other.bottom and other.y < self.bottom
        )  # fmt: skip


@dataclass(frozen=True)
class Marker:
    """One of the square markers by which a page is found. number: in the dictionary, 8 · page slot + place."""

    number: int
    box: Box


@dataclass(frozen=True)
class Zone:
    """The part of a cell that is coloured with one pressure."""

    pressure: Pressure
    box: Box


@dataclass(frozen=True)
class Cell:
    """The place of one pencil. label: where code and name stand; bar: printed black, which a covering pencil hides,
    None on a frame; bare: stays art paper (frames only).
    """

    index: int
    box: Box
    label: Box
    zones: tuple[Zone, ...]
    bar: Box | None
    bare: bool = False


@dataclass(frozen=True)
class GreyPatch:
    """One step of the printed grey ramp. black: share of black ink, 0 to 1; what it looks like only a reading says."""

    black: float
    box: Box


@dataclass(frozen=True)
class Layout:
    """One page. dots: middles of the printed dots; light_sites: bare places where the light is measured; windows: what
    is cut out of a frame; code: the place of the QR code; texts: free places between the markers, above at the left and
    right, below at the left and right.
    """

    kind: LayoutKind
    size: PageSize
    slot: int
    markers: tuple[Marker, ...]
    cells: tuple[Cell, ...]
    dots: tuple[tuple[float, float], ...]
    dot_mm: float
    ramp: tuple[GreyPatch, ...]
    light_sites: tuple[Box, ...]
    code: Box
    texts: tuple[Box, Box, Box, Box]
    windows: tuple[Box, ...] = ()

    @property
    def page_mm(self) -> tuple[float, float]:
        """Width and height of the page."""
        return PAGE_MM[self.size]

    @property
    def places(self) -> tuple[Cell, ...]:
        """The cells that pencils go into, in order."""
        return tuple(cell for cell in self.cells if not cell.bare)
