"""The command line: the same work without a browser.

What a command needs is loaded when it is given: the help is there at once, and a pattern needs no web server.
"""

from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from vellumcut.cli.ports import FIRST_PORT

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    # Plain words: the library that draws frames round them takes as long to load as all the rest.
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
    help="From body to flat panels, to armour that fits.",
)
FileArgument = Annotated[Path, typer.Argument(metavar="BUILD.json", help="A build file; see docs/formats.md.")]
OutOption = Annotated[Path, typer.Option(help="Folder for the files; made if missing.")]
PieceOption = Annotated[str | None, typer.Option(help="Name of one piece; default all.")]
DataOption = Annotated[
    Path | None, typer.Option(help="The data folder; default the workshop's own, or VELLUMCUT_DATA.")
]
PortOption = Annotated[
    int | None, typer.Option(min=1, max=65535, help=f"Port on 127.0.0.1; default the first free one from {FIRST_PORT}.")
]


class Paper(StrEnum):
    A4 = "A4"
    A3 = "A3"
    LETTER = "Letter"
    TABLOID = "Tabloid"


PaperOption = Annotated[Paper, typer.Option(help="Paper of the PDF.")]


@app.command()
def serve(port: PortOption = None) -> None:
    """Open the workshop in the browser, with your own data."""
    from vellumcut.cli import serving

    serving.serve(port)


@app.command()
def demo(
    port: PortOption = None,
    data: Annotated[Path | None, typer.Option(help="New folder for the demo's data; default a temporary one.")] = None,
) -> None:
    """Open the workshop with a made-up costume in a new data folder."""
    from vellumcut.cli import serving

    serving.demo(port, data)


@app.command()
def schema() -> None:
    """Print the JSON Schema of a build file."""
    from vellumcut.cli import files

    files.schema()


@app.command()
def check(file: FileArgument) -> None:
    """Say what is wrong, unlikely or worth a look in a build file."""
    from vellumcut.cli import patterns

    patterns.check(file)


@app.command()
def pattern(
    file: FileArgument,
    out: OutOption,
    piece: PieceOption = None,
    format: Annotated[
        str, typer.Option(help="Any of svg, dxf, pdf, card, json, with commas between.")
    ] = "svg,pdf,json",
    paper: PaperOption = Paper.A4,
    fold: Annotated[bool, typer.Option(help="Draw half of what is alike left and right, to cut on the fold.")] = False,
) -> None:
    """Write the patterns of a build file."""
    from vellumcut.cli import patterns

    patterns.pattern(file, out, piece, format, paper.value, fold)


@app.command()
def steps(file: FileArgument, out: OutOption, piece: PieceOption = None, paper: PaperOption = Paper.A4) -> None:
    """Write the order of work of a build file: steps, bench sheets, finish cards, mask sheets."""
    from vellumcut.cli import making

    making.steps(file, out, piece, paper.value)


@app.command()
def parts(file: FileArgument, out: OutOption, piece: PieceOption = None) -> None:
    """Write what is cut of a build file: the cut list, and what is laid on its pieces as SVG and DXF."""
    from vellumcut.cli import shop

    shop.parts(file, out, piece)


class NestTool(StrEnum):
    KNIFE = "knife"
    SCISSORS = "scissors"
    CUTTER = "cutter"


class NestEffort(StrEnum):
    QUICK = "quick"
    USUAL = "usual"
    THOROUGH = "thorough"


@app.command()
def nest(
    file: FileArgument,
    out: OutOption,
    tool: Annotated[NestTool, typer.Option(help="What cuts: it says how far parts lie apart.")] = NestTool.KNIFE,
    effort: Annotated[NestEffort, typer.Option(help="How many passes it searches.")] = NestEffort.USUAL,
    seed: Annotated[int, typer.Option(min=0, help="The same one gives the same sheets.")] = 1,
) -> None:
    """Lay all that is cut of a build file on sheets: each sheet as SVG and DXF, and nest.json."""
    from vellumcut.cli import shop

    shop.nest(file, out, tool.value, effort.value, seed)


@app.command()
def supplies(file: FileArgument, out: OutOption) -> None:
    """Write what a build file takes, from its steps and sheets: supplies.csv and supplies.json."""
    from vellumcut.cli import shop

    shop.supplies(file, out)


@app.command()
def unfold(
    mesh: Annotated[Path, typer.Argument(metavar="MESH", help="OBJ, STL, PLY or GLB.")],
    out: OutOption,
    tall: Annotated[float, typer.Option(help="How tall it is made, mm.")] = 0.0,
    girth: Annotated[float, typer.Option(help="How far round it is made, mm; 0: as its height makes it.")] = 0.0,
    girth_at: Annotated[float, typer.Option(help="Share of its height at which that is.")] = 0.5,
    low: Annotated[float, typer.Option(help="Share of its height from which it is wanted.")] = 0.0,
    high: Annotated[float, typer.Option(help="Share of its height up to which it is wanted.")] = 1.0,
    up: Annotated[str, typer.Option(help="Which way of the file is up: x, y or z; as usual for its format.")] = "",
    panels: Annotated[int, typer.Option(help="Parted into so many, at least.")] = 2,
    foam: Annotated[float, typer.Option(help="Thickness of the foam, mm.")] = 6.0,
    outside: Annotated[bool, typer.Option(help="The mesh is the outer face of the foam, not its inner one.")] = False,
    format: Annotated[str, typer.Option(help="svg, dxf, pdf, card, json; with commas between.")] = "svg,dxf,pdf,json",
    paper: PaperOption = Paper.A4,
) -> None:
    """Unfold a mesh into panels of foam. Without --tall it keeps the numbers of its file, as mm."""
    from vellumcut.cli import unfolding

    asked = {"low": low, "high": high, "girth": girth, "girth_at": girth_at, "panels": panels, "inside": not outside}
    unfolding.unfold(mesh, out, asked | ({"tall": tall} if tall else {}) | ({"up": up} if up else {}), foam, format,
                     paper.value)  # fmt: skip


@app.command()
def rig(
    file: FileArgument,
    out: OutOption,
    piece: PieceOption = None,
    paper: PaperOption = Paper.A4,
    movement: Annotated[bool, typer.Option(help="Turn every joint, too.")] = True,
) -> None:
    """Write what holds a build on: strap lists, rig sheet, dressing card, and all of it as JSON."""
    from vellumcut.cli import rigs

    rigs.rig(file, out, piece, paper.value, movement)


@app.command()
def trace(
    photographs: Annotated[
        list[Path], typer.Argument(metavar="PHOTO...", help="JPEG, PNG, WebP or HEIC, marker cards in view.")
    ],
    out: OutOption,
    square: Annotated[
        float | None, typer.Option(min=50, max=200, help="What the test square on the cards' page measures, mm.")
    ] = None,
    join: Annotated[
        bool, typer.Option("--join", help="Photographs of one ground that share cards: one piece, larger than each.")
    ] = False,
    ground: Annotated[
        Path | None,
        typer.Option("--ground", metavar="PHOTO", help="The same floor and cards, before the pieces were laid down."),
    ] = None,
) -> None:
    """Measure the pieces in photographs: outlines, slits and ink as JSON, SVG and DXF. Exit code 3: one of them cannot
    be trusted as it is; what to do is said, and no outline of it is written."""
    from vellumcut.cli import tracing

    tracing.trace(photographs, out, square, join, ground)


@app.command()
def fit(
    pattern: Annotated[
        Path, typer.Argument(metavar="PATTERN", help="A pattern drawn for another body: SVG, DXF or PDF.")
    ],
    file: FileArgument,
    out: OutOption,
    piece: PieceOption = None,
    unit: Annotated[str, typer.Option(help="What its numbers are, where it does not say: mm, cm, in, pt or px.")] = "",
    layer: Annotated[
        list[str] | None,
        typer.Option(help="What a layer holds that is asked after: NAME=panels, holes, marks, folds or out."),
    ] = None,
    page: Annotated[
        list[str] | None,
        typer.Option(help="How far a page of a PDF is moved to lie right, mm: X,Y; one for each page."),
    ] = None,
    share: Annotated[float, typer.Option(help="How much of the round its panels make: 1, 0.5 or 0.25.")] = 1.0,
    along: Annotated[bool, typer.Option(help="Fit its length, too.")] = False,
    paper: PaperOption = Paper.A4,
) -> None:
    """Fit a pattern from elsewhere to the wearer of a build file."""
    from vellumcut.cli import tracing

    tracing.fit(pattern, file, out, piece, unit, layer or (), page or (), share, along, paper.value)


@app.command()
def regrade(
    old: Annotated[Path, typer.Argument(metavar="OLD.json", help="The build file that the suit was cut from.")],
    new: Annotated[Path, typer.Argument(metavar="NEW.json", help="The same build on newer measures.")],
    out: Annotated[Path, typer.Option(help="Folder for the strips; made if missing.")],
    paper: PaperOption = Paper.A4,
) -> None:
    """Say piece by piece what still fits, and write the strips that mend what does not."""
    from vellumcut.cli import patterns

    patterns.regrade(old, new, out, paper.value)


@app.command()
def cast(
    file: FileArgument,
    out: OutOption,
    piece: PieceOption = None,
    format: Annotated[str, typer.Option(help="Any of obj, stl, ply, glb, svg, with commas between.")] = "obj,svg",
) -> None:
    """Write each piece's body, armour and ink as meshes, its ink sheet as SVG, and the measurements as CSV."""
    from vellumcut.cli import files

    files.cast(file, out, piece, format)


@app.command()
def bundle(
    file: FileArgument,
    out: Annotated[Path, typer.Option(help="The bundle to write, ending in .vellumcut.zip.")],
) -> None:
    """Pack a build file with its scans and everything drawn of it."""
    from vellumcut.cli import files

    files.bundle(file, out)


@app.command()
def backup(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="The archive to write, ending in .zip.")],
    data: DataOption = None,
) -> None:
    """Save everything of every build in one file; the workshop may be open meanwhile."""
    from vellumcut.cli import keeping

    keeping.backup(file, data)


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="An archive that backup has written.")],
    data: DataOption = None,
) -> None:
    """Put a backup in the place of what is there, which is copied first."""
    from vellumcut.cli import keeping

    keeping.restore(file, data)


def main() -> None:
    app()
