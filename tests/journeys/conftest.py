import shutil

import pytest

from tests.journeys.browser import Browser, Server
from tests.journeys.maker import Maker


@pytest.fixture
def maker(tmp_path):
    yield from _maker(Server(tmp_path / "data"))


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory):
    """The demo's data, made once."""
    folder = tmp_path_factory.mktemp("made") / "demo"
    Server(folder, demo=True).stop()
    return folder


@pytest.fixture
def demo(tmp_path, demo_data):
    """A maker before a demo of their own, in the folder ``demo``."""
    shutil.copytree(demo_data, tmp_path / "demo")
    yield from _maker(Server(tmp_path / "demo"))


def _maker(server: Server):
    browser = Browser()
    yield Maker(browser, server)
    browser.close()
    server.stop()
