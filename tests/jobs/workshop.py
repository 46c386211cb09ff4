"""A made-up costume built through the program as it ships: its files written by the commands, and read back."""

import csv
import io
import json
import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Any

from pypdf import PdfReader
from typer.testing import CliRunner

from vellumcut.cli import app

GIRTHS = {
    "forearm": ((("wrist", 0, 166), ("belly", 140, 254), ("elbow", 236, 262)), 228),
    "upper arm": ((("above elbow", 0, 266), ("biceps", 112, 310), ("armpit", 190, 338)), None),
    "lower leg": ((("ankle", 0, 226), ("calf", 200, 370), ("knee", 322, 356)), 330),
    "thigh": ((("above knee", 0, 408), ("mid thigh", 130, 494), ("top", 264, 574)), None),
}
"""Of a grown wearer: station, mm along the limb, mm round it; and round what a tube has to pass."""
TRUNK = {"neck": 378, "bust": 952, "underbust": 836, "waist": 784, "hip": 986}


def wearer(seed: int, name: str) -> dict[str, Any]:
    """Somebody a little larger or smaller in every girth and length, and not alike in all."""
    luck = random.Random(seed)
    long, round_ = luck.uniform(0.93, 1.07), luck.uniform(0.92, 1.1)

    def tape(mm: float) -> float:
        return round(mm * round_ * luck.uniform(0.985, 1.015))

    limbs = []
    for segment, (rows, gate) in GIRTHS.items():
        stations = {n: {"at": round(at * long), "girth": tape(girth)} for n, at, girth in rows}
        limbs.append({"segment": segment, "side": "both", "stations": stations, "gate": gate and tape(gate)})
    girths = {n: {"girth": tape(girth)} for n, girth in TRUNK.items()}
    trunk = {"girths": girths, "lengths": {}, "posture": "usual"}
    return {"name": name, "measurements": {"taken_on": "2026-10-04", "limbs": limbs, "torso": trunk}}


def piece(template: str, name: str = "", **design: Any) -> dict[str, Any]:
    return {"template": template, **({"name": name} if name else {}), **design}


def detail(key: str, kind: str, name: str, **more: Any) -> dict[str, Any]:
    return {"key": key, "kind": kind, "name": name, **more}


def star(points: int, size: float) -> list[dict[str, Any]]:
    """A star with a hole in it as closed lines, so many mm across."""
    turn = [math.pi * k / points for k in range(2 * points)]
    spikes = [(size / 2 * (1 if k % 2 == 0 else 0.5), a) for k, a in enumerate(turn)]
    ring = [[round(size / 2 + r * math.cos(a), 3), round(size / 2 + r * math.sin(a), 3)] for r, a in spikes]
    hole = [[round(size / 2 + x * size / 12, 3), round(size / 2 + y * size / 12, 3)] for x, y in
        ((-1, -1), (1, -1), (1, 1), (-1, 1))]  # fmt: skip
    return [{"points": ring}, {"points": hole}]


def stack(name: str, *layers: str | dict[str, Any], zones: tuple[str, ...] = (), **more: Any) -> dict[str, Any]:
    """A finish: its layers from the foam out, each a kind or all that is decided about it."""
    rows = [{"kind": x} if isinstance(x, str) else x for x in layers]
    return {"stack": {"name": name, "layers": rows, **more}, "zones": list(zones)}


@dataclass
class TakenOut:
    """Everything that left the program for one costume. steps: by piece, in the order of work. said: by ``check``."""

    folder: Path
    trouble: list[str] = field(default_factory=list)
    said: str = ""

    @cached_property
    def order(self) -> dict[str, Any]:
        path = self.folder / "order.json"
        return json.loads(path.read_text()) if path.exists() else {"pieces": [], "costume": [], "between": []}

    @cached_property
    def rig(self) -> dict[str, Any]:
        path = self.folder / "rig.json"
        return json.loads(path.read_text()) if path.exists() else {"pieces": [], "dressing": []}

    @cached_property
    def patterns(self) -> dict[str, dict[str, Any]]:
        rows = [p for p in sorted(self.folder.glob("*.json")) if p.name not in ("order.json", "rig.json", "BUILD.json")]
        return {p.stem: json.loads(p.read_text()) for p in rows}

    @cached_property
    def steps(self) -> dict[str, list[dict[str, Any]]]:
        return {p["name"]: p["steps"] for p in self.order["pieces"]}

    def steps_of(self, piece: str = "") -> list[dict[str, Any]]:
        """Of one piece, or of all."""
        return [s for name, rows in self.steps.items() if not piece or name == piece for s in rows]

    @cached_property
    def papers(self) -> str:
        """All words on all pages that were written."""
        texts = []
        for path in sorted(self.folder.glob("*.pdf")):
            texts += [page.extract_text() for page in PdfReader(io.BytesIO(path.read_bytes())).pages]
        return " ".join(" ".join(texts).split())

    @cached_property
    def tables(self) -> list[dict[str, str]]:
        rows: list[dict[str, str]] = []
        for path in sorted(self.folder.glob("*.csv")):
            rows += list(csv.DictReader(io.StringIO(path.read_text())))
        return rows

    @cached_property
    def files(self) -> list[str]:
        return sorted(p.name for p in self.folder.iterdir())

    @cached_property
    def words(self) -> str:
        """All that is said anywhere."""
        data = json.dumps([self.order, self.rig], ensure_ascii=False)
        table = " ".join(v for row in self.tables for v in row.values() if isinstance(v, str))
        return " ".join([data, table, self.papers, self.said, *self.trouble])


@dataclass(frozen=True)
class Kind:
    """One kind of work within a job. wants: each tells what is missing, or nothing."""

    words: str
    wants: tuple[Callable[[TakenOut], str], ...]


@dataclass(frozen=True)
class Job:
    """number: as in the list of jobs. before: makes more files in the folder before the commands run."""

    number: str
    title: str
    wearer: dict[str, Any]
    pieces: tuple[dict[str, Any], ...]
    kinds: tuple[Kind, ...]
    schools: dict[str, str] = field(default_factory=dict)
    before: Callable[[Path], None] | None = None


def kind(words: str, *wants: Callable[[TakenOut], str]) -> Kind:
    return Kind(words, wants)


def take_out(job: Job, folder: Path) -> TakenOut:
    """Write the build, run every command on it, and keep what they say."""
    folder.mkdir(parents=True, exist_ok=True)
    build = {
        "format": "vellumcut-build",
        "version": 1,
        "name": job.title,
        "wearer": job.wearer,
        "pieces": list(job.pieces),
        "schools": job.schools,
    }
    file = folder / "BUILD.json"
    file.write_text(json.dumps(build))
    if job.before:
        job.before(folder)
    out = TakenOut(folder)
    runner = CliRunner()
    for words in (["pattern", "--format", "svg,dxf,pdf,json"], ["steps"], ["rig", "--no-movement"]):
        done = runner.invoke(app, [words[0], str(file), "--out", str(folder), *words[1:]])
        if done.exit_code:
            out.trouble.append(f"{words[0]}: {' '.join(done.output.split())[-300:]}")
    out.said = runner.invoke(app, ["check", str(file)]).output
    return out
