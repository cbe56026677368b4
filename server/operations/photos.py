"""Photographs: kept as files named by their own hash, each with a small one beside it; checked by opening them."""

import hashlib
import io
from pathlib import Path
from typing import Any

from django.conf import settings
from PIL import Image, ImageOps, UnidentifiedImageError
from storing.settled import write

from operations.bare import bare
from rigging.quantities.faults import refuse

LARGEST = 12 * 1024 * 1024
_FORMATS = {"JPEG": "jpg", "PNG": "png", "WEBP": "webp"}
_SMALL = (320, 320)
# The tag of TIFF and Exif that says which way is up.
_ORIENTATION = 274
# More than this many pixels is no photograph but a way to fill the memory: a JPEG is read small, the others whole.
_PIXELS = {"JPEG": 80_000_000, "PNG": 24_000_000, "WEBP": 24_000_000}


def folder() -> Path:
    return Path(settings.VAR) / "photographs"


def keep(content: bytes, name: str) -> dict[str, Any]:
    """A photograph kept; what the log entry says of it.

    Raises
    ------
    Refused
        If it is too large, or no picture that can be opened, or its name is no name of a file.
    """
    if len(content) > LARGEST:
        raise refuse("file", f"{len(content) / 1e6:.1f} MB is too large", f"send at most {LARGEST // 1_000_000} MB")
    if not name or Path(name).name != name or name.startswith("."):
        raise refuse("file", f"{name!r} is no name of a file", "send it under its own name, without a folder")
    try:
        with Image.open(io.BytesIO(content)) as picture:
            kind, size = picture.format or "", picture.size
            if size[0] * size[1] > _PIXELS.get(kind, 0):
                raise refuse(
                    "file", f"a {kind or 'file'} of this size is not kept", "send a JPEG, PNG or WebP photograph"
                )
            # Read at about the size that is wanted, where its kind lets that: a few kilobytes can stand for a gigabyte.
            orientation = picture.getexif().get(_ORIENTATION, 1)
            picture.draft("RGB", _SMALL)
            picture.thumbnail(_SMALL)
            small = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise refuse("file", "it can not be opened as a picture", "send a JPEG, PNG or WebP photograph") from error
    content = bare(content, kind, orientation if orientation in range(1, 9) else 1)
    sha256 = hashlib.sha256(content).hexdigest()
    folder().mkdir(parents=True, exist_ok=True)
    write(folder() / f"{sha256}.{_FORMATS[kind]}", content)
    out = io.BytesIO()
    small.save(out, "JPEG", quality=80)
    write(folder() / f"{sha256}.small.jpg", out.getvalue())
    return {
        "sha256": sha256,
        "small_sha256": hashlib.sha256(out.getvalue()).hexdigest(),
        "type": _FORMATS[kind],
        "name": name,
        "bytes": len(content),
        "width": size[0],
        "height": size[1],
    }


def file_of(said: dict[str, Any], small: bool = False) -> Path:
    return folder() / (f"{said['sha256']}.small.jpg" if small else f"{said['sha256']}.{said['type']}")


def fault_of(said: dict[str, Any]) -> str | None:
    """What is wrong with the photograph that an entry names; None where it is as it was taken."""
    if "sha256" not in said:
        return "its photograph is not named"
    file = file_of(said)
    if not file.exists():
        return f"its photograph {said['sha256'][:12]} is missing"
    if hashlib.sha256(file.read_bytes()).hexdigest() != said["sha256"]:
        return f"its photograph {said['sha256'][:12]} is another one"
    small, known = file_of(said, small=True), said.get("small_sha256")
    # Entries from before do not say what the small one is.
    if known and (not small.exists() or hashlib.sha256(small.read_bytes()).hexdigest() != known):
        return f"the small one of its photograph {said['sha256'][:12]} is missing, or another one"
    return None
