"""The order of work for one piece: which steps it needs, and which comes first."""

from vellumcut.core.make import quantities as use
from vellumcut.core.make.foam_steps import bevel, form, groove, laminate, late_score, open_score, shut
from vellumcut.core.make.job import Facts, Job, Rule, Step
from vellumcut.core.make.steps import (
    BRUSH_PACE,
    close,
    cut,
    dry_fit,
    glue,
    heat_seal,
    line,
    press,
    rig,
    smooth,
    test_fit,
    trace,
)
from vellumcut.core.notes import Value

PRIME_COATS, PAINT_COATS, SEAL_COATS = 3, 2, 2
PRIME_DRY, PAINT_DRY, SEAL_DRY = 60.0, 45.0, 120.0
"""Minutes between coats (est.)."""


def step_keys(facts: Facts) -> list[str]:
    """Keys of the steps that a piece needs, in the order of work; needs no flat panel."""
    return [rule.key for rule in RULES if rule.applies(facts)]


def build_steps(job: Job) -> list[Step]:
    """All steps that apply to this piece, in the order of work."""
    return [rule.make(job) for rule in RULES if rule.applies(job.facts)]


def _coat(key: str, title: str, how: str, coats: int, dry: float, cover: float, name: str, reason: str) -> Rule:
    def make(job: Job) -> Step:
        area = (2 if key == "prime" else 1) * job.pattern.face_area
        return Step(
            key,
            title,
            how,
            coats * (area / 1e6 / BRUSH_PACE + 3),
            coats * dry,
            "{0} coats x ({1} / 0.03 m² a minute + 3 min); {2} to dry after each",
            (Value("coats", coats, "count"), Value("area", area, "mm2"), Value("dry", dry, "minutes")),
            (use.coating(name, area, coats, cover),),
            ("solvents",),
            reason,
        )

    return Rule(key, make)


RULES: tuple[Rule, ...] = (
    Rule("trace", trace),
    Rule("open-score", open_score, lambda facts: "opened score" in facts.ways),
    Rule("cut", cut),
    Rule("heat-seal", heat_seal),
    Rule("stack", lambda job: laminate("stack", job), lambda facts: facts.layered == "alike"),
    Rule("bevel", bevel),
    Rule("groove", groove, lambda facts: facts.grooved),
    Rule("form", form),
    Rule("late-score", late_score, lambda facts: "late score" in facts.ways),
    Rule("laminate", lambda job: laminate("laminate", job), lambda facts: facts.layered == "bent"),
    Rule("shut", shut, lambda facts: "groove" in facts.ways),
    Rule("dry-fit", dry_fit),
    Rule("rig", rig, lambda facts: facts.strapped),
    Rule("glue", glue, lambda facts: facts.glued or facts.strapped),
    Rule("press", lambda job: press("press", job), lambda facts: facts.glued and facts.strapped),
    Rule("close", close, lambda facts: facts.glued or facts.strapped),
    Rule("smooth", smooth),
    Rule("line", line, lambda facts: facts.glued),
    Rule("test-fit", test_fit),
    _coat(
        "prime",
        "Prime",
        "Flexible brush-on or rubbery spray primer, both sides, thin coats, each dry before the next.",
        PRIME_COATS,
        PRIME_DRY,
        use.PRIMER_COVER,
        "flexible primer",
        "A brittle coat cracks where a piece flexes.",
    ),
    _coat(
        "paint",
        "Paint",
        "Base colour in thin coats; mask, then the next colour; dark wash into grooves, light on edges.",
        PAINT_COATS,
        PAINT_DRY,
        use.PAINT_COVER,
        "paint",
        "Paint comes after the test fit: a changed piece would be painted twice.",
    ),
    _coat(
        "seal",
        "Seal",
        "Flexible satin or gloss clear, thin coats. None over mirror chrome: it dulls it.",
        SEAL_COATS,
        SEAL_DRY,
        use.SEAL_COVER,
        "flexible clear coat",
        "Hands, straps and weather wear bare paint off.",
    ),
)
"""The order of work for one piece: each rule is one small function, found here and nowhere else."""
