"""The value check by a photo: corners tapped and by keys, faults found, mended in the next photo, refusals in words."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from benchmarks.value_check import Drawn, draw, photographed
from PIL import Image
from selenium.common.exceptions import TimeoutException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import console
from tests.browser.page import WAIT_SECONDS, Page, assert_accessible, wait
from tests.browser.test_bench import drawing_called, tell
from tidy_tinder.core.reference.working import Light, light_of
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE
from tidy_tinder.core.reflectance.colorimetry import encode_srgb

pytestmark = pytest.mark.browser

PICTURES = Path(__file__).parents[2] / "src/tidy_tinder/demo/data/pictures"
TOLD = "[aria-label='What the photo tells']"


def reference() -> Light:
    pixels = np.asarray(Image.open(PICTURES / "scarlet-cap.jpg").convert("RGB"))
    return light_of(pixels, SRGB_SPACE, 900)


def taken(drawn: Drawn, path: Path, seed: int) -> tuple[Path, np.ndarray]:
    """A photo of a drawing, and the corners of the picture in it, from 0 to 1."""
    photo, corners = photographed(drawn, np.random.default_rng(seed))
    pixels = np.rint(255 * np.clip(encode_srgb(np.clip(photo, 0, 1)), 0, 1)).astype(np.uint8)
    Image.fromarray(pixels).save(path, quality=92)
    return path, corners / (photo.shape[1], photo.shape[0])


def tap(page: Page, corners: np.ndarray) -> None:
    image = page.one("[aria-label='A photo of the drawing'] img")
    seen = wait(page.driver, 3 * WAIT_SECONDS)
    seen.until(lambda d: d.execute_script("return arguments[0].naturalWidth", image) > 0, "the photo is not shown")
    page.script("arguments[0].scrollIntoView({block: 'center'})", image)
    wide, high = image.size["width"], image.size["height"]
    for x, y in corners:
        place = (int(x * wide - wide / 2), int(y * high - high / 2))
        ActionChains(page.driver).move_to_element_with_offset(image, *place).click().perform()
    page.quiet()


def check(page: Page, photo: Path, corners: np.ndarray) -> None:
    page.one("input[type=file]").send_keys(str(photo))
    told = "[aria-label='A photo of the drawing'] [role=status]"
    wait(page.driver, 3 * WAIT_SECONDS).until(
        lambda _: any(words in page.text(told) for words in ("These corners were found", "Tap the top left")),
        "the corners are neither found nor asked for",
    )
    if "found" in page.text(told):
        page.click("Tap anew")
    tap(page, corners)
    page.click("Check the values")


def test_faults_are_found_and_mended_in_the_next_photo(drawn: Page, tmp_path: Path) -> None:
    page = drawn
    wanted = reference()
    faulty = draw(wanted, np.random.default_rng(3), 3)
    mended = draw(wanted, np.random.default_rng(3), 0)
    tell(page, "/api/drawings/at-hand", "PUT", drawing_id=drawing_called(page, "Scarlet cap"))
    page.go("/bench/values")
    assert_accessible(page)
    check(page, *taken(faulty, tmp_path / "tuesday.jpg", 1))
    page.until_text("tuesday.jpg", TOLD)
    page.quiet()
    assert_accessible(page)
    first = page.get(f"/api/drawings/{drawing_called(page, 'Scarlet cap')}/checks")["checks"][0]
    assert len(faulty.faults) >= 2
    aspect = wanted.shape[0] / wanted.shape[1]
    for x, y, radius, size in faulty.faults:
        assert any(
            np.hypot(r["x"] - x, r["y"] * aspect - y) < radius and np.sign(r["off"]) == np.sign(size)
            for r in first["regions"]
        )
    page.press("q")
    page.press("v")
    page.quiet()
    check(page, *taken(mended, tmp_path / "friday.jpg", 2))
    page.until_text("friday.jpg", TOLD)
    page.until_text("Since the check before", TOLD)
    second = page.get(f"/api/drawings/{drawing_called(page, 'Scarlet cap')}/checks")["checks"][0]
    assert second["mended"] == second["before"] == len(first["regions"])
    assert len(second["regions"]) < len(first["regions"])
    page.click("Remove this check")
    page.until_text("tuesday.jpg", TOLD)
    page.press("u")
    page.until_text("friday.jpg", "main")
    page.driver.get("about:blank")


def test_the_simulated_drawing_is_photographed_its_corners_offered_and_its_faults_told_and_mended(drawn: Page) -> None:
    page = drawn
    number = drawing_called(page, "Scarlet cap")
    tell(page, "/api/drawings/at-hand", "PUT", drawing_id=number)
    page.go("/bench/values")
    for more, name in ((False, "simulated, window"), (True, "simulated, window, gone over")):
        if more:
            page.click("three of its faults mended")
        page.click("Photograph it")
        page.until_text("These corners were found", "main")
        page.click("Check the values")
        page.until_text(f"{name}, ", TOLD)
        page.quiet()
    page.until_text("On this paper you can reach", "[aria-label='Ladders of value']")
    assert_accessible(page)
    second, first = page.get(f"/api/drawings/{number}/checks")["checks"]
    assert len([r for r in first["regions"] if abs(r["off"]) > 10]) >= 4
    assert second["mended"] >= 2
    assert len([r for r in second["regions"] if abs(r["off"]) > 10]) <= 3
    assert page.get(f"/api/drawings/{number}/photos")["photos"] == []
    page.press("x")
    page.until_text("the picture laid on the drawing", TOLD)
    page.driver.get("about:blank")


def test_corners_are_set_by_keys_and_a_photo_of_something_else_is_refused_in_words(drawn: Page, tmp_path: Path) -> None:
    page = drawn
    number = drawing_called(page, "Scarlet cap")
    tell(page, "/api/drawings/at-hand", "PUT", drawing_id=number)
    page.go("/bench/values")
    noise = np.random.default_rng(1).integers(0, 255, (700, 900, 3), dtype=np.uint8)
    path = tmp_path / "noise.png"
    Image.fromarray(noise).save(path)
    page.one("input[type=file]").send_keys(str(path))
    page.until_text("Tap the top left corner", "main")
    page.click("Set them by keys")
    corner = page.one("[aria-label^='1:']")
    before = corner.get_attribute("style")
    corner.send_keys(Keys.ARROW_LEFT)
    assert page.one("[aria-label^='1:']").get_attribute("style") != before
    check = "//button[normalize-space()='Check the values']"
    try:
        wait(page.driver).until(lambda d: d.find_element("xpath", check).is_enabled())
        page.click("Check the values")
        page.until_text("This photo cannot be checked", "[role=alert]")
    except TimeoutException:
        pytest.fail(f"the page says: {page.text('main')}")
    assert page.get(f"/api/drawings/{drawing_called(page, 'Scarlet cap')}/checks")["checks"] == []
    text = tmp_path / "notes.jpg"
    text.write_text("no picture at all", encoding="utf-8")
    page.one("input[type=file]").send_keys(str(text))
    wait(page.driver).until(lambda d: "JPEG" in page.text("[role=alert]:last-of-type"))
    assert [one["name"] for one in page.get(f"/api/drawings/{number}/photos")["photos"]] == ["noise.png"]
    page.click("Remove this photo")
    shown = "[aria-label='A photo of the drawing'] img"
    wait(page.driver).until(lambda d: not d.find_elements("css selector", shown), "the photo still stands there")
    page.press("u")
    page.until_text("Tap the top left corner", "main")
    refused = [str(line["message"]) for line in console(page.driver)]
    assert all("422" in line or "409" in line for line in refused), refused
    page.driver.get("about:blank")


ANOTHER = (
    "const [drawing, done] = arguments; const canvas = document.createElement('canvas');"
    "canvas.width = 700; canvas.height = 900; canvas.getContext('2d').fillRect(100, 100, 300, 400);"
    "canvas.toBlob((blob) => { const form = new FormData(); form.append('file', blob, 'second.png');"
    "fetch(`/api/drawings/${drawing}/photos`, { method: 'POST', body: form }).then((r) => done(r.status)); });"
)
"""Another photo of a drawing, as a phone sends one meanwhile."""


def test_corners_that_are_set_outlive_a_photo_that_a_phone_sends_meanwhile(drawn: Page) -> None:
    page = drawn
    number = drawing_called(page, "Scarlet cap")
    tell(page, "/api/drawings/at-hand", "PUT", drawing_id=number)
    assert page.driver.execute_async_script(ANOTHER, number) == 200
    page.go("/bench/values")
    page.until_text("These corners were found", "main")
    page.one("[aria-label^='1:']").send_keys(Keys.ARROW_LEFT)
    set_to = page.one("[aria-label^='1:']").get_attribute("style")
    assert page.driver.execute_async_script(ANOTHER, number) == 200
    # The newest would stand first, if none had been touched.
    page.until_text("Photos that wait", "main")
    assert page.one("[aria-label^='1:']").get_attribute("style") == set_to
