"""Pattern files as other programs and hands write them: bare text, none of it made by the libraries that read it.

All draw the same: a front of 120 x 80 mm with one round corner (r 20) and a round hole (r 8), and a triangle 90 x 60 mm
beside it. What differs is the habit. Each row: name, content, what the maker answers, and what is there.
"""

import math
import zlib
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Habit:
    """ask: the field that is asked after first; answers: what the maker then says, as HowToRead has it. there: of
    holes, folds and names what the file holds. left: words that tell what was left out."""

    name: str
    file: str
    content: bytes
    ask: str = ""
    answers: dict = field(default_factory=dict)
    holes: int = 1
    folds: int = 0
    names: tuple[str, ...] = ()
    left: str = ""
    scale: float = 1.0


FRONT = "M10 10 H130 V70 A20 20 0 0 1 110 90 H10 Z"
SIDE = "M150 10 L240 10 L150 70 Z"
HOLE = "M50 42 a8 8 0 1 0 0.001 0 Z"
HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n'
MM = 'width="300mm" height="200mm" viewBox="0 0 300 200"'
XMLNS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:ed="http://an.editor/ns"'


def svg(body: str, size: str = MM) -> bytes:
    return f"{HEAD}<!-- by hand -->\n<svg {XMLNS} version='1.1' {size}>{body}</svg>".encode()


LINES = f'<path d="{FRONT}"/><path d="{SIDE}"/><circle cx="50" cy="50" r="8"/>'
DRAWN = f'<g fill="none" stroke="#000">{LINES}</g>'
DASHED = '<path d="M20 20 L120 20" style="fill:none;stroke:#00f;stroke-dasharray:4,2"/>'
BROKEN = "".join(
    f'<path d="M{a} {b} L{c} {d}" stroke="black" fill="none"/>'
    for a, b, c, d in (
        (150.03, 10.02, 240, 10), (240.02, 10.03, 150, 70), (150.02, 69.98, 150, 10),
    )
)  # fmt: skip
NAMED = '<text x="30" y="30" font-size="6">Front</text><text x="160" y="20" font-size="6">Side</text>'

FRAME_ASKED = "layers.the rectangle round everything"
FRAME_OUT = {"layers": (("the rectangle round everything", "out"),)}

SVGS = [
    Habit("mm and a window", "a.svg", svg(DRAWN)),
    Habit("px, window of px", "a.svg", svg(f'<g transform="scale(3.7795275591)">{DRAWN}</g>',
        'width="1134px" height="756px" viewBox="0 0 1134 756"'), "unit", {"unit": "px"}),
    Habit("no size at all", "a.svg", svg(DRAWN, ""), "unit", {"unit": "mm"}),
    Habit("a page in mm, numbers in px", "a.svg", svg(f'<g transform="scale(3.7795275591)">{DRAWN}</g>',
        'width="300mm" height="200mm"'), "unit", {"unit": "px"}),
    Habit("points", "a.svg", svg(f'<g transform="scale(2.8346456693)">{DRAWN}</g>',
        'width="850.39pt" height="566.93pt" viewBox="0 0 850.39 566.93"')),
    Habit("inches, a window of thousandths", "a.svg", svg(f'<g transform="scale(39.37007874)">{DRAWN}</g>',
        'width="12in" height="8in" viewBox="0 0 12000 8000"')),
    Habit("layers by label", "a.svg", svg(
        f'<g id="layer1" ed:label="Cut Lines" ed:groupmode="layer" style="fill:none;stroke:#f00">{LINES}</g>'
        '<g id="layer2" ed:label="Fold" style="fill:none;stroke:#00f"><path d="M20 20 L120 20"/></g>'
        f'<g id="layer3" ed:label="Names">{NAMED}</g>'), folds=1, names=("Front", "Side")),
    Habit("layers by data-name", "a.svg", svg(
        f'<g id="CUT-2" data-name="CUT"><g id="a19f33c2e">{LINES}</g></g>'
        '<g id="b" data-name="Fold_lines"><path d="M20 20L120 20" stroke="red"/></g>'), folds=1),
    Habit("classes and a style sheet", "a.svg", svg(
        "<defs><style>.st0{fill:none;stroke:#000} .st1{fill:none;stroke:#000;stroke-dasharray:3 2}</style></defs>"
        + LINES.replace("<path", '<path class="st0"').replace("<circle", '<circle class="st0"')
        + '<path class="st1" d="M20 20L120 20"/>'), folds=1),
    Habit("used from defs", "a.svg", svg(
        f'<defs><path id="f" d="{FRONT}"/><circle id="h" r="8"/></defs>'
        '<use xlink:href="#f" fill="none" stroke="black"/>'
        f'<use href="#h" x="50" y="50" fill="none" stroke="black"/><path d="{SIDE}"/>')),
    Habit("a symbol with its own window", "a.svg", svg(
        '<symbol id="s" viewBox="0 0 1200 800"><path d="M0 0H1200V600A200 200 0 0 1 1000 800H0Z" fill="none"'
        ' stroke="black"/><circle cx="400" cy="400" r="80" stroke="black"/></symbol>'
        f'<use href="#s" x="10" y="10" width="120" height="80"/><path d="{SIDE}"/>')),
    Habit("turned and nested", "a.svg", svg(
        f'<g transform="translate(150 100) rotate(180)"><g transform="matrix(1 0 0 1 -150 -100)">{DRAWN}</g></g>')),
    Habit("hole as a second stroke of one path", "a.svg", svg(
        f'<path fill-rule="evenodd" d="{FRONT} {HOLE}"/><path d="{SIDE}"/>')),
    Habit("polygons and a rounded rectangle's parts", "a.svg", svg(
        f'<path d="{FRONT}"/><polygon points="150,10 240,10 150,70"/><ellipse cx="50" cy="50" rx="8" ry="8"/>')),
    Habit("ends that miss by 0.03 mm", "a.svg", svg(f'<path d="{FRONT}"/><circle cx="50" cy="50" r="8"/>{BROKEN}')),
    Habit("dashes by attribute", "a.svg", svg(DRAWN + DASHED), folds=1),
    Habit("the frame of a sheet on its own layer", "a.svg", svg(
        f'<g id="frame"><rect x="0" y="0" width="300" height="200" fill="none" stroke="black"/></g>{DRAWN}'),
        left="frame"),
    Habit("a rectangle round all, same layer", "a.svg", svg(
        f'<g fill="none" stroke="black"><rect width="297" height="199"/>{LINES}</g>'), FRAME_ASKED, FRAME_OUT,
        left="round everything"),
    Habit("a closed line in a layer that says nothing known", "a.svg", svg(
        f'<g id="Cut"><path d="{FRONT}"/><path d="{SIDE}"/></g><g id="Venting"><circle cx="50" cy="50" r="8"/></g>'),
        "layers.Venting", {"layers": (("Venting", "holes"),)}),
    Habit("the same, only drawn", "a.svg", svg(
        f'<g id="Cut"><path d="{FRONT}"/><path d="{SIDE}"/></g><g id="Venting"><circle cx="50" cy="50" r="8"/></g>'),
        "layers.Venting", {"layers": (("Venting", "marks"),)}, holes=0),
    Habit("a hidden layer and a picture", "a.svg", svg(
        f'<g style="display:none"><rect width="50" height="50"/></g><image href="x.png" width="9" height="9"/>{DRAWN}'),
        left="1 picture"),
    Habit("two layers with numbers for names", "a.svg", svg(
        f'<g id="layer1" ed:label="Layer 1"><path d="{FRONT}"/><path d="{SIDE}"/></g>'
        '<g id="layer2" ed:label="Layer 2"><circle cx="50" cy="50" r="8"/></g>'), "layers.Layer 2",
        {"layers": (("Layer 2", "holes"),)}),
    Habit("a layer whose name is made of the letters of numbers", "a.svg", svg(
        f'<g id="Cut"><path d="{FRONT}"/><path d="{SIDE}"/></g><g id="facade"><circle cx="50" cy="50" r="8"/></g>'),
        "layers.facade", {"layers": (("facade", "holes"),)}),
    Habit("guides to cut by", "a.svg", svg(
        f'<g id="panels"><path d="{FRONT}"/><path d="{SIDE}"/></g>'
        '<g id="cut guides"><circle cx="50" cy="50" r="8"/></g>'),
        "layers.cut guides", {"layers": (("cut guides", "holes"),)}),
    Habit("numbers run together", "a.svg", svg(
        '<path d="m10,10h120v60a20,20,0,0,1-20,20h-1e2z"/><path d="M150 10l90-.0-90,60z"/>'
        '<circle cx="50" cy="50" r="8"/>'
        .replace("90-.0-90,60z", "90,0-90,60z"))),
]  # fmt: skip


def dxf(
    *entities: str, units: int | None = 4, layers: tuple[tuple[str, str, int], ...] = (), blocks: str = ""
) -> bytes:
    """Group codes by hand. layers: name, line type, flags."""
    head = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n"
    head += "" if units is None else f"9\n$INSUNITS\n70\n{units}\n"
    rows = "".join(f"0\nLAYER\n2\n{n}\n70\n{f}\n62\n7\n6\n{t}\n" for n, t, f in layers)
    head += (
        "0\nENDSEC\n0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLTYPE\n70\n1\n0\nLTYPE\n2\nDASHED\n70\n0\n3\n_ _\n72\n65\n73\n2"
    )
    head += f"\n40\n9\n49\n6\n49\n-3\n0\nENDTAB\n0\nTABLE\n2\nLAYER\n70\n9\n{rows}0\nENDTAB\n0\nENDSEC\n"
    head += f"0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n"
    return (head + "0\nSECTION\n2\nENTITIES\n" + "".join(entities) + "0\nENDSEC\n0\nEOF\n").encode()


def line(a, b, c, d, layer="0", more="") -> str:
    return f"0\nLINE\n8\n{layer}\n{more}10\n{a}\n20\n{b}\n30\n0\n11\n{c}\n21\n{d}\n31\n0\n"


def arc(x, y, r, low, high, layer="0") -> str:
    return f"0\nARC\n8\n{layer}\n10\n{x}\n20\n{y}\n30\n0\n40\n{r}\n50\n{low}\n51\n{high}\n"


def circle(x=50, y=50, r=8, layer="0") -> str:
    return f"0\nCIRCLE\n8\n{layer}\n10\n{x}\n20\n{y}\n30\n0\n40\n{r}\n"


def light(points, layer="0", closed=1, more="") -> str:
    rows = "".join(f"10\n{p[0]}\n20\n{p[1]}\n" + (f"42\n{p[2]}\n" if len(p) > 2 else "") for p in points)
    return (
        f"0\nLWPOLYLINE\n100\nAcDbEntity\n8\n{layer}\n100\nAcDbPolyline\n90\n{len(points)}\n70\n{closed}\n{more}{rows}"
    )


def heavy(points, layer="0") -> str:
    rows = "".join(
        f"0\nVERTEX\n8\n{layer}\n10\n{p[0]}\n20\n{p[1]}\n30\n0\n" + (f"42\n{p[2]}\n" if len(p) > 2 else "")
        for p in points
    )
    return f"0\nPOLYLINE\n8\n{layer}\n66\n1\n70\n1\n40\n2.5\n41\n2.5\n{rows}0\nSEQEND\n8\n{layer}\n"


def text(x, y, words, layer="0", size=6) -> str:
    return f"0\nTEXT\n8\n{layer}\n10\n{x}\n20\n{y}\n30\n0\n40\n{size}\n1\n{words}\n"


QUARTER = math.tan(math.pi / 8)
CORNERS = [(10, 10), (130, 10), (130, 70, QUARTER), (110, 90), (10, 90)]
TRIANGLE = [(150, 10), (240, 10), (150, 70)]


def scaled(points, s):
    return [(p[0] * s, p[1] * s, *p[2:]) for p in points]


def loose(gap=0.0, layer="0") -> str:
    return (
        line(10, 10, 130, 10 + gap, layer) + line(130, 10, 130, 70, layer) + arc(110, 70, 20, 0, 90, layer)
        + line(110, 90 - gap, 10, 90, layer) + line(10 + gap, 90, 10, 10, layer)
    )  # fmt: skip


BLOCK = (
    "0\nBLOCK\n8\n0\n2\nP\n70\n0\n10\n0\n20\n0\n30\n0\n3\nP\n"
    + light(CORNERS) + circle() + "0\nENDBLK\n8\n0\n"
)  # fmt: skip
FLIPPED = "0\nINSERT\n8\nCUT\n2\nP\n10\n{x}\n20\n{y}\n30\n0\n41\n{s}\n42\n{s}\n43\n{s}\n50\n{turn}\n"
BOTH = light(CORNERS) + light(TRIANGLE)
SPLINE = (
    "0\nSPLINE\n100\nAcDbEntity\n8\n0\n100\nAcDbSpline\n70\n8\n71\n1\n72\n6\n73\n4\n74\n0\n"
    + "".join(f"40\n{k}\n" for k in (0, 0, 1, 2, 3, 3))
    + "".join(f"10\n{x}\n20\n{y}\n30\n0\n" for x, y in [*TRIANGLE, TRIANGLE[0]])
)
HATCH = (
    "0\nHATCH\n100\nAcDbEntity\n8\n0\n100\nAcDbHatch\n10\n0\n20\n0\n30\n0\n210\n0\n220\n0\n230\n1\n"
    "2\nSOLID\n70\n1\n71\n0\n"
    "91\n0\n75\n0\n76\n1\n98\n0\n"
)
FAR = "0\nLINE\n8\n0\n10\n0\n20\n0\n30\n0\n11\n1e12\n21\n5\n31\n0\n"

DXFS = [
    Habit("light polylines with a bulge", "a.dxf", dxf(BOTH, circle())),
    Habit("heavy polylines with widths", "a.dxf", dxf(heavy(CORNERS), heavy(TRIANGLE), circle())),
    Habit("lines and an arc", "a.dxf", dxf(loose(), circle(), light(TRIANGLE))),
    Habit("lines that miss by 0.04 mm", "a.dxf", dxf(loose(0.04), circle(), light(TRIANGLE))),
    Habit("inches", "a.dxf", dxf(light(scaled(CORNERS, 1 / 25.4)), light(scaled(TRIANGLE, 1 / 25.4)),
        circle(50 / 25.4, 50 / 25.4, 8 / 25.4), units=1)),
    Habit("no unit", "a.dxf", dxf(BOTH, circle(), units=None), "unit", {"unit": "mm"}),
    Habit("unit 0", "a.dxf", dxf(BOTH, circle(), units=0), "unit", {"unit": "mm"}),
    Habit("centimetres", "a.dxf", dxf(light(scaled(CORNERS, 0.1)), light(scaled(TRIANGLE, 0.1)), circle(5, 5, 0.8),
        units=5)),
    Habit("capitals", "a.dxf", dxf(light(CORNERS, "CUT"), light(TRIANGLE, "CUT"), circle(layer="CUT"),
        line(20, 20, 120, 20, "FOLD"), text(30, 30, "Front", "TEXT"), text(160, 20, "Side", "TEXT"),
        layers=(("CUT", "CONTINUOUS", 0), ("FOLD", "CONTINUOUS", 0), ("TEXT", "CONTINUOUS", 0))), folds=1,
        names=("Front", "Side")),
    Habit("a dashed layer", "a.dxf", dxf(BOTH, circle(), line(20, 20, 120, 20, "L2"),
        layers=(("L2", "DASHED", 0),)), folds=1),
    Habit("a dashed line", "a.dxf", dxf(BOTH, circle(), line(20, 20, 120, 20, "0", "6\nDASHED\n")), folds=1),
    Habit("a block put, turned", "a.dxf", dxf(FLIPPED.format(x=140, y=100, s=1, turn=180), light(TRIANGLE, "CUT"),
        blocks=BLOCK)),
    Habit("a block of inches put at 25.4", "a.dxf", dxf(FLIPPED.format(x=0, y=0, s=25.4, turn=0),
        light(TRIANGLE, "CUT"), blocks="0\nBLOCK\n8\n0\n2\nP\n70\n0\n10\n0\n20\n0\n30\n0\n3\nP\n"
        + light(scaled(CORNERS, 1 / 25.4)) + circle(50 / 25.4, 50 / 25.4, 8 / 25.4) + "0\nENDBLK\n8\n0\n")),
    Habit("a spline of straight pieces", "a.dxf", dxf(light(CORNERS), circle(), SPLINE)),
    Habit("a sheet's frame on its layer", "a.dxf", dxf(BOTH, circle(),
        light([(-10, -10), (410, -10), (410, 287), (-10, 287)], "SHEET_FRAME"),
        text(300, 0, "drawn by hand", "SHEET_FRAME")),
        left="SHEET_FRAME"),
    Habit("a sheet's frame on no layer", "a.dxf", dxf(BOTH, circle(),
        light([(-10, -10), (410, -10), (410, 287), (-10, 287)])), FRAME_ASKED, FRAME_OUT, left="round everything"),
    Habit("a closed line on an unknown layer", "a.dxf", dxf(light(CORNERS, "Cut"), light(TRIANGLE, "Cut"),
        circle(layer="zierde")), "layers.zierde", {"layers": (("ZIERDE", "holes"),)}),
    Habit("a hatch, a point and a line off the world", "a.dxf", dxf(BOTH, circle(), HATCH, FAR,
        "0\nPOINT\n8\n0\n10\n5\n20\n5\n30\n0\n"), left="HATCH"),
    Habit("a layer that is off", "a.dxf", dxf(BOTH, circle(), light([(20, 20), (40, 20), (40, 45)], "old"),
        layers=(("old", "CONTINUOUS", 1),)), left="hidden"),
    Habit("an ellipse for the hole", "a.dxf", dxf(BOTH,
        "0\nELLIPSE\n100\nAcDbEntity\n8\n0\n100\nAcDbEllipse\n10\n50\n20\n50\n30\n0\n11\n8\n21\n0\n31\n0\n40\n"
        "1\n41\n0\n"
        "42\n"
        f"{2 * math.pi}\n")),
]  # fmt: skip

PT = 72 / 25.4
ROUND = 20 * (1 - 0.5522847498)
CORNER = f"130 70 m 130 {70 + 20 - ROUND} {110 + 20 - ROUND} 90 110 90 c"
FRONT_PDF = f"10 10 m 130 10 l 130 70 l 130 {90 - ROUND:.5f} {130 - ROUND:.5f} 90 110 90 c 10 90 l h S"
SIDE_PDF = "150 10 m 240 10 l 150 70 l h S"
K = 8 * 0.5522847498
HOLE_PDF = (
    f"58 50 m 58 {50 + K:.5f} {50 + K:.5f} 58 50 58 c {50 - K:.5f} 58 42 {50 + K:.5f} 42 50 c 42 {50 - K:.5f}"
    f" {50 - K:.5f}"
    f" 42 50 42 c {50 + K:.5f} 42 58 {50 - K:.5f} 58 50 c h S"
)
ALL_PDF = f"{FRONT_PDF}\n{SIDE_PDF}\n{HOLE_PDF}\n"
IN_MM = f"q {PT:.8f} 0 0 {PT:.8f} 0 0 cm 0.2 w\n"


def pdf(*pages: str, page: str = "/MediaBox [0 0 850.39 566.93]", more: str = "", packed: bool = False) -> bytes:
    """Objects and a table of where they are, by hand. more: further objects, from number 10."""
    kids = " ".join(f"{20 + 2 * k} 0 R" for k in range(len(pages)))
    objects = {1: "<< /Type /Catalog /Pages 2 0 R >>", 2: f"<< /Type /Pages /Kids [{kids}] /Count {len(pages)} >>",
        3: "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>"}  # fmt: skip
    rows: dict[int, bytes] = {n: o.encode("latin-1") for n, o in objects.items()}
    for k, content in enumerate(pages):
        data = content.encode("latin-1")
        data, how = (zlib.compress(data), "/Filter /FlateDecode ") if packed else (data, "")
        form = "/XObject << /F1 10 0 R >>" if more else ""
        rows[20 + 2 * k] = (
            f"<< /Type /Page /Parent 2 0 R {page} /Resources << /Font << /T 3 0 R >> {form} >>"
            f" /Contents {21 + 2 * k} 0 R >>"
        ).encode()
        rows[21 + 2 * k] = f"<< {how}/Length {len(data)} >>\nstream\n".encode() + data + b"\nendstream"
    if more:
        rows[10] = (
            f"<< /Type /XObject /Subtype /Form /BBox [0 0 2000 2000] /Length {len(more)} >>\nstream\n{more}\nendstream"
        ).encode()
    out, places = b"%PDF-1.5\n", {}
    for n, body in sorted(rows.items()):
        places[n] = len(out)
        out += f"{n} 0 obj\n".encode() + body + b"\nendobj\n"
    at = len(out)
    table = "".join(f"{n} 1\n{places[n]:010d} 00000 n \n" for n in sorted(places))
    return (
        out
        + f"xref\n0 1\n0000000000 65535 f \n{table}trailer << /Root 1 0 R /Size 99 >>\nstartxref\n{at}\n%%EOF".encode()
    )


def words(x, y, said, size=6) -> str:
    return f"BT /T {size} Tf {x} {y} Td ({said}) Tj ET\n"


PDFS = [
    Habit("lines in mm by one matrix", "a.pdf", pdf(f"{IN_MM}{ALL_PDF} Q")),
    Habit("packed", "a.pdf", pdf(f"{IN_MM}{ALL_PDF} Q", packed=True)),
    Habit("with names", "a.pdf", pdf(f"{IN_MM}{ALL_PDF}{words(20, 20, 'Front')}{words(160, 15, 'Side')} Q"),
        names=("Front", "Side")),
    Habit("two matrices", "a.pdf", pdf(f"q 2 0 0 2 0 0 cm q {PT / 2} 0 0 {PT / 2} 0 0 cm\n{ALL_PDF} Q Q")),
    Habit("a page of larger units", "a.pdf", pdf(f"q {PT / 2} 0 0 {PT / 2} 0 0 cm\n{ALL_PDF} Q",
        page="/MediaBox [0 0 500 400] /UserUnit 2")),
    Habit("a page that does not begin at 0", "a.pdf", pdf(f"q {PT} 0 0 {PT} -100 -50 cm\n{ALL_PDF} Q",
        page="/MediaBox [-100 -50 750 517]")),
    Habit("a turned page", "a.pdf", pdf(f"{IN_MM}{ALL_PDF} Q", page="/MediaBox [0 0 850 566] /Rotate 90")),
    Habit("a form", "a.pdf", pdf(f"q {PT} 0 0 {PT} 0 0 cm /F1 Do Q", more=ALL_PDF)),
    Habit("a white ground filled first", "a.pdf", pdf(f"1 1 1 rg 0 0 850 566 re f 0 0 0 RG {IN_MM}{ALL_PDF} Q")),
    Habit("closed and stroked in one word", "a.pdf", pdf(f"{IN_MM}{ALL_PDF.replace('h S', 's')} Q")),
    Habit("filled and stroked", "a.pdf", pdf(f"0.9 g {IN_MM}{FRONT_PDF.replace('h S', 'b')}"
        f" {SIDE_PDF.replace('h S', 'B')}"
        f" 150 70 m 150 10 l S {HOLE_PDF} Q"), left=""),
    Habit("dashed fold", "a.pdf", pdf(f"{IN_MM}{ALL_PDF} [3 2] 0 d 20 20 m 120 20 l S Q"), folds=1),
    Habit("curves by their shorter words", "a.pdf", pdf(f"{IN_MM}{ALL_PDF} Q")),
    Habit("relative moves of the pen by many matrices", "a.pdf", pdf(
        f"{IN_MM} q 1 0 0 1 10 10 cm 0 0 m 120 0 l 120 60 l 120 {80 - ROUND:.5f} {120 - ROUND:.5f} 80 100 80 c 0 80 l"
        f" h S Q"
        f" q 1 0 0 1 150 10 cm 0 0 m 90 0 l 0 60 l h S Q {HOLE_PDF} Q")),
    Habit("two strokes meet at a point", "a.pdf", pdf(
        f"{IN_MM}10 10 m 130 10 l 130 70 l S {CORNER} S 110 90 m 10 90 l 10 10 l S {SIDE_PDF} {HOLE_PDF} Q")),
    Habit("a rectangle round all", "a.pdf", pdf(f"{IN_MM} 2 2 290 190 re S {ALL_PDF} Q"),
        FRAME_ASKED, FRAME_OUT,
        left="round everything"),
    Habit("a cut-off window", "a.pdf", pdf(f"0 0 850 566 re W n {IN_MM}{ALL_PDF} Q")),
    Habit("marked content", "a.pdf", pdf(f"/Layer <</MCID 0>> BDC {IN_MM}{ALL_PDF} Q EMC")),
    Habit("colours", "a.pdf", pdf(f"1 0 0 RG {IN_MM}{FRONT_PDF} 0 0 1 RG {SIDE_PDF} 0 1 0 RG {HOLE_PDF} Q")),
    Habit("a small crop box", "a.pdf", pdf(f"{IN_MM}{ALL_PDF} Q",
        page="/MediaBox [0 0 1200 900] /CropBox [0 0 850 566]")),
]  # fmt: skip
