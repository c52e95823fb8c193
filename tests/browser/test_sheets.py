"""A sheet is made for the pencils at hand, looked at page by page, printed, forgotten and brought back."""

from __future__ import annotations

import urllib.request

import cv2
import numpy as np
import pypdfium2
import pytest

from tests.browser.page import Page

pytestmark = pytest.mark.browser


def printed(page: Page) -> pypdfium2.PdfDocument:
    """What the button to print leads to."""
    link = page.one("a[href$='/pdf']").get_attribute("href")
    assert link is not None
    with urllib.request.urlopen(link, timeout=30) as answer:
        assert answer.headers["Content-Type"] == "application/pdf"
        return pypdfium2.PdfDocument(answer.read())


def test_a_sheet_is_made_looked_at_printed_and_forgotten(page: Page) -> None:
    page.go("/swatches")
    page.click("Print a sheet")
    page.until_text("163 pencils on 2 pages.", "main [role=status]")
    page.click("four of them in three layers")
    page.until_text("163 pencils, 4 of them in layers, too, on 2 pages.", "main [role=status]")
    page.click("four of them in three layers")
    page.until_text("163 pencils on 2 pages.", "main [role=status]")
    page.click("Make this sheet")
    page.until_text("Sheet of 163 pencils for Vellum board made", "footer")
    document = printed(page)
    assert len(document) == 2
    words = document[0].get_textpage().get_text_range()
    assert "Sheet of 163 pencils for Vellum board" in words
    assert "Oxlip" in words
    # The page that is drawn has the pencils of the page that is printed, and its markers are those of the second page.
    assert page.all("main svg[role=img][aria-label*='90 cells have their pencils']")
    page.click("Next page")
    assert page.all("main svg[role=img][aria-label*='73 cells have their pencils']")
    image = document[1].render(scale=4, grayscale=True).to_numpy()
    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_ARUCO_MIP_36h12)
    _, numbers, _ = cv2.aruco.ArucoDetector(dictionary).detectMarkers(
        np.ascontiguousarray(image.reshape(image.shape[:2]))
    )
    assert sorted(int(n) for n in numbers.ravel()) == list(range(8, 16))
    page.click("Forget it")
    page.until_text("A sheet that was made is shown here", "main")
    page.press("u")
    page.until_text("Print: PDF", "main")


def test_a_frame_for_the_unswatched_of_buff_card(page: Page) -> None:
    page.go("/swatches/sheets")
    page.click("a frame")
    page.field("Laid over").send_keys("Buff")
    page.field("Which pencils").send_keys("those not")
    page.field("Page").send_keys("A5")
    page.until_text("on 5 pages", "main [role=status]")
    page.click("Make this frame")
    page.until_text("for Buff sanded card made", "footer")
    document = printed(page)
    assert len(document) == 5
    assert document[0].get_size() == pytest.approx((148 / 25.4 * 72, 210 / 25.4 * 72), abs=0.5)
    assert "the blade away from your hand" in page.text("main")
