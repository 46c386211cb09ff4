import pytest

from tests.journeys.browser import Browser, Server
from tests.journeys.maker import Maker


@pytest.fixture
def maker(tmp_path):
    server, browser = Server(tmp_path / "data"), Browser()
    yield Maker(browser, server)
    browser.close()
    server.stop()
