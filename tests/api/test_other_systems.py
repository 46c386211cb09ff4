"""The program on a system without fcntl, resource and the signals of Unix: simulated, in processes of its own."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests.depth import deep, long

ROOT = Path(__file__).parents[2]
LACKING = ROOT / "tests" / "other_system"

EVERY_MODULE = """
import importlib, pkgutil, vellumcut
names = [m.name for m in pkgutil.walk_packages(vellumcut.__path__, "vellumcut.")]
for name in names:
    if "migrations" not in name and "__main__" not in name:
        importlib.import_module(name)
print(len(names))
"""
TWO_HOLD_ONE_FOLDER = """
import sys
from pathlib import Path
from vellumcut.store.database import Store, StoreError
first = Store(Path(sys.argv[1]))
try:
    Store(Path(sys.argv[1]))
except StoreError as error:
    print(error)
first.close()
Store(Path(sys.argv[1])).close()
print("opened again")
"""
COMPUTES_TOO_LONG = """
from vellumcut.formats.limits import limit
limit(1, 4_000_000_000)
while True: sum(range(1000))
"""
TAKES_TOO_MUCH = """
from vellumcut.formats.limits import limit
import time, numpy
limit(60, 400_000_000)
held = numpy.ones(100_000_000)
time.sleep(30)
"""


def there(*arguments: str, seconds: float = 240) -> subprocess.CompletedProcess:
    """A Python of that other system."""
    path = os.pathsep.join([str(LACKING), str(ROOT)])
    environment = {**os.environ, "PYTHONPATH": path}
    return subprocess.run(
        [sys.executable, *arguments],
        check=False,
        env=environment,
        cwd=ROOT,
        capture_output=True,
        text=True,
        timeout=seconds,
    )


@long
def test_every_module_loads_there():
    done = there("-c", EVERY_MODULE)
    assert done.returncode == 0, done.stderr
    assert int(done.stdout) > 250


def test_one_program_at_a_time_uses_a_folder_there(tmp_path):
    done = there("-c", TWO_HOLD_ONE_FOLDER, str(tmp_path / "data"))
    assert "Another Vellumcut already uses" in done.stdout, done.stderr
    assert "opened again" in done.stdout


@pytest.mark.parametrize(("script", "code"), [(COMPUTES_TOO_LONG, 97), (TAKES_TOO_MUCH, 98)])
def test_a_worker_watches_itself_there(script, code):
    assert there("-c", script, seconds=100).returncode == code


STORE_JOBS_WORKERS = {
    "store": "tests/api/test_undo.py tests/api/test_two_windows.py",
    "jobs and helper": "tests/api/test_kept.py",
    "workers": "tests/api/test_strangers.py -k mesh or jobs or crash",
}


@pytest.mark.parametrize("what", [pytest.param(k, marks=long if k == "workers" else deep) for k in STORE_JOBS_WORKERS])
def test_store_jobs_and_workers_pass_their_tests_there(what):
    files, _, chosen = STORE_JOBS_WORKERS[what].partition(" -k ")
    more = ["-k", chosen] if chosen else []
    done = there("-m", "pytest", "-q", "-p", "no:cacheprovider", *files.split(), *more, seconds=900)
    assert done.returncode == 0, done.stdout[-3000:]
    assert " passed" in done.stdout or "%" in done.stdout
