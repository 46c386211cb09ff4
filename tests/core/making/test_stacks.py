"""Finish stacks: wrong ones refused or warned of by their own row, right ones silent, on real pieces too."""

from dataclasses import replace
from functools import cache

import pytest

from tests.bodies import WEARER
from vellumcut.core.design.finish import FinishLayer, Stack, ZoneFinish
from vellumcut.core.design.making import Making
from vellumcut.core.finish import rules
from vellumcut.core.finish.layers import LAYERS
from vellumcut.core.finish.recipes import RECIPES, WEATHERINGS, scraps_to_prepare
from vellumcut.core.finish.rules import STACK_RULES, Place, judge_stack
from vellumcut.core.finish.zones import painted_zones
from vellumcut.core.ink.library.table import starter_design
from vellumcut.core.paces import Tempo
from vellumcut.core.pattern.pattern import pattern_piece

BENDS = Place(bends="it is bent open each time it is put on")
SHORT = {
    "rub": "rubbery primer",
    "pri": "flexible primer",
    "hard": "hard sealer",
    "fill": "filler primer",
    "black": "gloss black",
    "chrome": "mirror chrome",
    "met": "metallic",
    "acr": "acrylic",
    "ena": "enamel",
    "mark": "marker",
    "wash": "acrylic wash",
    "oil": "oil wash",
    "dry": "dry brush",
    "st": "stitches",
    "wax": "wax metal",
    "sat": "satin clear",
    "mat": "matt clear",
    "glo": "gloss clear",
    "flex": "flexible clear",
    "vin": "vinyl",
    "dec": "decal",
    "res": "resin",
    "scuff": "scuff",
    "tint": "transparent colour",
    "ham": "hammered metal",
    "shoe": "shoe polish",
    "floor": "floor polish",
    "fab": "fabric marker",
    "pen": "paint pen",
}


def stack(words: str, on: str = "sealed foam") -> Stack:
    """ "pri acr:coats=3 flex": layers by their short names, with figures after a colon."""
    layers = []
    for word in words.split():
        key, *more = word.split(":")
        fields = dict(x.split("=") for x in more)
        typed = {k: True if v == "yes" else int(v) if v.isdigit() else v.replace("_", " ") for k, v in fields.items()}
        faces = {"faces": "both"} if key == "rub" and "faces" not in typed else {}
        layers.append(FinishLayer(kind=SHORT[key], **faces, **typed))
    return Stack(name="tried", on=on, layers=tuple(layers))


# Section 5 of the rule book: the rule that speaks, the stack, where it goes.
WRONG: tuple[tuple[str, str, dict], ...] = (
    ("clear over mirror", "hard:coats=5 fill black chrome glo", {}),
    ("clear over mirror", "hard:coats=5 fill black chrome sat", {}),
    ("clear over mirror", "hard:coats=5 fill black chrome flex", {}),
    ("clear over mirror", "fill black chrome dec glo", {"on": "printed part"}),
    ("paint over mirror", "hard:coats=5 fill black chrome wash", {}),
    ("paint over mirror", "hard:coats=5 fill black chrome acr", {}),
    ("paint over mirror", "hard:coats=5 fill black chrome dry", {}),
    ("mirror on black", "hard:coats=5 fill chrome", {}),
    ("mirror on black", "pri acr chrome", {}),
    ("mirror on black", "chrome", {"on": "printed part"}),
    ("mirror on black", "fill black met chrome", {"on": "thermoplastic"}),
    ("mirror on rough", "rub black chrome", {}),
    ("mirror on rough", "pri black chrome", {}),
    ("brittle on bend", "hard:coats=5 fill black chrome", {"place": BENDS}),
    ("brittle on bend", "pri hard:coats=4 acr flex", {"place": BENDS}),
    ("brittle on bend", "pri res acr flex", {"place": BENDS}),
    ("stiff on bend", "pri black:coats=3 sat", {"place": BENDS}),
    ("stiff on bend", "pri met:coats=3 flex", {"place": BENDS}),
    ("resin on soft", "res acr sat", {}),
    ("resin on soft", "res", {"on": "bare foam"}),
    ("resin on soft", "res acr sat", {"on": "woven sheet"}),
    ("lacquer over slow paint", "pri ena glo", {}),
    ("lacquer over slow paint", "pri acr mark glo", {}),
    ("lacquer over slow paint", "pri acr oil glo", {}),
    ("lacquer over slow paint", "pri ena met sat", {}),
    ("no primer", "acr sat", {}),
    ("no primer", "met sat", {"on": "bare foam"}),
    ("no primer", "acr flex", {"on": "woven sheet"}),
    ("unsealed", "fill acr sat", {"on": "bare foam"}),
    ("scuff", "acr flex", {"on": "vinyl"}),
    ("scuff", "vin acr flex", {}),
    ("scuff", "wash flex", {"on": "vinyl"}),
    ("printed mirror", "rub fill black chrome", {"on": "printed part"}),
    ("printed mirror", "hard:coats=5 fill black chrome", {"on": "printed part"}),
    ("stitches first", "pri acr wash st flex", {}),
    ("stitches first", "pri acr dry st flex", {}),
    ("wash before clear", "pri acr flex wash", {}),
    ("wash before clear", "pri acr sat dry", {}),
    ("wash before clear", "pri acr flex st", {}),
    ("colour over weathering", "pri acr wash acr flex", {}),
    ("colour over weathering", "rub met wash met sat", {}),
    ("tape time", "pri acr:before_next=120 acr:taped=yes flex", {}),
    ("tape time", "pri met:before_next=60 acr:taped=yes flex", {}),
    ("tape time", "hard:coats=5 fill black chrome acr:taped=yes", {}),
    ("tape time", "rub:before_next=30 acr:taped=yes sat", {}),
    ("wait", "pri:recoat=5 acr flex", {}),
    ("wait", "pri ena:before_next=60 acr sat", {}),
    ("wait", "pri:before_next=30 acr flex", {}),
    ("sand hard", "hard:coats=5:before_next=60 fill black chrome", {}),
    ("sand hard", "pri res:before_next=120 acr sat", {"on": "thermoplastic"}),
    ("matt over black", "rub black mat", {}),
    ("matt over black", "pri black mat:coats=2", {}),
    ("gold base", "pri met:name=gold sat", {}),
    ("gold base", "fill met:name=old_brass sat", {"on": "printed part"}),
    ("gold base", "pri acr:name=white:colour=#F4F2EC met:name=gold sat", {}),
    ("gold base", "rub acr:colour=#FFFFFF met:name=pale_bronze sat", {}),
    ("wash before dry brush", "pri acr dry wash flex", {}),
    ("wash before dry brush", "rub met dry oil:tested=yes sat", {}),
    ("magnet", "rub acr sat", {"place": Place(magnets=True)}),
    ("magnet", "pri:tool=airbrush acr flex", {"place": Place(magnets=True)}),
    ("clear over mirror", "pri fill black chrome mat", {"place": BENDS}),
    ("paint over mirror", "fill black chrome wax", {"on": "printed part"}),
    ("mirror on black", "hard:coats=5 black fill chrome", {}),
    ("brittle on bend", "hard:coats=4:faces=both acr flex", {"place": BENDS}),
    ("stiff on bend", "rub ena black:coats=3:tested=yes glo", {"place": BENDS}),
    ("lacquer over slow paint", "rub acr oil:coats=2 glo", {}),
    ("no primer", "ena sat", {}),
    ("tape time", "pri ena:before_next=240 acr:taped=yes flex", {}),
    ("tape time", "rub met dec acr:taped=yes sat", {}),
    ("wait", "hard:coats=5:recoat=10 fill black chrome", {}),
    ("wax last", "pri met wax flex", {}),
    ("smooth first", "pri met res flex", {"on": "thermoplastic"}),
    ("coats", "pri acr:coats=12 flex", {}),
    ("backs", "pri ena sat", {"place": Place(back_shows=True)}),
    ("clear over mirror", "hard:coats=5 fill black chrome tint floor", {}),
    ("lacquer over slow paint", "pri acr fab glo", {}),
    ("unprotected", "rub ham", {}),
    ("no primer", "ham sat", {}),
    ("both faces", "rub:faces=outside acr sat", {}),
    ("backs", "pri acr flex", {"place": Place(back_shows=True)}),
    ("no booth", "rub acr sat", {"place": Place(sprays=False)}),
    ("unprotected", "pri acr", {}),
    ("unprotected", "pri acr st wash", {}),
    ("wax last", "pri met wax sat", {}),
    ("wax last", "pri acr wax dry flex", {}),
    ("coats", "pri:coats=1 acr flex", {}),
    ("coats", "hard:coats=2 fill black chrome", {}),
    ("tool", "pri:tool=spray acr flex", {}),
    ("tool", "pri acr wax:tool=airbrush", {}),
    ("smooth first", "pri acr fill flex", {}),
)
RIGHT: tuple[tuple[str, dict], ...] = (
    ("pri acr flex", {}),
    ("pri acr flex", {"on": "bare foam"}),
    ("rub acr sat", {"place": BENDS}),
    ("rub met wash dry sat:coats=2", {}),
    ("hard:coats=5 fill black chrome", {}),
    ("pri fill black chrome", {"place": BENDS}),
    ("fill black chrome", {"on": "printed part"}),
    ("pri acr met:name=gold wash sat", {}),
    ("rub black met:name=gold:tool=airbrush glo:coats=2", {}),
    ("pri acr st wash dry flex", {}),
    ("rub met wash dry mat:coats=2", {}),
    ("vin st", {}),
    ("scuff acr flex", {"on": "vinyl"}),
    ("pri acr acr:taped=yes flex", {}),
    ("pri acr:before_next=720 acr:taped=yes flex", {}),
    ("pri ena glo:tested=yes", {}),
    ("pri acr flex wax", {}),
    ("pri acr hard:coats=4:faces=inside flex", {"place": BENDS}),
    ("pri acr:faces=both flex", {"place": Place(back_shows=True)}),
    ("pri acr flex", {"place": Place(sprays=False)}),
    ("rub mat", {}),
    ("res:coats=2 acr sat", {"on": "thermoplastic"}),
    ("rub acr:coats=2 mat", {}),
    ("pri acr:coats=7 flex", {}),
    ("pri acr:coats=7 flex", {"place": BENDS}),
    ("rub met:name=gold sat", {}),
    ("pri acr:colour=#6B4423 met:name=old_gold wash dry flex", {}),
    ("pri acr wash dry dry flex", {}),
    ("rub met wash:coats=2 dry sat wax", {}),
    ("rub ena:before_next=1440 acr:taped=yes sat", {}),
    ("rub met:before_next=720 acr:taped=yes sat", {}),
    ("hard:coats=6 fill:coats=2 black:coats=3 chrome", {}),
    ("pri acr mark:tested=yes flex", {}),
    ("rub acr dec sat", {}),
    ("rub acr:faces=both sat", {"place": Place(back_shows=True)}),
    ("rub met sat", {"place": Place(back_shows=True)}),
    ("fill:coats=2 met sat:coats=2", {"on": "printed part"}),
    ("scuff acr wash flex", {"on": "vinyl"}),
    ("vin", {}),
    ("pri acr flex:coats=3", {"on": "woven sheet"}),
    ("rub black sat", {"place": BENDS}),
    ("pri hard:coats=4:faces=inside acr flex", {"place": BENDS}),
    ("rub mat:coats=2", {"place": BENDS}),
    ("hard:coats=5 fill black chrome tint", {}),
    ("rub ham shoe flex", {}),
    ("pri acr floor", {"place": BENDS}),
    ("pri acr fab:tested=yes flex", {"place": BENDS}),
    ("rub black pen glo", {}),
    ("pri acr wash shoe floor", {}),
)


def spoken(words: str, more: dict) -> dict:
    found = judge_stack(stack(words, more.get("on", "sealed foam")), more.get("place"))
    return {f.rule: f for f in found}


@pytest.mark.parametrize(("rule", "words", "more"), WRONG)
def test_wrong_stacks_are_refused_or_warned_of(rule, words, more, monkeypatch):
    found = spoken(words, more)
    assert rule in found, found
    said = next(r for r in STACK_RULES if r.key == rule)
    assert found[rule].hard == (said.weight == "hard")
    assert said.reason in found[rule].words
    assert found[rule].way_out == said.way_out
    monkeypatch.setattr(rules, "STACK_RULES", tuple(r for r in STACK_RULES if r.key != rule))
    assert rule not in spoken(words, more), "nothing but its own row says so"


@pytest.mark.parametrize(("words", "more"), RIGHT)
def test_right_stacks_pass_silently(words, more):
    assert spoken(words, more) == {}


def test_every_rule_is_tried_and_there_are_enough():
    assert {rule for rule, _, _ in WRONG} == {r.key for r in STACK_RULES}
    assert len(WRONG) >= 80
    assert len(RIGHT) >= 40
    assert set(SHORT.values()) | {"oil wash with drier"} == set(LAYERS)


REAL = {"": starter_design("poleyn"), BENDS.bends: starter_design("segmented bracer")}
"""Pieces that do not bend in wear, and that do."""


@cache
def real_pattern(bends: str):
    return pattern_piece(WEARER, REAL[bends], "Piece", "Build", 12.0)


@pytest.mark.parametrize(("rule", "words", "more"), [*WRONG, *(("", *row) for row in RIGHT)])
def test_stacks_are_judged_alike_on_real_pieces(rule, words, more):
    """What bends is read off the piece, not said."""
    told = more.get("place", Place())
    finish = ZoneFinish(stack=stack(words, more.get("on", "sealed foam")))
    (zone,) = painted_zones(real_pattern(told.bends), Making(finishes=(finish,)), finish, Tempo())
    assert bool(zone.bends) == bool(told.bends)
    found = {f.rule for f in judge_stack(zone.finish.stack, replace(told, bends=zone.bends))}
    assert rule in found if rule else not found


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda r: r.key)
def test_recipes_that_ship_are_right_where_they_are_offered(recipe):
    assert judge_stack(recipe.rigid) == []
    assert judge_stack(recipe.giving, BENDS) == []
    assert all(w in WEATHERINGS for w in recipe.rigid.weathering)
    assert scraps_to_prepare([recipe.rigid])[0].startswith(recipe.key)
