"""`make jobs`: every job built, taken out and held against what it is; the table is printed into docs/jobs.md."""

import sys
import tempfile
from collections import Counter
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path

from tests.jobs.workshop import Job, take_out

HERE = Path(__file__).parent
DONE, PARTLY, BY_HAND = "done", "partly", "by hand"
TABLE = HERE.parents[1] / "docs" / "jobs.md"


@dataclass(frozen=True)
class Held:
    """One kind of work, as it was found. missing: in words."""

    words: str
    state: str
    missing: tuple[str, ...]


def all_jobs() -> list[Job]:
    rows = sorted(HERE.glob("*/job_*.py"), key=lambda p: p.stem)
    return [import_module(f"tests.jobs.{p.parent.name}.{p.stem}").JOB for p in rows]


def held(job: Job, folder: Path) -> list[Held]:
    """Every kind of work of a job: done where nothing is missing, by hand where everything is."""
    out = take_out(job, folder)
    rows = []
    for kind in job.kinds:
        missing = tuple(x for x in (want(out) for want in kind.wants) if x)
        state = BY_HAND if len(missing) == len(kind.wants) else PARTLY if missing else DONE
        rows.append(Held(kind.words, state, missing))
    return rows


def _table(rows: list[tuple[Job, list[Held]]]) -> str:
    counts = Counter(h.state for _, each in rows for h in each)
    whole = sum(counts.values())
    out = [
        "# Jobs",
        "",
        "Made by `make jobs`: twenty costumes for made-up wearers, each built from nothing by the commands of the",
        "program, its files read back and held against the work that it asks for. Nothing here is typed.",
        "",
        f"Of {whole} kinds of work, {counts[DONE]} are done, {counts[PARTLY]} partly, {counts[BY_HAND]} by hand.",
        "",
        "| job | done | partly | by hand |",
        "|---|---|---|---|",
    ]
    for job, each in rows:
        n = Counter(h.state for h in each)
        out.append(f"| {job.number} {job.title} | {n[DONE]} | {n[PARTLY]} | {n[BY_HAND]} |")
    for job, each in rows:
        out += ["", f"## {job.number} {job.title}", "", "| kind of work | | what is missing |", "|---|---|---|"]
        out += [f"| {h.words} | {h.state} | {'; '.join(h.missing).replace('|', ' or ')} |" for h in each]
    return "\n".join(out) + "\n"


def main() -> None:
    wanted = set(sys.argv[1:])
    rows = []
    for job in all_jobs():
        if wanted and job.number not in wanted:
            continue
        with tempfile.TemporaryDirectory() as folder:
            each = held(job, Path(folder))
        rows.append((job, each))
        for h in each:
            if h.state != DONE:
                print(f"{job.number} {h.state}: {h.words}: {'; '.join(h.missing)}")
    text = _table(rows)
    print(text.split("\n")[6])
    if not wanted:
        TABLE.write_text(text)


if __name__ == "__main__":
    main()
