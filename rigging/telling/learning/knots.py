"""Knots told: what each is for, how it is tied stage by stage, how to tell it from what it is not; as curves for whoever draws it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue, origins_in
from rigging.catalogue.entries import ORIGIN
from rigging.learning.curves import Code, Strand, code_of, come_to
from rigging.learning.knots import FaultGiven, Knot, StageGiven, knot, knots, smoothed
from rigging.learning.tight import set_of
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
    """A stage of tying: of the knot's strands as many places each as have come by then (`upto`), or, where it then lies otherwise, `strands` of its own."""

    do: str
    upto: list[int]
    strands: list[KnotStrand]


@dataclass(slots=True)
class KnotFault:
    """A way to get it wrong, how to tell, and the strands that then lie otherwise."""

    id: str
    name: str
    tell: str
    strands: list[KnotStrand]


@dataclass(slots=True)
class KnotLoad:
    """A way that it may be loaded: what comes of it, whether it is meant so, and the arrows of the pulls, each a place and a way (x, y, z, dx, dy, dz)."""

    then: str
    meant: bool
    arrows: list[list[float]]


class KnotReport(BaseModel):
    """A knot, hitch, bend or wrap: what it is for and not for, what it keeps or where it slips, what to look at, how it comes undone, drawn by stages,
    drawn tight (`set`; empty: it lies as it is drawn), as it may be loaded, and with its faults; `beside`: what is chosen from instead of it."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    id: str
    name: str
    used: str
    not_used: str
    keeps: str
    origin: str
    look: list[str]
    undone: str
    pulled: list[str]
    strands: list[KnotStrand]
    stages: list[KnotStage]
    set: list[KnotStrand]
    loads: list[KnotLoad]
    faults: list[KnotFault]
    beside: list[str]


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
        id=one.id, name=one.name, used=one.used, not_used=one.not_used, keeps=keeps_text(one, say), origin=_origin(one), look=one.look, undone=one.undone, pulled=one.pulled,
        strands=drawn(one.drawn()), stages=[_stage(one, stage) for stage in one.stages],
        set=_set(one), loads=[KnotLoad(load.then, load.meant, [[round(float(value), 2) for value in (*at, *way)] for at, way in one.pulls(load.pulled)]) for load in one.loads],
        beside=[other.id for other in knots().values() if other.kind == one.kind and other.id != one.id],
        faults=[KnotFault(fault.id, fault.name, fault.tell, _otherwise(one, fault)) for fault in one.faults],
    )  # fmt: skip


def _set(one: Knot) -> list[KnotStrand]:
    """Its ropes drawn tight; nothing where it lies as it is drawn."""
    return [_strand(strand) for strand in set_of(one) or () if not strand.solid]


def _strand(one: Strand) -> KnotStrand:
    return KnotStrand(one.id, [[round(value, 2) for value in place] for place in one.path.tolist()], list(one.ends), one.solid)  # fmt: skip


def _otherwise(one: Knot, fault: FaultGiven) -> list[KnotStrand]:
    """The strands that lie otherwise with a fault."""
    return drawn(tuple(strand for strand in one.drawn(fault.id) if strand.id in fault.shapes))


def _stage(one: Knot, stage: StageGiven) -> KnotStage:
    if stage.shapes:
        return KnotStage(stage.do, [], drawn(one.at(stage)))
    counts = [
        len(strand.path) if strand.solid else come_to(strand.path, stage.upto) for strand in smoothed(one.drawn())
    ]
    return KnotStage(stage.do, counts, [])


def drawn(strands: tuple[Strand, ...]) -> list[KnotStrand]:
    return [_strand(one) for one in smoothed(strands)]


def _origin(one: Knot) -> str:
    """Where what it keeps, or slips at, comes from; nothing where nothing is told of it."""
    shelf = catalogue()
    found = shelf.knots.get(one.id) or shelf.hitches.get(one.id)
    number = "keeps" if one.id in shelf.knots else "slip_n"
    kinds = (ORIGIN[one.kind] for one in origins_in(found.origin(number))) if found else ()
    return "; ".join(dict.fromkeys(kinds))


def keeps_text(one: Knot, say: Wording) -> str:
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
