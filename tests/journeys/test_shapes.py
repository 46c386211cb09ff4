"""Parts that no cast gives, by real clicks: a horn on a pauldron, a pouch, a model's forearm, a plate over padding."""

import json
import re

import ezdxf
import httpx
import numpy as np
import pytest
import shapely
import trimesh
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from tests.depth import long
from tests.journeys.maker import Maker


def add(maker: Maker, css: str) -> int:
    """Press what is offered where pieces are added; the new piece's number."""
    maker.press("+ Piece")
    maker.find(css).click()
    maker.wait(
        lambda: "piece=" in maker.driver.current_url and maker.driver.find_elements(By.CSS_SELECTOR, ".measures")
    )
    maker.sees("Shape")
    return int(re.search(r"piece=(\d+)", maker.driver.current_url)[1])


def design(maker: Maker, piece: int) -> dict:
    return next(p for b in maker.server.get("/api/builds") for p in b["pieces"] if p["id"] == piece)["design"]


def file_of(maker: Maker, piece: int, ending: str) -> httpx.Response:
    return httpx.get(f"{maker.server.address}/api/pieces/{piece}/pattern.{ending}", timeout=120).raise_for_status()


def outlines(dxf: bytes, tmp_path) -> list[shapely.Polygon]:
    (tmp_path / "file.dxf").write_bytes(dxf)
    rings = []
    for e in ezdxf.readfile(tmp_path / "file.dxf").modelspace().query('SPLINE[layer=="cut"]'):
        rings.append(shapely.LineString([tuple(p)[:2] for p in e.flattening(0.01)]))
    rings = [shapely.set_precision(r, 1e-3) for r in rings]
    return list(shapely.get_parts(shapely.polygonize(rings)))


def test_a_horn_stands_on_a_pauldron_and_follows_its_own_measures(demo):
    maker = demo
    maker.open("/build/1/flatten?piece=7")
    horn = add(maker, "[data-solid='horn']")
    maker.write("base", "2 in")
    maker.write("segments", "4")
    maker.wait(lambda: design(maker, horn)["solid"]["segments"] == 4)
    assert design(maker, horn)["solid"]["base"] == pytest.approx(50.8)
    maker.sees("4 panels", 60)
    maker.open("/build/1/flatten?piece=7")
    maker.press("Lay on")
    maker.sees("A shape that stands on it", 60)
    ActionChains(maker.driver).move_to_element(maker.find("path.paper")).click().perform()
    maker.find("[data-stand='Horn or tooth']").click()
    maker.sees("its foot", 60)
    maker.press("Put it on")
    rows = lambda: {r["name"]: r for r in maker.server.get("/api/pieces/7/laid")["rows"]}  # noqa: E731
    maker.wait(lambda: "Horn or tooth" in rows(), 60)
    assert "62.7 mm across" in rows()["Horn or tooth"]["words"]
    steps = [s["title"] for s in maker.server.get("/api/pieces/7/steps")["steps"]]
    assert steps.index("Fit the foot of 2 x Horn or tooth") < steps.index("Glue 2 x Horn or tooth on")
    maker.open(f"/build/1/flatten?piece={horn}")
    maker.write("base", "70")
    maker.wait(lambda: "81.9 mm across" in rows()["Horn or tooth"]["words"], 60)
    assert "Horn or tooth" in file_of(maker, 7, "svg").text
    worn = maker.server.get("/api/builds/1/figure")["meshes"]
    assert sorted(m["side"] for m in worn if m["piece"] == horn) == ["left", "right"], "one on each shoulder"
    assert maker.browser.console_errors() == []


def test_a_pouch_for_a_phone_from_its_measures_to_the_cut_file(demo, tmp_path):
    maker = demo
    maker.open("/build/1/flatten?piece=1")
    pouch = add(maker, "[data-solid='pouch']")
    for name, words in (("wide", "78"), ("high", "160"), ("deep", "9"), ("belt", "50")):
        maker.write(name, words)
    maker.write("foam", "5")
    maker.wait(lambda: design(maker, pouch)["foam"] == 5 and design(maker, pouch)["solid"]["belt"] == 50)
    maker.sees("Two loops for a belt of 50 mm", 60)
    cut = sorted(outlines(file_of(maker, pouch, "dxf").content, tmp_path), key=lambda p: p.area)
    # The front as it is traced: the room, and a wall of 5 mm on both sides and below.
    sizes = [sorted(np.ptp(np.array(p.exterior.coords), axis=0)) for p in cut]
    assert any(abs(a - (78 + 6 + 10)) < 0.3 and abs(b - (160 + 3 + 5)) < 0.3 for a, b in sizes), sizes
    maker.label("Bench")
    maker.sees("Number the parts", 60)
    maker.label("Cut list")
    maker.sees("belt loop", 120)
    assert maker.browser.console_errors() == []


@long
def test_a_models_forearm_is_unfolded_at_the_wearers_size(demo, tmp_path):
    """A stranger's figure: its forearm alone, as far round as the wearer asks."""
    maker = demo
    arm = trimesh.creation.cone(radius=52, height=900, sections=64)
    arm.apply_scale(0.01)  # in no unit that anyone knows
    arm.export(tmp_path / "figure.stl")
    maker.open("/build/1/flatten?piece=1")
    maker.press("+ Piece")
    maker.driver.find_element(By.CSS_SELECTOR, "input[name=model]").send_keys(str(tmp_path / "figure.stl"))
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "input[name=girth_at]"), 90)
    piece = int(re.search(r"piece=(\d+)", maker.driver.current_url)[1])
    for name, words in (("low", "0.2"), ("high", "0.5"), ("tall", "240"), ("girth", "260"), ("girth_at", "0.5")):
        maker.write(name, words)
    maker.write("panels", "1")
    maker.wait(lambda: design(maker, piece)["solid"]["girth"] == 260, 60)
    maker.sees("1 panel", 90)
    made = json.loads(file_of(maker, piece, "json").text)
    (shape,) = made["panels"]
    ring = shapely.Polygon(shape["outline"])
    # A cone from 0.8 to 0.5 of its foot: 260 round half way, the foam's middle 3 mm off.
    middle = 260 + 2 * np.pi * 3
    assert ring.area == pytest.approx(middle * np.hypot(240, 260 / 2 / np.pi * 0.3 / 0.65), rel=0.02)
    maker.find("[data-girth]").click()
    told = maker.server.get(f"/api/pieces/{piece}/girths?template=bracer")[0]
    assert told["foam"] == pytest.approx(told["body"] + 2 * np.pi * (1.5 + 3))
    maker.wait(lambda: abs(design(maker, piece)["solid"]["girth"] - told["foam"]) < 0.06, 60)
    maker.press("Compare numbers of panels")
    maker.wait(lambda: maker.driver.find_elements(By.CSS_SELECTOR, "[data-panels]"), 120)
    assert maker.browser.console_errors() == []


@long
def test_a_plate_over_a_padded_suit_grows_with_the_padding(demo):
    maker = demo
    before = maker.server.get("/api/pieces/1/pattern")["panels"][0]
    maker.open("/build/1/flatten?piece=1")
    maker.press("What lies beneath", "summary")
    stations = [e.get_attribute("name") for e in maker.driver.find_elements(By.CSS_SELECTOR, "input[name^='padding-']")]
    for name in stations:
        maker.write(name, "10")
    maker.wait(lambda: set(design(maker, 1)["padding"].values()) == {10}, 60)
    maker.wait(lambda: maker.server.get("/api/pieces/1/pattern")["panels"][0]["area"] > before["area"], 60)
    after = maker.server.get("/api/pieces/1/pattern")["panels"][0]
    longer = [b["length"] - a["length"] for a, b in zip(before["edges"], after["edges"], strict=True)]
    assert max(longer) == pytest.approx(2 * np.pi * 10, rel=0.12)
    assert maker.browser.console_errors() == []
