"""Haul systems and anchor schemes told for whoever looks them up: drawn unfolded or from above, with what each comes to."""

from __future__ import annotations

import math
from functools import lru_cache

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue
from rigging.catalogue.haul import HaulSystem, advantage, bends
from rigging.document.anchors import LEGS_OF, Scheme
from rigging.learning.drills.drill import Laid, Sketch, Spot
from rigging.learning.drills.hauling import sketch_of
from rigging.quantities.units import Wording
from rigging.telling.learning.shown import DrillShown, sketched

_GOOD, _BARE = "ball-bearing-pulley", "carabiner"

# What each scheme is, what goes if one leg goes, what to look at.
_SCHEMES: dict[Scheme, tuple[str, str, str]] = {
    "single": ("One feature", "Everything hangs on it: it has to hold what the whole anchor has to, by a margin that nobody doubts.", "The feature itself, its strap low, its connector along the pull."),
    "two-loop-y": ("Two loops, a Y", "Two pieces side by side into one point; if one goes the other takes all of it, without a drop where both were tight.", "Both tight as the pull comes on; the angle between them below 60°."),
    "fixed": ("Gathered in a knot", "Legs knotted for one direction; each its share by where it lies and how stiff it is. If one goes the others take it, and the point moves a little.", "The knot tied in the direction of the pull; no leg slack in it."),
    "self-adjusting": ("Adjusting, limited", "Follows the pull as it swings. If a leg goes the point drops until the limiting knots hold.", "Limiting knots close; the slider runs; a locked knot where the pull will not swing."),
    "back-tied": ("Tied back", "A front feature held back by others behind it: the front one takes the turn, the others the pull.", "Ties tight before the load; behind, not to the side."),
    "floating": ("Floating point", "A working point held in the air between three features and more, above where it is needed.", "Each leg tight; what goes if one goes: the point swings to the others."),
    "span": ("Span between two sides", "A rope or beam between two ends, the load between them: the flatter, the more it pulls on both.", "Sag before load; both ends worth twice what hangs on it and more."),
    "frame": ("Frame on feet", "Legs push, guys pull: the head stands as long as the pull stays between its feet and its guys hold.", "Feet that can not slide; guys on both sides; the head over the edge, no further."),
}  # fmt: skip


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
    return SystemsReport(systems=[_system(one) for one in rows], schemes=[_scheme(id) for id in _SCHEMES])


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


def _scheme(id: Scheme) -> SchemeReport:
    name, what, look = _SCHEMES[id]
    least, most = LEGS_OF[id]
    legs = f"{least} leg{'s' if least > 1 else ''}" if least == most else f"{least} to {most} legs"
    return SchemeReport(id=id, name=name, what=what, look=look, legs=legs, shown=sketched(_drawn(id)))


def _drawn(id: Scheme) -> Sketch:
    """A scheme from above with few legs, or, of what stands, from the side."""
    point = Spot("point", "block", 0.0, 0.0)
    load = Spot("load", "load", 3.0, 0.0)
    pull = Laid("pull", ("point", "load"))
    if id == "span":
        ends = (Spot("one end", "anchor", -3.0, 0.4), Spot("other end", "anchor", 3.0, 0.4))
        return Sketch((*ends, Spot("load", "load", 0.0, -0.6)), (Laid("line", ("one end", "load", "other end")),), to_scale=True)  # fmt: skip
    if id == "frame":
        spots = (Spot("foot", "anchor", -0.6, -2.0), Spot("other foot", "anchor", 0.9, -2.0), Spot("guy", "anchor", -3.2, -2.0), Spot("head", "block", 0.4, 0.6), Spot("load", "load", 0.6, -1.6))  # fmt: skip
        laid = (Laid("leg", ("foot", "head")), Laid("other leg", ("other foot", "head")), Laid("guy line", ("guy", "head"), rope=False), Laid("rope", ("head", "load")))  # fmt: skip
        return Sketch(spots, laid, to_scale=True)
    if id == "back-tied":
        front, behind = Spot("front", "anchor", -1.5, 0.0), Spot("behind", "anchor", -3.6, 0.3)
        return Sketch((front, behind, point, load), (Laid("leg", ("front", "point")), Laid("tie", ("behind", "front"), rope=False), pull), to_scale=True)  # fmt: skip
    count = {"single": 1, "two-loop-y": 2, "fixed": 3, "self-adjusting": 3, "floating": 3}[id]
    spread = math.radians({"single": 0, "two-loop-y": 40, "fixed": 70, "self-adjusting": 70, "floating": 240}[id])
    angles = [math.pi + (spread * (n / (count - 1) - 0.5) if count > 1 else 0.0) for n in range(count)]
    legs = [Spot(f"leg {n + 1}", "anchor", 2.6 * math.cos(a), 2.6 * math.sin(a)) for n, a in enumerate(angles)]
    if id == "floating":
        load = Spot("load", "load", 0.9, 0.0)
    pieces = [Laid(f"piece {n + 1}", (one.id, "point"), rope=False) for n, one in enumerate(legs)]
    return Sketch((*legs, point, load), (*pieces, Laid("pull", ("point", load.id))), to_scale=True)
