"""A made-up picture."""

import io

from PIL import Image


def picture() -> bytes:
    """A small PNG of one colour."""
    out = io.BytesIO()
    Image.new("RGB", (60, 90), (90, 60, 40)).save(out, "PNG")
    return out.getvalue()
