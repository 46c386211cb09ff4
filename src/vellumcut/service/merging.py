"""Two windows that change one thing: what each changed is kept where they touch different parts of it."""

import hashlib
import json
from typing import Any

from sqlalchemy.orm import Session

from vellumcut.service.errors import Overtaken
from vellumcut.service.rows import plain_value
from vellumcut.store.journal import states_of
from vellumcut.store.models import Build, MeasurementSet, Piece, Wearer

CHANGED_WHOLE: dict[type, tuple[str, ...]] = {
    Wearer: ("name", "note"),
    MeasurementSet: ("readings",),
    Build: ("name", "wearer_id", "event_name", "event_on", "dart_edges", "schools"),
    Piece: ("name", "design"),
}
"""What of a row windows send back as a whole when a part of it has changed."""

_GONE = object()


def tag_of(value: Any) -> str:
    """A short word that stands for a stored value as it is; an HTTP entity tag without its quotes."""
    return hashlib.sha256(json.dumps(value, sort_keys=True, default=str).encode()).hexdigest()[:20]


def tag_of_row(row: Any) -> str:
    """The tag of what of a row windows change."""
    return tag_of([plain_value(getattr(row, name)) for name in CHANGED_WHOLE[type(row)]])


def beside_others(session: Session, row: Any, mine: dict[str, Any], seen: str | None) -> dict[str, Any]:
    """New values of a row's columns beside what other windows have changed since.

    seen: the row's tag when ``mine`` began; None asks for no care. Raises Overtaken.
    """
    if seen is None or seen == tag_of_row(row):
        return mine
    names = CHANGED_WHOLE[type(row)]
    for state in states_of(session, row.__tablename__, row.id):
        base = {name: state[name] for name in names}
        if tag_of(list(base.values())) == seen:
            theirs = {name: plain_value(getattr(row, name)) for name in mine}
            return _merged_fields({name: base[name] for name in mine}, theirs, mine, "")
    raise Overtaken("")


def merged(base: Any, theirs: Any, mine: Any, name: str = "") -> Any:
    """Three-way merge of JSON values. base: as it was when ``mine`` began; theirs: as it is kept now.

    Groups are merged field by field, lists of things that have a key of their own thing by thing. Raises Overtaken
    where both have changed the same part.
    """
    if mine in (base, theirs):
        return theirs
    if theirs == base:
        return mine
    values = (base, theirs, mine)
    if all(isinstance(v, dict) for v in values):
        return _merged_fields(base, theirs, mine, name)
    if all(isinstance(v, list | tuple) and _keyed(v) for v in values):
        b, t, m = ({_key(x): x for x in v} for v in values)
        fields = _merged_fields(b, t, m, name)
        order = [*map(_key, theirs), *(_key(x) for x in mine if _key(x) not in {_key(y) for y in theirs})]
        return [fields[k] for k in order if k in fields]
    if all(isinstance(v, list | tuple) and all(isinstance(x, str) for x in v) for v in values):
        return [x for x in dict.fromkeys([*theirs, *mine]) if (x in mine and x in theirs) or x not in base]
    raise Overtaken(name)


def _merged_fields(base: dict[str, Any], theirs: dict[str, Any], mine: dict[str, Any], name: str) -> dict[str, Any]:
    out = {}
    for key in dict.fromkeys([*theirs, *mine]):
        value = merged(
            base.get(key, _GONE), theirs.get(key, _GONE), mine.get(key, _GONE), f"{name}, {key}" if name else key
        )
        if value is not _GONE:
            out[key] = value
    return out


def _key(item: Any) -> str:
    """What tells a thing in a list from the others: its key, or the part of the body that it reads."""
    if "key" in item:
        return str(item["key"])
    return f"{item.get('segment')} {item.get('side')}"


def _keyed(items: Any) -> bool:
    if not all(isinstance(x, dict) and ("key" in x or "segment" in x) for x in items):
        return False
    keys = [_key(x) for x in items]
    return len(set(keys)) == len(keys)
