"""A whole tin in one evening, and photos that cannot be measured: in the browser, with the simulated camera."""

from __future__ import annotations

import re
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import console, resize
from tests.browser.page import WAIT_SECONDS, Page, assert_accessible, wait

pytestmark = pytest.mark.browser

NAMES = (
    "Oxlip", "Fly Cap", "Wet Slate", "Kettle", "Sedge", "Rook", "Sloe", "Bracken", "Barn Door", "Pond", "Milk",
    "Thunder", "Clover", "Rust Gate", "Plum Skin", "Hay", "Moss Wall", "Salt", "Ember", "Fog", "Ink Cap", "Straw",
    "Heath", "Night Lane",
)  # fmt: skip
LID = "\n".join(f"{201 + i}  {name}" for i, name in enumerate(NAMES))


def layout_of(page: Page, folder: Path) -> Path:
    """The layout of the sheet that is shown, as a file."""
    link = page.one("a[href$='/layout']").get_attribute("href")
    assert link is not None
    file = folder / "layout.json"
    with urllib.request.urlopen(link, timeout=30) as answer:
        file.write_bytes(answer.read())
    return file


def photograph(layout: Path, photo: Path, *how: str) -> Path:
    """The simulated camera, as the command line has it."""
    tool = Path(sys.executable).with_name("tidy-tinder")
    subprocess.run([str(tool), "photo", str(layout), str(photo), *how], check=True, capture_output=True)
    return photo


def upload(page: Page, *photos: Path) -> None:
    page.one("input[type=file]").send_keys("\n".join(map(str, photos)))
    page.quiet()


def until_read(page: Page, words: str) -> None:
    """A photo takes some seconds to be read."""
    wait(page.driver, 3 * WAIT_SECONDS).until(lambda _: words in page.text("main"), f"“{words}” does not appear")


def test_a_whole_tin_in_one_evening(empty_page: Page, tmp_path: Path) -> None:
    page = empty_page
    page.go("/tidy")
    page.until_text("Photograph it. Every cell is measured", "main")
    page.click("Write down what is on the tin")
    page.press(LID)
    page.until_text("24 colours", "main [role=status]")
    page.field("Range").send_keys("Attic")
    page.click("Write these 24 colours")
    page.until_text("24 of 24 owned", "main")
    page.until_text("None of these is measured on White paper yet.", "main")
    page.click("Print a sheet")
    page.until_text("24 pencils on 1 page.", "main [role=status]")
    page.click("Make this sheet")
    page.until_text("Sheet of 24 pencils for White paper made", "footer")
    layout = layout_of(page, tmp_path)
    page.click("Photos of it")
    page.until_text("A photo that can be measured", "main")
    upload(page, photograph(layout, tmp_path / "evening.jpg", "--condition", "lamp"))
    until_read(page, "colours told by its paper alone")
    assert "clean" in page.text("main [aria-label='Photos of this sheet']")
    assert_accessible(page)
    # The doubtful ones are gone through by keyboard, the clean ones are taken with one click.
    page.click("all (24)")
    first = page.text("main [aria-label='This cell'] h3")
    assert first == "201 Oxlip"
    page.press("l")
    assert page.text("main [aria-label='This cell'] h3") == "202 Fly Cap"
    page.press(Keys.ARROW_LEFT, "t")
    page.until_text("over black", "main [aria-label='This cell'] tbody")
    words = page.one("main button[data-main]").text
    count = int(words.removeprefix("Take ").removesuffix(" pencils"))
    assert 18 <= count <= 24
    page.click("Take ")
    # Of most pencils the heavy mark over the black bar is taken, too.
    page.until_text("marks taken from a photo of page 1", "footer")
    taken = re.search(r"(\d+) marks taken", page.text("footer"))
    assert taken is not None
    assert 3.5 * count < int(taken.group(1)) <= 4 * count
    # Marks follow, and say that a photo measured them, and how surely.
    page.go("/tidy")
    page.fitted()
    assert "measured by photo, ±" in page.active("[role=grid]")
    # A stand-in is found from them: a pencil that is lost is replaced by another one of the tin.
    page.press("l")
    page.go("/recipes/new")
    page.press("A hedge\nAttic\n201, heavy\n")
    page.chord(Keys.CONTROL, Keys.ENTER)
    page.until_text("A hedge", "h1")
    page.until_text("measured by photo ±", "main")


def test_a_page_too_dark_a_cut_corner_and_an_empty_cell(page: Page) -> None:
    page.go("/swatches/sheets")
    page.field("Which pencils").send_keys("a set")
    page.click("Make this sheet")
    page.click("Photos of it")
    camera = "form[aria-label='Simulated camera'] "
    page.one(camera + "select").send_keys("too dark")
    page.click("Photograph it")
    until_read(page, "It cannot be measured")
    assert "bring a lamp or go to a window" in page.text("main")
    page.one(camera + "select").send_keys("a corner")
    page.click("Photograph it")
    until_read(page, "Corner marks are hidden or cut off.")
    page.one(camera + "select").send_keys("by a window")
    page.field("Coloured in").send_keys("its first")
    page.click("Photograph it")
    until_read(page, "empty")
    page.one("svg[role=group] g[data-state=empty]").click()
    assert "empty" in page.text("main [aria-label='This cell']")
    assert not page.all("main [aria-label='This cell'] input[type=checkbox]")
    page.click("Remove it")
    page.until_text("Photo removed", "footer")
    page.press("u")
    until_read(page, "3 photos")


def test_of_pencils_that_a_reader_knows_the_black_bars_alone_are_taken(page: Page) -> None:
    page.go("/swatches/sheets")
    page.field("Which pencils").send_keys("a set")
    page.click("Make this sheet")
    page.click("Photos of it")
    page.click("Photograph it")
    until_read(page, "A colour reader has measured")
    # Of the first pencil light, medium, heavy and what lies on its bar are known, of another all but that.
    page.one("svg[role=group] g").click()
    page.until_text("A reader has measured all four; they stay.", "main [aria-label='This cell']")
    stay = "A reader has measured all three; they stay."
    for _ in page.all("svg[role=group] g"):
        if stay not in page.text("main [aria-label='This cell']"):
            page.press(Keys.ARROW_RIGHT)
    page.until_text(f"{stay} Only what lies over black is taken.", "main [aria-label='This cell']")
    assert "over black" in page.text("main [aria-label='This cell'] tbody")
    count = int(page.text("main button[data-main]").removeprefix("Take ").removesuffix(" pencils"))
    assert count > 3
    page.click("Take ")
    page.until_text("marks taken from a photo of page 1", "footer")
    taken = re.search(r"(\d+) marks taken", page.text("footer"))
    assert taken is not None
    assert int(taken.group(1)) == count
    page.until_text("Nothing ticked", "main button[data-main]")


def test_two_pages_at_once_one_that_is_no_photo_and_one_that_is_stopped(page: Page, tmp_path: Path) -> None:
    page.go("/swatches/sheets")
    page.click("Make this sheet")
    page.until_text("Sheet of 163 pencils", "footer")
    layout = layout_of(page, tmp_path)
    page.click("Photos of it")
    photos = [photograph(layout, tmp_path / f"page{n}.jpg", "--page", str(n)) for n in (1, 2)]
    text = tmp_path / "note.jpg"
    text.write_text("101 Oxlip")
    upload(page, *photos, text)
    page.until_text("note.jpg", "main [role=alert]")
    assert "no picture that is known here" in page.text("main [role=alert]")
    console(page.driver)  # the refusal is in it, as a refusal is to be
    until_read(page, "Page 1: ")
    until_read(page, "Page 2: ")
    page.click("Read it again")
    page.click("Stop")
    page.until_text("You stopped it. It can be read again.", "main")


def test_a_frame_on_buff_sanded_card(page: Page) -> None:
    page.go("/swatches/sheets")
    page.click("a frame")
    page.field("Laid over").send_keys("Buff")
    page.field("Which pencils").send_keys("those not")
    page.click("Make this frame")
    page.until_text("Buff sanded card made", "footer")
    page.click("Photos of it")
    page.click("Photograph it")
    until_read(page, "colours told by")
    page.click("Take ")
    page.until_text("marks taken from a photo of page 1", "footer")


def test_photos_on_a_phone(page: Page) -> None:
    resize(page.driver, 390, 800)
    page.go("/swatches/sheets")
    page.field("Which pencils").send_keys("a set")
    page.click("Make this sheet")
    page.click("Photos of it")
    page.click("Photograph it")
    until_read(page, "colours told by")
    assert page.script("return document.documentElement.scrollWidth") <= 390
    assert_accessible(page)
