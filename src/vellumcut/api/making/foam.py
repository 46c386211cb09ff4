"""Foam: how edges, folds and bends are worked, what pieces weigh, the shelf; the heat gun and its coach."""

from vellumcut.api.deps import Csv, Id, StoreDep, routes
from vellumcut.api.making import foam_schemas as f
from vellumcut.core.body.segments import Side
from vellumcut.core.design.foam import EdgeWork
from vellumcut.core.foam.advice import ROLES
from vellumcut.core.foam.edges import WHY_FREE, free_edges, free_words
from vellumcut.core.foam.grooves import WHY, FoldCut
from vellumcut.core.foam.gun import HeatGun, gun_factor, gun_note
from vellumcut.core.foam.heat import FORMING, SCORCH
from vellumcut.core.foam.joints import Joint, joint_note
from vellumcut.core.foam.stacks import slip
from vellumcut.core.pattern.pattern import PiecePattern
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.pattern.pattern_json import bend_data, fold_data, joint_data
from vellumcut.service.keeping import builds, settings
from vellumcut.service.keeping.settings import FoamShelf
from vellumcut.service.making import foam, heat, heating
from vellumcut.service.making.foam import BentPanel, PieceFoam
from vellumcut.service.making.heating import RunState
from vellumcut.service.pattern import patterns

router = routes("foam")


@router.get("/pieces/{piece}/foam")
def piece_foam(store: StoreDep, piece: Id) -> f.FoamOut:
    """How every edge, fold and panel of a piece is worked, and what it weighs."""
    return _foam_view(foam.foam_of(builds.work_on(store, piece)))


@router.get("/builds/{build}/weights")
def weights(store: StoreDep, build: Id) -> f.WeightsOut:
    """What every piece of a build weighs in foam, and the whole costume."""
    rows = foam.weights_of(store, build)
    return f.WeightsOut(pieces=rows, grams=sum(r.grams for r in rows))


@router.get("/builds/{build}/folds")
def folds(store: StoreDep, build: Id) -> list[f.PieceFoldsOut]:
    """Every seam and dart of a build: how far it folds and how its edges are cut."""
    return [
        f.PieceFoldsOut(piece=r.piece, name=r.name, joints=[joint_view(*j) for j in r.joints], trouble=r.trouble)
        for r in foam.folds_of(store, build)
    ]


@router.get("/builds/{build}/folds.csv", response_class=Csv)
def folds_csv(store: StoreDep, build: Id) -> Csv:
    rows = [
        (
            row.name,
            side,
            j.kind,
            j.name,
            j.length,
            j.fold.mean,
            *(x for b in j.bevel for x in (b.off_square, b.taken_off)),
        )
        for row in foam.folds_of(store, build)
        for side, j in row.joints
    ]
    head = (
        "piece",
        "side",
        "kind",
        "joint",
        "length mm",
        "fold degrees",
        "first edge degrees",
        "off its",
        "second edge degrees",
        "off its",
    )
    return Csv(write_csv(head, rows))


@router.get("/foam-shelf")
def read_shelf(store: StoreDep) -> FoamShelf:
    return settings.read_shelf(store)


@router.put("/foam-shelf")
def write_shelf(store: StoreDep, body: FoamShelf) -> FoamShelf:
    """Every sheet the maker has; the whole list at once."""
    return settings.write_shelf(store, body)


def _foam_view(made: PieceFoam) -> f.FoamOut:
    pattern = made.pattern
    return f.FoamOut(
        joints=[joint_view(side, j) for side, joints in pattern.joints.items() for j in joints],
        edges=_edges(pattern),
        folds=[_fold_view(side, c) for side, cuts in pattern.folds.items() for c in cuts],
        bends=[_bend_view(b) for b in made.bends],
        sheets=made.sheets,
        grams=made.grams,
        role=made.role,
        roles=[
            f.RoleOut(key=key, word=r.word, least=r.least, most=r.most, reason=r.reason) for key, r in ROLES.items()
        ],
        advice=made.advice,
        findings=made.crossings,
    )


def joint_view(side: Side, joint: Joint) -> f.JointOut:
    return f.JointOut.model_validate({"side": side, **joint_data(joint), "note": joint_note(joint)})


def _edges(pattern: PiecePattern) -> list[f.FreeEdgeOut]:
    own = {e.name: e for e in pattern.design.foam_work.edges}
    names = dict.fromkeys(name for side in pattern.inked for name in free_edges(pattern.flats(side)))
    out = []
    for name in names:
        work = own.get(name) or EdgeWork(name=name)
        words = free_words(work)
        out.append(
            f.FreeEdgeOut(
                name=name, foam=pattern.design.foam, work=work, own=name in own, words=words, why=WHY_FREE[work.shape]
            )
        )
    return out


def _fold_view(side: Side, cut: FoldCut) -> f.FoldOut:
    more = {"foam": cut.foam, "reach": list(cut.reach), "why": WHY[cut.work.way], "work": cut.work, "note": cut.note}
    return f.FoldOut.model_validate({"side": side, **fold_data(cut), **more, "findings": list(cut.findings)})


def _bend_view(bent: BentPanel) -> f.BendOut:
    bend, kerfs = bent.bend, bent.kerfs
    return f.BendOut(
        side=bent.side,
        **bend_data(bend),
        layers=[
            f.LayerOut(thickness=x.thickness, kind=x.kind, low=x.low, middle=x.middle, high=x.high) for x in bend.layers
        ],
        slip=slip(bend.turn, bend.layers),
        note=bend.note,
        kerfs=None if kerfs is None else f.KerfsOut.model_validate(kerfs),
        instead=bent.instead,
    )


@router.get("/heat-gun")
def read_gun(store: StoreDep) -> HeatGun:
    return settings.read_gun(store)


@router.put("/heat-gun")
def write_gun(store: StoreDep, body: HeatGun) -> HeatGun:
    return settings.write_gun(store, body)


@router.get("/pieces/{piece}/heat")
def piece_heat(store: StoreDep, piece: Id) -> f.HeatOut:
    """How each sheet of a piece is warmed through with the gun as it is held."""
    work = builds.work_on(store, piece)
    pattern, factor = patterns.quick_pattern(work), gun_factor(work.gun, work.shelf)
    return f.HeatOut(
        sheets=[
            f.HeatSheetOut(
                thickness=x.thickness, kind=x.kind, plan=x.plan, words=x.plan.words if x.plan else "",
                seconds=x.plan.seconds if x.plan else 0.0, trouble=x.trouble, better=heat.better_for(work, x),
            )
            for x in heat.heat_of(work, pattern)
        ],
        factor=factor, patches=max(1.0, pattern.area / 100 / work.gun.patch), scorch=SCORCH, forming=FORMING,
        note=gun_note(work.gun, factor),
    )  # fmt: skip


@router.post("/heat-runs", status_code=201)
def start_run(store: StoreDep, body: f.HeatRunIn) -> RunState:
    """Warm a sheet, coached by a probe: the simulated one, or your own, which posts its readings."""
    return heating.start_run(store, body.thickness, body.kind, body.faces, body.probe, body.pace)


@router.get("/heat-runs/{run}")
def run_state(run: Id) -> RunState:
    return heating.run_of(run).state()


@router.post("/heat-runs/{run}/readings")
def read_face(run: Id, body: f.ReadingIn) -> RunState:
    """What a probe reads on the face that is under the gun, degrees C."""
    return heating.read_face(run, body.degrees)


@router.post("/heat-runs/{run}/turned")
def turned(run: Id) -> RunState:
    return heating.tell(run, "turned")


@router.post("/heat-runs/{run}/shaped")
def shaped(run: Id) -> RunState:
    return heating.tell(run, "shaped")


@router.post("/heat-runs/{run}/stop")
def stop_run(run: Id) -> RunState:
    return heating.tell(run, "stop")
