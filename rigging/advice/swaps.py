"""What would mend it: the same solver asked about the rig with one thing changed."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rigging.catalogue import catalogue
from rigging.catalogue.haul import advantage, bends, drop_redirect, stack
from rigging.document import Haul
from rigging.lines.parts import Crossing, eta_of, passed_on
from rigging.lines.solve import LineForces
from rigging.mechanics.tension import solve_with
from rigging.quantities.faults import Refused

BEST = "ball-bearing-pulley"


@dataclass(frozen=True)
class Swapped:
    """What else could sit at a crossing: expected hand pull and advantage of the line with it, and the change of pull."""

    kind: str
    name: str
    hand_n: float
    line_advantage: float
    change_n: float


def hand_with(line: LineForces, changed: dict[str, float]) -> float:
    """Expected hand pull in newtons with the share passed on changed at some passes (by pass id)."""
    assert line.running is not None
    running = line.running
    keeps = {p.id: p.eta.expected for rope in line.network.ropes for p in rope.passes} | changed
    load_n = running.units[1].load * running.hands_n[1]
    return load_n / solve_with(line.network, running.motion, keeps, 1 if running.rising else -1).load


def swaps(line: LineForces, crossing: Crossing) -> list[Swapped]:
    """Everything else that could sit at a bend or lie on an edge, and the expected hand pull with it."""
    assert line.running is not None
    here = line.running.hands_n[1]
    load_n = line.running.units[1].load * here
    found = []
    for kind, name, other in _choices(crossing):
        hand = hand_with(line, {crossing.id: passed_on(other).expected})
        found.append(Swapped(kind, name, hand, load_n / hand, hand - here))
    return sorted(found, key=lambda one: one.hand_n)


def cost_n(line: LineForces, crossing: Crossing) -> float:
    """Expected hand pull that the friction of this one crossing costs."""
    assert line.running is not None
    return line.running.hands_n[1] - hand_with(line, {crossing.id: 1.0})


def _choices(crossing: Crossing) -> list[tuple[str, str, Crossing]]:
    if crossing.role in ("bend", "redirect"):
        others = [bend for bend in catalogue().bends.values() if bend.id not in (crossing.kind, "unknown")]
        return [(bend.id, bend.name, replace(crossing, symbol="η", quantity=bend.eta)) for bend in others]
    if crossing.role == "edge":
        laid = [one for one in catalogue().surfaces.values() if one.role == "protection" and one.id != crossing.kind]
        frictions = [(one.id, one.name, *one.friction) for one in laid]
        return [(id, name, replace(crossing, symbol=symbol, quantity=span)) for id, name, symbol, span in frictions]
    return []


@dataclass(frozen=True)
class Better:
    """A change to a system that gives less than a straight pull, and the advantage then expected."""

    change: str
    at: str
    gives: float


def worse_than_straight(haul: Haul) -> list[Better]:
    """Changes to a system that gives less than a straight pull, best first."""
    eta, system = eta_of(haul), haul.system
    found = [
        Better("pulley", place.id, advantage(system, {**eta, place.id: catalogue().bends[BEST].eta}).actual.expected)
        for place in bends(system)
        if haul.bends.get(place.id) != BEST
    ]
    shorter = drop_redirect(system)
    if shorter is not None:
        kept = {place.id: eta.get(place.id, catalogue().bends["unknown"].eta) for place in bends(shorter)}
        found.append(Better("straight", "", advantage(shorter, kept).actual.expected))
    return sorted(found, key=lambda item: -item.gives)


def stacked_two(haul: Haul) -> float | None:
    """Expected advantage with a 2:1 on a ball-bearing pulley stacked on the haul strand, None if it will not go."""
    try:
        bigger = stack(haul.system, catalogue().systems["drop-2"])
        eta = {place.id: eta_of(haul).get(place.id, catalogue().bends[BEST].eta) for place in bends(bigger)}
        return advantage(bigger, eta).actual.expected
    except Refused:
        return None
