"""Haul systems and anchor schemes told for whoever looks them up: drawn unfolded or from above, with what each comes to."""

from __future__ import annotations

from functools import lru_cache

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import AnchorScheme, catalogue
from rigging.catalogue.haul import HaulSystem, advantage, bends
from rigging.learning.drills.drill import Laid, Sketch, Spot
from rigging.learning.drills.hauling import sketch_of
from rigging.quantities.units import Wording
from rigging.telling.learning.shown import DrillShown, sketched

_GOOD, _BARE = "ball-bearing-pulley", "carabiner"


class SystemReport(BaseModel):
    """A haul system: ideal, and what it really gives on good pulleys and on bare connectors, as expected; metres of rope hauled for each that the load
    rises; anchors beside the hands; unfolded, the load left."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    id: str
    name: str
    ideal: str
    pulleys: str
    bare: str
    ends: str
    shown: DrillShown


class SchemeReport(BaseModel):
    """A scheme of anchors: what it is, how many legs, what to look at; from above, the pull to the right."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    id: str
    name: str
    what: str
    look: str
    legs: str
    shown: DrillShown


class SystemsReport(BaseModel):
    """Every haul system by its ideal advantage, and every scheme."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    systems: list[SystemReport]
    schemes: list[SchemeReport]


@lru_cache(1)
def systems_report() -> SystemsReport:
    rows = sorted(catalogue().systems.values(), key=lambda one: (_gives(one, _GOOD)[0], one.name))
    return SystemsReport(
        systems=[_system(one) for one in rows], schemes=[_scheme(one) for one in catalogue().schemes.values()]
    )


def _gives(one: HaulSystem, kind: str) -> tuple[float, float]:
    found = advantage(one, {place.id: catalogue().bends[kind].eta for place in bends(one)})
    return found.ideal, found.actual.expected


def _system(one: HaulSystem) -> SystemReport:
    (ideal, good), (_, bare) = _gives(one, _GOOD), _gives(one, _BARE)
    anchors = sum(kind == "anchor" for kind in one.nodes.values())
    return SystemReport(
        id=one.id, name=one.name, ideal=f"{ideal:g} : 1", pulleys=f"{Wording.ratio(good)} : 1", bare=f"{Wording.ratio(bare)} : 1",
        ends=f"{ideal:g} m of rope for each metre up; {anchors} anchor{'s' if anchors != 1 else ''}", shown=sketched(sketch_of(one)),
    )  # fmt: skip


def _scheme(one: AnchorScheme) -> SchemeReport:
    spots = tuple(Spot(name, at.kind, at.x_m, at.y_m) for name, at in one.spots.items())
    laid = tuple(Laid(f"piece {n}", tuple(through), rope=kind == "rope") for n, (kind, *through) in enumerate(one.laid))
    shown = sketched(Sketch(spots, laid, to_scale=True))
    return SchemeReport(id=one.id, name=one.name, what=one.what, look=one.look, legs=one.counts, shown=shown)
