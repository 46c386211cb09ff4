"""Kept versions of a piece: listed, compared, put back. Never changed, never deleted."""

from typing import Annotated

from fastapi import Query

from vellumcut.api import schemas as s
from vellumcut.api.deps import Id, StoreDep, routes
from vellumcut.api.views import overlay_view
from vellumcut.service.pattern import patterns, versions

router = routes("versions")


@router.get("/pieces/{piece}/versions")
def list_versions(store: StoreDep, piece: Id) -> list[s.VersionOut]:
    return [
        s.VersionOut(
            number=v.number,
            name=v.name,
            kept_at=v.kept_at,
            foam=v.design["foam"],
            ease=v.design["ease"],
            ease_at=v.design["ease_at"],
        )
        for v in versions.list_versions(store, piece)
    ]


@router.post("/pieces/{piece}/versions", status_code=201)
def keep_version(store: StoreDep, piece: Id, body: s.VersionIn) -> list[s.VersionOut]:
    versions.keep_now(store, piece, body.name)
    return list_versions(store, piece)


@router.post("/pieces/{piece}/versions/{number}/put-back", status_code=204)
def put_back(store: StoreDep, piece: Id, number: Id) -> None:
    """The piece is drawn again as it was kept, on the newest measures. Undo takes it back."""
    versions.put_back(store, piece, number)


@router.get("/pieces/{piece}/versions/{number}/overlay")
def overlay(
    store: StoreDep, piece: Id, number: Id, against: Annotated[int | None, Query(ge=1, le=2**62)] = None
) -> s.OverlayOut:
    """The kept version under the pattern as it is now, or under another version."""
    old, new = versions.work_at(store, piece, number), versions.work_at(store, piece, against)
    kept = next(v for v in versions.list_versions(store, piece) if v.number == number)
    return overlay_view(number, kept.name, patterns.pattern_of(old), patterns.pattern_of(new))
