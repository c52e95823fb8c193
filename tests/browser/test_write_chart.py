"""A tin written down from its lid: pasted, read while it is typed, written, mended, undone; seen as its marks."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.page import Page

pytestmark = pytest.mark.browser

LID = (
    "Quillfen Heron, set of 6\n101 Oxlip *** (transparent)\n102 Fly Cap\n103 Wet Slate\n104 Kettle\n105 Sedge\n"
    "Greys\n106 Rook\n"
)


def test_a_tin_is_written_down_from_its_lid(empty_page: Page) -> None:
    page = empty_page
    page.go("/tidy")
    page.click("Write down what is on the tin")
    page.until_text("Write a chart", "h1")
    page.press(LID)
    page.until_text("6 colours; 1 line to look at", "main [role=status]")
    lines = page.text("main ol")
    assert "101 Oxlip transparent, lightfastness ***" in lines
    assert "Greys No code stands on this line." in lines
    page.click("These are range and box")
    assert page.field("Range").get_attribute("value") == "Quillfen Heron"
    assert page.field("The box").get_attribute("value") == "set of 6"
    # A reload loses nothing.
    page.driver.refresh()
    page.until_text("6 colours; 1 line to look at", "main [role=status]")
    assert page.field("Range").get_attribute("value") == "Quillfen Heron"
    page.click("Write these 6 colours")
    page.until_text("6 are written. What is left here was not read", "main form")
    assert page.one("textarea").get_attribute("value") == "Greys"
    page.until_text("Quillfen Heron: 6 colours written", "footer")
    # Mended in its place, and written too.
    page.until_text("0 colours; 1 line to look at", "main [role=status]")
    page.click("Mend it")
    page.press("107 Greys", Keys.TAB)
    page.until_text("1 colour, 1 of them new to this range", "main [role=status]")
    page.click("Write this 1 colour")
    page.until_text("7 of 7 owned", "main")
    page.press("u")
    page.until_text("6 of 6 owned", "main")
    page.press("u")
    page.until_text("No pencils here yet", "main")


def test_a_chart_is_seen_as_marks_with_gaps(empty_page: Page) -> None:
    page = empty_page
    page.go("/tidy/write")
    page.press("101 Oxlip #f0e68c\n102 Fly Cap\n")
    page.field("Range").send_keys("Heron")
    page.until_text("2 colours", "main [role=status]")
    page.click("Write these 2 colours")
    page.go("/tidy/charts")
    page.until_text("2 colours, 1 gap", "main")
    page.press(Keys.ARROW_RIGHT)
    page.until_text("Heron 102 Fly Cap", "aside h2")
    assert "no colour known" in page.active("[role=grid]")
    page.press(Keys.ENTER)
    page.type_lab(45, 50, 30, inside="aside form")
    page.click("Save the chart")
    page.until_text("2 colours", "main [role=grid]")
    assert "gap" not in page.text("main [role=grid]")
