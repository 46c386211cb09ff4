"""The house as a stranger finds it: small rooms with an index, short files and functions, arrows one way, no circle."""

import ast
import subprocess
from collections import Counter
from pathlib import Path

import grimp

from tests.rooms import PACKAGE, PAGES, ROOT, every_index

MOST_FILES, MOST_LINES, MOST_IN_FUNCTION, MOST_COLUMNS = 20, 400, 50, 120
WRITTEN_BY_TOOLS = ("schema.ts", "package-lock.json")
MIGRATIONS = "versions"
"""What a step of the database once did is never changed again."""


def sources() -> list[Path]:
    listed = subprocess.check_output(
        ["git", "ls-files", "-co", "--exclude-standard", "src", "web/src", "tests"], cwd=ROOT
    )
    named = [ROOT / name for name in listed.decode().splitlines()]
    return [
        f
        for f in named
        if f.suffix in (".py", ".ts", ".vue", ".css") and f.is_file() and f.name not in WRITTEN_BY_TOOLS
    ]


def test_the_index_of_every_room_tells_what_is_in_it():
    stale = [
        path.relative_to(ROOT) for path, text in every_index().items() if not path.is_file() or path.read_text() != text
    ]
    assert not stale, f"python -m tests.rooms writes them: {stale}"
    unsaid = [path for path, text in every_index().items() if "see its name" in text]
    assert not unsaid


def test_rooms_files_and_functions_are_small():
    listed = subprocess.check_output(
        ["git", "ls-files", "-co", "--exclude-standard", "src", "web/src"], cwd=ROOT
    ).decode()
    crowded = {str(d): n for d, n in Counter(Path(x).parent for x in listed.splitlines()).items() if n > MOST_FILES}
    assert not crowded
    long_files, long_lines, long_functions = [], [], []
    for file in sources():
        lines = file.read_text(encoding="utf-8").splitlines()
        if len(lines) > MOST_LINES:
            long_files.append((file.name, len(lines)))
        long_lines += [f"{file.name}:{k}" for k, line in enumerate(lines, 1) if len(line) > MOST_COLUMNS]
        if file.suffix == ".py" and PACKAGE in file.parents and MIGRATIONS not in file.parts:
            for node in ast.walk(ast.parse("\n".join(lines))):
                if isinstance(node, ast.FunctionDef) and node.end_lineno - node.lineno + 1 > MOST_IN_FUNCTION:
                    long_functions.append((file.name, node.name, node.end_lineno - node.lineno + 1))
    assert not long_files
    assert not long_lines
    assert not long_functions


def test_no_module_reaches_itself():
    graph = grimp.build_graph("vellumcut", include_external_packages=False)
    circles = [
        (one, chain)
        for one in graph.modules
        for other in graph.find_modules_directly_imported_by(one)
        if (chain := graph.find_shortest_chain(other, one))
    ]
    assert not circles, circles[:3]


def test_public_functions_of_the_core_are_documented():
    told, silent = 0, []
    for file in (PACKAGE / "core").rglob("*.py"):
        for node in ast.parse(file.read_text(encoding="utf-8")).body:
            if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
                told += ast.get_docstring(node) is not None
                silent += [f"{file.name} {node.name}"] * (ast.get_docstring(node) is None)
    assert told / (told + len(silent)) >= 0.95, silent
    assert PAGES.is_dir()
