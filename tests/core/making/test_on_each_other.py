"""Pieces that lie on others, and parts that stand on them: how large they are, and which is made first."""

from dataclasses import replace

import networkx as nx
import numpy as np
import pytest

from tests.bodies import limb, measures
from tests.core.making.test_order import inked, suit
from vellumcut.core.cast.armour import INNER
from vellumcut.core.cast.dressed import dressed
from vellumcut.core.cast.stations import build_tube
from vellumcut.core.design.making import Detail, Making
from vellumcut.core.design.parts import Plate
from vellumcut.core.design.piece import PieceDesign
from vellumcut.core.ink.stage import ink_piece
from vellumcut.core.ink.templates import armour_surface
from vellumcut.core.make.order import step_keys
from vellumcut.core.make.plan import PlannedPiece, costume_links, plan_piece
from vellumcut.core.rig.laid import LaidPiece
from vellumcut.core.rig.outside import lies_over


def test_a_thicker_piece_beneath_makes_the_upper_one_longer_by_its_circle():
    round_ = measures(limb("thigh", (0, 130, 265), (2 * np.pi * 80,) * 3, (1.0,) * 3))
    tube = build_tube(round_, "thigh", "left")
    girths = {}
    for foam in (6.0, 10.0):
        ends = {"lower": {"inset": 0}, "upper": {"inset": 0}}
        below = LaidPiece(ink_piece(tube, PieceDesign(template="cuisse", foam=foam, back="closed", **ends)))
        upper = armour_surface(dressed(tube, lies_over(tube, (below,), 1.5)), PieceDesign(template="cuisse", foam=4))
        girths[foam] = float(
            upper.girth(np.array([1.0]))[0] - armour_surface(tube, upper_design()).girth(np.array([1.0]))[0]
        )
        assert float(upper.girth(np.array([1.0]), INNER)[0]) == pytest.approx(
            2 * np.pi * (80 + 1.5 + 3 + foam + 3), abs=0.1
        )
    assert girths[10.0] - girths[6.0] == pytest.approx(2 * np.pi * 4, abs=0.05)


def upper_design():
    return PieceDesign(template="cuisse", foam=4)


def planned(number, name, facts):
    return PlannedPiece(number, name, facts, plan_piece(facts), dict.fromkeys(step_keys(facts)))


def ordered(pieces, own):
    links = costume_links(pieces, own)
    graph = nx.DiGraph(((p.id, x.first), (p.id, x.then)) for p in pieces for x in p.plan.links)
    graph.add_edges_from(((x.first_piece, x.first), (x.then_piece, x.then)) for x in links)
    assert nx.is_directed_acyclic_graph(graph)
    return graph


def test_what_lies_over_is_never_made_first_and_no_circle_is_closed():
    made, own = suit("breastplate", "faulds", "belt")
    over = (
        made[0],
        planned(2, "faulds", replace(inked("faulds"), over=("breastplate",))),
        planned(3, "belt", replace(inked("belt"), over=("breastplate", "faulds"))),
    )
    graph = ordered(over, own)
    for lower, upper in ((1, 2), (1, 3), (2, 3)):
        assert nx.has_path(graph, (lower, "cut"), (upper, "trace"))
        assert nx.has_path(graph, (lower, "dry-fit"), (upper, "dry-fit"))
    bare = nx.DiGraph(((x.first_piece, x.first), (x.then_piece, x.then)) for x in costume_links(made, own))
    assert not bare.has_edge((1, "cut"), (2, "trace"))


def test_what_stands_on_a_piece_is_closed_before_its_foot_is_fitted():
    foot = Detail(key="spike", kind="joined part", name="spike", of="gorget", shape=Plate(at=(0, 1), opening="foot"))
    host = replace(inked("bracer"), making=Making(details=(foot,)))
    made = (planned(1, "bracer", host), planned(2, "gorget", inked("gorget")))
    graph = ordered(made, suit("bracer")[1])
    assert nx.has_path(graph, (2, "dry-fit"), (1, "fit-foot:spike"))
    assert nx.has_path(graph, (1, "fit-foot:spike"), (1, "lay-on:spike"))
