"""The wheel on a maker's machine: no sources, no node, nothing but what it was locked with."""

import contextlib
import json
import subprocess
import sys
import sysconfig
import urllib.request
import venv
from pathlib import Path

import pytest

from tests.depth import long
from tests.journeys.browser import free_port
from tests.journeys.maker import Maker

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def wheel() -> Path:
    found = sorted((ROOT / "dist").glob("vellumcut-*.whl"), key=lambda f: f.stat().st_mtime)
    assert found, "make wheel comes before the journeys"
    return found[-1]


@pytest.fixture(scope="module")
def installed(wheel, tmp_path_factory) -> Path:
    """A Python with the wheel and the libraries that it was locked with; the sources are nowhere on its path."""
    home = tmp_path_factory.mktemp("maker")
    venv.create(home / "env", with_pip=False)
    python = home / "env" / "bin" / "python"
    target = Path(
        subprocess.check_output(
            [python, "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"], text=True
        ).strip()
    )
    pip = [sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check"]
    subprocess.check_call([*pip, "--no-index", "--no-deps", "--target", str(target), str(wheel)])
    # A path in a .pth file is searched, but no .pth file that lies there is read: the sources' own link is none of it.
    (target / "locked.pth").write_text(sysconfig.get_path("purelib"))
    return python


class Installed:
    """A server of the installed program, as a Server of the sources is used by a maker."""

    def __init__(self, python: Path, home: Path) -> None:
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self.environment = {"HOME": str(home), "PATH": str(python.parent), "LANG": "C.UTF-8"}
        command = [str(python), "-c", "from vellumcut.cli import main; main()", "demo", "--port", str(self.port)]
        self.process = subprocess.Popen(
            [*command, "--data", str(home / "data")],
            env=self.environment,
            cwd=home,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )

    def answers(self) -> bool:
        with contextlib.suppress(OSError), urllib.request.urlopen(f"{self.address}/api/settings", timeout=5) as answer:
            return answer.status == 200
        return False

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(30)


def test_it_is_small(wheel):
    assert wheel.stat().st_size < 25_000_000


@long
def test_the_demo_opens_and_a_pattern_is_written(installed, window, tmp_path):
    where = "import vellumcut, vellumcut.api.app as a; print(vellumcut.__file__, a.FRONT_END)"
    run = {"env": {"PATH": str(installed.parent)}, "cwd": tmp_path, "text": True}
    told = subprocess.check_output([installed, "-c", where], **run)
    assert str(ROOT / "src") not in told
    assert str(ROOT / "web") not in told
    server = Installed(installed, tmp_path)
    try:
        assert server.address in server.process.stdout.readline()
        window.begin()
        maker = Maker(window, server)
        maker.wait(server.answers, 60)
        maker.open("/")
        maker.sees("Bell-Warden of the Drowned Light", 60)
        build = maker.driver.execute_async_script(
            "const done = arguments[0]; fetch('/api/builds/1/build.json').then((r) => r.text()).then(done)"
        )
        assert maker.browser.console_errors() == []
        assert maker.browser.hosts_asked() <= {"127.0.0.1"}
    finally:
        server.stop()
    (tmp_path / "build.json").write_text(build, encoding="utf-8")
    write = ["pattern", "build.json", "--piece", "Bracers", "--out", "patterns"]
    subprocess.check_call([installed, "-c", "from vellumcut.cli import main; main()", *write], **run)
    written = sorted(f.suffix for f in (tmp_path / "patterns").rglob("*") if f.is_file())
    assert written == [".json", ".pdf", ".svg"]
    panels = json.loads(next((tmp_path / "patterns").rglob("*.json")).read_text(encoding="utf-8"))["panels"]
    assert panels
