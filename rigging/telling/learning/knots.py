"""Knots told: what each is for, how it is tied stage by stage, how to tell it from what it is not; as curves for whoever draws it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue
from rigging.learning.curves import Code, Strand, code_of
from rigging.learning.knots import Knot, knot, knots, smoothed
from rigging.quantities.units import Wording


@dataclass(slots=True)
class KnotStrand:
    """A strand as it is drawn: `path` x, y, z of each place; `solid`: what the rope goes round."""

    id: str
    path: list[list[float]]
    ends: list[str]
    solid: bool


@dataclass(slots=True)
class KnotStage:
    """A stage of tying."""

    do: str
    strands: list[KnotStrand]


@dataclass(slots=True)
class KnotFault:
    """A way to get it wrong, and how to tell."""

    id: str
    name: str
    tell: str
    strands: list[KnotStrand]


class KnotReport(BaseModel):
    """A knot, hitch, bend or wrap: what it is for and not for, what it keeps or where it slips, what to look at, how it comes undone, drawn by stages
    and with its faults."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    id: str
    name: str
    used: str
    not_used: str
    keeps: str
    look: list[str]
    undone: str
    pulled: list[str]
    stages: list[KnotStage]
    faults: list[KnotFault]


class KnotsReport(BaseModel):
    """Every knot that is drawn, by name: all of it at once, for whoever is without a connection afterwards."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    knots: list[KnotReport]


@lru_cache(8)
def knots_report(say: Wording) -> KnotsReport:
    """All of them, told in somebody's units."""
    return KnotsReport(knots=[_report(one, say) for one in sorted(knots().values(), key=lambda one: one.name)])


def _report(one: Knot, say: Wording) -> KnotReport:
    return KnotReport(
        id=one.id, name=one.name, used=one.used, not_used=one.not_used, keeps=_keeps(one, say), look=one.look, undone=one.undone, pulled=one.pulled,
        stages=[KnotStage(stage.do, drawn(one.at(stage))) for stage in one.stages],
        faults=[KnotFault(fault.id, fault.name, fault.tell, drawn(one.drawn(fault.id))) for fault in one.faults],
    )  # fmt: skip


def drawn(strands: tuple[Strand, ...]) -> list[KnotStrand]:
    return [
        KnotStrand(one.id, [[round(value, 2) for value in place] for place in one.path.tolist()], list(one.ends), one.solid)
        for one in smoothed(strands)
    ]  # fmt: skip


def _keeps(one: Knot, say: Wording) -> str:
    """What the catalogue has of it: the share of the rope's strength that it keeps, or where it starts to slip."""
    shelf = catalogue()
    if one.id in shelf.knots:
        keeps = shelf.knots[one.id].keeps
        return f"It keeps {keeps.low:.0%} to {keeps.high:.0%} of the rope's strength, {keeps.expected:.0%} as expected."
    hitch = shelf.hitches.get(one.id)
    if hitch is not None and hitch.slip_n is not None:
        return f"On one rope it starts to slip at {say.force(hitch.slip_n)}."
    return ""


def knot_json(id: str) -> dict[str, Any]:
    """What the command line prints."""
    one = knot(id)
    return {
        "id": one.id, "name": one.name, "stages": [{"upto": stage.upto, "do": stage.do} for stage in one.stages], "crossings": _code(one.code), "pulled": one.pulled,
        "faults": [{"id": fault.id, "name": fault.name, "tell": fault.tell, "crossings": _code(code_of(one.drawn(fault=fault.id)))} for fault in one.faults],
    }  # fmt: skip


def _code(code: Code) -> list[list[int]]:
    return [list(one) for one in code]
