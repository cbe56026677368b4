"""One pulley only, every other bend a bare connector: where it buys most, and both schools of where it belongs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from rigging.catalogue import catalogue
from rigging.catalogue.haul import HAND, HaulSystem, advantage, bends

School = Literal["hands", "load", ""]


@dataclass(frozen=True)
class OnePulley:
    """The advantage expected with the one pulley at a bend; `school`: the bend nearest the hands, or the block at the load."""

    at: str
    school: School
    gives: float


def one_pulley(system: HaulSystem, pulley: str = "ball-bearing-pulley", rest: str = "carabiner") -> list[OnePulley]:
    """Every place that the one pulley could have, best first; none for a system with fewer than two bends."""
    places = bends(system)
    if len(places) < 2:
        return []
    kinds = catalogue().bends
    at_hands = next(piece for piece in system.ropes if HAND in (piece[0], piece[-1]))
    nearest = at_hands[-2] if at_hands[-1] == HAND else at_hands[1]
    last = [place.id for place in places if place.node == nearest][-1]
    found = []
    for place in places:
        eta = {one.id: kinds[pulley if one.id == place.id else rest].eta for one in places}
        school: School = "hands" if place.id == last else "load" if place.node == system.load else ""
        found.append(OnePulley(place.id, school, advantage(system, eta).actual.expected))
    return sorted(found, key=lambda one: -one.gives)
