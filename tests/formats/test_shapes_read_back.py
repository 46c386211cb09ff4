"""Meshes, sheets, tables and bundles: written, then read back by an independent reader and measured."""

import io
import struct
import zipfile

import numpy as np
import pytest
import svgelements
import trimesh

from tests.bodies import TRUNK, WEARER
from tests.depth import long
from vellumcut.core.cast.armour import OUTER
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.errors import CraftError
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.ink.regions import read_ink
from vellumcut.core.ink.templates import armour_surface, ink_sheet
from vellumcut.formats.body.measures_csv import HEAD, measure_rows, read_measures
from vellumcut.formats.body.mesh_files import MESH_FORMATS, MOST_TRIANGLES, read_mesh_file, write_mesh
from vellumcut.formats.body.shapes import shape_mesh
from vellumcut.formats.csv_table import write_csv
from vellumcut.formats.keeping.build_json import BuildFile, BuildPiece, BuildWearer
from vellumcut.formats.keeping.bundle import Bundle, pack_bundle, unpack_bundle
from vellumcut.formats.pattern.sheet_svg import write_sheet
from vellumcut.standins.made_up_body import BodyShape, made_up_body

DESIGN = starter_design("breastplate")
TUBE = build_tube(WEARER, "torso", "left")
SHEET = ink_sheet(TUBE, DESIGN)
SURFACE = armour_surface(TUBE, DESIGN)


@pytest.mark.parametrize("kind", MESH_FORMATS)
def test_the_body_comes_back_from_every_format(kind, tmp_path):
    vertices, faces = shape_mesh(SURFACE, [], SHEET, "body")
    path = tmp_path / f"body.{kind}"
    path.write_bytes(write_mesh(vertices, faces, kind))
    back = trimesh.load(path, force="mesh")
    scale = 1000.0 if kind == "glb" else 1.0
    assert back.area * scale**2 == pytest.approx(trimesh.Trimesh(vertices, faces, process=False).area, rel=1e-4)
    up = 1 if kind == "glb" else 2
    assert np.ptp(back.vertices[:, up]) * scale == pytest.approx(np.ptp(vertices[:, 2]), abs=0.05)
    own = read_mesh_file(path)
    assert np.ptp(own.vertices, axis=0) * scale == pytest.approx(np.ptp(back.vertices, axis=0) * scale, abs=0.05)


def test_ink_lies_on_the_armours_outer_face():
    vertices, _ = shape_mesh(SURFACE, [], SHEET, "ink")
    uv = TUBE.closest_uv(vertices[::40])
    away = np.linalg.norm(vertices[::40] - SURFACE.points(uv, OUTER), axis=1)
    assert np.median(away) < 1.6


def test_the_sheet_is_full_size():
    text = write_sheet(TUBE, SHEET, read_ink(TUBE, SHEET), "Breastplate & <friends>")
    svg = svgelements.SVG.parse(io.StringIO(text), ppi=25.4)
    waist = next(
        p
        for p in svg.elements()
        if isinstance(p, svgelements.Path)
        and p.bbox()
        and abs(p.bbox()[2] - p.bbox()[0] - float(TUBE.girth(1.0))) < 0.5
    )
    assert waist.bbox()[2] - waist.bbox()[0] == pytest.approx(760, abs=0.5)
    hem = next(p for p in svg.elements() if getattr(p, "id", None) == "hem")
    assert hem.bbox()[3] > waist.bbox()[3]
    assert {"mirrored-hem", "neckline", "armhole"} <= {getattr(p, "id", None) for p in svg.elements()}


def test_measurements_go_out_as_a_table_and_come_back_the_same():
    table = write_csv(HEAD, measure_rows([WEARER]))
    (back,) = read_measures(table)
    assert back.limbs == WEARER.limbs
    assert back.torso == TRUNK
    inches = "taken on,part,side,measure,read mm\n2026-11-01,torso,both,bust,38 1/8 in\n"
    assert read_measures(inches)[0].torso.girths["bust"].girth == pytest.approx(968.375)
    for text, words in (
        ("a,b\n1,2\n", "no column taken on"),
        (inches.replace("bust", "tail"), 'no measure "tail"'),
        (inches.replace("2026-11-01", "soon"), "is no date"),
        ("taken on,part,measure,read mm\n", "no readings"),
    ):
        with pytest.raises(CraftError, match=words):
            read_measures(text)


def _stl(count: int, path) -> None:
    with path.open("wb") as file:
        file.write(b"\0" * 80 + struct.pack("<I", count))
        file.truncate(84 + 50 * count)


def test_an_stl_of_text_is_the_same_shape_however_it_is_written(tmp_path):
    body = trimesh.creation.cylinder(radius=55, height=210, sections=40)
    binary, text = body.export(file_type="stl"), body.export(file_type="stl_ascii")

    def read(name: str, content: bytes):
        path = tmp_path / f"{name}.stl"
        path.write_bytes(content)
        return read_mesh_file(path, "model")

    true = read("binary", binary)
    habits = {
        "plain": text,
        "loud": text.upper().replace("\n", "\r\n"),
        "indented": text.replace("vertex", "\t vertex  "),
    }
    for name, written in habits.items():
        back = read(name, written.encode())
        assert len(back.faces) == len(true.faces), name
        assert np.ptp(back.vertices, axis=0) == pytest.approx(np.ptp(true.vertices, axis=0), abs=1e-4), name
    half, bad = text[: len(text) // 2], text.replace("vertex", "vertex one", 1)
    for broken in (half, bad):
        with pytest.raises(CraftError, match="not an STL mesh"):
            read("broken", broken.encode())


@long
def test_broken_files_are_refused_in_words_and_quickly(tmp_path):
    def refused(name: str, content: bytes, words: str) -> None:
        path = tmp_path / name
        path.write_bytes(content)
        with pytest.raises(CraftError, match=words):
            read_mesh_file(path)

    refused("a.stl", b"", "is empty")
    refused("a.txt", b"hello", "is no mesh file")
    for kind, words in (("stl", "not an STL"), ("ply", "not a PLY"), ("obj", "no triangles"), ("glb", "not a GLB")):
        refused(f"t.{kind}", b"Dear tailor, the girths are on the other page.\n" * 30, words)
    refused("cut.ply", write_mesh(*made_up_body(BodyShape(), 22.0), "ply")[:9000], "not a PLY mesh, or is broken")
    many = tmp_path / "many.stl"
    _stl(2_000_000, many)
    with pytest.raises(CraftError, match=f"2,000,000 triangles; at most {MOST_TRIANGLES:,}"):
        read_mesh_file(many)
    huge = tmp_path / "huge.obj"
    with huge.open("wb") as file:
        file.truncate(1_000_000_000)
    with pytest.raises(CraftError, match="larger than 250 MB"):
        read_mesh_file(huge)


def test_a_bundle_comes_back_with_its_scans_and_nothing_else():
    vertices, faces = made_up_body(BodyShape(), 24.0)
    scan = write_mesh(vertices, faces, "ply")
    reading = {"segment": "forearm", "side": "left", "scan": "me.ply", "low": (500, 20, 1000), "high": (350, 20, 1180)}
    wearer = WEARER.model_copy(
        update={"scans": (type(WEARER).model_fields["scans"].annotation.__args__[0].model_validate(reading),)}
    )
    build = BuildFile(
        name="Tide bell", wearer=BuildWearer(measurements=wearer), pieces=(BuildPiece(**DESIGN.model_dump()),)
    )
    packed = pack_bundle(Bundle(build, {"me.ply": scan}), {"Breastplate/sheet.svg": b"<svg/>"})
    with zipfile.ZipFile(io.BytesIO(packed)) as zipped:
        assert set(zipped.namelist()) == {"build.json", "scans/me.ply", "Breastplate/sheet.svg"}
    back = unpack_bundle(packed)
    assert back.build == build
    assert dict(back.scans) == {"me.ply": scan}


def test_hostile_bundles_are_refused():
    def zipped(**files: bytes) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
            for name, content in files.items():
                z.writestr(name.replace("_DOT_", "."), content)
        return out.getvalue()

    for content, words in (
        (b"PK not really", "not a bundle"),
        (zipped(readme=b"x"), "holds no build.json"),
        (zipped(**{"build.json": b"{}", "../evil.sh": b"x"}), "leads out of it"),
        (zipped(**{"build.json": b"{}", "bomb": b"\0" * 40_000_000}), "unpacks to far more"),
    ):
        with pytest.raises(CraftError, match=words):
            unpack_bundle(content)
