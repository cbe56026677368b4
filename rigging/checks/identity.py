"""What a finding is, apart from the words that it is told in: what signatures and acceptances go by.

Kind and values, figures to the two digits that anybody reads. A sentence can be bettered, or said in another language, without voiding
anything; what the values say can not change without."""

from __future__ import annotations

import hashlib
import json
from dataclasses import fields, is_dataclass
from functools import singledispatch
from typing import Any

from rigging.checks.found import Found
from rigging.judging.legs_gone import LegGone
from rigging.judging.margins import Part
from rigging.judging.removal import Gone
from rigging.quantities.faults import Fault
from rigging.study.place import Row

_WHERE = ("about", "state")


def mark_of(found: Found) -> str:
    """A finding in one short mark: alike findings have the same."""
    values = [plain(getattr(found, one.name)) for one in fields(found) if one.name not in _WHERE]
    return mark(found.kind, *values)


def mark_of_row(row: Row, level: str) -> str:
    """A row of the check in one short mark."""
    if row.standing is None:
        missing = [one.path for one in row.missing.faults] if row.missing else []
        return mark("row", row.state, level, missing)
    behind = row.standing.behind
    weak = plain(row.weakest), plain(row.up_m)
    return mark(
        "row",
        row.state,
        level,
        row.standing.on,
        behind.onto,
        plain(behind.far_m),
        plain(row.standing.hands_off_m),
        weak,
    )


def mark(*values: Any) -> str:
    return hashlib.sha256(json.dumps(values, sort_keys=True).encode()).hexdigest()[:16]


@singledispatch
def plain(value: Any) -> Any:
    """A value by what it says."""
    if is_dataclass(value):
        return [plain(getattr(value, one.name)) for one in fields(value)]
    return value


@plain.register
def _(value: float) -> Any:
    # What is less than a millimetre or a newton is nothing.
    return 0.0 if abs(value) < 1e-3 else float(f"{value:.2g}")


@plain.register
def _(value: bool) -> Any:
    return value


@plain.register(tuple)
@plain.register(list)
def _(value: Any) -> Any:
    return [plain(one) for one in value]


@plain.register
def _(value: Part) -> Any:
    return [
        value.id,
        value.thing,
        value.gives,
        plain(value.force_n),
        plain(value.strength_n),
        plain(value.margin),
        value.target,
    ]


@plain.register
def _(value: Gone) -> Any:
    return [value.part, plain(value.further_m), value.onto, value.meets]


@plain.register
def _(value: LegGone) -> Any:
    taker = value.taker.line.index if value.taker else None
    return [value.leg.line.index, value.outcome, taker, plain(value.ratio)]


@plain.register
def _(value: Fault) -> Any:
    return value.path
