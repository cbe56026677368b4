"""What a finding is, apart from the words that it is told in: what signatures and acceptances go by.

Kind and values, figures to the two digits that anybody reads. A sentence can be bettered, or said in another language, without voiding
anything; what the values say can not change without."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from dataclasses import fields, is_dataclass
from functools import singledispatch
from typing import Any

from rigging.checks.found import Found
from rigging.checks.holding.single import made_of
from rigging.judging.legs_gone import LegGone
from rigging.judging.margins import Part
from rigging.judging.removal import Gone
from rigging.mechanics.holds import HANDS
from rigging.quantities.faults import Fault
from rigging.quantities.ranges import Range
from rigging.study.place import Row, thing_of

_WHERE = ("about", "state")


def mark_of(found: Found) -> str:
    """A finding in one short mark: alike findings have the same."""
    told = [one for one in fields(found) if one.compare and one.name not in _WHERE]
    return mark(found.kind, *(_named(one.name, getattr(found, one.name)) for one in told))


def mark_of_row(row: Row, level: str) -> str:
    """A row of the check in one short mark: what it holds on and what is behind, a device by its kind; how far, how weak."""
    if row.standing is None:
        missing = [one.path for one in row.missing.faults] if row.missing else []
        return mark("row", row.state, level, missing)
    standing, weakest = row.standing, row.weakest

    def things(parts: Iterable[str]) -> list[tuple[str, str]]:
        named = (thing_of(standing, one) if one != HANDS else one for one in parts)
        return [(thing, made_of(standing.plan, thing) if thing.endswith(":device") else "") for thing in named]

    weak = None
    if weakest is not None and weakest.margin is not None:
        what = weakest.where or weakest.thing if weakest.kind in ("attachment", "feature") else ""
        weak = weakest.kind, what, plain(weakest.margin.low), plain(row.up_m)
    behind = standing.behind
    return mark(
        "row", row.state, level, things(standing.on), things(behind.onto), plain(behind.far_m), plain(standing.hands_off_m), weak
    )  # fmt: skip


def mark(*values: Any) -> str:
    return hashlib.sha256(json.dumps(values, sort_keys=True).encode()).hexdigest()[:16]


def _named(name: str, value: Any) -> Any:
    """A value by its field: forces as they are told, in kilonewtons."""
    if name.endswith("_n") and isinstance(value, float | Range):
        return plain(value / 1000 if isinstance(value, float) else value.map(lambda one: one / 1000))
    return plain(value)


@singledispatch
def plain(value: Any) -> Any:
    """A value by what it says."""
    if is_dataclass(value):
        return [_named(one.name, getattr(value, one.name)) for one in fields(value)]
    return value


@plain.register
def _(value: float) -> Any:
    # What lies on the middle between two, as whole numbers do, is not left to the last bit.
    value *= 1 + 1e-9
    return round(value, 2) if abs(value) < 0.1 else float(f"{value:.2g}")


@plain.register
def _(value: bool) -> Any:
    return value


@plain.register
def _(value: int) -> Any:
    # A whole number where a field is one of metres is no other than 2.0.
    return float(value)


@plain.register(tuple)
@plain.register(list)
def _(value: Any) -> Any:
    return [plain(one) for one in value]


@plain.register
def _(value: Range) -> Any:
    return [plain(value.low), plain(value.high)]


@plain.register
def _(value: Part) -> Any:
    return [
        value.id,
        value.thing,
        value.gives,
        _named("force_n", value.force_n),
        _named("strength_n", value.strength_n),
        plain(value.target),
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
