"""A maker's hands and eyes in the browser."""

import time
from pathlib import Path

import pytest
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    StaleElementReferenceException,
    TimeoutException,
    WebDriverException,
)
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.errorhandler import ErrorHandler
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select, WebDriverWait

from tests.journeys.browser import Browser, Server

SLOW = 3
"""Every wait allows for a machine this many times slower than a quiet one."""


NOT_YET = (StaleElementReferenceException, ElementClickInterceptedException)
"""What is drawn anew, or has another thing passing over it, is looked for again."""

SAYS = """
const [css, words] = arguments;
const seen = (e) => e.checkVisibility({ visibilityProperty: true }) && e.getClientRects().length && !e.disabled;
const found = [...document.querySelectorAll(css)].find((e) => seen(e) && e.innerText.toLowerCase().includes(words));
found?.scrollIntoView({ block: "center" });
return found ?? null;
"""
"""The first thing of a kind that can be seen and pressed and says these words: asked once, not element by element."""


class Told(ErrorHandler):
    """A page that is loaded anew while it is read: the driver tells it as an error of its own, not as a stale thing."""

    def check_response(self, response):
        try:
            super().check_response(response)
        except WebDriverException as told:
            if "does not belong to the document" in (told.msg or ""):
                raise StaleElementReferenceException(told.msg) from told
            raise


class Patient(WebElement):
    """A thing that is looked for again where the page drew it anew between finding and using it."""

    again = None

    def _execute(self, command, params=None):
        for _ in range(10 * SLOW):
            try:
                return super()._execute(command, params)
            except NOT_YET:
                if self.again is None:
                    raise
                time.sleep(0.1)
                self._id = self.again()._id
        return super()._execute(command, params)


class Maker:
    """Hands and eyes: finds things by what is written on them."""

    def __init__(self, browser: Browser, server: Server) -> None:
        self.browser, self.server, self.driver = browser, server, browser.driver
        self.driver._web_element_cls = Patient
        self.driver.error_handler = Told()

    def wait(self, see, seconds: float = 15):
        try:
            return WebDriverWait(self.driver, SLOW * seconds, 0.1, NOT_YET).until(lambda _: see())
        except TimeoutException:
            shown = f"{self.driver.current_url}\n{self.text()}\n{self.browser.console_errors()}"
            pytest.fail(f"waited {SLOW * seconds} s in vain; the page shows\n{shown}")

    def open(self, path: str) -> None:
        self.driver.get(self.server.address + path)

    def text(self) -> str:
        return self.driver.find_element(By.TAG_NAME, "body").text

    def sees(self, words: str, seconds: float = 15) -> None:
        self.wait(lambda: words.lower() in self.text().lower(), seconds)

    def find(self, css: str):
        def look():
            return self.wait(
                lambda: next((e for e in self.driver.find_elements(By.CSS_SELECTOR, css) if e.is_displayed()), None)
            )

        found = look()
        found.again = look
        return found

    def press(self, words: str, css: str = "button") -> None:
        self.wait(lambda: self.pressed(words, css))

    def pressed(self, words: str, css: str = "button") -> bool:
        """Press it if it is there and stays where it is; whether it was pressed."""
        try:
            found = self.driver.execute_script(SAYS, css, words.lower())
            if found is not None:
                found.click()
        except NOT_YET:
            return False
        return found is not None

    def label(self, words: str) -> None:
        self.press(words, "a")

    def write(self, name: str, words: str) -> None:
        field = self.find(f"input[name='{name}']")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", field)
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(words, Keys.TAB)

    def choose(self, name: str, value: str) -> None:
        self.wait(lambda: Select(self.find(f"select[name='{name}']")).select_by_value(value) or True)

    def reads_cautions(self) -> None:
        """Read every caution at the step that was not read yet."""
        while unread := self.driver.find_elements(By.CSS_SELECTOR, "[data-caution]"):
            first = unread[0].get_attribute("data-caution")
            self.press("I have read this")
            css = f"[data-caution='{first}']"
            self.wait(lambda css=css: not self.driver.find_elements(By.CSS_SELECTOR, css), 30)

    def does_the_step(self) -> None:
        """Do what the card asks: its coats, its checks, and its question, answered with yes."""
        title = self.find("article h2").text
        for n in range(1, 1 + len(self.driver.find_elements(By.CSS_SELECTOR, "[data-coat]"))):
            self.find(f"[data-coat='{n}']").click()
            self.wait(lambda n=n: self._coat_is_on(n, title), 30)
        for box in self.driver.find_elements(By.CSS_SELECTOR, "article .checks input[type=checkbox]"):
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", box)
            if not box.is_selected():
                box.click()
        for _ in range(12):
            asked = self.driver.find_elements(By.CSS_SELECTOR, "article .question")
            if self.find("article h2").text != title:
                return
            # Not `press`: the step may be done, and another one shown, between the look and the hand.
            self.pressed("Yes" if asked else "Done, next step")
            if self._goes_on(title, bool(asked)):
                return
        pytest.fail(f"{title} is not done; the page shows\n{self.text()}")

    def _goes_on(self, title: str, answered: bool) -> bool:
        """Whether another step is shown within a while; or, before the answer, whether there is a question."""

        def look() -> bool:
            asks = not answered and self.driver.find_elements(By.CSS_SELECTOR, "article .question")
            return bool(asks) or self.find("article h2").text != title

        try:
            WebDriverWait(self.driver, SLOW * 3, 0.1, NOT_YET).until(lambda _: look())
        except TimeoutException:
            return False
        return self.find("article h2").text != title

    def _coat_is_on(self, n: int, title: str) -> bool:
        """Whether a coat is ticked, or its step is done and another one shown."""
        if self.driver.find_elements(By.CSS_SELECTOR, "article .question"):
            return True
        found = self.driver.find_elements(By.CSS_SELECTOR, f"[data-coat='{n}']")
        on = bool(found) and found[0].get_attribute("aria-pressed") == "true"
        return on or self.find("article h2").text != title

    def downloaded(self, pattern: str, seconds: float = 60) -> Path:
        """A file that has come down whole: the browser makes an empty one first, and another beside it while it
        writes."""

        def whole() -> Path | None:
            folder = self.browser.downloads
            found = next((f for f in folder.glob(pattern) if f.stat().st_size), None)
            return None if any(folder.glob("*.crdownload")) else found

        return self.wait(whole, seconds)

    def value(self, name: str) -> str:
        return self.find(f"input[name='{name}']").get_attribute("value")

    def path(self, css: str = "path.cut") -> str:
        return self.find(css).get_attribute("d")
