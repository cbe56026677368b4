"""What holds, asked of small rigs made by chance: what bears now, what happens if that goes, what is alone, what has to be added."""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from typing import Any

from rigging.learning.drills.drill import Again, Asked, Laid, Level, Made, Sketch, Spot
from rigging.mechanics.holds import HANDS, Holds, LyingRig, lying, study

# What of a small rig people speak of, and may ask to be gone.
PARTS = (
    "device", "brake", "ratchet", "belay", "anchor", "second-anchor", "main-rope", "belay-rope", "plate", "load-connector", "hands",
)  # fmt: skip
# Further than this is no settling.
_STAYS_M = 0.05
# What a connector at the load holds together.
_RING = "ring"


@dataclass
class Small:
    """A line over an edge to a load, with some of what may hold it: nodes and pieces in the notation of the command line."""

    drop_m: float
    nodes: dict[str, dict[str, Any]] = field(default_factory=dict)
    pieces: list[dict[str, Any]] = field(default_factory=list)

    def node(self, id: str, kind: str, x_m: float, y_m: float = 0.0, z_m: float = 0.0) -> str:
        self.nodes[id] = {"at": [x_m, y_m, z_m], "kind": kind}
        return id

    def piece(self, id: str, route: list[str], slack_m: float = 0.0, rope: str | None = None) -> None:
        self.pieces.append({"id": id, "route": route, "slack_m": round(slack_m, 2), **({"rope": rope} if rope else {})})

    @property
    def file(self) -> dict[str, Any]:
        return {"load": {"node": "load", "weight_kN": 2.0, "along": [0, 0, -1]}, "nodes": self.nodes, "pieces": self.pieces}  # fmt: skip

    def asked(self, without_hands: bool = False) -> Holds:
        rig = lying(LyingRig.model_validate(self.file))
        return study(rig.without(HANDS) if without_hands and HANDS in rig.parts else rig)

    def sketch(self) -> Sketch:
        """From the side: anchors left, the edge, the load below; the belay drawn a little lower than the main line."""
        spots = []
        for id, one in self.nodes.items():
            x, y, z = one["at"]
            spots.append(Spot(id, one["kind"], x, z - 0.9 * y))
        laid = [
            Laid(one["id"], tuple(one["route"]), one["slack_m"] > _STAYS_M, one.get("rope") is not None)
            for one in self.pieces
        ]
        return Sketch(tuple(spots), tuple(laid))


def _line(luck: random.Random, level: Level) -> Small:
    """A main rope over its edge, on what holds it; perhaps a brake hitch, a ratchet, a belay on the same anchor or another, hands."""
    rig = Small(drop_m=luck.choice((6.0, 10.0, 15.0)))
    rig.node("anchor", "anchor", 0.0)
    rig.node("edge", "edge", 7.0)
    rig.node("load", "load", 7.2, 0.0, -rig.drop_m)
    held_by = luck.choice(("device", "ratchet", "both", "hands") if level > 1 else ("device", "ratchet", "both"))
    at_m, ends = 0.6, "edge"
    route = ["load", "edge"]
    if held_by in ("ratchet", "both"):
        rig.node("ratchet", "grab", 1.2)
        rig.piece("main-rope", [*route, "ratchet"], rope="main")
        rig.piece("ratchet-cord", ["ratchet", "anchor"])
        route, ends = ["ratchet"], "ratchet"
    if held_by in ("device", "both"):
        rig.node("device", "grab", at_m)
        slack = 0.0 if ends == "edge" else luck.choice((0.2, 0.4, 0.6))
        rig.piece("main-rope" if ends == "edge" else "rope-behind", [*route, "device"], slack, rope="main")
        rig.piece("device-tie", ["device", "anchor"])
        route, ends = ["device"], "device"
    if held_by == "hands":
        rig.node("device", "block", at_m)
        rig.node("crew", "hands", -1.0)
        rig.piece("device-tie", ["device", "anchor"])
        if luck.random() < 0.6:
            rig.node("brake", "grab", 0.2)
            rig.piece("main-rope", ["load", "edge", "device", "brake"], rope="main")
            rig.piece("brake-strand", ["brake", "crew"], rope="main")
            rig.piece("brake-cord", ["brake", "anchor"], luck.choice((0.05, 0.1, 0.2)))
        else:
            rig.piece("main-rope", ["load", "edge", "device", "crew"], rope="main")
    elif ends == "device" and luck.random() < 0.5:
        rig.node("brake", "grab", 0.25)
        rig.piece("rope-behind-brake", ["device", "brake"], 0.1, rope="main")
        rig.piece("brake-cord", ["brake", "anchor"], 0.1)
    if luck.random() < (0.5, 0.7, 0.8)[level - 1]:
        _belay(rig, luck)
    return rig


def _belay(rig: Small, luck: random.Random) -> None:
    own = luck.random() < 0.6
    if own:
        rig.node("second-anchor", "anchor", -0.4, 1.0)
    rig.node("belay", "grab", 0.6, 1.0)
    rig.piece("belay-rope", ["load", "edge", "belay"], luck.choice((0.2, 0.3, 0.5, 0.8)), rope="second")
    rig.piece("belay-cord", ["belay", "second-anchor" if own else "anchor"])


def bearing(found: Holds) -> frozenset[str]:
    """What of the parts that people speak of holds the load as it lies."""
    pieces = set(found.holds)
    named = {"ratchet-cord": "ratchet", "device-tie": "device", "brake-cord": "brake", "belay-cord": "belay"}
    borne = {named[one] for one in pieces if one in named}
    nodes = found.rig.kinds
    if "crew" in nodes and any("crew" in piece.ends and piece.id in pieces for piece in found.rig.pieces):
        # What the hands hold runs through the device; it is no grip of its own.
        borne = (borne - {"device"}) | {"hands"}
    return frozenset(borne)


def _there(rig: Small) -> list[str]:
    return [one for one in ("device", "ratchet", "brake", "belay") if one in rig.nodes] + [HANDS] * (
        "crew" in rig.nodes
    )


def holds_now(luck: random.Random, level: Level) -> Made:
    """Which of the grips and hands bears the load now."""
    rig = _line(luck, level)
    borne, there = bearing(rig.asked()), _there(rig)
    if len(borne) != 1 or len(there) < 2:
        raise Again
    [right] = borne
    wrong = tuple(one for one in there if one != right)[:3]
    return Made({"there": there}, right, wrong, sketch=rig.sketch(), command=Asked(("holds", "FILE"), rig.file))


def then(luck: random.Random, level: Level) -> Made:
    """What happens if one part goes: it stays, drops so far, or falls."""
    rig = _line(luck, level)
    found = rig.asked()
    there = [one for one in PARTS if one in found.without]
    if found.drop_m is None:
        raise Again
    gone = luck.choice(there)
    far = found.without[gone]
    right: Any = None if far is None else round(far, 1)
    if far is not None and (0.02 < far < 0.1 or abs(far * 10 % 1 - 0.5) < 0.1):
        raise Again
    slack = sorted({one["slack_m"] for one in rig.pieces if one["slack_m"] > _STAYS_M}, reverse=True)
    tried: list[Any] = [None, 0.0, *(round(one, 1) for one in slack), 0.3, 0.6, 1.0]
    wrong = tuple(dict.fromkeys(one for one in tried if one != right and (one is None or right is None or abs(one - right) > 0.15)))[:3]  # fmt: skip
    return Made({"gone": gone}, right, wrong, sketch=rig.sketch(), command=Asked(("holds", "FILE"), rig.file))  # fmt: skip


def alone(luck: random.Random, level: Level) -> Made:
    """The one thing without which the load falls."""
    rig = _line(luck, level)
    joined = luck.choice(("", "plate", "load-connector"))
    if joined == "plate":
        _on_a_plate(rig)
    elif joined:
        _on_a_connector(rig)
    found = rig.asked()
    single = [one for one in found.single_points if one != _RING]
    if found.drop_m is None or len(single) != 1 or single[0] not in PARTS:
        raise Again
    others = [one for one in PARTS if one in found.without and one != single[0]]
    if len(others) < 2:
        raise Again
    return Made({}, single[0], tuple(luck.sample(others, min(3, len(others)))), sketch=rig.sketch(), command=Asked(("holds", "FILE"), rig.file))  # fmt: skip


def _on_a_plate(rig: Small) -> None:
    """What is fastened to the anchor, fastened to a plate between two anchors instead."""
    rig.node("plate", "block", -0.3)
    for one in rig.pieces:
        one["route"] = ["plate" if name in ("anchor", "second-anchor") else name for name in one["route"]]
    rig.node("anchor", "anchor", -1.5)
    rig.node("second-anchor", "anchor", -1.5, 0.6)
    rig.piece("leg", ["anchor", "plate"])
    rig.piece("second-leg", ["second-anchor", "plate"], 0.02)


def _on_a_connector(rig: Small) -> None:
    """Every rope to one connector at the load."""
    x, y, z = rig.nodes["load"]["at"]
    rig.node(_RING, "block", x, y, z + 0.3)
    for one in rig.pieces:
        one["route"] = [_RING if name == "load" else name for name in one["route"]]
    rig.piece("load-connector", [_RING, "load"])


def let_go(luck: random.Random, level: Level) -> Made:
    """What happens when everybody lets go."""
    rig = _line(luck, 3)
    if "crew" not in rig.nodes:
        raise Again
    before, after = rig.asked(), rig.asked(without_hands=True)
    if before.drop_m is None:
        raise Again
    far = after.drop_m
    right: Any = None if far is None else round(far, 1)
    if far is not None and 0.02 < far < 0.1:
        raise Again
    tried: list[Any] = [None, 0.0, 0.3, 0.6, 1.0, 0.8]
    wrong = tuple(one for one in tried if one != right and (one is None or right is None or abs(one - right) > 0.15))[:3]  # fmt: skip
    return Made({}, right, wrong, sketch=rig.sketch(), command=Asked(("holds", "FILE", "--hands-off"), rig.file))


def bench(luck: random.Random, level: Level) -> Made:
    """Rigged by hand until it holds: of four things to put on, the one by which the load stays with every hand off."""
    rig = Small(drop_m=luck.choice((6.0, 10.0)))
    for id, kind, x, z in (("anchor", "anchor", 0.0, 0.0), ("edge", "edge", 7.0, 0.0), ("load", "load", 7.2, -rig.drop_m), ("crew", "hands", -1.0, 0.0), ("device", "block", 0.6, 0.0)):  # fmt: skip
        rig.node(id, kind, x, 0.0, z)
    rig.piece("device-tie", ["device", "anchor"])
    adds = {
        # On the brake strand, its cord to the anchor.
        "brake-to-anchor": ("device", "brake", "crew", [("brake-cord", ["brake", "anchor"])]),
        # The same hitch, its cord to the hauler's own belt.
        "brake-to-hands": ("device", "brake", "crew", [("brake-cord", ["brake", "crew"])]),
        # On the load strand, its cord left hanging.
        "ratchet-unclipped": ("edge", "ratchet", "device", []),
        "ratchet-to-anchor": ("edge", "ratchet", "device", [("ratchet-cord", ["ratchet", "anchor"])]),
        # Between load strand and device: it goes with the rope.
        "ratchet-to-device": ("edge", "ratchet", "device", [("ratchet-cord", ["ratchet", "device"])]),
        "stopper": ("device", "stopper", "crew", []),
    }
    good = luck.choice(("brake-to-anchor", "ratchet-to-anchor"))
    tried = [good, *luck.sample([one for one in adds if one not in ("brake-to-anchor", "ratchet-to-anchor")], 3)]
    stays = {}
    for name in tried:
        one = _with(rig, *adds[name])
        off = one.asked(without_hands=True).drop_m
        stays[name] = off is not None and off < 0.5
    if [name for name in tried if stays[name]] != [good]:
        raise Again
    done = _with(rig, *adds[good])
    rig.piece("main-rope", ["load", "edge", "device", "crew"], rope="main")
    return Made({}, good, tuple(one for one in tried if one != good), sketch=rig.sketch(), command=Asked(("holds", "FILE", "--hands-off"), done.file))  # fmt: skip


def _with(rig: Small, before: str, new: str, after: str, cords: list[tuple[str, list[str]]]) -> Small:
    """The rope with one more grip on it."""
    made = Small(rig.drop_m, dict(rig.nodes), list(rig.pieces))
    way = ["load", "edge", "device", "crew"]
    at = way.index(after)
    assert way[at - 1] == before
    x = {"brake": 0.2, "ratchet": 1.2, "stopper": 0.1}[new]
    made.node(new, "grab", x)
    made.piece("main-rope", [*way[:at], new], rope="main")
    made.piece("rope-on", [new, *way[at:]], rope="main")
    for id, route in cords:
        made.piece(id, route, 0.1)
    return made
