import os
import shutil

import pytest
from filelock import FileLock

from tests.journeys.browser import Browser, Server
from tests.journeys.maker import Maker

Server.quick = True


@pytest.fixture(scope="session")
def window():
    """One browser for several journeys: every server has an address of its own, so nothing of one is known to the
    next."""
    # Pages are put together by the processor itself: through a graphics card that is none it takes twice the work.
    browser = Browser(more="--disable-gpu-compositing")
    yield browser
    browser.close()


@pytest.fixture
def maker(tmp_path, window):
    yield from _maker(Server(tmp_path / "data"), window)


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory):
    """The demo's data, made once for all who run tests side by side, with what a day's work in it has left worked
    out."""
    shared = tmp_path_factory.getbasetemp()
    if os.environ.get("PYTEST_XDIST_WORKER"):
        shared = shared.parent
    folder, made = shared / "demo data", shared / "demo data is made"
    with FileLock(shared / "demo data.lock"):
        if not made.exists():
            server = Server(folder, demo=True)
            for page in ("figure", "bench"):
                server.get(f"/api/builds/1/{page}")
            server.stop()
            made.touch()
    return folder


@pytest.fixture
def demo(tmp_path, demo_data, window):
    """A maker before a demo of their own, in the folder ``demo``."""
    shutil.copytree(demo_data, tmp_path / "demo")
    yield from _maker(Server(tmp_path / "demo"), window)


@pytest.fixture
def late_demo(request, tmp_path, demo_data, window):
    """As ``demo``, from a server whose answers come late by lot; the parameter is the seed."""
    shutil.copytree(demo_data, tmp_path / "demo")
    yield from _maker(Server(tmp_path / "demo", late=request.param), window)


def _maker(server: Server, window: Browser):
    window.begin()
    yield Maker(window, server)
    window.driver.get("about:blank")
    server.stop()
