"""A page in Chromium as a test speaks of it: by roles, names and keys, waiting on state and never on time."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

# A limit for what never comes, not for what is slow: a loaded machine may take its time.
WAIT_SECONDS = 45
# Selenium looks again every half second unless told otherwise, and most states come much sooner.
POLL_SECONDS = 0.1
AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"

_SETTLED = """
const done = arguments[0];
const seen = () => [...document.images].every((image) => image.complete);
const quiet = () => document.querySelector('[data-busy]')?.dataset.busy === 'false' && seen();
const frame = (n) => requestAnimationFrame(() => (n > 0 ? frame(n - 1) : quiet() ? done(true) : frame(2)));
// What a key began is told to the page by a timer, and frames may come before a timer that is due.
const timer = (n) => setTimeout(() => (n > 0 ? timer(n - 1) : frame(3)), 0);
document.fonts.ready.then(() => timer(1));
"""

# The first element of a selector that shows these words. One question to the browser: asking each of hundreds of
# elements for its text by itself takes a second.
_SAYING = """
const [selector, text, clickable] = arguments;
const shown = (e) => e.checkVisibility({ visibilityProperty: true }) && e.getClientRects().length > 0;
const words = (e) => e.innerText.split(/\\s+/).join(" ").trim();
const all = [...document.querySelectorAll(selector)];
return all.find((e) => (!clickable || shown(e)) && words(e).includes(text)) ?? null;
"""


def wait(driver: WebDriver, seconds: float = WAIT_SECONDS) -> WebDriverWait[WebDriver]:
    """Looks at a state until it is there."""
    return WebDriverWait(driver, seconds, poll_frequency=POLL_SECONDS)


PAPER = "header button[aria-label^=Paper]"
"""The button that shows the paper at hand."""


class Page:
    """One window on one server."""

    def __init__(self, driver: WebDriver, address: str) -> None:
        self.driver = driver
        self.address = address.rstrip("/")

    def go(self, path: str) -> None:
        """Open a path of the application and wait until it is quiet and all that is predicted is there."""
        self.driver.get(self.address + path)
        self.fitted()

    def go_on(self, path: str) -> None:
        """Go to a path as Back and Forward do: without loading the application anew."""
        self.script("history.pushState(null, '', arguments[0]); dispatchEvent(new PopStateEvent('popstate'))", path)
        self.quiet()

    def fitted(self) -> None:
        """Until the predictions are those of the newest swatches."""
        wait(self.driver, 3 * WAIT_SECONDS).until(
            lambda d: d.find_elements(By.CSS_SELECTOR, "[data-fitting=false]"), "the predictions did not come"
        )
        self.quiet()

    def quiet(self) -> None:
        """Until nothing is fetched or saved, fonts and pictures are there and the frame is drawn."""
        wait(self.driver).until(lambda d: d.find_elements(By.CSS_SELECTOR, "[data-busy=false]"))
        self.driver.execute_async_script(_SETTLED)

    def press(self, *keys: str) -> None:
        """Type keys to whatever has the focus."""
        ActionChains(self.driver).send_keys(*keys).perform()
        self.quiet()

    def turn_to(self, paper: str) -> None:
        """Turn the papers by key until this one is at hand; all of them once, and no further."""
        names = [one["name"] for one in self.get("/api/collection")["papers"]]
        for _ in names:
            if paper in self.text(PAPER):
                return
            self.press("]")
        assert paper in self.text(PAPER), f"{paper} is none of {names}"

    def chord(self, modifier: str, key: str) -> None:
        """A key with a modifier held."""
        ActionChains(self.driver).key_down(modifier).send_keys(key).key_up(modifier).perform()
        self.quiet()

    def type_lab(self, *values: float, inside: str = "main form") -> None:
        """Fill the three fields of a Lab."""
        for field, value in zip(self.all(f"{inside} .lab input")[:3], values, strict=True):
            self.empty(field)
            field.send_keys(f"{value:g}")

    @staticmethod
    def empty(field: WebElement) -> None:
        """Empty a field by key, as a person does.

        WebDriver's own `clear` sets the value behind React's back: the next time the page is drawn, what was typed
        stands there again.
        """
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(Keys.BACKSPACE)

    def field(self, label: str) -> WebElement:
        """The field of a label, in a panel or anywhere."""
        inside = self._named(label, "label")
        return inside.find_element(By.CSS_SELECTOR, "input, textarea, select")

    def one(self, selector: str) -> WebElement:
        """The first element that fits, waited for."""
        return wait(self.driver).until(
            lambda d: next(iter(d.find_elements(By.CSS_SELECTOR, selector)), None) or False,
            f"nothing fits {selector}",
        )

    def all(self, selector: str) -> list[WebElement]:
        """All elements that fit, as they are now."""
        return self.driver.find_elements(By.CSS_SELECTOR, selector)

    def click(self, text: str, inside: str = "button, a, [role=menuitem], label") -> None:
        """Click what carries these words."""
        self._named(text, inside).click()
        self.quiet()

    def _named(self, text: str, inside: str) -> WebElement:
        element = wait(self.driver).until(
            lambda d: d.execute_script(_SAYING, inside, text, True) or False, f"nothing says “{text}”"
        )
        assert isinstance(element, WebElement)
        return element

    def until_text(self, text: str, inside: str = "body") -> None:
        """Until these words are shown."""
        wait(self.driver).until(
            lambda d: d.execute_script(_SAYING, inside, text, False) or False, f"“{text}” does not appear in {inside}"
        )

    def text(self, selector: str = "body") -> str:
        """The words of an element."""
        return _words(self.one(selector))

    def active(self, owner: str) -> str:
        """The accessible name of what a list's cursor is on."""
        said = str(
            self.driver.execute_script(
                "const e = document.querySelector(arguments[0]);"
                "const at = document.getElementById(e.getAttribute('aria-activedescendant'));"
                "return at?.getAttribute('aria-label') ?? at?.textContent;",
                owner,
            )
        )
        return " ".join(said.split())

    def script(self, code: str, *arguments: object) -> Any:
        """Run JavaScript in the page."""
        return self.driver.execute_script(code, *arguments)

    def pixels(self) -> NDArray[np.uint8]:
        """The window as (height, width, 3)."""
        return np.asarray(Image.open(io.BytesIO(self.driver.get_screenshot_as_png())).convert("RGB"))

    def get(self, path: str) -> Any:
        """What the API answers to the page itself."""
        code = "const done = arguments[1]; fetch(arguments[0]).then((r) => r.text()).then(done);"
        return json.loads(self.driver.execute_async_script(code, path))


def _words(element: WebElement) -> str:
    return " ".join(element.text.split())


def assert_accessible(page: Page) -> None:
    """axe-core finds nothing that keeps somebody out."""
    page.script(AXE.read_text(encoding="utf-8"))
    found = page.driver.execute_async_script(
        "const done = arguments[0]; axe.run(document, {resultTypes: ['violations']}).then((r) => done(r.violations.map("
        "(v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(' | '))));"
    )
    assert not found, "\n".join(found)
