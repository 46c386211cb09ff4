"""The steps of pieces drawn by lot as they were looked at: minutes, waits, figures, materials, sentences and weight.

``python -m tests.core.making.test_kept_steps`` writes them anew after a change that is meant to move them; the
difference shows in the repository what it moved. What is right about them is tested in ``test_steps`` and beside it.
"""

import random
import re
from dataclasses import replace

import pytest

from tests.core.pieces_to_make import job_for
from tests.kept import comes_out_the_same, told, write
from vellumcut.core.design.finish import ZoneFinish
from vellumcut.core.design.foam import EdgeWork, FoamWork, FoldWork, Layer
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.finish.recipes import RECIPES
from vellumcut.core.foam.edges import free_edges
from vellumcut.core.foam.grooves import fold_lines
from vellumcut.core.foam.gun import HeatGun, air_of, slab_of
from vellumcut.core.foam.heat import plan_heat
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.make.hours import hours_of
from vellumcut.core.make.job import Job
from vellumcut.core.make.order import build_steps
from vellumcut.core.make.owned import KIT, PROTECTION, Owned
from vellumcut.core.make.plan import PlannedPiece, plan_piece
from vellumcut.core.make.schools import SCHOOLS
from vellumcut.core.make.steps.details import DETAIL_STEPS
from vellumcut.core.make.weight import weigh

TEMPLATES = ("bracer", "breastplate", "segmented bracer", "ridged greave", "gorget", "belt", "pauldron", "faulds")
LOTS = 6
NUMBERS = re.compile(r"\d+(?:\.\d+)?")


def shaped(template: str, luck: random.Random) -> Job:
    """A piece of its own foam, folds and edges, with how it is warmed."""
    foam = luck.choice((4.0, 6.0, 10.0))
    own = {"foam": foam, "layers": (Layer(thickness=3), Layer(thickness=2)) if template in ("belt", "faulds") else ()}
    plain = job_for(PieceDesign.model_validate(starter_design(template).model_dump() | own))
    (side, piece), *_ = plain.pattern.inked.items()
    ways = ("groove", "crease", "opened score", "late score", "drum")
    folds = tuple(FoldWork(key=k, way=luck.choice(ways)) for k in {line.key: 1 for _, line, _ in fold_lines(piece)})
    shapes = ("square", "rounded", "angled", "thinned")
    names = dict.fromkeys(free_edges(plain.pattern.flats(side)))
    edges = tuple(EdgeWork(name=n, shape=luck.choice(shapes), angle=luck.choice((30.0, 55.0))) for n in names)
    design = plain.pattern.design.model_copy(update={"foam_work": FoamWork(folds=folds, edges=edges)})
    warmed = plan_heat(slab_of("armour", foam), air_of(HeatGun(), "high", 80.0), 2)
    return replace(job_for(design), heat=warmed, patch=luck.choice((60.0, 120.0)))


def made_otherwise(job: Job, luck: random.Random) -> Job:
    """The same pattern made by other schools, with other things on it, in another workshop."""
    kinds = luck.sample(sorted(set(DETAIL_STEPS) - {"joined part"}), 6)  # that one is of two pieces
    panels = [p.flat.number for p in job.pattern.panels]
    details = tuple(
        Detail(key=f"d{n}", kind=k, name=f"{k} {n}", count=luck.choice((1, 7)), length=luck.choice((0.0, 420.0)),
            size=luck.choice((0.0, 9.0, 31.0)), weight=luck.choice((0.0, 45.0)), apart=luck.random() < 0.5,
            panels=(luck.choice(panels),))
        for n, k in enumerate(kinds)
    )  # fmt: skip
    finish = tuple(ZoneFinish(stack=luck.choice(RECIPES).giving) for _ in range(1))
    schools = {k: luck.choice(sorted(s.options)) for k, s in SCHOOLS.items()}
    making = Making(schools=schools, details=details, finishes=finish if luck.random() < 0.7 else ())
    design = job.pattern.design.model_copy(update={"making": making})
    inked = {side: replace(piece, design=design) for side, piece in job.pattern.inked.items()}
    pattern = replace(job.pattern, design=design, inked=inked)
    owned = Owned(
        protection=tuple(p for p in PROTECTION if luck.random() < 0.8), kit=tuple(k for k in KIT if luck.random() < 0.8)
    )
    return Job(pattern, job.rigs, job.heat if luck.random() < 0.8 else None, job.patch, owned=owned)


def step_told(step) -> list:
    said = " ".join((step.title, step.how, step.timer, step.formula))
    return [
        told([step.minutes, step.wait, step.setup, step.coats, step.between, step.slower]),
        [[v.word, told(v.amount)] for v in (*step.values, *step.measures)],
        [[m.name, told(m.amount), m.unit] for m in step.materials],
        [step.work, step.place, *step.tools, *step.protection],
        NUMBERS.findall(said),
    ]


def pieces(template: str) -> dict:
    """Each lot, and of its steps those that no lot before it had alike."""
    luck, out, before, said = random.Random(f"steps {template}"), {}, {}, set()
    base = shaped(template, luck)
    for k in range(LOTS):
        job = made_otherwise(base, luck)
        steps = {s.key: s for s in build_steps(job)}
        plan = plan_piece(job.facts)
        made = PlannedPiece(1, template, job.facts, plan, steps)
        rows = {key: step_told(s) for key, s in steps.items()}
        out[f"lot {k + 1}"] = {
            "order": list(plan.keys),
            "hours": told(hours_of(steps.values())),
            "longest": told(made.longest[0]),
            "depth": list(made.depth.values()),
            "weight": told(weigh(job)),
            "steps": {key: row for key, row in rows.items() if before.get(key) != row},
        }
        before |= rows
        said |= {NUMBERS.sub("#", text) for s in steps.values() for text in (s.title, s.how, s.reason, *s.cautions)}
    return out | {"said": sorted(said)}


FIGURES = {f"steps {name}": (lambda n=name: pieces(n)) for name in TEMPLATES}


@pytest.mark.parametrize("name", FIGURES)
def test_kept_steps_come_out_the_same(name):
    comes_out_the_same(name, FIGURES)


if __name__ == "__main__":
    write(FIGURES)
