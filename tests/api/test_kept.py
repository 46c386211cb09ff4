"""Results kept by what they are made from: once, on disk from start to start, by the helper, and not for who has
gone."""

import asyncio
import os
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from vellumcut.api.turns import Turns
from vellumcut.core.errors import CraftError
from vellumcut.service import hands, kept, turns
from vellumcut.service.keeping import backups
from vellumcut.service.kept import Kept
from vellumcut.store import results
from vellumcut.store.database import Store
from vellumcut.store.results import FOLDER, Results

made: list[tuple[object, ...]] = []


def whose(number: int) -> tuple[int, int]:
    """What was asked for, and by which process it was made."""
    made.append((number,))
    if number < 0:
        raise CraftError("Nothing is less than nothing", "number")
    return number, os.getpid()


asked_for = Kept(whose, str, 4)


def until(true: Callable[[], bool], seconds: float = 60) -> None:
    """Watch, however slow the machine is."""
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end
        time.sleep(0.005)


def waiting_for(results: Kept, key: str) -> int:
    """How many threads wait for this result while it is made."""
    return len(results._made[key]._condition._waiters)


@pytest.fixture(autouse=True)
def nothing_made():
    made.clear()
    asked_for._made.clear()
    yield
    kept.keep_on_disk(None)
    hands.share(None)


def test_a_failure_is_told_to_all_who_waited_and_tried_again():
    tries, told = [], []

    def fail(key: str) -> int:
        tries.append(key)
        if len(tries) == 1:
            until(lambda: waiting_for(once, key) == 3)
            raise ValueError("no")
        return len(tries)

    once = Kept(fail, str, 2)

    def ask() -> None:
        try:
            once("k")
        except ValueError as error:
            told.append(str(error))

    threads = [threading.Thread(target=ask) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert told == ["no"] * 4
    assert len(tries) == 1
    assert once("k") == 2 == once("k")
    assert [once("a"), once("b"), once("a")] == [3, 4, 3]
    assert once("k") == 5


def test_what_one_start_has_made_the_next_one_reads(tmp_path):
    kept.keep_on_disk(tmp_path)
    first = asked_for(7)
    kept._writer.submit(lambda: None).result()
    asked_for._made.clear()
    kept.keep_on_disk(tmp_path)
    assert asked_for(7) == asked_for.known(7) == first
    assert made == [(7,)]
    (file,) = (tmp_path / FOLDER).glob("*/*")
    file.write_bytes(file.read_bytes()[:-1] + b"x")
    asked_for._made.clear()
    assert asked_for(7) == first
    assert made == [(7,), (7,)]


def test_other_code_begins_afresh_and_what_was_read_longest_ago_goes_first(tmp_path, monkeypatch):
    disk = Results(tmp_path, most=10_000)
    for k in range(12):
        disk.write("shelf", str(k), bytes([k]) * 1000)
        os.utime(disk._path("shelf", str(k)), (k, k))
        disk.read("shelf", "0")
    disk.sweep()
    left = [k for k in range(12) if disk.read("shelf", str(k)) is not None]
    assert left[0] == 0
    assert left[1:] == list(range(12 - len(left) + 1, 12))
    assert sum(f.stat().st_size for f in disk.folder.iterdir()) <= 10_000
    monkeypatch.setattr(results, "code_stamp", lambda: "another")
    assert Results(tmp_path).read("shelf", "11") is None
    assert [f.name for f in (tmp_path / FOLDER).iterdir()] == ["another"]


def test_a_backup_takes_no_worked_out_results(store, client, build, tmp_path):
    kept.keep_on_disk(store.folder)
    client.patch(f"/api/pieces/{build[2]}", json={"design": {"template": "bracer", "ease": 4.321}})
    client.get(f"/api/pieces/{build[2]}/steps")
    kept._writer.submit(lambda: None).result()
    assert list((store.folder / FOLDER).glob("*/*"))
    backups.write_backup(store.folder, tmp_path / "all.zip")
    assert not [n for n in zipfile.ZipFile(tmp_path / "all.zip").namelist() if FOLDER in n]


def test_with_a_disk_that_is_gone_all_goes_on(tmp_path):
    kept.keep_on_disk(tmp_path)
    (tmp_path / FOLDER).rename(tmp_path / "elsewhere")
    (tmp_path / FOLDER).write_text("no folder")
    assert asked_for(1)[0] == 1
    kept._writer.submit(lambda: None).result()
    assert asked_for(2)[0] == 2


def waits_for_the_helper() -> None:
    helper = hands.hired()
    assert helper is not None
    assert helper.ready.wait(90)


def test_what_comes_after_is_made_by_the_helper_and_a_refusal_comes_back(tmp_path):
    waits_for_the_helper()
    token = turns.ASKED.set(turns.Asked(after=True))
    try:
        number, process = asked_for(5)
        assert number == 5
        assert process != os.getpid()
        with pytest.raises(CraftError, match="less than nothing") as refused:
            asked_for(-1)
        assert refused.value.field == "number"
    finally:
        turns.ASKED.reset(token)
    assert made == []
    assert asked_for(6)[1] == os.getpid()


class Grows:
    """Something whose reading makes it grow, as often as is asked: another thread keeps figures on it meanwhile."""

    def __init__(self, often: int) -> None:
        self.often, self.seen, self.last = often, 0, Looked(self)


class Looked:
    def __init__(self, owner: Grows) -> None:
        self.owner = owner

    def __reduce__(self):
        if self.owner.seen < self.owner.often:
            self.owner.seen += 1
            setattr(self.owner, f"figure {self.owner.seen}", 1.0)
        return (str, ("looked",))


def by_whom(thing: Grows) -> tuple[int, str]:
    return os.getpid(), str(thing.last)


def test_what_grows_while_it_goes_to_the_helper_goes_all_the_same_and_leaves_it_whole():
    helper = hands.hired()
    helper.ready.wait(90)
    ((process, last),) = hands.elsewhere(by_whom, Grows(1))
    assert process != os.getpid()
    assert last == "looked"
    assert hands.elsewhere(by_whom, Grows(1000)) is None, "done here instead"
    ((again, _),) = hands.elsewhere(by_whom, Grows(0))
    assert again == process
    assert hands.hired() is helper


def test_many_are_made_by_both_and_a_lost_helper_costs_nothing():
    waits_for_the_helper()
    numbers = list(range(40, 46))
    processes = {p for n, p in hands.done_together(slowly, numbers, lambda _: None)}
    assert len(processes) == 2
    hands.hired().end()
    assert [n for n, _ in hands.done_together(slowly, numbers, lambda _: None)] == numbers


BEGINS = """
import os, sys, threading
from pathlib import Path
from tests.api.test_kept import slowly
from vellumcut.service import hands
from vellumcut.store.database import Store

if sys.argv[2] == "another":
    threading.Thread(target=threading.Event().wait, daemon=True).start()
store = Store(Path(sys.argv[1]))
hands.share(store.folder)
hands.hired().ready.wait(90)
processes = {p for _, p in hands.done_together(slowly, list(range(6)), lambda _: None)}
print(*processes - {os.getpid()}, type(hands.hired()._process).__name__, flush=True)
sys.stdin.read()
"""


@pytest.mark.parametrize(("thread", "kind"), [("alone", "Twin"), ("another", "Popen")])
def test_the_helper_is_the_program_once_more_and_ends_with_it(tmp_path, thread, kind):
    command = [sys.executable, "-c", BEGINS, str(tmp_path), thread]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as program:
        helper, made = program.stdout.readline().split()
        assert made == kind
        assert not is_gone(int(helper))
        program.kill()
    Store(tmp_path).close()  # the helper holds nothing of the program's
    until(lambda: is_gone(int(helper)))


def is_gone(process: int) -> bool:
    try:
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0] == "Z"
    except OSError:
        return True


def slowly(number: int) -> tuple[int, int]:
    time.sleep(0.05)
    return number, os.getpid()


def test_one_steps_aside_while_a_maker_waits_and_leaves_when_its_page_has_gone():
    me = turns.Asked(after=True)
    token = turns.ASKED.set(me)
    try:
        at_work, done = threading.Event(), threading.Event()

        def first() -> None:
            with turns.at_work():
                at_work.set()
                time.sleep(0.2)
                done.set()

        other = threading.Thread(target=first)
        other.start()
        assert at_work.wait(60)
        turns.step_aside()
        assert done.is_set()
        other.join()
        me.gone.set()
        with pytest.raises(turns.Gone):
            asked_for(9)
    finally:
        turns.ASKED.reset(token)
    assert made == []
    assert asked_for(9)[0] == 9


def test_a_page_that_goes_on_is_told_to_the_work_for_it():
    seen: list[tuple[bool, bool]] = []

    async def work(scope, receive, send) -> None:
        asked = turns.asked()
        before = asked.gone.is_set()
        await asyncio.to_thread(asked.gone.wait, 5)
        seen.append((before, turns.asked().gone.is_set()))
        turns.step_aside()

    async def ask() -> list[dict]:
        sent: list[dict] = []
        messages = iter([{"type": "http.request", "body": b""}, {"type": "http.disconnect"}])

        async def receive():
            await asyncio.sleep(0.05)
            return next(messages)

        async def send(message):
            sent.append(message)

        scope = {"type": "http", "method": "GET", "headers": [(b"x-turn", b"after")]}
        await Turns(work)(scope, receive, send)
        return sent

    sent = asyncio.run(ask())
    assert seen == [(False, True)]
    assert sent[0]["status"] == 499
