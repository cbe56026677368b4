"""What would mend it: the same solver asked about the rig with one thing changed."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from rigging.catalogue import catalogue
from rigging.catalogue.haul import advantage, bends, drop_redirect, stack
from rigging.document import Haul, Plan
from rigging.lines.parts import Crossing, eta_of, passed_on
from rigging.lines.solve import LineForces
from rigging.mechanics.bounds import Box, corners_of
from rigging.mechanics.tension import shares, solve_rows, solve_with
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range

BEST = "ball-bearing-pulley"
# With more inputs than this the corners of what each pass costs are chosen by slope.
_FEW = 6


@dataclass(frozen=True)
class Swapped:
    """What else could sit at a crossing: expected hand pull and advantage of the line with it, and the change of pull."""

    kind: str
    name: str
    hand_n: float
    line_advantage: float
    change_n: float


@dataclass(frozen=True)
class Priced:
    """What a crossing's friction costs at the hands, the pull without it as expected, and everything else that could sit there."""

    cost_n: Range
    without_n: float
    swaps: list[Swapped]


def hands_with(line: LineForces, changed: list[dict[str, float]]) -> list[float]:
    """Expected hand pulls in newtons with the share passed on changed at some passes (by pass id), for several changes at once."""
    assert line.running is not None
    running = line.running
    solved = solve_with(line.network, running.motion, changed, 1 if running.rising else -1)
    return [line.at_load.expected / one.load for one in solved]


def priced(line: LineForces) -> dict[str, Priced]:
    """Every crossing of a line priced, by its id: all of it worked out side by side."""
    assert line.running is not None
    here, load_n = line.running.hand.expected, line.at_load.expected
    crossings = [line.rig.crossings[one.id] for _, _, one in line.passes()]
    others = {one.id: _choices(one) for one in crossings}
    asked = [
        {one.id: share}
        for one in crossings
        for share in (1.0, *(passed_on(other).expected for _, _, other in others[one.id]))
    ]
    hands = iter(hands_with(line, asked) if asked else [])
    costs = _costs(line) if asked else {}
    found = {}
    for one in crossings:
        free = next(hands)
        swapped = [
            Swapped(kind, name, hand, load_n / hand, hand - here)
            for (kind, name, _), hand in zip(others[one.id], hands, strict=False)
        ]
        found[one.id] = Priced(costs[one.id], free, sorted(swapped, key=lambda row: row.hand_n))
    return found


def _costs(line: LineForces) -> dict[str, Range]:
    """What each pass costs at the hands, P − P′ with it free of friction, over the corners of all the others, by its id."""
    network, running = line.network, line.running
    assert running is not None
    direction, box = 1 if running.rising else -1, Box.of(shares(network, running.motion))
    count = len(network.passes)

    def costs(levels: Array) -> Array:
        keeps = box.at(levels)
        freed = np.repeat(keeps[:, None], count + 1, axis=1)
        freed[:, np.arange(count), np.arange(count)] = 1.0
        freed = freed.reshape(-1, count)
        _, gains = solve_rows(network, running.motion, freed, direction, freed)
        pulls = 1 / gains.reshape(len(levels), count + 1)
        return np.asarray(pulls[:, count:] - pulls[:, :count])

    levels = corners_of(box.open, costs, _FEW)
    found = costs(levels)
    scale = line.scale
    ends = {}
    for one, column in zip(network.passes, found.T, strict=True):
        low, high = float(column.min()), float(column.max())
        expected = float(column[0]) * scale.expected
        ends[one.id] = Range(
            min(low * (scale.low if low > 0 else scale.high), expected), expected,
            max(high * (scale.high if high > 0 else scale.low), expected),
        )  # fmt: skip
    return ends


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


def worse_than_straight(plan: Plan, haul: Haul) -> list[Better]:
    """Changes to a system that gives less than a straight pull, best first."""
    eta, system = eta_of(plan, haul), haul.system
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


def stacked_two(plan: Plan, haul: Haul) -> float | None:
    """Expected advantage with a 2:1 on a ball-bearing pulley stacked on the haul strand, None if it will not go."""
    try:
        bigger = stack(haul.system, catalogue().systems["drop-2"])
        eta = {place.id: eta_of(plan, haul).get(place.id, catalogue().bends[BEST].eta) for place in bends(bigger)}
        return advantage(bigger, eta).actual.expected
    except Refused:
        return None
