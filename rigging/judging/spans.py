"""A tension line judged: its rope, what slips in it and the anchors of both its ends, at every place of the load."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from rigging.catalogue import catalogue
from rigging.document import Plan, TensionLine
from rigging.judging.anchors import anchor_states
from rigging.judging.margins import Part, judged, share_of_rule, weakest_of
from rigging.judging.parts import anchor_parts
from rigging.lines.tension_line import AtPlace, along_line
from rigging.lines.tied import device_strength_n, device_tested, holds_symbol, knot_holds
from rigging.mechanics.bounds import Cloud
from rigging.quantities.ranges import Range, exactly, times
from rigging.quantities.symbols import symbol

# Less than this under the load is none (common practice, no source).
LEAST_CLEAR_M = 0.5


@dataclass(frozen=True)
class _Pulled:
    """A place of the load as the anchors are asked about it."""

    id: str
    on_anchors: dict[str, Cloud]


@dataclass(frozen=True)
class Crossing:
    """The load's way along a tension line: each place with its weakest part, the place where the line bears most and the one
    with least under the load (None: the ground is not entered). `below`: every part below the rule, once, by the place where it is worst."""

    line: TensionLine
    places: list[AtPlace]
    weakest: list[Part | None]
    below: list[tuple[int, Part]]
    hardest: int
    thinnest: int
    lowest: int | None


def crossing(plan: Plan, line: TensionLine, count: int = 50) -> Crossing:
    """A tension line, judged at every place.

    Raises
    ------
    Refused
        If its ends are in one place.
    """
    places = along_line(plan, line, count)
    weakest: list[Part | None] = []
    below: dict[str, tuple[int, Part]] = {}
    for number, parts in enumerate(crossing_parts(plan, line, places)):
        cap = next((part.strength_n for part in parts if part.gives == "slips"), None)
        found = [judged(plan.rules, part, cap) for part in parts]
        weakest.append(weakest_of(found))
        for part in found:
            before = below.get(part.id)
            if part.verdict == "below" and (before is None or share_of_rule(part) < share_of_rule(before[1])):
                below[part.id] = number, part
    order = range(len(places))
    known = [n for n in order if places[n].clear_m is not None]
    return Crossing(
        line, places, weakest, list(below.values()), max(order, key=lambda n: places[n].tension_n.high), min(order, key=lambda n: share_of_rule(weakest[n])),
        min(known, key=lambda n: _clear(places[n]), default=None),
    )  # fmt: skip


def crossing_parts(plan: Plan, line: TensionLine, places: list[AtPlace]) -> Iterator[list[Part]]:
    """The parts of a tension line and of both its anchors with the load at each place, not judged."""
    pulled = [_Pulled(f"{line.id}@{n}", {line.anchor: one.near, line.far: one.far}) for n, one in enumerate(places)]
    states = anchor_states(plan, pulled)
    for one, place in zip(pulled, places, strict=True):
        parts = list(_line_parts(plan, line, place))
        for anchor in one.on_anchors:
            state = states.get((one.id, anchor))
            parts += anchor_parts(plan, state) if state else []
        yield parts


def _clear(place: AtPlace) -> float:
    return place.clear_m.low if place.clear_m else float("inf")


def _line_parts(plan: Plan, line: TensionLine, place: AtPlace) -> Iterator[Part]:
    rope = plan.rope(line.rope)
    kind = catalogue().ropes[rope.kind]
    held = knot_holds(catalogue().knots[line.end_knot], rope, "loop", tested=plan.tested)
    ropes = symbol("n", "ropes side by side", line.ropes, "", "leader")
    yield Part(
        f"{line.id}:rope", "rope", kind.name, "", f"{line.id}:rope", "", False, place.tension_n, times(exactly(line.ropes), held.breaks_n),
        "breaks", f"n · {held.rule}", (ropes, *held.symbols),
    )  # fmt: skip
    if line.slips is not None:
        device = catalogue().devices[line.slips]
        strength, own = device_strength_n(device, rope, plan.tested), device_tested(device, rope, plan.tested)
        slips: Range = times(exactly(line.ropes), strength)
        told = (ropes, holds_symbol("where it slips", strength, device.origin("strength_n"), own))
        yield Part(
            f"{line.id}:device", "locked-device", device.name, "", f"{line.id}:device", "", False, place.tension_n, slips, "slips",
            "n · slip load", told,
        )  # fmt: skip
