"""Swatches as files, in the browser: somebody else's file asked about, mended, taken in, undone; ours downloaded."""

from __future__ import annotations

import urllib.request
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from tests.browser.page import Page, assert_accessible, wait

pytestmark = pytest.mark.browser

OTHERS = "Nr;Farbnummer;L*;a*;b*;Gerät\n1;119;44,5;60,1;30,2;Alpha\n2;{code};50;1;2;Alpha\n"


def test_a_file_of_somebody_else_is_asked_about_mended_taken_in_and_undone(page: Page, tmp_path: Path) -> None:
    page.go("/swatches")
    page.click("Files", "a")
    page.until_text("Swatches as files", "h1")
    choose(page, tmp_path / "others.csv", OTHERS.format(code="999"))
    page.until_text("What the file does not say")
    assert_accessible(page)
    for label, answer in (
        ("Whose pencils", "Heron"), ("On which paper", "Vellum board"), ("How hard", "heavy"), ("for light", "D50"),
    ):  # fmt: skip
        say(page, label, answer)
    page.until_text("Heron 999 is on none of your charts", "[role=alert]")
    assert [cell.text for cell in page.all("[role=alert] tbody td")][:2] == ["3", "CODE"]
    choose(page, tmp_path / "mended.csv", OTHERS.format(code="120"))
    for label, answer in (
        ("Whose pencils", "Heron"), ("On which paper", "Vellum board"), ("How hard", "heavy"), ("for light", "D50"),
    ):  # fmt: skip
        say(page, label, answer)
    page.until_text("2 swatches from CSV")
    page.until_text("2 values adapted from D50 to D65")
    before = page.get("/api/board")["swatches"]
    page.click("Take them in")
    page.until_text("2 swatches taken in from a file", "footer")
    assert page.get("/api/board")["swatches"] == before + 2
    page.press("u")
    wait(page.driver).until(lambda _: page.get("/api/board")["swatches"] == before)


@pytest.mark.parametrize("kind", ["CSV", "CGATS.17", "CxF3"])
def test_what_is_written_is_here_already(page: Page, tmp_path: Path, kind: str) -> None:
    page.go("/swatches/files")
    link = page.one(f"a[aria-label='All swatches as {kind}']").get_attribute("href")
    assert link is not None
    with urllib.request.urlopen(link, timeout=60) as answer:
        content = answer.read()
    choose(page, tmp_path / "mine.file", content.decode("utf-8-sig"))
    page.until_text("All of it is here already")
    page.until_text(f"{page.get('/api/board')['swatches']} here already")


def choose(page: Page, file: Path, content: str) -> None:
    file.write_text(content, encoding="utf-8")
    page.one("input[type=file]").send_keys(str(file))


def say(page: Page, label: str, answer: str) -> None:
    """Choose from the list of a label, once it is asked; the list keeps its place."""
    page.until_text(label)
    select = page.driver.find_element(By.XPATH, f"//label[contains(., '{label}')]//select")
    Select(select).select_by_visible_text(answer)
    page.quiet()
    assert select.is_displayed()


def test_the_columns_of_a_catalogue_are_said_once_and_remembered(empty_page: Page, tmp_path: Path) -> None:
    page = empty_page
    page.go("/tidy/catalogue")
    page.until_text("Bring in a catalogue", "h1")
    choose(page, tmp_path / "mine.csv", "Shelf mark,Serie,Farbname,colour of lid\n101,Heron,Oxlip,red\n")
    page.until_text("This column is missing", "[role=alert]")
    page.until_text("2 columns are read, 2 not", "summary")
    assert_accessible(page)
    places = [row.text for row in page.all("details tbody td:first-child")]
    Select(page.one("select[aria-label='Read Shelf mark as']")).select_by_visible_text("code")
    page.until_text("1 new colour")
    # Whoever answers by keyboard keeps the place: nothing moves, closes or loses the focus.
    assert [row.text for row in page.all("details tbody td:first-child")] == places
    assert page.script("return document.activeElement.ariaLabel") == "Read Shelf mark as"
    page.click("Take it in")
    page.until_text("Oxlip", "main")
    page.go("/tidy/catalogue")
    choose(page, tmp_path / "next.csv", "Shelf mark,Serie,Farbname,colour of lid\n102,Heron,Fly Cap,red\n")
    page.until_text("1 new colour")
    page.click("3 columns are read, 1 not", "summary")
    page.until_text("as you said before", "td")
