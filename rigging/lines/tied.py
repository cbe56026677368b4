"""What ropes, hitches and knots hold, tied as they are here: by cord, wraps, wear, and how a knot is pulled."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from rigging.catalogue import Hitch, Knot, RopeKind, SlingMaterial, catalogue
from rigging.catalogue.knots import Pulled, knot_keeps, slick_runs_n
from rigging.document import HitchMade, Line, Rope
from rigging.quantities.ranges import Range, exactly, times
from rigging.quantities.symbols import Symbol, symbol

Place = Literal["grab", "capture", "brake", "belay"]
# What a double fisherman's in the loop of a hitch takes of its cord, with its tails.
_JOINING_M = 0.3
_USUAL = HitchMade()


@dataclass(frozen=True)
class HitchHold:
    """A hitch as tied here: where it starts to slip (None: it does not), where its cord breaks or it cuts the rope."""

    hitch: Hitch
    name: str
    slip_n: Range | None
    breaks_n: Range
    symbols: tuple[Symbol, ...]


@dataclass(frozen=True)
class HitchPlace:
    """A hitch on a line: where it is, how it is tied, and how far it reaches from its rope to what it is clipped to."""

    place: Place
    hitch: Hitch
    made: HitchMade
    ropes: Literal[1, 2]
    reach_m: float


def hitches_of(line: Line) -> list[HitchPlace]:
    """Every hitch and clamp on a line."""
    found: list[HitchPlace] = []

    def add(place: Place, id: str | None, made: HitchMade | None, reach_m: float, ropes: Literal[1, 2] = 1) -> None:
        if id is not None:
            found.append(HitchPlace(place, catalogue().hitches[id], made or _USUAL, ropes, reach_m))

    if line.lowering:
        add("brake", line.lowering.brake_hitch, line.lowering.hitch_made, line.lowering.hitch_m)
    if line.haul:
        add("grab", line.haul.grab, line.haul.grab_made, 0.1)
        add("capture", line.haul.capture, line.haul.capture_made, 0.3)
    if line.belay and line.belay.holds == "hitch":
        add("belay", line.belay.what, line.belay.made, 0.3, line.belay.round_ropes)
    return found


def cord_of(hitch: Hitch, made: HitchMade) -> SlingMaterial:
    """The cord that a hitch is tied with."""
    return catalogue().slings[made.cord or hitch.cord or "cord-8"]


def wraps_of(hitch: Hitch, made: HitchMade) -> int:
    return made.wraps or hitch.wraps or 1


def cord_length_m(hitch: Hitch, made: HitchMade, rope: RopeKind, reach_m: float) -> float:
    """Cord that a hitch takes: both strands of its loop round the rope for every wrap, twice its reach, its joining knot.

    Examples
    --------
    Five wraps of 5 mm cord on an 11 mm rope, reaching 0.25 m: a loop of about 1.3 m.

    >>> french = catalogue().hitches["french-8"]
    >>> round(cord_length_m(french, HitchMade(cord="cord-5"), catalogue().ropes["low-stretch-11"], 0.25), 2)
    1.3
    """
    round_once = math.pi * (rope.diameter_m + cord_of(hitch, made).thickness_m)
    return 2 * wraps_of(hitch, made) * round_once + 2 * reach_m + _JOINING_M


def hitch_hold(hitch: Hitch, made: HitchMade | None, rope: RopeKind) -> HitchHold:
    """What a hitch holds on one rope, and where its cord breaks: the usual values, times what is unusual here."""
    if hitch.form != "hitch" or hitch.cord is None:
        return HitchHold(hitch, hitch.name, hitch.slip_n, hitch.breaks_n, ())
    usual, tying = catalogue().slings[hitch.cord], catalogue().tying
    if (made is None or made is _USUAL) and not too_thick(usual, rope):
        return HitchHold(hitch, hitch.name, hitch.slip_n, hitch.breaks_n, ())
    made = made or _USUAL
    cord = cord_of(hitch, made)
    shares = [
        ("k_wraps", f"{wraps_of(hitch, made)} wraps, usual {hitch.wraps}", _wraps_share(hitch, made), "hitch-wraps"),
        ("k_cord", f"{cord.name} on {rope.diameter_m * 1000:.1f} mm rope", _thickness_share(cord, rope), "hitch-cord"),
        ("k_slick", "slick cord", tying.slick_grip if cord.slick else exactly(1.0), "hitch-cord"),
        ("k_glazed", "glazed", tying.glazed_grip if made.glazed else exactly(1.0), "hitch-cord"),
    ]  # fmt: skip
    slip = times(hitch.slip_n, *(one[2] for one in shares)) if hitch.slip_n else None
    # A loop's strength goes with its cord's; slick cord loses more in its joining knot.
    stronger = exactly(1.0) if cord is usual else _over(cord.strand_n, usual.strand_n)
    bend = catalogue().knots["double-fisherman"]
    knot = _over(knot_keeps(bend, True, "bend")[0], bend.keeps) if cord.slick else exactly(1.0)
    told = tuple(
        symbol(name, meaning, share, "", source) for name, meaning, share, source in shares if share != exactly(1.0)
    )
    return HitchHold(hitch, _named(hitch, made, cord), slip, times(hitch.breaks_n, stronger, knot), told)


def _over(one: Range, other: Range) -> Range:
    """What one is of another, each anywhere in its range."""
    return Range(one.low / other.high, one.expected / other.expected, one.high / other.low)


def _named(hitch: Hitch, made: HitchMade, cord: SlingMaterial) -> str:
    """The hitch's name, and what is unusual about it."""
    odd = [cord.name] if made.cord and made.cord != hitch.cord else []
    odd += [f"{made.wraps} wraps"] if made.wraps and made.wraps != hitch.wraps else []
    return f"{hitch.name} ({', '.join([*odd, 'glazed'] if made.glazed else odd)})" if odd or made.glazed else hitch.name


def _wraps_share(hitch: Hitch, made: HitchMade) -> Range:
    tying, wraps, usual = catalogue().tying, wraps_of(hitch, made), hitch.wraps or 1
    more = min(wraps, tying.wraps_most) - usual
    gains = tying.per_wrap.map(lambda one: one**more)
    beyond = max(0, wraps - tying.wraps_most)
    return times(gains, tying.beyond_wrap.map(lambda one: one**beyond))


def _thickness_share(cord: SlingMaterial, rope: RopeKind) -> Range:
    """Cord thicker than 2 mm less than the rope grips less."""
    tying = catalogue().tying
    thick_mm = (cord.thickness_m - (rope.diameter_m - tying.cord_thinner_m)) * 1000 if too_thick(cord, rope) else 0.0
    return tying.per_mm_thick.map(lambda one: one**thick_mm)


def too_thick(cord: SlingMaterial, rope: RopeKind) -> bool:
    """Whether a cord is too thick to grip a rope well, beyond how ropes are measured."""
    tying = catalogue().tying
    return rope.diameter_m - cord.thickness_m < tying.cord_thinner_m - tying.measured_within_m


def rope_holds(rope: Rope) -> tuple[Range, tuple[Symbol, ...]]:
    """Strength of a rope without knots, by its look, and what it was worked out from."""
    kind, share = catalogue().ropes[rope.kind], catalogue().tying.wear[rope.wear or "new"]
    straight = symbol("S_rope", kind.name, kind.strength_n, "N", kind.source)
    if share == exactly(1.0):
        return kind.strength_n, (straight,)
    return times(kind.strength_n, share), (straight, symbol("k_wear", f"{rope.wear} rope", share, "", "rope-wear"))


@dataclass(frozen=True)
class KnotHold:
    """A knot in a rope: where it breaks, and where it runs before that (None: it does not)."""

    breaks_n: Range
    slips_n: Range | None
    rule: str
    symbols: tuple[Symbol, ...]


def knot_holds(
    knot: Knot, rope: Rope, pulled: Pulled, tail_m: float | None = None, in_loop: str = "nothing"
) -> KnotHold:
    """What a knot holds by how it is pulled: on its loop, along the line, loop apart, or as a bend with tails.

    A bend whose tails are shorter than ten diameters runs at what is known of it; a loop along the line with nothing in it
    rolls; in slick cord any knot may run. A knot that is not made for the line keeps less along it.
    """
    kind = catalogue().ropes[rope.kind]
    strength, symbols = rope_holds(rope)
    keeps, source = knot_keeps(knot, kind.slick, pulled)
    breaks = times(strength, keeps)
    share = symbol("k_knot", f"{knot.name}, {_PULLED[pulled]}", keeps, "", source)
    return KnotHold(breaks, _runs(knot, kind, pulled, tail_m, in_loop), "S_rope · k_knot", (*symbols, share))


_PULLED: dict[Pulled, str] = {
    "loop": "on its loop", "along": "along the line", "apart": "loop pulled apart", "bend": "as a bend",
}  # fmt: skip


def _runs(knot: Knot, kind: RopeKind, pulled: Pulled, tail_m: float | None, in_loop: str) -> Range | None:
    tying = catalogue().tying
    if kind.slick:
        if in_loop == "overhand":
            return tying.slick_overhand_slips_n
        return slick_runs_n(knot, kind.diameter_m)
    if pulled == "along" and knot.along is not None and in_loop == "nothing":
        return tying.empty_loop_rolls_n
    short = tail_m is not None and tail_m < tying.tail_diameters * kind.diameter_m - 1e-9
    return knot.slips_n if pulled == "bend" and short else None
