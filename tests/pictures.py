"""Pictures as a device takes them."""

import io

from PIL import Image


def picture(kind: str = "PNG", size: tuple[int, int] = (640, 480)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (90, 120, 100)).save(out, kind)
    return out.getvalue()
