"""A leather-look set, sewn by hand."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

LEATHER = stack("black leather", {"kind": "rubbery primer", "faces": "both"}, "matt clear")
SEWN = {
    "schools": {"stitches": "real thread"},
    "finishes": [LEATHER],
    "details": [
        detail("hem", "trim", "turned hem trim", length=900, flush=True),
        detail(
            "thread",
            "stitches",
            "edge stitches",
            shape={
                "form": "row",
                "lines": ["crossing fold", "hem", "neckline", "armhole", "side edge"],
                "inset": 5,
                "pitch": 4,
                "both": True,
                "prongs": 4,
            },
        ),
        detail(
            "studs",
            "rivets",
            "studs",
            size=7,
            shape={"form": "row", "lines": ["neckline", "armhole", "hem"], "inset": 10, "pitch": 22, "pack": 20},
        ),
        detail("grain", "texture", "grain of hide"),
    ],
}

JOB = Job(
    "15",
    "Leather-look set",
    wearer(115, "Garrick Sund"),
    (
        piece(
            "breastplate",
            "Jerkin front",
            foam=4,
            choices={"front": "cross-fold"},
            making=SEWN,
            foam_work={"edges": [{"name": "hem", "shape": "thinned"}], "folds": [{"key": "fold", "way": "drum"}]},
        ),
        piece("bracer", "Cuffs", foam=4, closure="lacing", making={"finishes": [LEATHER]}),
        piece("belt", "Belt", foam=2, making={"finishes": [LEATHER]}),
    ),
    (
        kind("taped try-on before any cement", s.order("dry-fit", "(trim|dart|seam):", "Jerkin front")),
        kind("edges thinned for trims", s.step("thin", "hem"), s.order("thin", "trim:", "Jerkin front")),
        kind("turned trims before primer", s.order("trim:", "coat-primer", "Jerkin front")),
        kind("ground round grooves", s.step("groove", "drum|channel", "Jerkin front")),
        kind("grain", s.step("texture", "grain"), s.order("texture", "coat-primer")),
        kind("matt over rubber black on purpose", s.silent("kills its shine"), s.step("coat-clear", "matt")),
        kind(
            "hand stitching after clear, its true hours",
            s.order("coat-clear", "stitch-thread"),
            s.minutes("stitch-thread", 250, 420),
        ),
        kind("punched holes on both sides of lines", s.step("stitch-thread", "Holes first"), s.says("punched holes")),
        kind("studs counted", s.step("lay-on", "studs"), s.any_step("60")),
        kind("studs priced, or punched dots instead", s.says("punched dots")),
        kind("belts of bare 2 mm refused under load", s.says("2 mm.*(tears|faced|refused)")),
        kind("cuffs laced through backed eyelets", s.part("eyelets", 8, "Cuffs"), s.part("^lace", 1, "Cuffs")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
