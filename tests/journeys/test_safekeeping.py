"""Two windows, a loss and a full disk: by real clicks, as they happen to makers."""

import subprocess

import httpx
import pytest
from selenium.webdriver.common.by import By

from tests.formats.test_build_file import EXAMPLE
from tests.journeys.browser import Browser, Server
from tests.journeys.maker import Maker


def bring_in(maker, tmp_path):
    good = tmp_path / "BUILD.json"
    good.write_text(EXAMPLE, encoding="utf-8")
    maker.open("/")
    maker.wait(lambda: maker.driver.find_element(By.CSS_SELECTOR, "input[type=file]")).send_keys(str(good))
    # The message stays for three seconds, which a busy machine may look past; its pieces stay.
    maker.wait(lambda: any(x in maker.text() for x in ("is here, with 2 pieces", "Dress bracer, left")))


def design(maker) -> dict:
    return maker.server.get("/api/builds/1")["pieces"][0]["design"]


def test_two_windows_on_one_piece(maker, tmp_path):
    bring_in(maker, tmp_path)
    first = maker.driver.current_window_handle
    maker.open("/build/1/flatten?piece=1")
    maker.sees("On the table")
    maker.find("input[name='ease']")
    maker.driver.switch_to.new_window("window")
    maker.browser.size(1280, 800)
    second = maker.driver.current_window_handle
    maker.open("/build/1/flatten?piece=1")
    maker.find("input[name='ease']")
    was = design(maker)
    maker.write("ease", "5")
    maker.wait(lambda: design(maker)["ease"] == 5)
    both_are_kept(maker, first, was)
    a_conflict_is_told(maker, second)
    undo_asks_first(maker, second)


def both_are_kept(maker, first, was):
    """The first window still shows what was; what it changes elsewhere stands beside the other's change."""
    maker.driver.switch_to.window(first)
    maker.write("base", "3")
    maker.wait(lambda: design(maker)["base_layer"] == 3)
    assert was["ease"] != 5
    assert design(maker)["ease"] == 5
    maker.driver.execute_script("document.activeElement.blur()")
    maker.wait(lambda: maker.value("ease") == "5")


def a_conflict_is_told(maker, second):
    """
    A third window, which the browser does not know of, is quicker than the hand at this one.

    The page is opened anew, since one that still asks again after its own change may learn of the third in time.
    """
    maker.driver.switch_to.window(second)
    maker.open("/build/1/flatten?piece=1")
    maker.wait(lambda: (maker.value("ease"), maker.value("base")) == ("5", "3"))
    theirs = {"design": design(maker) | {"base_layer": 3.5}}
    httpx.patch(f"{maker.server.address}/api/pieces/1", json=theirs, headers={"X-Tab": "third"}).raise_for_status()
    maker.write("base", "4")
    maker.sees("Another window changed the same thing meanwhile")
    assert design(maker)["base_layer"] == 3.5
    maker.driver.execute_script("document.activeElement.blur()")
    maker.wait(lambda: maker.value("base") == "3.5")


def undo_asks_first(maker, second):
    maker.press("Undo")
    maker.sees("in another window or on another day")
    assert design(maker)["base_layer"] == 3.5
    maker.press("Undo")
    maker.wait(lambda: design(maker)["base_layer"] == 3)
    assert design(maker)["ease"] == 5


def test_a_backup_a_loss_and_everything_back(maker, tmp_path):
    bring_in(maker, tmp_path)
    maker.label("Safe-keeping")
    maker.label("Save a backup")
    archive = maker.downloaded("Vellumcut*.zip")
    before = maker.server.get("/api/builds")
    maker.label("Back to the builds")
    name = before[0]["name"]
    maker.wait(lambda: maker.driver.find_element(By.CSS_SELECTOR, f"button[title^='Remove {name}']")).click()
    maker.sees("Your first build")
    maker.label("Safe-keeping")
    chosen = maker.wait(lambda: maker.driver.find_element(By.CSS_SELECTOR, "input[name=backup]"))
    chosen.send_keys(str(archive))
    maker.sees("Everything here will be as it was")
    maker.press("Yes, bring it back")
    maker.wait(lambda: maker.server.get("/api/builds") == before)
    maker.sees(name)
    a_copy_of_what_was_replaced(maker)
    assert maker.browser.console_errors() == []


def a_copy_of_what_was_replaced(maker):
    maker.label("Safe-keeping")
    maker.sees("before something was brought back")
    maker.press("Go back to it")
    maker.press("Yes, as it was then")
    maker.wait(lambda: maker.server.get("/api/builds") == [])
    maker.sees("Your first build")


@pytest.fixture
def small_disk(tmp_path):
    """A disk of a few megabytes; only one who may mount has one."""
    disk = tmp_path / "disk"
    disk.mkdir()
    if subprocess.run(["mount", "-t", "tmpfs", "-o", "size=4m", "none", disk], check=False).returncode:
        pytest.skip("this machine lends no small disk")
    yield disk
    subprocess.run(["umount", "-l", disk], check=True)


def test_a_full_disk(small_disk, tmp_path):
    server, browser = Server(small_disk / "data"), Browser()
    maker = Maker(browser, server)
    try:
        bring_in(maker, tmp_path)
        (small_disk / "holiday").write_bytes(b"x" * 2_000_000)
        fill(small_disk / "more")
        maker.open("/build/1/flatten?piece=1")
        was = design(maker)
        maker.write("ease", "5")
        maker.sees("The disk is full: nothing was changed")
        assert design(maker) == was
        for name in ("holiday", "more"):
            (small_disk / name).unlink()
        maker.write("ease", "6")
        maker.wait(lambda: design(maker)["ease"] == 6)
    finally:
        browser.close()
        server.stop()


def fill(path):
    with path.open("wb", buffering=0) as file:
        for size in (65536, 512):
            try:
                while file.write(b"x" * size):
                    pass
            except OSError:
                continue
