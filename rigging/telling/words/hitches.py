"""Words of what the checks of `hitches` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.hitches.breaks_first import BreaksFirst
from rigging.checks.hitches.cord_short import CordShort
from rigging.checks.hitches.cord_thick import CordThick
from rigging.checks.hitches.cuts import Cuts
from rigging.checks.hitches.glazed import Glazed
from rigging.checks.hitches.knot_on_rope import KnotOnRope
from rigging.checks.hitches.may_not_grip import MayNotGrip
from rigging.checks.hitches.reaches_device import ReachesDevice
from rigging.checks.hitches.wire_grip import WireGrip
from rigging.checks.hitches.wraps_few import WrapsFew
from rigging.checks.hitches.wraps_many import WrapsMany
from rigging.document import Plan
from rigging.lines.tied import Place
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, lower_first

_PLACES: dict[Place, str] = {
    "grab": "Haul grab",
    "capture": "Ratchet",
    "brake": "Brake-side hitch",
    "belay": "Belay hitch",
}


def _hitch_at(place: Place, hitch: str) -> str:
    return f"{_PLACES[place]}, {lower_first(hitch)}"


def _mm(metres: float) -> str:
    return f"{metres * 1000:.3g} mm"


def breaks_first(found: BreaksFirst, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: its cord breaks at {say.force(found.breaks_n)}, about where it should slip ({say.force(found.slips_n)}): it may break first.",
        "Thicker cord, or fewer wraps.",
    )


def cord_short(found: CordShort, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: {say.length(found.there_m)} of cord, its wraps, reach and knot take {say.length(found.wanted_m)}.",
        "A longer loop.",
    )


def cord_thick(found: CordThick, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: {_mm(found.cord_m)} cord on a rope of {_mm(found.rope_m)} grips badly; 2 to 4 mm thinner is wanted.",
        "Thinner cord.",
    )


def cuts(found: Cuts, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.hitch}: it cuts the sheath from {say.force(found.breaks_n.low)} instead of slipping.",
        "A hitch of cord slips before it hurts the rope.",
    )


def glazed(found: Glazed, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: its cord is glazed from an earlier slip and grips less.",
        "New cord.",
    )


def knot_on_rope(found: KnotOnRope, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: the joining knot lies on the rope, where it keeps the wraps apart.",
        "Turn the loop until it is off; a clove beside it on the connector holds it there.",
    )


def may_not_grip(found: MayNotGrip, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: {found.condition.lower()}, it may not grip at all.",
        "Clean it and try it with a pull before it is trusted; a knot or a device behind it.",
    )


def reaches_device(found: ReachesDevice, plan: Plan, say: Wording) -> Pair:
    return (
        f"The brake-side hitch reaches {say.length(found.reach_m)}, its device sits at {say.length(found.out_m)}: drawn in, it can not grip.",
        "A shorter hitch, or the device further out.",
    )


def wire_grip(found: WireGrip, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: it does not grip wire rope.",
        "A clamp or winch made for that wire.",
    )


def wraps_few(found: WrapsFew, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: {found.wraps} wraps, {found.usual} are usual.",
        f"{found.usual} wraps.",
    )


def wraps_many(found: WrapsMany, plan: Plan, say: Wording) -> Pair:
    return (
        f"{_hitch_at(found.place, found.hitch)}: {found.wraps} wraps. More than six grip less, and the rope twists.",
        f"{found.usual} wraps.",
    )
