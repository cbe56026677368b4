"""What the gear went through, told: a list that somebody goes through with each piece in hand, and signs."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from pydantic import BaseModel, ConfigDict

from rigging.document import Plan
from rigging.gear.becomes import URGENCY, Becomes, Reason, becomes, reasons, textile
from rigging.gear.worn import Kind, Worn
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.learning.drawn import DrawnAs, drawings_of
from rigging.telling.words.names import line_name, lower_first, part_name, upper_first

BECOMES: dict[Becomes, str] = {
    "bag": "back into the bag", "inspect": "inspect before it is used again", "rest": "rest before it is loaded again", "retire": "retire",
}  # fmt: skip
_KINDS: tuple[Kind, ...] = ("rope", "sling", "hitch", "connector", "device")


class PieceReport(BaseModel):
    """A piece: its highest load in newtons and whether that goes by a reading, minutes that it bore, metres over each edge, the hardest shock;
    what should become of it and why; `unsaid`: what nobody has said of it; `drawn`: how it is tied or threaded."""

    model_config = ConfigDict(frozen=True)

    id: str
    kind: Kind
    name: str
    highest_n: Range
    highest_text: str
    measured: bool
    holds_text: str
    loaded_min: float
    edges: list[str]
    shock_text: str
    becomes: Becomes
    becomes_text: str
    why: list[str]
    unsaid: list[str]
    drawn: list[DrawnAs] = []


class GearReport(BaseModel):
    """Every piece, the gravest first; how many of each fate."""

    model_config = ConfigDict(frozen=True)

    pieces: list[PieceReport]
    counts: dict[Literal["bag", "inspect", "rest", "retire"], int]


def gear_report(plan: Plan, pieces: Iterable[Worn], say: Wording | None = None) -> GearReport:
    """The list of a run."""
    say = say or Wording()
    rows = [_piece(plan, one, say) for one in pieces]
    rows.sort(key=lambda one: (URGENCY.index(one.becomes), _KINDS.index(one.kind), one.name))
    return GearReport(pieces=rows, counts={fate: sum(one.becomes == fate for one in rows) for fate in URGENCY})


def _piece(plan: Plan, piece: Worn, say: Wording) -> PieceReport:
    found = reasons(plan.rules, piece)
    fate = becomes(found)
    return PieceReport(
        id=piece.id, kind=piece.kind, name=_name(plan, piece), highest_n=piece.highest_n, highest_text=say.force(piece.highest_n),
        measured=piece.measured, holds_text=_holds(piece, say), loaded_min=round(piece.loaded_s / 60, 1),
        edges=[f"{say.length(one.metres)} over {lower_first(one.edge.name)}" for one in piece.ran],
        shock_text=say.force(piece.shock_n) if piece.shock_n else "", becomes=fate, becomes_text=BECOMES[fate],
        why=[upper_first(_why(one, say)) for one in found], unsaid=_unsaid(piece), drawn=drawings_of([piece.part.thing]),
    )  # fmt: skip


def _name(plan: Plan, piece: Worn) -> str:
    if piece.rope is not None:
        return f"Rope {piece.rope.id}, {piece.part.thing}"
    if piece.part.kind == "cord":
        line = piece.part.id.partition(":")[0]
        return (
            f"{piece.part.thing}, {_HITCHES.get(piece.part.id.split(':')[1], 'hitch')}, {line_name(plan, line).lower()}"
        )
    return part_name(plan, piece.part)


_HITCHES = {"grab": "haul grab", "capture": "ratchet", "brake": "brake side", "belay": "belay"}


def _holds(piece: Worn, say: Wording) -> str:
    if piece.slips_n is not None and piece.kind == "hitch":
        return f"slips at {say.force(piece.slips_n)}"
    return say.force(piece.strength_n) if piece.strength_n else "not known"


def _unsaid(piece: Worn) -> list[str]:
    found = []
    if textile(piece) and (piece.rope is None or piece.rope.age_years is None):
        found.append("age")
    if piece.strength_n is None and piece.slips_n is None:
        found.append("what it holds")
    return found


def _why(one: Reason, say: Wording) -> str:
    force, limit = (say.force(each) if each else "" for each in (one.force_n, one.limit_n))
    ratio = f"{say.ratio(one.ratio)} : 1" if one.ratio is not None else ""
    number = one.number or 0.0
    if one.why == "age":
        return f"{number:g} years old: textiles {one.ratio:g} years at the latest"
    if one.why == "damage":
        return f"damaged at {say.length(number)}: cut there, or retire it"
    if one.why == "worn":
        return "worn before the run: along its whole length, by hand"
    if one.why == "shock":
        held = f"{ratio} of what it holds" if ratio else "and what it holds is not known"
        return f"took a shock of {force}, {held}"
    if one.why == "slipped":
        return f"carried {force}, slips at {limit}: it has slipped, look for glazing"
    if one.why == "may-have-slipped":
        return f"carried {force}, slips from {limit}: it may have slipped, look for glazing"
    if one.why == "below-rule":
        return f"carried {force}, {ratio} of what it holds: less than your rule asks"
    if one.why == "bare-edge":
        return f"ran {say.length(number)} over {lower_first(one.name)}, bare: look for cuts and fuzz there"
    if one.why == "earth":
        return f"ran {say.length(number)} over {lower_first(one.name)}: wash out grit and mud, then feel it"
    return f"bore for {number / 60:.0f} minutes: hang it slack before it is loaded again"
