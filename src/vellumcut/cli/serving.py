"""The workshop in the browser."""

import contextlib
import ctypes
import os
import signal
import socket
import sys
import tempfile
import threading
import webbrowser
from collections.abc import Iterator
from pathlib import Path

import uvicorn

from vellumcut.api.app import create_app
from vellumcut.cli.ports import FIRST_PORT, LAST_PORT
from vellumcut.cli.words import clear_words, data_folder
from vellumcut.core.errors import CraftError
from vellumcut.demo.scenario import load_demo
from vellumcut.formats.workers import clear_left
from vellumcut.service.hands import dismiss, hired, share
from vellumcut.service.kept import keep_on_disk
from vellumcut.store.database import Store, StoreError

_MOST_ARENAS = -8
"""glibc's number for the most arenas, as its manual gives it."""


def _is_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


def _chosen_port(wanted: int | None) -> int:
    """Raises StoreError, before anything is promised, when the port cannot be had."""
    if wanted is not None:
        if not _is_free(wanted):
            raise StoreError(f"Port {wanted} cannot be had: something else uses it, or it is not yours to take")
        return wanted
    for port in range(FIRST_PORT, LAST_PORT):
        if _is_free(port):
            return port
    raise StoreError(f"No port from {FIRST_PORT} to {LAST_PORT} is free; choose one with --port")


def _hold_little_memory() -> None:
    """With an arena for each thread glibc keeps what each of 40 has freed; with two it held 0.6 GB after
    36,000 fuzzed requests instead of 1.6."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL("libc.so.6").mallopt(_MOST_ARENAS, 2)


def _has_screen() -> bool:
    """Whether there is a browser to open that is no terminal's."""
    return (
        os.name == "nt"
        or sys.platform == "darwin"
        or bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))
    )


def _run(store: Store, port: int | None) -> None:
    # The server ends a stopped process by its signal once more: turned into an exit, the store is closed first.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    chosen = _chosen_port(port)
    address = f"http://127.0.0.1:{chosen}/"
    print(f"Vellumcut is at {address}  (data in {store.folder}; Ctrl+C ends it)", flush=True)
    if _has_screen():
        threading.Timer(1.0, webbrowser.open, [address]).start()
    uvicorn.run(create_app(store), host="127.0.0.1", port=chosen, log_level="warning")


@contextlib.contextmanager
def _opened(folder: Path) -> Iterator[Store]:
    clear_left()
    store = Store(folder)
    try:
        keep_on_disk(folder)
        share(folder)
        _hold_little_memory()
        hired()  # while there is one thread: what is loaded already is shared with the helper
        yield store
    finally:
        dismiss()
        store.close()


def serve(port: int | None) -> None:
    with clear_words(), _opened(data_folder()) as store:
        _run(store, port)


def demo(port: int | None, data: Path | None) -> None:
    with clear_words():
        if data is not None and data.exists() and any(data.iterdir()):
            raise CraftError(f"{data} is not empty; the demo wants a new folder")
        with _opened(data or Path(tempfile.mkdtemp(prefix="vellumcut-demo-"))) as store:
            load_demo(store)
            _run(store, port)
