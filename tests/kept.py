"""Whatever the core makes as figures and words that can be kept in a file: every field and every property of it."""

import inspect
import json
import re
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from pathlib import Path

import numpy as np
import pytest
from pydantic import BaseModel

FOLDER = Path(__file__).parent / "core" / "kept"
FEW = 9
"""So many of a long row of figures are kept, evenly from first to last."""


def told(x, without: tuple[str, ...] = (), deep: int = 4):
    """x as plain lists, dicts, words and figures to four digits. without: fields that are left out. deep: so many
    things within one another are looked into."""
    if x is None or isinstance(x, (str, bool, int, float, np.floating)):
        return _rounded(float(x)) if isinstance(x, (float, np.floating)) else x
    if isinstance(x, np.ndarray):
        rows = x[np.unique(np.linspace(0, len(x) - 1, FEW).round().astype(int))] if len(x) else x
        return [len(x), *map(_rounded, rows.astype(float).ravel().tolist())]
    if isinstance(x, (list, tuple, set, frozenset)):
        return [told(v, without, deep) for v in (sorted(x) if isinstance(x, (set, frozenset)) else x)]
    if isinstance(x, dict):
        return {str(k): told(v, without, deep) for k, v in x.items()}
    if deep == 0 or not (is_dataclass(x) or isinstance(x, BaseModel)):
        return type(x).__name__
    return {n: told(getattr(x, n), without, deep - 1) for n in _names(x) if n not in without}


def _rounded(x: float) -> float | str:
    return float(f"{x:.4g}") + 0.0 if np.isfinite(x) else str(x)


def _names(x) -> list[str]:
    own = list(type(x).model_fields) if isinstance(x, BaseModel) else [f.name for f in fields(x)]
    more = [
        n
        for n, _ in inspect.getmembers(type(x), lambda m: isinstance(m, property))
        if not n.startswith(("_", "model_"))
    ]
    return [n for n in dict.fromkeys([*own, *more]) if not n.startswith("_")]


def same(kept, now, path: str) -> None:
    """Alike in words; in figures within two of the second place, as machines may round: none may be kept to fewer."""
    if isinstance(kept, dict):
        assert sorted(kept) == sorted(now), path
        for key in kept:
            same(kept[key], now[key], f"{path}, {key}")
    elif isinstance(kept, list):
        assert len(kept) == len(now), path
        for k, (a, b) in enumerate(zip(kept, now, strict=True)):
            same(a, b, f"{path} [{k}]")
    elif isinstance(kept, float):
        assert now == pytest.approx(kept, rel=1e-3, abs=0.021), path
    else:
        assert now == kept, path


def file_of(name: str) -> Path:
    return FOLDER / f"{name.replace(' ', '-')}.json"


def comes_out_the_same(name: str, figures: Mapping[str, Callable[[], object]]) -> None:
    same(json.loads(file_of(name).read_text()), json.loads(json.dumps(figures[name]())), name)


def write(figures: Mapping[str, Callable[[], object]]) -> None:
    """Every figure to its file; rows of plain figures and words on one line each."""
    for name, make in figures.items():
        text = json.dumps(make(), indent=1, ensure_ascii=False)
        rows = re.sub(r"\[\n\s+([^][{}]*?)\n\s+\]", lambda m: "[" + re.sub(r"\n\s+", " ", m[1]) + "]", text)
        file_of(name).write_text(rows + "\n")
