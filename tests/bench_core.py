"""Rows of the benchmark that ask the core alone."""

import time

import igl
import numpy as np

from tests.bench_rows import median_ms
from tests.bodies import SHELLS, WEARER
from tests.floors.taken import Wanted, take
from vellumcut.core.cast.scanned.landmarks import propose_ends
from vellumcut.core.cast.scanned.mesh import BodyMesh
from vellumcut.core.cast.scanned.scan import fit_limb, limb_placement
from vellumcut.core.cast.scanned.scan_trunk import fit_trunk
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.flatten.mesh import CUT_SIZE, EDIT_SIZE, mesh_panel
from vellumcut.core.flatten.solve import flatten_mesh
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.templates import armour_surface, ink_limb_piece
from vellumcut.core.pattern.pattern import pattern_piece
from vellumcut.core.trace.trace import trace_picture
from vellumcut.formats.pattern.pdf import write_pdf
from vellumcut.standins.made_up_body import BodyShape, made_up_body


def scan_times() -> tuple[int, dict[str, float]]:
    """Triangles of a made-up body and ms from its mesh to each segment's tube, proposing the ends included."""
    points, faces = made_up_body(BodyShape(), 12.6)
    mesh = BodyMesh(points, faces)

    def fit(segment: str) -> None:
        ends = propose_ends(mesh, segment, "left")
        low, high, ahead = (np.array(p) for p in (ends.low, ends.high, ends.front))
        if segment == "torso":
            fit_trunk(mesh, low, high, ahead)
        else:
            span = float(np.linalg.norm(high - low))
            fit_limb(mesh, limb_placement(low, high, ahead, False), span, ("a", "b", "c"))

    return len(faces), {s: median_ms(lambda s=s: fit(s), 3) for s in ("torso", "forearm", "lower leg", "thigh")}


def solver_share() -> tuple[int, float, float]:
    """Faces, ms of the bare solver call with as many iterations as are used, ms of the whole flattening of that
    mesh."""
    design = starter_design("bracer")
    surface = armour_surface(build_tube(WEARER, "forearm", "left"), design)
    mesh = mesh_panel(surface, ink_limb_piece(surface, design), 8.6)
    faces = np.asfortranarray(mesh.rest.faces)
    empty, none = np.zeros(0, dtype=np.int32), np.zeros((0, 2), order="F")

    def bare() -> None:
        start = (np.asfortranarray(mesh.xyz), faces, np.asfortranarray(mesh.chart))
        data = igl.slim_precompute(*start, igl.MappingEnergyType.SYMMETRIC_DIRICHLET, empty, none, 0.0)
        igl.slim_solve(data, 20)

    whole = median_ms(lambda: flatten_mesh(mesh.xyz, mesh.rest, mesh.chart), 9)
    return len(mesh.rest.faces), median_ms(bare, 9), whole


def trace_rows() -> list[tuple[str, str, str]]:
    """A photograph as a telephone takes it, alone and with the one of its floor, as the worker reads them."""
    scene = take(Wanted(1012, width=4000))
    rows = []
    for what, bare, wanted in (("alone", None, "6 s"), ("with the one of its floor", scene.ground, "15 s")):
        begin = time.perf_counter()
        pieces = len(trace_picture(scene.picture, bare=bare).pieces)
        took = time.perf_counter() - begin
        rows.append((f"Photograph of 12 megapixels traced {what}, {pieces} pieces", f"{took:.1f} s", wanted))
    return rows


def core_rows() -> list[tuple[str, str, str]]:
    triangles, fits = scan_times()
    rows = [
        (f"Scan of {triangles:,} triangles to the tube of a {segment}, ends proposed", f"{ms:.0f} ms", "3 s")
        for segment, ms in fits.items()
    ]
    faces, bare, whole = solver_share()
    what = f"Flatten {faces} triangles; bare solver call of 20 iterations {bare:.0f} ms"
    rows.append((what, f"{whole:.0f} ms", "within 1.3x (step 3)"))
    for template in (*SHELLS, "breastplate", "pauldron"):
        design = starter_design(template)
        for size, word in ((EDIT_SIZE, "to edit"), (CUT_SIZE, "to cut (5 mm mesh)")):
            ms = median_ms(lambda d=design, s=size: pattern_piece(WEARER, d, "P", "B", s), 3)
            rows.append((f"Measurements to flat {template}, {word}", f"{ms:.0f} ms", ""))
    rows += trace_rows()
    pattern = pattern_piece(WEARER, starter_design("greave"), "P", "B", CUT_SIZE)
    rows.append(("Greave to PDF pages on A4", f"{median_ms(lambda: write_pdf(pattern, 'A4'), 3):.0f} ms", ""))
    return rows
