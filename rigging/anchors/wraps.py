"""How material lies round a feature: how much of it there must be, how sharply it bends, what a tie-off leaves in the tail."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from rigging.catalogue import AttachmentMethod, SlingMaterial, catalogue
from rigging.document import Feature, KitItem, Leg
from rigging.quantities.ranges import Range, exactly
from rigging.quantities.units import Wording
from rigging.site.features import girth_m, kind_of

FULL_STRENGTH_RATIO = 10.0
_LEAST_KEPT = 0.5


def method_of(leg: Leg) -> AttachmentMethod:
    return catalogue().attachments[leg.method]


def material_of(leg: Leg) -> SlingMaterial:
    return catalogue().slings[leg.material]


def turns_of(leg: Leg) -> int:
    return leg.turns or method_of(leg).turns.usual


def strands_of(leg: Leg, turns: int | None = None) -> int:
    """Strands of the attachment that pull."""
    method = method_of(leg)
    if leg.pulled is not None:
        return 2 * leg.pulled
    return method.strands + method.strands_per_turn * (turns or turns_of(leg))


def once_round_m(radius_m: float, reach_m: float) -> float:
    """From a point at `reach_m` from the middle of a circle, tight round it and back: 2·√(D² − R²) + R·(2π − 2·acos(R/D))."""
    reach = max(reach_m, radius_m)
    tangent = math.sqrt(reach**2 - radius_m**2)
    return 2 * tangent + radius_m * (2 * math.pi - 2 * math.acos(radius_m / reach if reach > 0 else 1.0))


def closing_rad(radius_m: float, reach_m: float) -> float:
    """Angle between the two strands where a strap round the circle closes: 2·asin(R/D)."""
    return 2 * math.asin(min(1.0, radius_m / reach_m)) if reach_m > 0 else math.pi


def closes_at_m(leg: Leg, radius_m: float, reach_m: float) -> float:
    """Distance from the feature's middle at which the attachment closes: at the working point, or 60° wide before an extension."""
    return reach_m if leg.extension is None else min(reach_m, max(2 * radius_m, radius_m + 0.15))


def attachment_m(leg: Leg, radius_m: float, reach_m: float, turns: int | None = None) -> float:
    """Material that the attachment takes: of a loop its length laid flat, else end to end with knots and tails."""
    joins = catalogue().knots[leg.joined].takes_m if leg.joined else 0.0
    return joins + _round_m(leg, radius_m, reach_m, turns or turns_of(leg))


def _round_m(leg: Leg, radius_m: float, reach_m: float, n: int) -> float:
    method = method_of(leg)
    closed, round_it = closes_at_m(leg, radius_m, reach_m), 2 * math.pi * radius_m
    once, straight = once_round_m(radius_m, closed), max(0.0, closed - radius_m)
    if method.path == "basket":
        return once + (n - 1) * (round_it if method.of_loop else once) + method.take_m
    if method.path == "choker":
        return round_it + straight
    if method.path == "wrap-pull":
        pulled = strands_of(leg, n) // 2
        return pulled * once + (n - pulled) * round_it + method.take_m
    if method.path in ("passed", "clove"):
        # A clove lies twice round.
        return once + (n - 1 if method.path == "passed" else 1) * round_it + method.take_m
    if method.path == "loop":
        near = min(closed, 2 * radius_m)
        return once_round_m(radius_m, near) + (n - 1) * round_it + closed - near + method.take_m
    return n * round_it + straight + method.take_m


def extension_m(leg: Leg, radius_m: float, reach_m: float) -> float:
    """What runs on from the attachment to the working point, every strand with a knot at either end."""
    if leg.extension is None:
        return 0.0
    joins = catalogue().knots[leg.extension_joined].takes_m if leg.extension_joined else 0.0
    ends = 2 * catalogue().knots[leg.extension_knot].takes_m
    return joins + leg.extension_strands * (reach_m - closes_at_m(leg, radius_m, reach_m) + ends)


@dataclass(frozen=True)
class Bend:
    """A rope round a drum or trunk: how many rope diameters wide, and the share of its strength that it keeps there."""

    ratio: float
    keeps: Range

    @property
    def full(self) -> bool:
        return self.ratio >= FULL_STRENGTH_RATIO


def bend_round(diameter_m: float, rope_m: float) -> Bend:
    """Full strength from 10 : 1; below, a straight line in D/d down to one half at 1 : 1 (common practice), ± 10 %."""
    ratio = diameter_m / rope_m
    if ratio >= FULL_STRENGTH_RATIO:
        return Bend(ratio, exactly(1.0))
    kept = _LEAST_KEPT + (1 - _LEAST_KEPT) * max(0.0, ratio - 1) / (FULL_STRENGTH_RATIO - 1)
    return Bend(ratio, Range(low=0.9 * kept, expected=kept, high=min(1.0, 1.1 * kept)))


def keeps_round(diameter_m: Range, rope_m: float) -> Range:
    """Share of its strength that a rope keeps round something whose thickness is known within a range."""
    low, expected, high = (
        bend_round(one, rope_m).keeps for one in (diameter_m.low, diameter_m.expected, diameter_m.high)
    )
    return Range(low.low, expected.expected, high.high)


def tension_left(turns: float, mu: Range) -> Range:
    """Share of the tension left after n turns: e^(−2πnμ)."""
    return mu.map(lambda one: math.exp(-2 * math.pi * turns * one))


def surface_of(leg: Leg, feature: Feature) -> str:
    """What the material of a leg lies round: a drum's own surface, else the feature's."""
    if not method_of(leg).drum:
        return kind_of(feature).surface
    return leg.tie_off.surface if leg.tie_off else "rounded-steel"


def friction_of(leg: Leg, feature: Feature) -> Range:
    """μ of what a leg's material lies round."""
    return catalogue().surfaces[surface_of(leg, feature)].friction[1]


def radius_of(feature: Feature) -> float | None:
    girth = girth_m(feature)
    return None if girth is None else girth / (2 * math.pi)


@dataclass(frozen=True)
class Need:
    """Material one leg needs in one piece: which leg, for what, how much."""

    leg: int
    use: str
    material: str
    length_m: float


def assign(needs: Iterable[Need], kit: Iterable[KitItem]) -> dict[Need, float | None]:
    """A piece out of the kit for each need, longest need first and the shortest piece that does; None where none does."""
    pieces = sorted((item.length_m, item.material) for item in kit for _ in range(item.count))
    found: dict[Need, float | None] = {}
    for need in sorted(needs, key=lambda one: -one.length_m):
        fitting = next((p for p in pieces if p[1] == need.material and p[0] >= need.length_m - 1e-9), None)
        found[need] = fitting[0] if fitting else None
        if fitting:
            pieces.remove(fitting)
    return found


def what_would_reach(leg: Leg, radius_m: float, reach_m: float, longest_m: float, say: Wording) -> str:
    """What to do with a piece that is too short: fewer turns, another method, or joining a second."""
    method = method_of(leg)
    for turns in range(turns_of(leg) - 1, method.turns.least - 1, -1):
        if attachment_m(leg, radius_m, reach_m, turns) <= longest_m:
            return f"{turns} turns do with {say.length(longest_m)}, or join a second"
    closer = "" if leg.extension else ", or close it nearer the feature and run an extension on"
    return f"join a second{closer}"
