"""The chain of one leg, from the working point to the feature: each link's strength with its origin. It holds as its least."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from rigging.anchors.rig import LegLine, ropes_of
from rigging.anchors.wraps import bend_round, closes_at_m, closing_rad, material_of, method_of, strands_of, turns_of
from rigging.catalogue import Knot, SlingMaterial, catalogue
from rigging.catalogue.knots import knot_keeps, slick_runs_n
from rigging.document import Arrangement, Leg
from rigging.document.site import Condition
from rigging.quantities.ranges import Range, exactly, times
from rigging.quantities.symbols import Symbol, symbol
from rigging.site.conditions import condition, wet_strength


@dataclass(frozen=True)
class Link:
    """A link of the chain: what it is, what it holds in newtons, and the formula and values behind that."""

    id: str
    name: str
    strength_n: Range
    rule: str
    symbols: tuple[Symbol, ...]


def least(links: list[Link]) -> Link:
    """The link that the chain holds as: least at its lowest."""
    return min(links, key=lambda link: link.strength_n.low)


def leg_chain(arrangement: Arrangement, line: LegLine) -> list[Link]:
    """Links from the working point to the attachment; the feature comes after them."""
    return [
        *_onward(arrangement, line), _attachment(arrangement, line), *_slick_runs(arrangement, line.leg),
        *_over_edge(line), *_drum(line), *_buckles(line),
    ]  # fmt: skip


def _over_edge(line: LegLine) -> Iterator[Link]:
    """Material that bends over something bare on its way keeps a share of its strength there."""
    keeps = bare_keeps(line.leg)
    if keeps is None:
        return
    sling, surface, strands = material_of(line.leg), catalogue().surfaces[line.leg.over or ""], strands_of(line.leg)
    parts, symbols, rule = _strand(line.state, sling, f"one strand of {sling.name}")
    told = (
        symbol("n", "strands over it", strands, "", "leader"), *symbols, symbol("k_edge", surface.name, keeps, "", surface.origin("edge_keeps")),
    )  # fmt: skip
    yield Link(
        "edge",
        f"{sling.name} over {surface.name.lower()}",
        times(exactly(strands), *parts, keeps),
        f"n · {rule} · k_edge",
        told,
    )


def bare_keeps(leg: Leg) -> Range | None:
    """What a leg's material keeps where it bends over something bare; None where nothing is there, or it is padded."""
    return catalogue().surfaces[leg.over].edge_keeps if leg.over and not leg.padding else None


def stage_links(arrangement: Arrangement, state: Condition | None) -> Iterator[Link]:
    """What sets a working point down, stage by stage, wet or not: each bears all of the pull."""
    for number, stage in enumerate(arrangement.set_down.stages if arrangement.set_down else ()):
        sling, id = catalogue().slings[stage.material], f"stage:{number}"
        held = _side_by_side(id, stage.strands, sling, state, [stage.knot, stage.joined])
        knots = [one for one in (stage.knot, stage.joined) if one]
        both = [held, *(runs for one in knots if (runs := _runs(id, stage.strands, sling, one)))]
        yield replace(least(both), name=f"{stage.strands} × {held.name}")


def _side_by_side(
    id: str, strands: int, sling: SlingMaterial, state: Condition | None, knots: Sequence[str | None]
) -> Link:
    """So many strands between two knots, the weakest of theirs in each."""
    weakest = _weaker(knots, sling.slick)
    assert weakest is not None
    knot = catalogue().knots[weakest]
    (keeps, source), (parts, symbols, rule) = knot_keeps(knot, sling.slick), _strand(state, sling, sling.name)
    told = (symbol("n", "strands side by side", strands, "", "leader"), *symbols, symbol("k_knot", knot.name, keeps, "", source))  # fmt: skip
    name = f"{sling.name}, {knot.name.lower()}"
    return Link(id, name, times(exactly(strands), *parts, keeps), f"n · {rule} · k_knot", told)


def _runs(id: str, strands: int, material: SlingMaterial, knot: str) -> Link | None:
    """A knot in slick cord runs before that breaks; None in what it does not run in."""
    if not material.slick or material.sewn:
        return None
    found = catalogue().knots[knot]
    runs = slick_runs_n(found, material.thickness_m)
    told = (
        symbol("n", "strands that pull", strands, "", "leader"),
        symbol("S_run", f"{found.name.lower()} in {material.name}", runs, "N", "slick-knots-each"),
    )
    return Link(id, f"{found.name} in {material.name}, runs", times(exactly(strands), runs), "n · S_run", told)


def _slick_runs(arrangement: Arrangement, leg: Leg) -> Iterator[Link]:
    """Knots in slick cord run before it breaks: the attachment's and the onward strands'."""
    tied = [("attachment", strands_of(leg), material_of(leg), _bearing_knot(arrangement, leg))]
    if leg.extension is not None:
        onward, ropes = catalogue().slings[leg.extension], ropes_of(arrangement) * leg.extension_strands
        tied += [("extension", ropes, onward, one) for one in (leg.extension_knot, leg.extension_joined)]
    for where, strands, material, knot in tied:
        link = _runs(f"{where}-runs", strands, material, knot) if knot else None
        if link is not None:
            yield link


def _buckles(line: LegLine) -> Iterator[Link]:
    """A pole that pushes buckles by its length and section: Euler's load of a strut pinned at both ends, π²·E·I/L²."""
    pole = material_of(line.leg).section
    if method_of(line.leg).path != "post" or pole is None:
        return
    origin = material_of(line.leg).origin("section")
    euler = times(pole.modulus_pa, pole.second_moment_m4).map(lambda ei: math.pi**2 * ei / line.spans_m**2)
    told = (
        symbol("E", "Young's modulus", pole.modulus_pa, "Pa", origin),
        symbol("I", "second moment of its section", pole.second_moment_m4, "m⁴", origin),
        symbol("L", "its length", line.spans_m, "m", "geometry"),
    )
    yield Link("buckles", f"{material_of(line.leg).name}, buckles", euler, "π²·E·I / L²", told)


def _strand(state: Condition | None, sling: SlingMaterial, meaning: str) -> tuple[list[Range], list[Symbol], str]:
    """One strand, and what wet leaves of it: values, symbols and rule."""
    parts, told = [sling.strand_n], [symbol("S_strand", meaning, sling.strand_n, "N", sling.origin("strand_n"))]
    wet, found = wet_strength(sling.fibre, state), condition(state)
    if wet != exactly(1.0):
        parts.append(wet)
        told.append(symbol(f"k_{found.id}", f"{found.name.lower()} nylon", wet, "", found.origin("nylon")))
    return parts, told, " · ".join(one.symbol for one in told)


def _drum(line: LegLine) -> Iterator[Link]:
    """A drum's own parts: drum and axle by their ratings, the strap and the connector that hold it."""
    leg, tie = line.leg, line.leg.tie_off
    if not method_of(leg).drum or tie is None:
        return
    for id, name, rating in (("drum", "Drum", tie.drum_n), ("axle", "Axle of the drum", tie.axle_n)):
        if rating is not None:
            yield Link(id, name, rating, "rating", (symbol("S", "rating", rating, "N", "leader"),))
    if tie.strap is not None:
        sling = catalogue().slings[tie.strap]
        strands = symbol("n", "strands that pull", tie.strap_strands, "", "leader")
        parts, symbols, rule = _strand(line.state, sling, sling.name)
        held = times(exactly(tie.strap_strands), *parts)
        yield Link("strap", f"Strap of the drum, {sling.name}", held, f"n · {rule}", (strands, *symbols))
    if tie.connector is not None:
        connector = catalogue().connectors[tie.connector]
        rated = symbol("S", connector.name, connector.strength_n, "N", connector.origin("strength_n"))
        yield Link("drum-connector", f"{connector.name} of the drum", connector.strength_n, "rating", (rated,))


def _onward(arrangement: Arrangement, line: LegLine) -> list[Link]:
    leg = line.leg
    if leg.extension is None:
        return []
    sling, ropes = catalogue().slings[leg.extension], ropes_of(arrangement) * leg.extension_strands
    extension = _side_by_side("extension", ropes, sling, line.state, [leg.extension_knot, leg.extension_joined])
    if arrangement.connector is None:
        return [extension]
    connector = catalogue().connectors[arrangement.connector]
    rating = symbol("S", connector.name, connector.strength_n, "N", connector.origin("strength_n"))
    return [
        extension,
        Link("connector", f"{connector.name} at the attachment", connector.strength_n, "rating", (rating,)),
    ]


def _attachment(arrangement: Arrangement, line: LegLine) -> Link:
    """Strands × strand × what the method, its knot, the bend and the closing angle leave."""
    leg, method, sling = line.leg, method_of(line.leg), material_of(line.leg)
    strands = strands_of(leg)
    wraps = f", {turns_of(leg)} turns" if method.turns.most > 1 else ""
    strand, told, rule = _strand(line.state, sling, f"one strand of {sling.name}")
    # A loop of its own stuff, choked, may keep less than the hitch does of others.
    choked = sling.choked if method.path == "choker" else None
    keeps = choked or method.keeps
    parts = [exactly(strands), *strand, keeps]
    symbols = [
        symbol("n", f"strands that pull{wraps}", strands, "", method.origin("strands")), *told,
        symbol("k", f"share that {method.name.lower()} keeps", keeps, "", sling.origin("choked") if choked else method.origin("keeps")),
    ]  # fmt: skip
    rule = f"n · {rule} · k"
    knot = _bearing_knot(arrangement, leg)
    if knot is not None:
        kept, source = knot_keeps(catalogue().knots[knot], sling.slick)
        parts.append(kept)
        symbols.append(symbol("k_knot", catalogue().knots[knot].name, kept, "", source))
        rule += " · k_knot"
    if method.path == "tie-off" and line.radius_m:
        bend = bend_round(drum_m(line), sling.thickness_m)
        parts.append(bend.keeps)
        symbols.append(symbol("k_bend", f"bend D/d = {bend.ratio:.1f}, full from 10", bend.keeps, "", "tie-off-bend"))
        rule += " · k_bend"
    if method.path in ("basket", "wrap-pull", "loop") and line.radius_m and strands > 1:
        closing = closing_rad(line.radius_m, closes_at_m(leg, line.radius_m, line.spans_m))
        parts.append(exactly(math.cos(closing / 2)))
        symbols.append(
            symbol("cos α/2", f"strands close at {math.degrees(closing):.0f}°", math.cos(closing / 2), "", "geometry")
        )
        rule += " · cos α/2"
    return Link("attachment", f"{method.name}, {sling.name}", times(*parts), rule, tuple(symbols))


def drum_m(line: LegLine) -> float:
    """What a tie-off bends round: the drum given, else the feature as it was measured (0 where it was not)."""
    if line.leg.tie_off is not None:
        return line.leg.tie_off.drum_m
    return 2 * (line.radius_m or 0.0)


def _bearing_knot(arrangement: Arrangement, leg: Leg) -> str | None:
    """The knot that sits in the pull: the attachment's own, or the one that gathers the bights at the working point."""
    method = method_of(leg)
    own = method.knot if method.knot_bears and not (method.of_loop and material_of(leg).sewn) else None
    gathers = arrangement.gathering if leg.extension is None and not material_of(leg).sewn else None
    # The bend that closes a piece lies in its last leg.
    joins = arrangement.piece.joined if arrangement.piece and leg is arrangement.legs[-1] else leg.joined
    return _weaker([own, gathers, joins], material_of(leg).slick)


def _weaker(knots: Sequence[str | None], slick: bool) -> str | None:
    """The weakest of knots in one strand."""
    return min(
        (one for one in knots if one is not None), key=lambda one: _weakness(catalogue().knots[one], slick), default=None
    )  # fmt: skip


def _weakness(knot: Knot, slick: bool) -> tuple[float, float]:
    """By what knots are told apart: in slick cord the one that runs first, else the one that keeps least."""
    return (knot.slick_runs.low if slick else 1.0), knot.keeps.low
