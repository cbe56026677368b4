"""Lines that a rangefinder sends as text: sentences that begin with a dollar sign and end with a checksum, or three numbers by name.

The sentence is of this tool's simulated instrument: `$RFSLD,slope distance,M,bearing,M or T,inclination*checksum`, the checksum as in
NMEA 0183: all signs between `$` and `*` by exclusive or."""

from __future__ import annotations

import re
from functools import reduce

from rigging.files.asked import refused
from rigging.files.places import Content, Sighted, Spot
from rigging.quantities.faults import Fault, refuse
from rigging.site.survey import Reading

TALKER = "RFSLD"
_SENTENCE = re.compile(r"\$(?P<body>[^*$]*)(?:\*(?P<sum>[0-9A-Fa-f]{2}))?")
_NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)", re.ASCII)
_UNITS = {"M": 1.0, "F": 0.3048, "Y": 0.9144}
_RIGHT = f"${TALKER},distance,M,bearing,M or T,inclination*checksum"


def checksum(body: str) -> str:
    """Two hexadecimal digits for what stands between `$` and `*` (NMEA 0183)."""
    return f"{reduce(lambda found, sign: found ^ ord(sign), body, 0):02X}"


def sentence(reading: Reading) -> str:
    """A reading as the simulated instrument sends it."""
    north = "T" if reading.north == "true" else "M"
    body = f"{TALKER},{reading.distance_m:.2f},M,{reading.bearing_deg:.1f},{north},{reading.inclination_deg:.1f}"
    return f"${body}*{checksum(body)}"


def sighting(line: str, where: str = "line") -> Sighted:
    """What one sentence says.

    Raises
    ------
    Refused
        If it is none of them, was cut or altered on its way, or has a number that is none.
    """
    found = _SENTENCE.fullmatch(line.strip())
    if found is None:
        raise refuse(where, f"{line.strip()[:60]!r} is no sentence", _RIGHT)
    body, said = found.group("body"), found.group("sum")
    if said is None:
        raise refuse(where, "it has no checksum: its end did not come", "read it again")
    if said.upper() != checksum(body):
        raise refuse(
            where, f"its checksum is {said}, and would be {checksum(body)}: it was altered on its way", "read it again"
        )
    kind, *parts = body.split(",")
    if kind != TALKER or len(parts) != 5:
        raise refuse(where, f"{kind!r} is no sentence known here", _RIGHT)
    distance, unit, bearing, north, inclination = parts
    if unit not in _UNITS:
        raise refuse(
            where, f"{unit!r} is no unit of distance here", f"one of {', '.join(_UNITS)} (metres, feet, yards)"
        )
    if north not in ("M", "T"):
        raise refuse(where, f"from which north the bearing is, {north!r} does not say", "M (magnetic) or T (true)")
    slope, angle, up = (
        _value(where, text, name)
        for text, name in ((distance, "distance"), (bearing, "bearing"), (inclination, "inclination"))
    )
    slope *= _UNITS[unit]
    if not (0 < slope <= 5000 and 0 <= angle <= 360 and -90 <= up <= 90):
        raise refuse(
            where, f"{slope:g} m, bearing {angle:g}°, {up:g}° up is no reading", "0 to 5000 m, 0 to 360°, −90 to 90°"
        )
    return Sighted(angle, "true" if north == "T" else "magnetic", slope_m=slope, inclination_deg=up)


def _value(where: str, text: str, name: str) -> float:
    if not _NUMBER.fullmatch(text):
        raise refuse(
            where,
            f"its {name} {text[:20]!r} is no number" if text else f"it has no {name}",
            "read it again, on the feature itself",
        )
    return float(text)


def sightings(text: str) -> Content:
    """Every sentence of a file or a paste; empty lines and other instruments' sentences are left out and said.

    Raises
    ------
    Refused
        Every line that is at fault.
    """
    spots: list[Spot] = []
    faults: list[Fault] = []
    left: list[str] = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        where = f"row {number}"
        if line.strip().startswith("$") and not line.strip().startswith(f"${TALKER}"):
            left.append(f"{where}: {line.strip()[:30]} is another sentence")
            continue
        try:
            spots.append(Spot(where, sighting(line, where), {"name": f"Reading {len(spots) + 1}", "kind": "other"}))
        except ValueError as error:
            faults += getattr(error, "faults", [Fault(where, str(error), _RIGHT)])
    if faults:
        raise refused(faults)
    return Content(tuple(spots), left_out=tuple(left))
