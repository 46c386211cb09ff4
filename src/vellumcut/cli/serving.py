"""The workshop in the browser."""

import os
import socket
import tempfile
import threading
import webbrowser
from pathlib import Path

import uvicorn

from vellumcut.api.app import create_app
from vellumcut.cli import FIRST_PORT
from vellumcut.cli.words import clear_words
from vellumcut.core.errors import CraftError
from vellumcut.demo.scenario import load_demo
from vellumcut.store.database import Store, StoreError

LAST_PORT = 8865


def _data_folder() -> Path:
    if chosen := os.environ.get("VELLUMCUT_DATA"):
        return Path(chosen)
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "vellumcut"


def _free_port() -> int:
    for port in range(FIRST_PORT, LAST_PORT):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return port
    raise StoreError(f"No port from {FIRST_PORT} to {LAST_PORT} is free; choose one with --port")


def _run(store: Store, port: int | None) -> None:
    chosen = port or _free_port()
    address = f"http://127.0.0.1:{chosen}/"
    print(f"Vellumcut is at {address}  (data in {store.folder}; Ctrl+C ends it)", flush=True)
    if os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"):
        threading.Timer(1.0, webbrowser.open, [address]).start()
    try:
        uvicorn.run(create_app(store), host="127.0.0.1", port=chosen, log_level="warning")
    finally:
        store.close()


def serve(port: int | None) -> None:
    with clear_words():
        _run(Store(_data_folder()), port)


def demo(port: int | None, data: Path | None) -> None:
    with clear_words():
        if data is not None and data.exists() and any(data.iterdir()):
            raise CraftError(f"{data} is not empty; the demo wants a new folder")
        store = Store(data or Path(tempfile.mkdtemp(prefix="vellumcut-demo-")))
        load_demo(store)
        _run(store, port)
