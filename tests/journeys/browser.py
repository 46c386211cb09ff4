"""Headless Chromium from Debian's packages, and a real server of our own to point it at."""

import asyncio
import json
import multiprocessing
import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from urllib.parse import urlsplit

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service

from vellumcut.cli import app, serving

FLAGS = (
    "--headless=new --no-sandbox --use-angle=swiftshader --enable-unsafe-swiftshader --disable-quic --no-first-run "
    "--disable-background-networking --disable-component-update --disable-sync "
    "--autoplay-policy=no-user-gesture-required"
)


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Started:
    """A server in a process of its own that is copied from one in which everything is loaded: for journeys, which begin
    fifty of them. As much of ``subprocess.Popen`` as they want."""

    _nursery = multiprocessing.get_context("forkserver")
    _nursery.set_forkserver_preload(["vellumcut.cli.serving"])

    def __init__(self, command: list[str], environment: dict[str, str], late: int | None) -> None:
        self._process = self._nursery.Process(target=_serve, args=(command, environment, late))
        self._process.start()

    def poll(self) -> int | None:
        return self._process.exitcode

    def wait(self, seconds: float) -> None:
        self._process.join(seconds)
        assert self._process.exitcode is not None, "the server does not end"

    def send_signal(self, number: int) -> None:
        os.kill(self._process.pid, number)

    @property
    def pid(self) -> int:
        return self._process.pid

    returncode = property(poll)


def _serve(command: list[str], environment: dict[str, str], late: int | None) -> None:
    os.environ.clear()
    os.environ.update(environment)
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    if late is not None:
        whole = serving.create_app
        serving.create_app = lambda store: Late(whole(store), late)
    app(command)


class Late:
    """A server whose answers take their time, each by lot another: they come in an order in which they seldom do."""

    def __init__(self, served, seed: int) -> None:
        self._served, self._luck = served, random.Random(seed)

    async def __call__(self, scope, receive, send) -> None:
        if scope["type"] == "http" and scope["path"].startswith("/api") and self._luck.random() < 0.5:
            await asyncio.sleep(self._luck.uniform(0.1, 1.5))
        await self._served(scope, receive, send)


class Server:
    """``vellumcut serve`` or ``demo`` in a process of its own, on a data folder that outlives it."""

    quick = False
    """Whether it is copied from a process in which everything is loaded."""

    def __init__(self, data: Path, demo: bool = False, late: int | None = None) -> None:
        """late: seed of answers that come late, from a server that is a copy."""
        self.data, self._late = data, late
        self.port = free_port()
        self.start(demo)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self, demo: bool = False) -> None:
        command = [*(["demo", "--data", str(self.data)] if demo else ["serve"]), "--port", str(self.port)]
        environment = {**os.environ, "VELLUMCUT_DATA": str(self.data), "DISPLAY": "", "WAYLAND_DISPLAY": ""}
        if self.quick:
            self.process = Started(command, environment, self._late)
        else:
            whole = [sys.executable, "-m", "vellumcut.cli", *command]
            self.process = subprocess.Popen(whole, env=environment, stdout=subprocess.DEVNULL)
        self._wait()

    def _wait(self) -> None:
        for _ in range(600):
            if self.process.poll() is not None:
                raise RuntimeError(f"the server ended with {self.process.returncode}")
            try:
                urllib.request.urlopen(f"{self.address}/api/settings", timeout=2).read()
            except OSError:
                time.sleep(0.2)
            else:
                return
        raise RuntimeError("the server does not answer")

    def get(self, path: str) -> object:
        with urllib.request.urlopen(f"{self.address}{path}", timeout=90) as answer:
            return json.loads(answer.read())

    def put(self, path: str, body: object) -> None:
        self._send("PUT", path, body)

    def post(self, path: str, body: object) -> None:
        self._send("POST", path, body)

    def patch(self, path: str, body: object) -> None:
        self._send("PATCH", path, body)

    def _send(self, method: str, path: str, body: object) -> None:
        sent = urllib.request.Request(f"{self.address}{path}", json.dumps(body).encode(), method=method)
        sent.add_header("content-type", "application/json")
        urllib.request.urlopen(sent, timeout=90).close()

    def stop(self, kill: bool = False) -> None:
        self.process.send_signal(signal.SIGKILL if kill else signal.SIGINT)
        self.process.wait(30)


class Browser:
    """A window, its downloads, and what it asked the network for."""

    def __init__(self, width: int = 1280, height: int = 800, more: str = "") -> None:
        """more: flags beside the usual ones."""
        self.home = Path(tempfile.mkdtemp(prefix="vellumcut-browser-"))
        self.downloads = self.home / "downloads"
        options = Options()
        options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
        for flag in (*FLAGS.split(), *more.split()):
            options.add_argument(flag)
        options.add_argument(f"--user-data-dir={self.home / 'profile'}")
        options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
        options.add_experimental_option("prefs", {"download.default_directory": str(self.downloads)})
        service = Service(shutil.which("chromedriver") or "/usr/bin/chromedriver")
        self.driver = webdriver.Chrome(options=options, service=service)
        self.size(width, height)

    def begin(self) -> None:
        """As newly opened: an empty page of the usual size, no files come down, nothing in the logs."""
        first, *others = self.driver.window_handles
        for other in others:
            self.driver.switch_to.window(other)
            self.driver.close()
        self.driver.switch_to.window(first)
        self.driver.get("about:blank")
        self.size(1280, 800)
        shutil.rmtree(self.downloads, ignore_errors=True)
        for kind in ("browser", "performance"):
            self.driver.get_log(kind)

    def size(self, width: int, height: int) -> None:
        """Set the size of the page itself, not of the window round it."""
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def console_errors(self) -> list[str]:
        return [e["message"] for e in self.driver.get_log("browser") if e["level"] == "SEVERE"]

    def hosts_asked(self) -> set[str]:
        """Every host the page sent a request to since the last call."""
        hosts = set()
        for entry in self.driver.get_log("performance"):
            message = json.loads(entry["message"])["message"]
            if message["method"] == "Network.requestWillBeSent":
                url = urlsplit(message["params"]["request"]["url"])
                if url.scheme in ("http", "https", "ws", "wss"):
                    hosts.add(url.hostname or "")
        return hosts

    def close(self) -> None:
        self.driver.quit()
        shutil.rmtree(self.home, ignore_errors=True)
