"""A team's own pulls in words: how each was tied, and what follows from them beside the catalogue."""

from __future__ import annotations

from dataclasses import dataclass

from rigging.catalogue import catalogue
from rigging.document import AsPulled, Tested
from rigging.lines.tied import PULLED
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.shelf.pulls import LEAST, OwnRange

_GIVES = {"slips": "Slips", "breaks": "Breaks"}


@dataclass(slots=True)
class OwnRangeReport:
    """A range by own pulls: how it was tied (`name`), what it does there (`gives`), the catalogue's and the team's own in newtons and in words, what is to
    be said of it, and what a plan would take over (None: too few)."""

    name: str
    gives: str
    before_n: Range | None
    own_n: Range | None
    before_text: str
    own_text: str
    count_text: str
    says: list[str]
    tested: Tested | None


def as_pulled_name(one: AsPulled) -> str:
    """How something was pulled, as a team would say it."""
    known = catalogue()
    rope = known.ropes[one.rope].name
    table = {"hitch": known.hitches, "knot": known.knots, "device": known.devices}[one.of]
    said = [table[one.kind].name]  # type: ignore[index]
    if one.cord:
        said.append(f"{one.wraps} wraps of {known.slings[one.cord].name}")
    if one.pulled:
        said.append(PULLED[one.pulled])
    said.append(
        f"in {rope}"
        if one.of == "knot"
        else f"round {'two' if one.ropes == 2 else 'one'} of {rope}"
        if one.of == "hitch"
        else f"on {rope}"
    )
    said += [one.state] if one.state != "dry" else []
    said += ["glazed"] if one.glazed else []
    return ", ".join(said)


def own_range_report(one: OwnRange, say: Wording) -> OwnRangeReport:
    """One range, with what speaks against taking it as it is."""
    seen = (
        f"{one.seen} of {one.counted} pulls"
        if one.seen != one.counted
        else f"{one.seen} pull{'s' if one.seen > 1 else ''}"
    )
    return OwnRangeReport(
        as_pulled_name(one.as_pulled), _GIVES[one.gives], one.before_n, one.own_n,
        say.force(one.before_n) if one.before_n else "the catalogue has nothing",
        say.force(one.own_n) if one.own_n else "none gave so", seen, list(_says(one)), one.tested,
    )  # fmt: skip


def _says(one: OwnRange) -> list[str]:
    said = []
    if one.seen < LEAST:
        more = LEAST - one.seen
        said.append(f"{more} more before it can stand in the catalogue's place.")
    if one.astray:
        said.append("The catalogue does not hold your middle: is it the cord, the rope, the wraps that you say?")
    if one.odd:
        said.append("A pull stands apart from the others: look at it; leave it out only with a reason.")
    return said
