"""Printed pages, rendered by PDFium and looked at by OpenCV: everything is where the layout has it."""

from __future__ import annotations

import re
from dataclasses import replace
from functools import cache

import cv2
import numpy as np
import pypdfium2
import pytest
from numpy.typing import NDArray

from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.layout import Box, Layout, LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.formats.sheet_page import Label, PrintedPage
from tidy_tinder.formats.sheet_pdf import sheet_pdf

PX = 10  # pixels a millimetre
LAYOUTS = [
    sheet_layout(PageSize.A4, CellCount.SIXTY, 3),
    sheet_layout(PageSize.A4, CellCount.NINETY),
    sheet_layout(PageSize.LETTER, CellCount.HUNDRED_TWENTY, 30),
    frame_layout(PageSize.A4, 1),
    frame_layout(PageSize.A5),
]
LONG = Label("PC-10938", "A name of a colour that is so long that no strip between two windows could ever hold 10 %")
LAID_THRICE = replace(LONG, layers=3)

Image = NDArray[np.uint8]


def named(layout: Layout) -> str:
    return f"{layout.kind} {layout.size} {len(layout.cells)}"


def page_of(layout: Layout, label: Label = LAID_THRICE) -> PrintedPage:
    return PrintedPage(layout, "K7QW2MXA", 1, 1, "Heron on Buff sanded card", {c.index: label for c in layout.places})


@cache
def rendered(number: int, scale: float = 1.0) -> Image:
    document = pypdfium2.PdfDocument(sheet_pdf([page_of(LAYOUTS[number])]))
    image = document[0].render(scale=scale * PX * 25.4 / 72, grayscale=True).to_numpy()
    return np.ascontiguousarray(image.reshape(image.shape[:2]))


def part(image: Image, box: Box) -> Image:
    return image[round(box.y * PX) : round(box.bottom * PX), round(box.x * PX) : round(box.right * PX)]


def markers_in(image: Image) -> dict[int, NDArray[np.float64]]:
    """The four corners of each marker that OpenCV finds, (4, 2) in pixels, by number."""
    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_ARUCO_MIP_36h12)
    corners, numbers, _ = cv2.aruco.ArucoDetector(dictionary).detectMarkers(image)
    return {int(n): c[0] for n, c in zip(numbers.ravel(), corners, strict=True)}


every = pytest.mark.parametrize("number", range(len(LAYOUTS)), ids=[named(layout) for layout in LAYOUTS])


@every
def test_the_page_has_its_size_and_its_markers_stand_where_the_layout_has_them(number: int) -> None:
    layout, image = LAYOUTS[number], rendered(number)
    width, height = layout.page_mm
    assert image.shape == pytest.approx((height * PX, width * PX), abs=1)
    found = markers_in(image)
    assert sorted(found) == [m.number for m in layout.markers]
    for marker in layout.markers:
        box = marker.box
        corners = [(box.x, box.y), (box.right, box.y), (box.right, box.bottom), (box.x, box.bottom)]
        assert found[marker.number] == pytest.approx(np.array(corners) * PX, abs=2)


@every
def test_a_page_printed_at_96_per_cent_is_still_found(number: int) -> None:
    found = markers_in(rendered(number, 0.96))
    assert sorted(found) == [m.number for m in LAYOUTS[number].markers]
    corner = LAYOUTS[number].markers[0].box
    assert found[LAYOUTS[number].markers[0].number][0] == pytest.approx((corner.x * 9.6, corner.y * 9.6), abs=2)


@every
def test_the_code_reads_as_what_is_printed_beside_it(number: int) -> None:
    code = LAYOUTS[number].code.inset(-1.5)
    text, _, _ = cv2.QRCodeDetector().detectAndDecode(part(rendered(number), code))
    assert text == page_of(LAYOUTS[number]).said_in_code


@every
def test_zones_and_light_sites_are_bare_bars_and_dots_black_and_the_ramp_as_it_says(number: int) -> None:
    layout, image = LAYOUTS[number], rendered(number)
    for cell in layout.cells:
        for zone in cell.zones:
            assert part(image, zone.box.inset(0.9)).min() == 255
        if cell.bar is not None:
            assert part(image, cell.bar.inset(0.2)).max() == 0
    for site in layout.light_sites:
        assert part(image, site).min() == 255
    for x, y in layout.dots:
        assert part(image, Box(x - 0.3, y - 0.3, 0.6, 0.6)).max() == 0
        ring = part(image, Box(x - 1.0, y - 1.0, 2.0, 2.0))
        assert [ring[0, 0], ring[-1, -1]] == [255, 255]
    for patch in layout.ramp:
        assert part(image, patch.box.inset(0.5)).mean() == pytest.approx(255 * (1 - patch.black), abs=2)


@every
def test_the_blank_round_each_marker_is_blank(number: int) -> None:
    image = rendered(number).copy()
    for marker in LAYOUTS[number].markers:
        part(image, marker.box.inset(-0.1))[:] = 255
        assert part(image, marker.box.inset(-2.4)).min() == 255


def test_labels_stand_in_their_places_and_are_cut_in_the_middle() -> None:
    layout = LAYOUTS[1]
    document = pypdfium2.PdfDocument(sheet_pdf([page_of(layout, LONG), page_of(layout)]))
    words, thrice = (document[i].get_textpage().get_text_range() for i in range(2))
    assert words.count("PC-10938") == 90
    # How many layers is never cut away, however long the code and the name are.
    assert thrice.count("PC-10938 ×3") == 90
    cut = re.findall(r"A n[^…\n]*…[^…\n]*10 %", words)
    assert len(cut) == 90
    head, tail = cut[0].split("…")
    assert LONG.name.startswith(head)
    assert LONG.name.endswith(tail)
    image = rendered(1)
    for cell in layout.cells:
        assert part(image, cell.label).min() < 100
        assert part(image, Box(cell.label.right, cell.label.y, 1.0, cell.label.height)).min() == 255


@pytest.mark.parametrize("name", ["Crème Jug", "Łąka", "Hart's Tongue", "Ink-cap 30 %", "Ñandú"])
def test_names_of_many_languages_are_printed(name: str) -> None:
    page = page_of(LAYOUTS[1], Label("1", name))
    words = pypdfium2.PdfDocument(sheet_pdf([page]))[0].get_textpage().get_text_range()
    assert words.count(name) == 90


def test_a_frame_says_how_to_cut_and_a_sheet_how_to_colour() -> None:
    for layout in LAYOUTS:
        words = " ".join(pypdfium2.PdfDocument(sheet_pdf([page_of(layout)]))[0].get_textpage().get_text_range().split())
        assert "light, medium, heavy" in words
        assert "Print at 100 %" in words
        assert ("the blade away from your hand" in words) is (layout.kind is LayoutKind.FRAME)


def test_a_set_of_pages_is_one_document_and_the_same_every_time() -> None:
    pages = [
        PrintedPage(sheet_layout(PageSize.A4, CellCount.NINETY, i), "K7QW2MXA", i + 1, 3, "Heron", {}) for i in range(3)
    ]
    assert len(pypdfium2.PdfDocument(sheet_pdf(pages))) == 3
    assert sheet_pdf(pages) == sheet_pdf(pages)
