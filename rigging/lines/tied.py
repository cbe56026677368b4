"""What ropes, hitches and knots hold, tied as they are here: by cord, wraps, wear, and how a knot is pulled."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from rigging.catalogue import Device, Hitch, Knot, Led, RopeKind, SlingMaterial, catalogue
from rigging.catalogue.knots import Pulled, knot_keeps, slick_runs_n
from rigging.document import HitchMade, Line, Rope, Tested
from rigging.document.site import Condition
from rigging.document.tested import Setup
from rigging.quantities.ranges import Range, exactly, times
from rigging.quantities.symbols import Symbol, symbol
from rigging.site.conditions import condition, wet_strength

Place = Literal["grab", "capture", "brake", "belay"]
# What a double fisherman's in the loop of a hitch takes of its cord, with its tails.
_JOINING_M = 0.3
_USUAL = HitchMade()
_WHOLE = exactly(1.0)
OWN_PULLS = "own-pulls"


@dataclass(frozen=True)
class HitchHold:
    """A hitch as tied here: where it starts to slip (None: it does not), where its cord breaks or it cuts the rope."""

    hitch: Hitch
    name: str
    slip_n: Range | None
    breaks_n: Range
    symbols: tuple[Symbol, ...]
    slips_tested: Tested | None = None
    breaks_tested: Tested | None = None


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
        add("grab", line.haul.grab if line.haul.grabs else None, line.haul.grab_made, 0.1)
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


def tested_as(tested: Sequence[Tested], setup: Setup, gives: Literal["slips", "breaks"]) -> Tested | None:
    """What the team's own pulls say of something tied so; None where they say nothing of it."""
    return next((one for one in tested if one.gives == gives and one.setup == setup), None)


def hitch_setup(hitch: Hitch, made: HitchMade | None, rope: Rope, ropes: int = 1) -> Setup:
    """A hitch as it is tied here, as a pull test says it."""
    made = made or _USUAL
    tied = hitch.form == "hitch"
    cord, wraps = (cord_of(hitch, made).id, wraps_of(hitch, made)) if tied else (None, None)
    return (
        "hitch",
        hitch.id,
        rope.kind,
        ropes,
        cord,
        wraps,
        None,
        made.state or rope.state or "dry",
        made.glazed or rope.glazed,
    )


def hitch_hold(hitch: Hitch, made: HitchMade | None, rope: Rope, tested: Sequence[Tested] = ()) -> HitchHold:
    """What a hitch holds on one rope, and where its cord breaks: by the team's own pulls of one tied so, where it has taken them; else the usual
    values, times what is unusual here."""
    held = _hitch_hold(hitch, made, rope)
    if not tested:
        return held
    one = hitch_setup(hitch, made, rope)
    if slips := tested_as(tested, one, "slips"):
        held = replace(held, slip_n=slips.range_n, symbols=(), slips_tested=slips)
    # Where it breaks is seen round two ropes, where it does not slip before.
    breaks = tested_as(tested, one, "breaks") or tested_as(tested, hitch_setup(hitch, made, rope, ropes=2), "breaks")
    return replace(held, breaks_n=breaks.range_n, breaks_tested=breaks) if breaks else held


def _hitch_hold(hitch: Hitch, made: HitchMade | None, rope: Rope) -> HitchHold:
    kind, made = catalogue().ropes[rope.kind], made or _USUAL
    wet = _wet_share(hitch, made.state or rope.state)
    if hitch.form != "hitch" or hitch.cord is None:
        if hitch.form == "device" and hitch.slip_n is not None:
            slips = times(hitch.slip_n, _by_thickness(catalogue().tying.thin_slips, rope), wet[2] if wet else _WHOLE)
            return HitchHold(hitch, hitch.name, slips, hitch.breaks_n, ())
        if wet is None:
            return HitchHold(hitch, hitch.name, hitch.slip_n, hitch.breaks_n, ())
        # What cuts when dry may slide when its teeth are full of ice or mud.
        slides = times(hitch.slip_n or hitch.breaks_n, wet[2])
        return HitchHold(hitch, hitch.name, slides, hitch.breaks_n, (symbol(*wet[:3], "", wet[3]),))
    usual, tying = catalogue().slings[hitch.cord], catalogue().tying
    if made is _USUAL and wet is None and not rope.glazed and not too_thick(usual, kind):
        return HitchHold(hitch, hitch.name, hitch.slip_n, hitch.breaks_n, ())
    cord = cord_of(hitch, made)
    shares = [
        ("k_wraps", f"{wraps_of(hitch, made)} wraps, usual {hitch.wraps}", _wraps_share(hitch, made), "hitch-wraps"),
        ("k_cord", f"{cord.name} on {kind.diameter_m * 1000:.1f} mm rope", _thickness_share(cord, kind), "hitch-cord"),
        ("k_slick", "slick cord", tying.slick_grip if cord.slick else _WHOLE, "hitch-cord"),
        ("k_glazed", "glazed", tying.glazed_grip if made.glazed or rope.glazed else _WHOLE, "hitch-cord"),
        *([wet] if wet else []),
    ]  # fmt: skip
    slip = times(hitch.slip_n, *(one[2] for one in shares)) if hitch.slip_n else None
    # A loop's strength goes with its cord's; slick cord loses more in its joining knot.
    stronger = _WHOLE if cord is usual else _over(cord.strand_n, usual.strand_n)
    bend = catalogue().knots["double-fisherman"]
    knot = _over(knot_keeps(bend, True, "bend")[0], bend.keeps) if cord.slick else _WHOLE
    soaked = wet_strength(cord.fibre, made.state or rope.state)
    told = tuple(symbol(name, meaning, share, "", source) for name, meaning, share, source in shares if share != _WHOLE)
    return HitchHold(hitch, _named(hitch, made, cord), slip, times(hitch.breaks_n, stronger, knot, soaked), told)


def _wet_share(hitch: Hitch, state: Condition | None) -> tuple[str, str, Range, str] | None:
    """What wet, ice and mud leave of what it grips with; None where it is dry."""
    if state in (None, "dry"):
        return None
    found = condition(state)
    return f"k_{found.id}", found.name.lower(), getattr(found, hitch.form), found.origin(hitch.form)


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
    """Strength of a rope without knots, by its look, by what it has stood and how wet it is, and what it was worked out from."""
    kind, tying, found = catalogue().ropes[rope.kind], catalogue().tying, condition(rope.state)
    shares = [
        ("k_wear", f"{rope.wear} rope", tying.wear[rope.wear or "new"], "rope-wear"),
        ("k_sun", "long in the sun", tying.sun_keeps if rope.stood == "sunlight" else _WHOLE, "sunlight"),
        (f"k_{found.id}", f"{found.name.lower()} nylon", wet_strength(kind.fibre, rope.state), found.origin("nylon")),
    ]
    unusual = [one for one in shares if one[2] != _WHOLE]
    symbols = [symbol("S_rope", kind.name, kind.strength_n, "N", kind.origin("strength_n"))]
    symbols += [symbol(name, meaning, share, "", source) for name, meaning, share, source in unusual]
    return times(kind.strength_n, *(one[2] for one in unusual)), tuple(symbols)


def rope_ea_n(rope: Rope, catching: bool = False) -> Range:
    """Stiffness EA of a rope as it is: under a load that stands or is hauled, or as it stops a fall. Wet nylon may be softer or harder."""
    kind = catalogue().ropes[rope.kind]
    ea = kind.catch_ea_n if catching else kind.ea_n
    return times(ea, condition(rope.state).stretch) if kind.fibre == "nylon" else ea


def device_holding(device: Device, rope: Rope, turns: float | None = None, led: Led | None = None) -> Range:
    """Tension at a device over force at the hand, on this rope as it is: thin, new or glazed, wet."""
    return device.holding(turns, led, device_leaves(rope), condition(rope.state).edge)


def device_leaves(rope: Rope) -> Range:
    """Share of its ratio that a device keeps on a rope: by thickness, straight between a thin and a full one, by sheath and by how wet."""
    tying = catalogue().tying
    by_size = _by_thickness(tying.thin_ratio, rope)
    glazed = tying.glazed_grip if rope.glazed else _WHOLE
    return times(by_size, tying.sheath_ratio[rope.wear or "used"], glazed, condition(rope.state).device)


def _by_thickness(thin_keeps: Range, rope: Rope) -> Range:
    """What is left on a rope of its thickness of what a full one gives: all from full, `thin_keeps` on a thin one, straight between."""
    tying = catalogue().tying
    thin = (tying.full_m - catalogue().ropes[rope.kind].diameter_m) / (tying.full_m - tying.thin_m)
    return thin_keeps.map(lambda kept: 1 - min(1.0, max(0.0, thin)) * (1 - kept))


def device_tested(device: Device, rope: Rope, tested: Sequence[Tested]) -> Tested | None:
    """What the team's own pulls say of a device on a rope as it is."""
    setup = ("device", device.id, rope.kind, 1, None, None, None, rope.state or "dry", rope.glazed)
    return tested_as(tested, setup, device.gives) if tested else None


def device_strength_n(device: Device, rope: Rope, tested: Sequence[Tested] = ()) -> Range:
    """Where a device breaks; or where it slips on this rope as it is."""
    if own := device_tested(device, rope, tested):
        return own.range_n
    if device.gives != "slips":
        return device.strength_n
    return times(device.strength_n, _by_thickness(catalogue().tying.thin_slips, rope), condition(rope.state).device)


@dataclass(frozen=True)
class KnotHold:
    """A knot in a rope: where it breaks, and where it runs before that (None: it does not)."""

    breaks_n: Range
    slips_n: Range | None
    rule: str
    symbols: tuple[Symbol, ...]
    slips_tested: Tested | None = None


def knot_holds(
    knot: Knot,
    rope: Rope,
    pulled: Pulled,
    tail_m: float | None = None,
    in_loop: str = "nothing",
    onto: str | None = None,
    tested: Sequence[Tested] = (),
) -> KnotHold:
    """What a knot holds by how it is pulled: on its loop, along the line, loop apart, or as a bend with tails.

    A bend whose tails are shorter than they have to be runs at what is known of it; a loop along the line with nothing in it
    rolls; in slick cord any knot may run. A knot that is not made for the line keeps less along it. `onto` another kind of rope a bend is as
    strong as the weaker. The team's own pulls, where it has taken them, are of a knot in sound rope of one kind, with tails as they have to be.
    """
    weaker = min((rope, other_of(rope, onto)), key=lambda one: catalogue().ropes[one.kind].strength_n.low)
    kind = catalogue().ropes[weaker.kind]
    strength, symbols = rope_holds(weaker)
    keeps, source = knot_keeps(knot, kind.slick, pulled)
    breaks = times(strength, keeps)
    share = symbol("k_knot", f"{knot.name}, {PULLED[pulled]}", keeps, "", source)
    rule = " · ".join(one.symbol for one in (*symbols, share))
    runs = _runs(knot, kind, pulled, tail_m, in_loop)
    if runs is not None and unlike(knot, rope, onto):
        runs = times(runs, catalogue().tying.unlike_keeps)
    held = KnotHold(breaks, runs, rule, (*symbols, share))
    whole = tail_m is None or tail_m >= tail_wanted_m(knot, kind) - 1e-9
    sound = (
        rope.wear in (None, "new")
        and rope.stood in (None, "nothing")
        and onto is None
        and in_loop == "nothing"
        and whole
    )
    return _knot_tested(held, knot, rope, pulled, tested) if tested and sound else held


def _knot_tested(held: KnotHold, knot: Knot, rope: Rope, pulled: Pulled, tested: Sequence[Tested]) -> KnotHold:
    setup = ("knot", knot.id, rope.kind, 1, None, None, pulled, rope.state or "dry", rope.glazed)
    if runs := tested_as(tested, setup, "slips"):
        held = replace(held, slips_n=runs.range_n, slips_tested=runs)
    if breaks := tested_as(tested, setup, "breaks"):
        told = holds_symbol("where it broke", breaks.range_n, OWN_PULLS, breaks)
        held = replace(held, breaks_n=breaks.range_n, rule="own pulls", symbols=(told,))
    return held


def holds_symbol(meaning: str, value: Range, source: str, own: Tested | None) -> Symbol:
    """Where something slips or breaks, in a working: by the team's own pulls with how many there were, or as the catalogue has it."""
    if own is None:
        return symbol("S", meaning, value, "N", source)
    return symbol("S", f"{meaning}: our own, {own.pulls} pulls", own.range_n, "N", OWN_PULLS)


def other_of(rope: Rope, onto: str | None) -> Rope:
    """The rope that a join goes on with, as worn and wet as this one."""
    return rope if onto is None else rope.model_copy(update={"kind": onto})


def unlike(knot: Knot, rope: Rope, onto: str | None) -> bool:
    """Whether a bend joins ropes of unlike thickness that it is not made for."""
    kinds = catalogue().ropes
    differ = abs(kinds[rope.kind].diameter_m - kinds[onto or rope.kind].diameter_m)
    return differ > catalogue().tying.unlike_from_m + 1e-9 and not knot.unlike


PULLED: dict[Pulled, str] = {
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
    short = tail_m is not None and tail_m < tail_wanted_m(knot, kind) - 1e-9
    return knot.slips_n if knot.runs_always or (pulled == "bend" and short) else None


def tail_wanted_m(knot: Knot, kind: RopeKind) -> float:
    """What the tails of a bend have to be: its own, or ten diameters."""
    return max(knot.tail_least_m or 0.0, catalogue().tying.tail_diameters * kind.diameter_m)
