"""What becomes of a piece of gear after a run: back into the bag, inspected, rested, or retired, each for its reason.

Limits of common practice (ids of the catalogue's sources: rope-age, gear-shock, gear-rest). They propose; somebody who holds the piece decides.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from rigging.catalogue import catalogue
from rigging.document import Rules
from rigging.gear.worn import Kind, Worn
from rigging.quantities.ranges import Range

Becomes = Literal["bag", "inspect", "rest", "retire"]
URGENCY: tuple[Becomes, ...] = ("retire", "rest", "inspect", "bag")
Why = Literal[
    "age", "damage", "shock", "slipped", "may-have-slipped", "below-rule", "bare-edge", "earth", "worn", "long"
]
_TEXTILES: tuple[Kind, ...] = ("rope", "sling", "hitch")


@dataclass(frozen=True)
class Reason:
    """Why something becomes of a piece: with the figures that the words need."""

    becomes: Becomes
    why: Why
    force_n: Range | None = None
    limit_n: Range | None = None
    ratio: float | None = None
    number: float | None = None
    name: str = ""


def textile(piece: Worn) -> bool:
    """Rope, sling or cord: what ages, frays and melts."""
    return piece.kind in _TEXTILES


def reasons(rules: Rules, piece: Worn) -> list[Reason]:
    """Everything that speaks for more than the bag, the gravest first."""
    found = [*_looked_at(piece), *_shocked(piece), *_loaded(rules, piece), *_ran(piece)]
    return sorted(found, key=lambda one: URGENCY.index(one.becomes))


def becomes(found: list[Reason]) -> Becomes:
    return found[0].becomes if found else "bag"


def _looked_at(piece: Worn) -> Iterator[Reason]:
    """What was known of a rope before: its age, its wear, its damage."""
    if piece.rope is None:
        return
    age, most = piece.rope.age_years, catalogue().tying.textile_years
    if age is not None and age >= most:
        yield Reason("retire", "age", ratio=most, number=age)
    for one in piece.rope.damage:
        yield Reason("retire", "damage", number=one.at_m)
    if piece.rope.wear == "worn":
        yield Reason("inspect", "worn")


def _shocked(piece: Worn) -> Iterator[Reason]:
    if piece.shock_n is None:
        return
    tying = catalogue().tying
    wanted = tying.textile_shock_ratio if textile(piece) else tying.metal_shock_ratio
    ratio = piece.strength_n.low / piece.shock_n.high if piece.strength_n else None
    hard = ratio is not None and ratio < wanted
    # Rope gives back what it stretched only with time; slings, cords and metal are looked over.
    milder: Becomes = "rest" if piece.kind == "rope" else "inspect"
    yield Reason("retire" if hard else milder, "shock", piece.shock_n, piece.strength_n, ratio)


def _loaded(rules: Rules, piece: Worn) -> Iterator[Reason]:
    force = piece.highest_n
    if piece.slips_n and piece.kind == "hitch" and force.high >= piece.slips_n.low:
        sure = force.low >= piece.slips_n.high
        yield Reason("retire" if sure else "inspect", "slipped" if sure else "may-have-slipped", force, piece.slips_n)
    if (
        piece.strength_n
        and piece.shock_n is None
        and force.high > 0
        and piece.strength_n.low / force.high < _rule(rules, piece)
    ):
        yield Reason("inspect", "below-rule", force, piece.strength_n, piece.strength_n.low / force.high)
    if piece.kind == "rope" and piece.loaded_s > catalogue().tying.rest_loaded_s:
        yield Reason("rest", "long", number=piece.loaded_s)


def _rule(rules: Rules, piece: Worn) -> float:
    """The team's own ratio for a piece."""
    if rules.school == "force-limit":
        return rules.cap_margin
    return rules.anchors_ratio if piece.part.anchor else rules.others_ratio


def _ran(piece: Worn) -> Iterator[Reason]:
    for one in piece.ran:
        leaves = catalogue().surfaces[one.edge.surface].leaves
        if one.edge.protection is None and leaves is not None:
            yield Reason("inspect", "bare-edge" if leaves == "fuzz" else "earth", number=one.metres, name=one.edge.name)
