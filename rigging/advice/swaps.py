"""What would mend it: the same solver asked about the rig with one thing changed."""

from __future__ import annotations

from dataclasses import replace

from rigging.lines.build import Crossing, passed_on
from rigging.catalogue import catalogue
from rigging.document import Haul
from rigging.quantities.faults import Refused
from rigging.catalogue.haul import advantage, bends, drop_redirect, stack
from rigging.lines.phases import Solved
from rigging.quantities.ranges import Range
from rigging.telling.report import Swap
from rigging.mechanics.tension import solve_with

BEST = "ball-bearing-pulley"


def eta_of(haul: Haul) -> dict[str, Range]:
    """η range at each bend; the unknown span where nothing was said."""
    return {b.id: catalogue().bends[haul.bends.get(b.id, "unknown")].eta for b in bends(haul.system)}


def hand_with(solved: Solved, changed: dict[str, float]) -> float:
    """Expected hand pull in newtons with the share passed on changed at some passes (by pass id)."""
    keeps = {p.id: p.eta.expected for rope in solved.network.ropes for p in rope.passes} | changed
    load_n = solved.units[1].load * solved.hands_n[1]
    return load_n / solve_with(solved.network, solved.motion, keeps, 1 if solved.cases.expected.rising else -1).load


def swaps(solved: Solved, crossing: Crossing) -> list[Swap]:
    """Everything else that could sit at a bend or lie on an edge, and the expected hand pull with it."""
    here = solved.hands_n[1]
    load_n = solved.units[1].load * here
    found = []
    for kind, name, other in _choices(crossing):
        hand = hand_with(solved, {crossing.id: passed_on(other).expected})
        found.append(Swap(kind=kind, name=name, hand_n=hand, line_advantage=load_n / hand, change_n=hand - here))
    return found


def _choices(crossing: Crossing) -> list[tuple[str, str, Crossing]]:
    if crossing.role == "bend":
        others = [bend for bend in catalogue().bends.values() if bend.id not in (crossing.kind, "unknown")]
        return [(bend.id, bend.name, replace(crossing, symbol="η", quantity=bend.eta)) for bend in others]
    if crossing.role == "edge":
        laid = [one for one in catalogue().surfaces.values() if one.role == "protection" and one.id != crossing.kind]
        frictions = [(one.id, one.name, *one.friction) for one in laid]
        return [(id, name, replace(crossing, symbol=symbol, quantity=span)) for id, name, symbol, span in frictions]
    return []


def worse_than_straight(haul: Haul) -> list[tuple[str, float]]:
    """Changes to a system that gives less than a straight pull: what, and the advantage then expected, best first."""
    eta, system = eta_of(haul), haul.system
    found = [
        (
            f"a ball-bearing pulley at {place.id}",
            advantage(system, {**eta, place.id: catalogue().bends[BEST].eta}).actual.expected,
        )
        for place in bends(system)
        if haul.bends.get(place.id) != BEST
    ]
    shorter = drop_redirect(system)
    if shorter is not None:
        kept = {place.id: eta.get(place.id, catalogue().bends["unknown"].eta) for place in bends(shorter)}
        found.append(("taking the last redirect out", advantage(shorter, kept).actual.expected))
    return sorted(found, key=lambda item: -item[1])


def stacked_two(haul: Haul) -> float | None:
    """Expected advantage with a 2:1 on a ball-bearing pulley stacked on the haul strand, None if it will not go."""
    try:
        bigger = stack(haul.system, catalogue().systems["drop-2"])
        eta = {place.id: eta_of(haul).get(place.id, catalogue().bends[BEST].eta) for place in bends(bigger)}
        return advantage(bigger, eta).actual.expected
    except Refused:
        return None
