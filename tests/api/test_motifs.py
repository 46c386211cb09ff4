"""A drawing of the maker's own as a stencil: read from files of another hand, and measured in the file that leaves."""

import io

import ezdxf
import numpy as np
import pytest
from shapely.geometry import LinearRing

from tests.api.conftest import steps_of
from tests.api.test_bench import redesign

BINARY = {"content-type": "application/octet-stream"}


def eye(outer: float, inner: float, unit: str = "mm", scale: float = 1.0) -> bytes:
    """A ring with a pupil in a turned and moved group, a hair that is open, and a dot no knife cuts."""
    size = 2 * outer + 20
    return f"""<svg xmlns="http://www.w3.org/2000/svg" width="{size / scale}{unit}" height="{size / scale}{unit}"
      viewBox="0 0 {size} {size}"><g transform="translate({size / 2} {size / 2}) rotate(30)">
      <path d="M {outer} 0 A {outer} {outer} 0 1 1 {-outer} 0 A {outer} {outer} 0 1 1 {outer} 0 Z"/>
      <circle r="{inner}" cx="0" cy="0"/><rect x="{-inner / 4}" y="{-inner / 4}" width="{inner / 2}"
      height="{inner / 2}"/><path d="M 0 0 L 5 40"/><circle r="0.5" cx="{(outer + inner) / 2}"/></g></svg>""".encode()


def send(client, content: bytes, name: str = "eye.svg", **how):
    return client.post("/api/motifs", params={"name": name, **how}, content=content, headers=BINARY)


@pytest.mark.parametrize(("outer", "inner"), [(40.0, 25.0), (12.5, 4.0)])
@pytest.mark.parametrize("wide", [None, 55.0])
def test_a_drawing_covers_and_is_cut_as_long_as_its_closed_form(client, outer, inner, wide):
    read = send(client, eye(outer, inner), **({"wide": wide} if wide else {})).json()
    share = wide / (2 * outer) if wide else 1.0
    assert (read["wide"], read["high"]) == pytest.approx((2 * outer * share,) * 2, rel=2e-3)
    square = inner / 2
    # The dot is cut where it comes out larger than 2 mm2.
    dot = 0.5 if np.pi * 0.25 * share**2 >= 2 else 0.0
    area = np.pi * (outer**2 - inner**2 - dot**2) + square**2
    cut = 2 * np.pi * (outer + inner + dot) + 4 * square
    assert read["area"] == pytest.approx(area * share**2, rel=4e-3)
    assert read["length"] == pytest.approx(cut * share, rel=3e-3)
    assert len(read["rings"]) == (4 if dot else 3)


def test_what_cannot_be_cut_is_said(client):
    nothing = b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm" viewBox="0 0 9 9"><path d="M0 0L9 9"/></svg>'
    assert "close the outlines" in send(client, nothing).text
    assert "say how wide" in send(client, eye(900, 400)).text
    assert "write how wide" in send(client, eye(40, 20, unit="")).text
    assert send(client, eye(40, 20, unit=""), wide=80).json()["wide"] == pytest.approx(80, rel=1e-6)
    assert "no pattern file" in send(client, eye(40, 20), name="eye.png").text


def test_a_stencil_is_cut_painted_and_leaves_true_to_size(client, build):
    _, _, piece = build
    motif = send(client, eye(40, 25)).json()
    plain = {"key": "sun", "kind": "stencil", "name": "sun", "count": 3, "motif": motif["rings"]}
    redesign(client, piece, making={"details": [plain]})
    steps = steps_of(client, piece)
    order = list(steps)
    assert order.index("cut-stencil:sun") < order.index("stencil:sun")
    colours = [k for k in order if k.startswith(("coat-colour", "coat-metal"))]
    assert max(map(order.index, colours)) < order.index("stencil:sun")
    assert order.index("stencil:sun") < min(order.index(k) for k in order if k.startswith("coat-clear"))
    cut = steps["cut-stencil:sun"]
    assert any(v["amount"] == pytest.approx(3 * motif["length"], rel=1e-3) for v in cut["values"])
    assert any(v["amount"] == pytest.approx(3 * motif["area"], rel=1e-3) for v in steps["stencil:sun"]["values"])
    drawn = ezdxf.read(io.StringIO(client.get(f"/api/pieces/{piece}/masks.dxf").text))
    rings = [LinearRing([(p[0], p[1]) for p in x.get_points()]) for x in drawn.modelspace().query("LWPOLYLINE")]
    assert len(rings) == 3 * 3
    assert sum(r.length for r in rings) == pytest.approx(3 * (2 * np.pi * 65 + 50), rel=3e-3)
    wide = sorted(r.bounds[2] - r.bounds[0] for r in rings)[-3:]
    assert wide == pytest.approx([80.0] * 3, abs=0.1)
    taken = client.get(f"/api/pieces/{piece}/masks.pdf")
    assert taken.content[:4] == b"%PDF"
