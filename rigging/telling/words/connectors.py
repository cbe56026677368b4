"""Words of what the checks of `connectors` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.connectors.crowded import Crowded
from rigging.checks.connectors.gate_unlocked import GateUnlocked
from rigging.checks.connectors.misloaded import Misloaded
from rigging.checks.connectors.wire_knot import WireKnot
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, line_name, lower_first

_LOADED = {
    "gate-open": "loaded with its gate open",
    "across": "pulled across",
    "nose": "hooked on its nose",
    "edge": "bent over an edge",
}


def crowded(found: Crowded, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: the connector at the {found.at} is crowded or loaded near its gate: it may keep only {found.keeps.low * 100:.0f} %.",
        "A larger connector, or one more.",
    )


def gate_unlocked(found: GateUnlocked, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: {lower_first(found.what)} at the load.",
        "One that locks, or two with their gates opposed.",
    )


def misloaded(found: Misloaded, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: the {lower_first(found.what)} at the load is {_LOADED[found.loaded]}, where it keeps {say.force(found.keeps_n)}.",
        "Turn it so that it is pulled along, shut and locked.",
    )


def wire_knot(found: WireKnot, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: a {lower_first(found.knot)} is not made in {'wire' if found.metal else 'rope'}.",
        "An eye with its thimble." if found.metal else "A knot.",
    )
