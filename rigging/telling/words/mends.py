"""Mends as their buttons say them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rigging.checks.mending import Mend
from rigging.quantities.units import Wording
from rigging.telling.words.names import lower_first, upper_first

Labeller = Callable[[dict[str, Any], Wording], str]
_MEND: dict[str, Labeller] = {
    "leave-out": lambda v, s: f"Without {lower_first(v['what'])}",
    "brake-hitch": lambda v, s: f"{v['what']} on the brake side",
    "device": lambda v, s: v["what"],
    "capture-on": lambda v, s: "Ratchet on the load's own strand",
    "capture": lambda v, s: f"{v['what']} as ratchet" + (f", {v['who']} minds it" if v["who"] else ""),
    "minder": lambda v, s: f"{v['who']} minds it",
    "bend": lambda v, s: f"{v['what']} at {v['at']}",
    "list-person": lambda v, s: f"List {v['who']}",
    "own-anchor": lambda v, s: f"Own anchor: {v['anchor']}",
    "belay": lambda v, s: "Add a belay" + (f" on {v['anchor']}" if v["anchor"] else ""),
    "take": lambda v, s: v["what"],
    "strands": lambda v, s: f"{v['strands']} strands",
    "limit": lambda v, s: f"Limiting knots {s.length(v['length_m'])} off",
    "turns": lambda v, s: f"{v['turns']} turns",
    "feature": lambda v, s: f"Tie to {v['feature']}",
    "untie": lambda v, s: "Let it run free",
    "take-out": lambda v, s: f"{v['what']} takes it out",
    "tail": lambda v, s: f"Tails {s.length(v['length_m'])}",
    "slips": lambda v, s: v["what"],
    "two-ropes": lambda v, s: "Two ropes side by side",
    "pretension": lambda v, s: f"Pretension {s.force(v['force_n'])}",
    "hang": lambda v, s: f"Load hung {s.length(v['length_m'])} under the line",
    "guy": lambda v, s: f"Guy to {v['feature']}",
    "join-at": lambda v, s: f"Join {s.length(v['length_m'])} from the load",
    "in-loop": lambda v, s: f"{upper_first(v['inside'])} in its loop",
    "wraps": lambda v, s: f"{v['wraps']} wraps",
    "cord": lambda v, s: v["what"],
    "cord-length": lambda v, s: f"Loop of {s.length(v['length_m'])} of cord",
    "knot-off": lambda v, s: "Joining knot off the rope",
    "new-cord": lambda v, s: "New cord",
    "other-rope": lambda v, s: "Another rope, looked at",
    "uncrowd": lambda v, s: f"{v.get('what', 'Larger connector')}, with room",
    "system": lambda v, s: v["what"],
    "haulers": lambda v, s: f"{v['count']} pull",
    "longer-rope": lambda v, s: f"Rope of {s.length(v['length_m'])}",
    "strands-of": lambda v, s: f"Of rope {v['rope']}",
    "slack": lambda v, s: f"Slack {s.length(v['length_m'])}",
    "releasing": lambda v, s: f"Releasing hitch, {s.length(v['length_m'])}",
    "pad": lambda v, s: v["what"],
    "day": lambda v, s: v["what"],
    "keep-tail": lambda v, s: f"Keep {s.length(v['length_m'])} back",
    "more-kit": lambda v, s: f"There is {s.length(v['length_m'])} of {lower_first(v['what'])}",
    "cleaned": lambda v, s: "Cleaned, dried, tried with a pull",
    "out-of-bags": lambda v, s: "Out of the bags",
    "turned": lambda v, s: "Turned: along, shut and locked",
    "enter-edge": lambda v, s: f"Enter it, {lower_first(v['what'])}",
    "device-out": lambda v, s: f"Device {s.length(v['length_m'])} out",
    "reach": lambda v, s: f"Reach {s.length(v['length_m'])}" if v.get("length_m") else "Up to the edge",
    "walk": lambda v, s: "Walk the other way",
    "straight-back": lambda v, s: "Haul straight back",
    "guard": lambda v, s: f"{v['who']} guards it",
    "tight": lambda v, s: "Hand-tight, 1 kN",
    "round-turn": lambda v, s: "Round-turn tie-off",
    "tail-behind": lambda v, s: "Tail behind, to the anchor",
    "finish": lambda v, s: "Releasable hitch",
    "free-device": lambda v, s: "Without the device",
    "gather": lambda v, s: f"Gather {s.length(v['length_m'])} further out",
    "aside": lambda v, s: f"{s.length(v['length_m'])} aside",
    "tie-in": lambda v, s: f"Tie in to {v['anchor']}",
}  # fmt: skip


def mend_label(mend: Mend, say: Wording) -> str:
    """A mend as its button says it."""
    return _MEND[mend.kind](mend.values, say)
