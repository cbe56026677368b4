"""When and where a photograph was taken, by what its camera wrote into it."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any

from rigging.files.places import Content, OnMap, Spot, checked
from rigging.quantities.faults import refuse

_GPS, _EXIF = 0x8825, 0x8769
_TAKEN, _ZONE = 0x9003, 0x9011


@dataclass(frozen=True)
class Taken:
    """`time` as the camera has it (its own clock; with its zone where it says one), None where it says nothing; likewise the place."""

    time: str | None
    at: OnMap | None


def taken(content: bytes) -> Taken:
    """Time and place of a photograph.

    Raises
    ------
    Refused
        If it is no picture.
    """
    from PIL import Image, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(content)) as picture:
            tags = picture.getexif()
            inner, gps = tags.get_ifd(_EXIF), tags.get_ifd(_GPS)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, TypeError, Image.DecompressionBombError) as error:
        raise refuse("photograph", "it is no picture that can be read", "give it as JPEG") from error
    said = str(inner.get(_TAKEN, "")).strip("\0 ")
    time = said.replace(":", "-", 2) + str(inner.get(_ZONE, "")).strip("\0 ") if said else None
    return Taken(time, _place(gps))


def _place(gps: dict[int, Any]) -> OnMap | None:
    """Latitude (tags 1 and 2), longitude (3 and 4), height (5 and 6) and how far off it may be (31)."""
    try:
        latitude, longitude = _angle(gps[2]), _angle(gps[4])
        if str(gps.get(1, "N")).upper().startswith("S"):
            latitude = -latitude
        if str(gps.get(3, "E")).upper().startswith("W"):
            longitude = -longitude
        checked("photograph", latitude, longitude)
        up = float(gps[6]) if 6 in gps else None
        below = gps.get(5) in (1, b"\x01")
        return OnMap(
            latitude, longitude, None if up is None else -up if below else up, float(gps[31]) if 31 in gps else None
        )
    except (KeyError, ValueError, TypeError, ZeroDivisionError, IndexError):
        return None


def _angle(parts: Any) -> float:
    degrees, minutes, seconds = (float(one) for one in parts)
    return degrees + minutes / 60 + seconds / 3600


def photograph(content: bytes, name: str) -> Content:
    """The place where a photograph was taken, named by its file.

    Raises
    ------
    Refused
        If it says no place.
    """
    found = taken(content)
    if found.at is None:
        raise refuse(
            "photograph",
            "its camera wrote no place into it",
            "switch the camera's location on, or place the feature by hand",
        )
    when = f", taken {found.time}" if found.time else ""
    fields = {
        "name": name.rpartition(".")[0] or name,
        "kind": "other",
        "basis": f"Place of the photograph {name}{when}",
    }
    return Content((Spot("photograph", found.at, fields),))
