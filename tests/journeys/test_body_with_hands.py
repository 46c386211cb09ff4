"""A maker comes with a scan of a whole body, hands and all, and leaves with pages; another plans a whole full front."""

import re

import numpy as np
import pypdf
import pytest
import shapely

from tests.depth import deep, long
from tests.formats.test_patterns_read_back import sides, strokes
from tests.journeys.test_darts import asked, panels
from tests.journeys.test_ink import begin, piece
from vellumcut.formats.body.mesh_files import write_mesh
from vellumcut.standins.made_up_body import BodyShape, made_up_body


def bring_in(maker, tmp_path):
    points, faces = made_up_body(BodyShape(1745, 1.03, 30, arm=42, hands=True), 8.0)
    metres = np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1) / 1000
    scan = tmp_path / "whole.obj"
    scan.write_bytes(write_mesh(metres, faces, "obj"))
    begin(maker)
    maker.label("Begin with a scan")
    field = maker.wait(lambda: maker.driver.find_element("css selector", "input[name='scan-file']"))
    field.send_keys(str(scan))
    maker.sees("Lower leg, left", 60)


def fit_and_use(maker, segment: str) -> dict[str, int]:
    """The tube of a segment taken for patterns; its tape girths as the margin shows them, mm."""
    maker.press(segment)
    maker.sees(f"{segment}, left", 40)
    maker.sees("The tube follows the scan", 60)
    rows = maker.wait(lambda: maker.driver.find_elements("css selector", ".girths tbody tr"))
    girths = {r.text.split()[0]: int(re.findall(r"(\d+) mm", r.text)[-2]) for r in rows}
    maker.press("Use it for patterns")
    maker.wait(lambda: any(s["segment"] == segment for s in newest(maker)["scans"]), 40)
    return girths


def newest(maker) -> dict:
    sets = maker.server.get("/api/wearers/1/measurement-sets")
    return sets[0]["readings"] if sets else {"scans": []}


@long
def test_a_body_with_hands_becomes_a_bracer_and_a_ridged_greave(maker, tmp_path):
    bring_in(maker, tmp_path)
    girths = fit_and_use(maker, "forearm")
    # The wrist is no finger, and no hand.
    assert 130 < girths["wrist"] < 200 < girths["belly"]
    fit_and_use(maker, "lower leg")
    maker.press("Ink a ridged greave on it")
    maker.sees("Ink on the cast", 40)
    maker.label("Lay it flat")
    maker.wait(lambda: panels(maker) >= 1, 60)
    assert asked(maker) < 2.5
    ridge = next(
        s
        for s in maker.server.get("/api/pieces/1/pattern.json")["panels"][0]["seams"]
        if s["name"].startswith("shin ridge")
    )
    assert ridge["on_body"] == pytest.approx(ridge["side_a"], rel=0.01)
    maker.press("+ Piece")
    maker.press("+ Bracer")
    maker.wait(lambda: piece(maker)["design"]["template"] == "bracer")
    maker.wait(lambda: maker.path("path.cut"))
    maker.sees("Lies flat", 40)
    assert asked(maker) < 2.5
    maker.label("On to the foam")
    maker.label("On to cutting")
    maker.sees("Print at actual size")
    pages_measure_true(maker)
    assert maker.browser.console_errors() == []


def pages_measure_true(maker):
    """The square that a maker measures on paper is a decimetre, and the knife's line is as long as it is told to be."""
    maker.label("PDF")
    file = maker.downloaded("*.pdf")
    pages = pypdf.PdfReader(file).pages
    _, rectangles = strokes(pages[0])
    assert any(sides(r) == pytest.approx([100.0] * 4, abs=0.02) for r in rectangles)
    told = maker.server.get("/api/pieces/2/pattern.json")["panels"][0]
    outline = np.array(told["outline"])
    around = np.linalg.norm(np.diff(np.vstack([outline, outline[:1]]), axis=0), axis=1).sum()
    edges = sum(e["length"] for e in told["edges"])
    assert around == pytest.approx(edges, rel=0.003)
    drawn = [np.linalg.norm(np.diff(p, axis=0), axis=1).sum() for page in pages for _, p in strokes(page)[0]]
    assert sum(drawn) > around
    assert shapely.Polygon(outline).is_valid


@deep
def test_a_whole_front_over_a_full_bust_is_planned(maker):
    begin(maker)
    maker.press("Start measuring today")
    maker.press("Torso")
    for name, girth in (("bust", "1000"), ("underbust", "850"), ("waist", "760"), ("hip", "980"), ("neck", "370")):
        maker.write(f"torso-{name}", girth)
    maker.sees("Which piece comes first?")
    # What comes next is seen without scrolling.
    assert maker.find(".next h3").rect["y"] < 700
    maker.press("+ Breastplate")
    maker.sees("Ink on the cast", 40)
    # A plain front uses neither a cup's radius nor a ridge's height.
    assert "cup radius" not in maker.text()
    assert "ridge height" not in maker.text()
    maker.label("Lay it flat")
    maker.wait(lambda: panels(maker) == 1, 60)
    before = asked(maker)
    maker.press("Plan its darts")
    maker.sees("Cut it so", 90)
    promised = float(re.findall(r"→ ([\d.]+) %", maker.text())[0])
    assert promised <= 5.0 < before
    maker.press("Cut it so")
    maker.wait(lambda: maker.driver.find_elements("css selector", ".panel .dart"), 60)
    maker.wait(lambda: abs(asked(maker) - promised) < 0.55, 60)
    cut = maker.server.get("/api/pieces/1/pattern.json")["panels"][0]
    assert abs(cut["strain"]["p95"] - promised) < 0.3
    assert maker.browser.console_errors() == []
