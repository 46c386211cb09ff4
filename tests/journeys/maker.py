"""A maker's hands and eyes in the browser."""

import pytest
from selenium.common.exceptions import StaleElementReferenceException, TimeoutException
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select, WebDriverWait

from tests.journeys.browser import Browser, Server

SLOW = 3
"""Every wait allows for a machine this many times slower than a quiet one."""


class Maker:
    """Hands and eyes: finds things by what is written on them."""

    def __init__(self, browser: Browser, server: Server) -> None:
        self.browser, self.server, self.driver = browser, server, browser.driver

    def wait(self, see, seconds: float = 15):
        try:
            return WebDriverWait(self.driver, SLOW * seconds, 0.1, [StaleElementReferenceException]).until(
                lambda _: see()
            )
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
        return self.wait(
            lambda: next((e for e in self.driver.find_elements(By.CSS_SELECTOR, css) if e.is_displayed()), None)
        )

    def press(self, words: str, tag: str = "button") -> None:
        def look():
            for e in self.driver.find_elements(By.TAG_NAME, tag):
                if e.is_displayed() and e.is_enabled() and words.lower() in e.text.lower():
                    self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", e)
                    e.click()
                    return True
            return False

        self.wait(look)

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
            self.wait(lambda: not self.driver.find_elements(By.CSS_SELECTOR, f"[data-caution='{first}']"), 30)  # noqa: B023

    def does_the_step(self) -> None:
        """Do what the card asks: its coats, its checks, and its question, answered with yes."""
        title = self.find("article h2").text
        for n in range(1, 1 + len(self.driver.find_elements(By.CSS_SELECTOR, "[data-coat]"))):
            self.find(f"[data-coat='{n}']").click()
            self.wait(lambda n=n: self._coat_is_on(n, title), 30)
        if self.driver.find_elements(By.CSS_SELECTOR, "article .question"):
            self.press("Yes")
        elif "Done, next step" in self.find("article").text and self.find("article h2").text == title:
            for box in self.driver.find_elements(By.CSS_SELECTOR, "article input[type=checkbox]"):
                self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", box)
                if not box.is_selected():
                    box.click()
            self.press("Done, next step")
            if self.driver.find_elements(By.CSS_SELECTOR, "article .question"):
                self.press("Yes")
        self.wait(lambda: self.find("article h2").text != title, 30)

    def _coat_is_on(self, n: int, title: str) -> bool:
        """Whether a coat is ticked, or its step is done and another one shown."""
        if self.driver.find_elements(By.CSS_SELECTOR, "article .question"):
            return True
        found = self.driver.find_elements(By.CSS_SELECTOR, f"[data-coat='{n}']")
        on = bool(found) and found[0].get_attribute("aria-pressed") == "true"
        return on or self.find("article h2").text != title

    def value(self, name: str) -> str:
        return self.find(f"input[name='{name}']").get_attribute("value")

    def path(self, css: str = "path.cut") -> str:
        return self.find(css).get_attribute("d")
