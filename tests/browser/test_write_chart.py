"""A tin written down from its lid: pasted, read while it is typed, written, mended, undone; seen as its marks."""

from __future__ import annotations

from pathlib import Path

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


def test_a_list_is_taken_from_a_file_and_a_palette_is_one(empty_page: Page, tmp_path: Path) -> None:
    page = empty_page
    page.go("/tidy/write")
    page.press("99 Rook")
    broken = tmp_path / "latin.txt"
    broken.write_bytes("101 Caf\u00e9".encode("latin-1"))
    page.one("input[type=file]").send_keys(str(broken))
    page.until_text("latin.txt is not text in UTF-8", "[role=alert]")
    # What was typed stays; what a file holds is put below it.
    assert page.one("textarea").get_attribute("value") == "99 Rook"
    page.driver.execute_script("arguments[0].select()", page.one("textarea"))
    page.one("textarea").send_keys(Keys.DELETE)
    palette = tmp_path / "pond.gpl"
    palette.write_text("GIMP Palette\nName: Heron\n#\n200 30 10\t102 Fly Cap\n 12 250  3\t103 Sedge\n256 0 0\tRook\n")
    page.one("input[type=file]").send_keys(str(palette))
    page.until_text("2 colours; 1 line to look at", "main [role=status]")
    page.until_text("three figures of 0 to 255", "main ol")
    page.click("That is the range")
    page.click("Write these 2 colours")
    page.until_text("2 are written", "main form")


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
