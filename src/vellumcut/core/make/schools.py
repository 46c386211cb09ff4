"""Where two makers do it in two ways: what each way means and when it is right."""

from dataclasses import dataclass

from vellumcut.core.design.making import SchoolName, Schools


@dataclass(frozen=True)
class School:
    """word: what it is about. options: each with its reason."""

    key: SchoolName
    word: str
    options: dict[str, str]


SCHOOLS: dict[SchoolName, School] = {
    s.key: s
    for s in (
        School("glue", "Glue", {
            "by joint": "Each joint gets what bears its load, flex and gap.",
            "contact cement": "Strong at once and flexible; wants a vapour mask and waiting.",
            "hot glue": "No fumes, quick, fills gaps; stiff lines and heavy.",
            "instant glue": "For small parts; cracks where it flexes.",
        }),
        School("sealing", "Heat-seal", {
            "after cutting, and again": "Both faces after cutting, every sanded place again before primer.",
            "after cutting": "Once, while the parts are flat.",
            "as each part is ground": "Sealed as you go, nothing twice.",
            "once at the end": "After grinding; bare cells catch dust till then.",
        }),
        School("curve", "Curve", {
            "before seams": "Foam that has its curve does not pull at its seams.",
            "after layers": "Layers glued flat and curved together: gentle curves only.",
        }),
        School("trims", "Trims", {
            "one-panel ones first": "Flat work is easier; what spans a joint comes after it.",
            "all after assembly": "One look at the whole before any of them.",
        }),
        School("rigging", "Straps", {
            "temporary, then permanent": "A taped one proves the fit; the real one stays clean.",
            "before paint, masked": "Stronger beds on bare foam; every strap is masked.",
        }),
        School("bed", "Bed of an anchor", {
            "by glue": "Drum for cement, a mesh of scores for hot glue.",
            "drum": "The sealed face is ground open.",
            "crosses opened by heat": "No dust; crosses open under the gun.",
            "mesh of scores": "For hot glue, which grips in the cuts.",
        }),
        School("elastic", "Elastic", {
            "sewn to webbing": "Elastic is never glued: glue stiffens it.",
            "glued under a strip": "Light sleeves only, sandwiched under a 2 mm strip.",
        }),
        School("eyelets", "Eyelets", {
            "backed": "A strip behind them keeps them from tearing out.",
            "in bare foam": "For cord and a light pull.",
        }),
        School("seams", "Seams", {
            "ground": "Ground flush and filled: it takes the most hours.",
            "covered": "A strip lies over them.",
            "design": "Cut sharp and shown as a line of the design.",
        }),
        School("primer", "Primer", {
            "brushed": "Indoors in any weather.",
            "sprayed": "Even and quick; wants a booth or a dry day.",
        }),
        School("stitches", "Stitches", {
            "raised paint": "Before weathering, which settles round them.",
            "real thread": "After the clear coat, or it is painted over.",
        }),
        School("damage", "Damage", {
            "painted": "No smoke, and it can be taken back.",
            "burnt": "Outdoors with a respirator; smoke of foam is toxic.",
        }),
        School("liner", "Inside", {
            "none": "For one evening.",
            "strips": "Stretch cloth along every seam holds through sweat and warmth.",
            "full": "Soft everywhere; much time and foam.",
            "bodice": "A fabric bodice carries it all.",
        }),
        School("rhythm", "Rhythm", {
            "pieces": "One piece up to primer, then the next.",
            "stages": "Cut everything, glue everything, paint everything: finishes match.",
        }),
    )
}  # fmt: skip


def usual(name: SchoolName) -> str:
    """The usual way."""
    return str(Schools.model_fields[name].default)
