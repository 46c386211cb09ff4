"""Which steps a piece has: one row for each kind. In what order they come is in ``precedence``."""

from dataclasses import replace

from vellumcut.core.finish.layers import Group
from vellumcut.core.make.equip import equipped
from vellumcut.core.make.job import Facts, Job, Rule, key_of, once
from vellumcut.core.make.step import Step
from vellumcut.core.make.steps import details, join, painting, prepare, rigging, surface
from vellumcut.core.make.steps.foam import bevel, form, groove, laminate, late_score, open_score, shut, thin

GROUPS: tuple[Group, ...] = ("prepare", "primer", "smooth", "colour", "metal", "weather", "clear")


def _sealed_first(facts: Facts) -> bool:
    return facts.schools.sealing in ("after cutting, and again", "after cutting")


def _sealed_again(facts: Facts) -> bool:
    return facts.schools.sealing != "after cutting"


def _fills(facts: Facts) -> bool:
    """Whether hot glue leaves seams gaping: judged by what the maker owns and by the school."""
    hot = facts.schools.glue == "hot glue" or not facts.owned.cements
    return facts.glued and hot


RULES: tuple[Rule, ...] = (
    Rule("number", prepare.number),
    Rule("cut-paper", prepare.cut_paper),
    Rule("warm-flat", prepare.warm_flat),
    Rule("trace", prepare.trace),
    Rule("open-score", open_score, once(lambda f: "opened score" in f.ways)),
    Rule("cut", prepare.cut),
    Rule("keep-pattern", prepare.keep_pattern),
    Rule("heat-seal", prepare.heat_seal, once(_sealed_first)),
    Rule("stack", lambda job, _: laminate("stack", job), once(lambda f: f.layered == "alike")),
    Rule("bevel", bevel),
    Rule("thin", thin, once(lambda f: f.thinned or any(d.flush for d in f.making.details))),
    Rule("groove", groove, once(lambda f: f.grooved)),
    Rule("form", form, lambda f: [str(n) for n in f.panels]),
    Rule("late-score", late_score, once(lambda f: "late score" in f.ways)),
    Rule("laminate", lambda job, _: laminate("laminate", job), once(lambda f: f.layered == "bent")),
    Rule("shut", shut, once(lambda f: "groove" in f.ways)),
    Rule("dry-fit", join.dry_fit),
    Rule("dust-glue", join.dust_joints, once(lambda f: f.glued or bool(f.making.details))),
    Rule("dart", join.dart, lambda f: list(dict.fromkeys(d.name for d in f.darts))),
    Rule("cup", join.cup, lambda f: [s.name for s in f.cups]),
    Rule("sub-fit", join.sub_fit, once(lambda f: bool(f.cups))),
    Rule("seam", join.seam, lambda f: [s.name for s in f.seams if not s.cup]),
    Rule("surplus", join.surplus, once(lambda f: bool(f.cups or f.making.detail_list("collar")))),
    Rule("clay", join.clay, once(lambda f: _fills(f) and bool(f.shown))),
    Rule("smooth", surface.smooth),
    Rule("fill", surface.fill, once(lambda f: bool(f.surfaced("ground")) and not _fills(f))),
    Rule("cover", surface.cover, once(lambda f: bool(f.surfaced("covered")))),
    Rule("line-design", surface.line_design, once(lambda f: bool(f.surfaced("design")))),
    Rule("burn", surface.burn, once(lambda f: f.schools.damage == "burnt")),
    Rule("reseal", surface.reseal, once(_sealed_again)),
    Rule(
        "temp-rig", rigging.temporary, once(lambda f: f.strapped and f.schools.rigging == "temporary, then permanent")
    ),
    Rule("test-fit", rigging.worn_fit),
    Rule("rig", rigging.rig, once(lambda f: f.strapped)),
    Rule("beds", rigging.beds, once(lambda f: f.strapped)),
    Rule("dust-beds", join.dust_beds, once(lambda f: f.strapped)),
    Rule("close", rigging.close, once(lambda f: f.strapped)),
    Rule("tabs", painting.tabs, once(painting.painted)),
    Rule("dust-primer", painting.dust_primer, once(painting.painted)),
    *(Rule(f"coat-{group}", painting.coat(group), painting.layers_with(group)) for group in GROUPS),
    Rule("weather", painting.weather, painting.weathered),
    Rule("wax", painting.weather, painting.waxed),
    Rule("touch-up", painting.touch_up, once(painting.ends_at_lines)),
    Rule("dam", join.dam, once(lambda f: (f.glued and f.schools.liner != "none") or f.schools.liner == "full")),
    Rule("bodice", join.bodice, once(lambda f: f.schools.liner == "bodice")),
    Rule("final-fit", rigging.final_fit),
    *(Rule(kind, details.make_detail(kind), details.details_with(kind)) for kind in details.detail_kinds()),
)
"""Each kind of step, once: when a piece has it, and how it is made. What a later part brings joins as rows here."""


_BEFORE_GLUE, _PRESSED, _PRIMED, _PAINTED = ("glue",), ("close", "press"), ("prime",), ("paint",)
OLD_KEYS: dict[str, tuple[str, ...]] = {
    "number": ("trace",), "cut-paper": ("trace",), "warm-flat": ("trace",), "keep-pattern": ("cut",), "form": ("form",),
    "dust-glue": _BEFORE_GLUE, "beds": _BEFORE_GLUE, "dust-beds": _BEFORE_GLUE, "temp-rig": ("rig",),
    "dart": _PRESSED, "cup": _PRESSED, "seam": _PRESSED, "surplus": _PRESSED, "sub-fit": _PRESSED,
    "fill": ("smooth",), "reseal": ("smooth",), "dam": ("line",), "tabs": _PRIMED, "dust-primer": _PRIMED,
    "coat-prepare": _PRIMED, "coat-primer": _PRIMED, "coat-smooth": _PRIMED,
    "coat-colour": _PAINTED, "coat-metal": _PAINTED, "coat-weather": _PAINTED, "coat-clear": ("seal",),
}  # fmt: skip
"""What a kind of step was called while a piece had one list of fewer steps: such a tick means these as well."""
RENAMED = {"wax": "weather"}
"""Kinds whose steps had another name, about the same thing."""


def step_keys(facts: Facts) -> list[str]:
    """Keys of the steps that a piece has; needs no flat panel."""
    return [key_of(rule.kind, about) for rule in RULES for about in rule.about(facts)]


def build_steps(job: Job) -> list[Step]:
    """All steps that this piece has, each with its time as this maker works."""
    made = [rule.make(job, about) for rule in RULES for about in rule.about(job.facts)]
    return [replace(equipped(s), factor=job.tempo.factor(s.work)) for s in made]
