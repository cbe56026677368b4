"""Every part of a plan's load path, in the order in which the load travels through them, through whichever line bears."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace

from rigging.anchors.chain import stage_links
from rigging.anchors.wraps import strands_of
from rigging.catalogue import catalogue
from rigging.document import Plan, Rules
from rigging.judging.anchors import AnchorState, LegStrength
from rigging.judging.line_parts import line_parts
from rigging.judging.margins import Part, at_peak, judged, rated
from rigging.lines.catch import Caught
from rigging.lines.rig import anchor_node
from rigging.lines.solve import Solved
from rigging.quantities.ranges import Range


def all_parts(
    plan: Plan, states: Iterable[Solved], anchors: dict[tuple[str, str], AnchorState]
) -> dict[str, list[Part]]:
    """The parts of every state by its id. States in which the same lines and anchors bear alike have the same parts."""
    known: dict[tuple[object, ...], list[Part]] = {}
    shared: Shared = {}
    found = {}
    for state in states:
        pulled = tuple(id(anchors.get((state.id, anchor))) for anchor in state.on_anchors)
        arrested = isinstance(state, Caught) and state.arrests is not None
        key = (
            tuple(map(id, state.lines)),
            pulled,
            state.moment.hands_off and state.moment.solving == "lowering",
            arrested,
        )
        if key not in known:
            known[key] = parts_in_load_order(plan, state, anchors, shared)
        found[state.id] = known[key]
    return found


# Parts of anchors under pulls that several states share, by the pull.
Shared = dict[int, list[Part]]


def parts_in_load_order(
    plan: Plan, solved: Solved, anchors: dict[tuple[str, str], AnchorState], shared: Shared | None = None
) -> list[Part]:
    """Every part from the casualty to the ground, judged."""
    found: list[Part] = []
    shared = {} if shared is None else shared
    pulled: dict[str, None] = {}
    for line in solved.lines:
        found += line_parts(plan, solved, line)
        others = [one for one in line.on_anchors if one != line.rig.line.anchor]
        pulled |= dict.fromkeys([*others, line.rig.line.anchor])
    for anchor in pulled:
        state = anchors.get((solved.id, anchor))
        if state is not None:
            if id(state) not in shared:
                shared[id(state)] = list(anchor_parts(plan, state))
            found += shared[id(state)]
    cap = _cap([part for part in found if not tied_behind(plan, part)])
    if isinstance(solved, Caught) and solved.arrests:
        return [at_peak(part) for part in found]
    return [judged(plan.rules, part, cap) for part in found]


def anchor_parts(plan: Plan, state: AnchorState) -> Iterator[Part]:
    """Working point, straps and features of an anchor under a pull, not judged yet."""
    node = anchor_node(state.anchor)
    anchor = plan.anchor(state.anchor)
    if anchor.arrangement.connector is not None:
        connector = catalogue().connectors[anchor.arrangement.connector]
        yield rated(
            f"{node}:working-point", "working-point", connector.name, node, node, state.force_n, connector.strength_n,
            connector.origin("strength_n"), where=anchor.name,
        )  # fmt: skip
    for link in stage_links(anchor.arrangement, plan.day.state):
        yield Part(
            f"{node}:{link.id}", "attachment", link.name, anchor.name, f"{node}:point", node, True, state.force_n, link.strength_n, "breaks", link.rule,
            link.symbols,
        )  # fmt: skip
    for leg in state.legs:
        yield from _leg_parts(plan, state, leg)


def _leg_parts(plan: Plan, state: AnchorState, leg: LegStrength) -> Iterator[Part]:
    line, link, holds = leg.line, leg.link, leg.feature
    several = len(state.legs) > 1
    node, number = anchor_node(state.anchor), f":{line.index + 1}" if several else ""
    about = f"{node}:leg:{line.index}"
    # Margins are judged at the worst of swing and luck; without a balance a lone leg carries all of it.
    on_leg = state.states.swung(line.index) if state.states else state.force_n
    force = state.force_n if leg.bears_all else on_leg
    where = line.feature.name if several else ""
    part = Part(
        f"{node}:attachment{number}", "attachment", link.name, where, about, node, True, force,
        link.strength_n, "breaks", link.rule, link.symbols,
        wants=_more_strands(plan.rules, force, leg) if link.id == "attachment" else None,
    )  # fmt: skip
    if state.states is None:
        # The legs come to no balance: what each would bear is not known, and nothing of it is judged.
        why = "; ".join(state.faults)
        yield replace(part, strength_n=None, gives="unknown", why_not=why)
        return
    yield part
    yield Part(
        f"{node}:feature{number}", "feature", line.feature.name, "", about, node, True, on_leg, holds.strength_n,
        "breaks" if holds.strength_n else "unknown", holds.formula, holds.symbols, why_not=holds.why_not,
    )  # fmt: skip


def _more_strands(rules: Rules, force: Range, leg: LegStrength) -> int | None:
    strands = strands_of(leg.line.leg)
    wanted = math.ceil(force.high * rules.anchors_ratio / leg.link.strength_n.low * strands - 1e-9)
    return wanted - strands if wanted > strands else None


# A tie behind what slips, with less slack than this, is reached in a catch.
TIED_REACHED_M = 1.0


def tied_behind(plan: Plan, part: Part) -> bool:
    """Whether the rope is tied so close behind a part that slips that it can not slip."""
    line = next((one for one in plan.lines if part.takes in (f"{one.id}:belay", f"{one.id}:device")), None)
    if line is None or part.gives != "slips":
        return False
    tied = line.belay or line.lowering
    return tied is not None and tied.tied_behind_m is not None and tied.tied_behind_m < TIED_REACHED_M


def _cap(parts: list[Part]) -> Range | None:
    """What slips first on the way: the force that nothing in line with it can exceed."""
    slips = [part.strength_n for part in parts if part.gives == "slips" and part.strength_n and part.kind != "grab"]
    return min(slips, key=lambda one: one.high, default=None)
