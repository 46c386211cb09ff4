"""Files to take away."""

import re
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import Query
from fastapi.responses import Response

from vellumcut.service.keeping.settings import PrintScale

Scale = Annotated[PrintScale, Query()]
Unit = Annotated[Literal["mm", "in"], Query()]


def download(content: str | bytes, name: str, ending: str, media: str) -> Response:
    """A file under a piece's own name, whatever letters that has."""
    plain = re.sub(r"[^A-Za-z0-9 _-]", "_", name)[:80] or "pattern"
    disposition = f"attachment; filename=\"{plain}.{ending}\"; filename*=UTF-8''{quote(name[:80])}.{ending}"
    return Response(content, media_type=media, headers={"content-disposition": disposition})
