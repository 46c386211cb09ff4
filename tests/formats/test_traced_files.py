"""``vellumcut trace``: what it says, what it writes, and what it does not write as if it were good."""

import json

import shapely
from typer.testing import CliRunner

from tests.depth import long
from vellumcut.cli import app
from vellumcut.standins.camera import jpeg
from vellumcut.standins.casts import before_it_was_laid, on_newspaper


@long
def test_what_is_stopped_is_not_written_as_if_good_and_the_floor_helps(tmp_path):
    scene = on_newspaper(2).with_shot(size=(2000, 1500))
    bare, cast, out = tmp_path / "bare.jpg", tmp_path / "cast.jpg", tmp_path / "out"
    bare.write_bytes(jpeg(before_it_was_laid(scene)))
    cast.write_bytes(jpeg(scene))
    alone = CliRunner().invoke(app, ["trace", str(bare), "--out", str(out)])
    assert alone.exit_code == 3
    assert "STOP: I see no piece on this ground." in alone.output
    assert [p.name for p in out.iterdir()] == ["bare.json"]
    both = CliRunner().invoke(app, ["trace", str(cast), "--ground", str(bare), "--out", str(out)])
    assert both.exit_code == 0, both.output
    assert "cast.jpg: 2 pieces among 6 cards" in both.output
    found = json.loads((out / "cast.json").read_text())["pieces"]
    for piece, truth in zip(found, scene.pieces, strict=True):
        area, told = shapely.Polygon(truth.outline).area, piece["error_mm"]["rms"]
        assert abs(piece["area_mm2"] / area - 1) < 0.004
        assert f"off by {told:.2f} mm on the whole" in both.output
    assert {p.suffix for p in out.glob("cast*")} == {".json", ".svg", ".dxf"}
    lost = CliRunner().invoke(app, ["trace", str(cast), "--ground", str(tmp_path / "none.jpg"), "--out", str(out)])
    assert lost.exit_code == 2
    assert "There is no photograph" in lost.stderr
