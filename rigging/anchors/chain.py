"""The chain of one leg, from the working point to the feature: each link's strength with its origin. It holds as its least."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from rigging.anchors.rig import LegLine, ropes_of
from rigging.anchors.wraps import bend_round, closes_at_m, closing_rad, material_of, method_of, strands_of, turns_of
from rigging.catalogue import Knot, catalogue
from rigging.catalogue.knots import knot_keeps, slick_runs_n
from rigging.document import Arrangement, Leg
from rigging.quantities.ranges import Range, exactly, times
from rigging.quantities.symbols import Symbol, symbol


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
        *_onward(arrangement, line.leg), _attachment(arrangement, line), *_slick_runs(arrangement, line.leg),
        *_drum(line.leg),
    ]  # fmt: skip


def _slick_runs(arrangement: Arrangement, leg: Leg) -> Iterator[Link]:
    """Knots in slick cord run before it breaks: the attachment's and the onward strand's."""
    tied = [(_bearing_knot(arrangement, leg), material_of(leg), strands_of(leg), "attachment")]
    if leg.extension is not None:
        tied.append((leg.extension_knot, catalogue().slings[leg.extension], ropes_of(arrangement), "extension"))
    for knot, material, strands, where in tied:
        if knot is None or not material.slick or material.sewn:
            continue
        found = catalogue().knots[knot]
        runs = slick_runs_n(found, material.thickness_m)
        told = (
            symbol("n", "strands that pull", strands, "", "leader"),
            symbol("S_run", f"{found.name.lower()} in {material.name}", runs, "N", "slick-knots-each"),
        )
        yield Link(
            f"{where}-runs", f"{found.name} in {material.name}, runs", times(exactly(strands), runs), "n · S_run", told
        )


def _drum(leg: Leg) -> Iterator[Link]:
    """A drum's own parts: drum and axle by their ratings, the strap and the connector that hold it."""
    tie = leg.tie_off
    if leg.method != "drum-tie-off" or tie is None:
        return
    for id, name, rating in (("drum", "Drum", tie.drum_n), ("axle", "Axle of the drum", tie.axle_n)):
        if rating is not None:
            yield Link(id, name, rating, "rating", (symbol("S", "rating", rating, "N", "leader"),))
    if tie.strap is not None:
        sling = catalogue().slings[tie.strap]
        strands = symbol("n", "strands that pull", tie.strap_strands, "", "leader")
        told = (strands, symbol("S_strand", sling.name, sling.strand_n, "N", sling.source))
        yield Link(
            "strap",
            f"Strap of the drum, {sling.name}",
            times(exactly(tie.strap_strands), sling.strand_n),
            "n · S_strand",
            told,
        )
    if tie.connector is not None:
        connector = catalogue().connectors[tie.connector]
        rated = symbol("S", connector.name, connector.strength_n, "N", connector.source)
        yield Link("drum-connector", f"{connector.name} of the drum", connector.strength_n, "rating", (rated,))


def _onward(arrangement: Arrangement, leg: Leg) -> list[Link]:
    if leg.extension is None:
        return []
    sling, knot = catalogue().slings[leg.extension], catalogue().knots[leg.extension_knot]
    ropes, (keeps, source) = ropes_of(arrangement), knot_keeps(knot, sling.slick)
    connector = catalogue().connectors[arrangement.connector]
    extension = Link(
        "extension", f"{sling.name}, {knot.name.lower()}", times(exactly(ropes), sling.strand_n, keeps), "n · S_strand · k_knot",
        (symbol("n", "strands side by side", ropes, "", "leader"), symbol("S_strand", sling.name, sling.strand_n, "N", sling.source),
         symbol("k_knot", knot.name, keeps, "", source)),
    )  # fmt: skip
    rating = symbol("S", connector.name, connector.strength_n, "N", connector.source)
    return [
        extension,
        Link("connector", f"{connector.name} at the attachment", connector.strength_n, "rating", (rating,)),
    ]


def _attachment(arrangement: Arrangement, line: LegLine) -> Link:
    """Strands × strand × what the method, its knot, the bend and the closing angle leave."""
    leg, method, sling = line.leg, method_of(line.leg), material_of(line.leg)
    strands = strands_of(leg)
    wraps = f", {turns_of(leg)} turns" if method.turns.most > 1 else ""
    parts, symbols, rule = [exactly(strands), sling.strand_n, method.keeps], [
        symbol("n", f"strands that pull{wraps}", strands, "", method.source),
        symbol("S_strand", f"one strand of {sling.name}", sling.strand_n, "N", sling.source),
        symbol("k", f"share that {method.name.lower()} keeps", method.keeps, "", method.source),
    ], "n · S_strand · k"  # fmt: skip
    knot = _bearing_knot(arrangement, leg)
    if knot is not None:
        keeps, source = knot_keeps(catalogue().knots[knot], sling.slick)
        parts.append(keeps)
        symbols.append(symbol("k_knot", catalogue().knots[knot].name, keeps, "", source))
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
    gathers = arrangement.knot if leg.extension is None and not material_of(leg).sewn else None
    both = [knot for knot in (own, gathers) if knot is not None]
    return min(both, key=lambda knot: _weakness(catalogue().knots[knot], material_of(leg).slick), default=None)


def _weakness(knot: Knot, slick: bool) -> tuple[float, float]:
    """By what knots are told apart: in slick cord the one that runs first, else the one that keeps least."""
    return (knot.slick_runs.low if slick else 1.0), knot.keeps.low
