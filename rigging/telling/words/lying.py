"""Words of what the checks of `lying` find: the sentence, and what would mend it."""

from __future__ import annotations

import math

from rigging.catalogue import catalogue
from rigging.checks.lying.bare_corner import BareCorner
from rigging.checks.lying.bare_edge import BareEdge
from rigging.checks.lying.bitten import Bitten
from rigging.checks.lying.grab_over_edge import GrabOverEdge
from rigging.checks.lying.sawn import Sawn
from rigging.checks.lying.sharp_edge import SharpEdge
from rigging.checks.lying.strands_touch import StrandsTouch
from rigging.checks.lying.swing import Swing
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, degrees, lower_first


def bare_corner(found: BareCorner, plan: Plan, say: Wording) -> Pair:
    ground = catalogue().surfaces[found.surface].name.lower()
    bare = ground if ground.startswith("bare") else f"bare {ground}"
    text = f"The rope bends {math.degrees(found.turn_rad):.0f}° over the ground {say.length(found.x_m)} out, where no edge is entered: taken as {bare}."
    return text, "Look at it, enter it as an edge, pad it."


def bare_edge(found: BareEdge, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.edge}: the rope bends {degrees(found.turn_rad)} over {lower_first(found.surface)} with nothing between.",
        "A pad or a roller.",
    )


def bitten(found: Bitten, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.edge}: the rope has bitten into the lip; hauled over it, {found.passes.low * 100:.0f} to {found.passes.high * 100:.0f} % of the pull gets through.",
        "Pad it, or take a fresh strand: a drop loop beside it.",
    )


def grab_over_edge(found: GrabOverEdge, plan: Plan, say: Wording) -> Pair:
    return (
        f"The haul grab is set {say.length(found.reach_m)} forward, the first edge is at {say.length(found.first_m)}: it would go over the edge.",
        "Set it short of the edge.",
    )


def sawn(found: Sawn, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.edge}: a rope under tension moves sideways on bare {lower_first(found.surface)}: it saws through.",
        "A pad or a roller, and the rope kept from moving sideways.",
    )


def sharp_edge(found: SharpEdge, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.edge}: the rope bends {degrees(found.turn_rad)} over {lower_first(found.surface)} with nothing between: it cuts.",
        "A pad or a roller before anything is loaded.",
    )


def strands_touch(found: StrandsTouch, plan: Plan, say: Wording) -> Pair:
    return (
        "Moving strands of the haul cross another rope and touch it: rope on rope is friction, and melts.",
        "Lead them apart.",
    )


def swing(found: Swing, plan: Plan, say: Wording) -> Pair:
    return (
        f"The load is said to hang clear, but its rope leans {math.degrees(found.lean_rad):.0f}° from upright: it would swing in.",
        "Put it below the last edge, or say how it meets the ground.",
    )
