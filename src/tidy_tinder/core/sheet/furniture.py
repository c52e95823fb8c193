"""What every page has, whatever its cells: eight markers, the grey ramp twice, the code with its text.

Measures were reached by trying prints and photos of them (design page 6-sheet): a marker of 13 mm is found at
1,800 pixels a page; the ramp is useless by its ink, as dot gain is unknown, and useful once it was measured.
"""

from __future__ import annotations

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.sheet.layout import PAGE_MM, Box, GreyPatch, Marker, PageSize

PAGE_MARGIN = 8.0
MARKER = 13.0
MARKER_BLANK = 2.5
"""Bare paper round each marker, at least."""
MARKERS = 8
PAGE_SLOTS = 31
"""Pages that can be told apart: the dictionary of 250 markers holds so many times eight."""
CODE = 14.0
DOT = 1.2

RAMP_BLACK = (0.15, 0.30, 0.50, 0.70, 0.85, 1.0)
_RAMP_PATCH = (8.0, 9.0)
RAMP_WIDTH = _RAMP_PATCH[0] * len(RAMP_BLACK)
RAMP_HEIGHT = _RAMP_PATCH[1]


def markers_of(size: PageSize, slot: int) -> tuple[Marker, ...]:
    """The markers of a page, clockwise from its upper left corner: corners and middles of edges in turn.

    slot: which page of its set it is, 0 to PAGE_SLOTS − 1. Raises OutOfRangeError.
    """
    if not 0 <= slot < PAGE_SLOTS:
        raise OutOfRangeError(f"A set of sheets has at most {PAGE_SLOTS} pages; print the rest as a set of its own.")
    width, height = PAGE_MM[size]
    left, right, top, bottom = PAGE_MARGIN, width - PAGE_MARGIN - MARKER, PAGE_MARGIN, height - PAGE_MARGIN - MARKER
    across, down = (width - MARKER) / 2, (height - MARKER) / 2
    corners = [
        (left, top), (across, top), (right, top), (right, down),
        (right, bottom), (across, bottom), (left, bottom), (left, down),
    ]  # fmt: skip
    return tuple(Marker(MARKERS * slot + i, Box(x, y, MARKER, MARKER)) for i, (x, y) in enumerate(corners))


def texts_between(markers: tuple[Marker, ...]) -> tuple[Box, Box, Box, Box]:
    """The free places between the markers of the upper edge and those of the lower edge."""
    pairs = ((0, 1), (1, 2), (6, 5), (5, 4))
    above_left, above_right, below_left, below_right = (
        Box(
            markers[a].box.right + MARKER_BLANK, markers[a].box.y,
            markers[b].box.x - markers[a].box.right - 2 * MARKER_BLANK, MARKER,
        )
        for a, b in pairs
    )  # fmt: skip
    return above_left, above_right, below_left, below_right


def ramp_at(first: tuple[float, float], second: tuple[float, float]) -> tuple[GreyPatch, ...]:
    """The ramp twice, from these upper left corners on: once with the palest first and once with the darkest first, so
    that a light from one side does not fall on both alike.
    """
    return (*_one_ramp(first, RAMP_BLACK), *_one_ramp(second, tuple(reversed(RAMP_BLACK))))


def _one_ramp(corner: tuple[float, float], steps: tuple[float, ...]) -> tuple[GreyPatch, ...]:
    (x, y), (width, height) = corner, _RAMP_PATCH
    return tuple(GreyPatch(black, Box(x + i * width, y, width, height)) for i, black in enumerate(steps))


def clear_of_markers(x: float, y: float, markers: tuple[Marker, ...], radius: float) -> bool:
    """Whether a round thing leaves the blank of every marker free."""
    return not any(m.box.inset(-(MARKER_BLANK + radius)).holds(x, y) for m in markers)
