"""Build files, databases, backups and bundles as the program of each earlier step wrote them: they open, and every
pattern is the one that was cut then.

``earlier/stepN`` was written by the code of step N, from its demo with one piece of each of its templates more; the
figures in ``earlier/stepN.npz`` are what the program of step 9 made of them."""

import zipfile
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from tests.depth import DEEP, some
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import TEMPLATES
from vellumcut.formats.keeping.build_json import read_build
from vellumcut.service.keeping import backups, builds, bundles
from vellumcut.service.pattern.patterns import cutting_pattern, pattern_of, work_from_file
from vellumcut.store.database import DATABASE, Store

EARLIER = Path(__file__).parent / "earlier"
STEPS = sorted(f.name for f in EARLIER.iterdir() if f.is_dir())
WITH_FIGURES = [f.stem for f in sorted(EARLIER.glob("*.npz"))]
SAME = 1e-6
"""mm."""
A_ROUND_SOONER = {"Lantern belt": 0.005}
"""The trunk is read by a quicker spline since step 10, the same to 1e-11: one solve of all ends a round sooner by that,
mm."""


def titles(store: Store) -> list[str]:
    return [p.name for p in builds.list_pieces(store, builds.list_builds(store)[0][0].id)]


def written(step: str) -> list[str]:
    return [p.title for p in read_build((EARLIER / step / "build.json").read_bytes()).pieces]


@pytest.mark.parametrize("step", STEPS)
def test_a_database_of_an_earlier_step_opens_with_all_its_pieces(step, tmp_path):
    zipfile.ZipFile(EARLIER / step / "database.zip").extractall(tmp_path / "data")
    assert (tmp_path / "data" / DATABASE).is_file()
    store = Store(tmp_path / "data")
    try:
        # Until step 3 two pieces could have one name; a file tells them apart by a number.
        assert all(told.startswith(name) for name, told in zip(titles(store), written(step), strict=True))
        for piece in builds.list_pieces(store, 1):
            work = builds.work_on(store, piece.id)
            assert work.design.template in TEMPLATES
            assert work.readings.limbs
    finally:
        store.close()


@pytest.mark.parametrize("step", STEPS)
def test_a_bundle_and_a_backup_of_an_earlier_step_come_in(step, store):
    bundle, backup = (EARLIER / step / name for name in ("build.vellumcut.zip", "backup.zip"))
    if not bundle.exists():
        assert step == "step1", "bundles are as old as step 2"
        return
    build, told = bundles.bring_in(store, bundle.read_bytes())
    assert [p.name for p in builds.list_pieces(store, build.id)] == written(step)
    assert not any("another state" in words for words in told)
    if backup.exists():
        backups.restore(store, backup)
        assert titles(store) == written(step)


@pytest.mark.parametrize("step", some(WITH_FIGURES))
def test_every_pattern_of_an_earlier_step_is_cut_as_it_was(step):
    known = np.load(EARLIER / f"{step}.npz")
    build = read_build((EARLIER / step / "build.json").read_bytes())
    pieces = build.pieces if DEEP else build.pieces[:3]
    for piece in pieces:
        work = work_from_file(build, piece.title, EARLIER / step)
        for word, make in (("shown", pattern_of), ("cut", cutting_pattern)):
            if (refused := f"{piece.title}|{word}|refused") in known.files:
                with pytest.raises(CraftError) as told:
                    make(work)
                assert told.value.message == str(known[refused])
                continue
            made = make(work)
            panels = [k for k in known.files if k.startswith(f"{piece.title}|{word}|")]
            assert len(panels) == len(made.panels)
            for k, panel in enumerate(made.panels):
                flat, was = panel.flat, known[f"{piece.title}|{word}|{k}"]
                rows = [flat.outline, *(e.points() for e in (*flat.edges, *flat.holes))]
                rows += [m.lines.reshape(-1, 2) for m in flat.marks] + [x.points for x in flat.lines]
                now = np.vstack(rows)
                assert now.shape == was.shape, (piece.title, word, k)
                assert np.abs(now - was).max() < A_ROUND_SOONER.get(piece.title, SAME), (piece.title, word, k)


def test_a_sample_that_was_changed_is_seen():
    """The comparison is no formality: a girth that differs by 0.1 mm moves the outline by more than is let pass."""
    build = read_build((EARLIER / "step1" / "build.json").read_bytes())
    work = work_from_file(build, build.pieces[0].title, EARLIER)
    limb = work.readings.limbs[0]
    station = next(iter(limb.stations))
    reading = limb.stations[station]
    other = limb.model_copy(
        update={"stations": {**limb.stations, station: reading.model_copy(update={"girth": reading.girth + 0.1})}}
    )
    readings = work.readings.model_copy(update={"limbs": (other, *work.readings.limbs[1:])})
    moved = pattern_of(replace(work, readings=readings)).panels[0].flat.outline
    was = np.load(EARLIER / "step1.npz")[f"{build.pieces[0].title}|shown|0"][: len(moved)]
    assert len(moved) != len(was) or np.abs(moved - was).max() > SAME
