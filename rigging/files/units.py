"""Units as heads of tables name them, and what one of each is in SI."""

from __future__ import annotations

import math
import re
from typing import Literal

from rigging.quantities.faults import refuse
from rigging.site.load import GRAVITY

Measure = Literal["length", "angle", "force", "time"]

_POUND_N = 0.45359237 * GRAVITY
UNITS: dict[Measure, dict[str, float]] = {
    "length": {"m": 1.0, "metre": 1.0, "meter": 1.0, "metres": 1.0, "meters": 1.0, "cm": 0.01, "mm": 0.001, "km": 1000.0, "ft": 0.3048,
               "feet": 0.3048, "foot": 0.3048, "yd": 0.9144, "in": 0.0254},
    "angle": {"°": 1.0, "deg": 1.0, "degree": 1.0, "degrees": 1.0, "grad": 0.9, "gon": 0.9, "rad": math.degrees(1.0), "mil": 360 / 6400},
    "force": {"n": 1.0, "kn": 1000.0, "dan": 10.0, "kgf": GRAVITY, "kg": GRAVITY, "kp": GRAVITY, "lbf": _POUND_N, "lb": _POUND_N, "lbs": _POUND_N,
              "t": 1000 * GRAVITY, "tf": 1000 * GRAVITY, "mn": 1e6},
    "time": {"s": 1.0, "sec": 1.0, "secs": 1.0, "second": 1.0, "seconds": 1.0, "ms": 0.001, "msec": 0.001, "min": 60.0, "minutes": 60.0, "h": 3600.0,
             "us": 1e-6, "µs": 1e-6},
}  # fmt: skip
# Of what is typed where there can be no doubt: small letters and large ones are one.
_LARGE = {"MN": "mn", "mN": None}
_IN_BRACKETS = re.compile(r"[\[(]\s*([^\[\]()]+?)\s*[\])]\s*$")
_AT_END = re.compile(r"[_/, ]\s*([A-Za-z°µ]+)\s*$")


def unit_in(head: str, measure: Measure) -> str | None:
    """The unit that a column's head names, as it writes it; None where it names none.

    Raises
    ------
    Refused
        Where what stands in its brackets is no unit of that measure.
    """
    if found := _IN_BRACKETS.search(head):
        said = found.group(1)
        one(said, measure, f"column {head!r}")
        return said
    if measure == "force" and _known(head.strip(), measure) is not None:
        return head.strip()
    found = _AT_END.search(head)
    return found.group(1) if found and _known(found.group(1), measure) is not None else None


def _known(said: str, measure: Measure) -> float | None:
    name = _LARGE.get(said, said.lower()) if measure == "force" else said.lower()
    return UNITS[measure].get(name.rstrip(".")) if name else None


def one(said: str, measure: Measure, field: str) -> float:
    """One of a unit in SI (angles in degrees).

    Raises
    ------
    Refused
        If it is none of that measure.
    """
    found = _known(said.strip(), measure)
    if found is None:
        raise refuse(field, f"{said!r} is no unit of {measure} known here", f"one of {', '.join(UNITS[measure])}")
    return found
