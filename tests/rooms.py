"""The index of each folder of source: ``python -m tests.rooms`` writes them anew from what each module says of
itself."""

import ast
import subprocess
from pathlib import Path

ROOT = Path(__file__).parents[1]
PACKAGE = ROOT / "src" / "vellumcut"
PAGES = ROOT / "web" / "src"
INDEX = "README.md"


def first_sentence(path: Path) -> str:
    """What a module says of itself: its docstring's first line, or the first comment of a page's script."""
    text = path.read_text(encoding="utf-8")
    if path.suffix == ".py":
        said = ast.get_docstring(ast.parse(text)) or ""
    else:
        start = text.find("/**")
        said = text[start + 3 : text.index("*/", start)] if start >= 0 else ""
        said = "\n".join(line.strip().removeprefix("*").strip() for line in said.strip().splitlines())
    whole = " ".join(said.split("\n\n")[0].split())
    return whole


def rooms(top: Path, endings: tuple[str, ...]) -> dict[Path, list[Path]]:
    """Folders of source and what lies in each, tracked or about to be."""
    listed = subprocess.check_output(["git", "ls-files", "-co", "--exclude-standard", str(top)], cwd=ROOT, text=True)
    out: dict[Path, list[Path]] = {}
    for name in sorted(listed.splitlines()):
        path = ROOT / name
        wanted = path.suffix in endings and path.name != "__init__.py" and ".test." not in path.name
        if wanted and path.is_file() and "versions" not in path.parts and path.name != "schema.ts":
            out.setdefault(path.parent, []).append(path)
    return out


def index_of(folder: Path, files: list[Path], inner: list[Path]) -> str:
    """The page of one folder: what lies in it, a line each."""
    rows = [f"- [{f.name}]({f.name}): {first_sentence(f) or 'see its name.'}" for f in files]
    rows += [f"- [{d.name}/]({d.name}/)" for d in sorted(inner)]
    return f"# {folder.name}\n\n" + "\n".join(rows) + "\n"


def every_index() -> dict[Path, str]:
    out = {}
    for top, endings in ((PACKAGE, (".py",)), (PAGES, (".ts", ".vue"))):
        found = rooms(top, endings)
        folders = set(found) | {p for f in found for p in f.parents if top in (p, *p.parents)}
        for folder in folders:
            inner = [d for d in folders if d.parent == folder and d != folder]
            out[folder / INDEX] = index_of(folder, found.get(folder, []), inner)
    return out


if __name__ == "__main__":
    for path, text in every_index().items():
        path.write_text(text, encoding="utf-8")
