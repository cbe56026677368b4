"""A team's shelf as it stands: its pieces, where they are, its pulls and what follows from them, a plan's gear against it."""

import uuid
from collections import defaultdict
from datetime import date

from accounts.models import Team
from core import engine
from django.db.models import Case, F, Sum, When
from plans.models import Plan

from rigging.document import Plan as Document
from rigging.quantities.units import Wording
from rigging.shelf.packed import Packed, packed
from rigging.shelf.pieces import Piece, is_due, too_old
from rigging.shelf.pulls import PullMade, own_ranges
from rigging.telling.shelf import as_pulled_name, own_range_report
from shelf.models import Counted, PullTest, ShelfPiece
from shelf.schemas import (
    CarrierOut,
    OutFor,
    OutNow,
    PackingOut,
    PackingRow,
    PieceOut,
    PullOut,
    PullsOut,
    ShelfOut,
    TakenFor,
)


def out_of(team: Team) -> dict[str, dict[uuid.UUID, int]]:
    """Of each label, how many are out for which plan."""
    signed = Case(When(out=True, then=F("count")), default=-F("count"))
    rows = (
        Counted.objects.filter(piece__team=team)
        .order_by()
        .values_list("piece__label", "plan")
        .annotate(net=Sum(signed))
    )
    found: dict[str, dict[uuid.UUID, int]] = defaultdict(dict)
    for label, plan, count in rows:
        if count > 0:
            found[label][plan] = count
    return found


def pieces_of(team: Team) -> list[Piece]:
    return [Piece.kept(one) for one in ShelfPiece.objects.filter(team=team).values_list("piece", flat=True)]


def shelf_of(team: Team, writes: bool, on: date) -> ShelfOut:
    out = out_of(team)
    plans = _titles(out)
    found = []
    for row in ShelfPiece.objects.filter(team=team).select_related("changed_by"):
        piece = Piece.kept(row.piece)
        where = [OutFor(plan=plan, title=plans[plan], count=count) for plan, count in out.get(row.label, {}).items()]
        found.append(
            PieceOut(
                piece=piece, name=piece.name, is_due=is_due(piece, on), too_old=too_old(piece, on.year), out=where,
                changed_by=row.changed_by.get_username(), changed_at=row.changed_at,
            )
        )  # fmt: skip
    return ShelfOut(writes=writes, pieces=found)


def pulls_of(team: Team, writes: bool, say: Wording) -> PullsOut:
    rows = list(PullTest.objects.filter(team=team).select_related("by", "left_out_by"))
    counted = [row for row in rows if not row.left_out]
    # Of many pulls it takes a while: where it keeps nobody from being heard.
    ranges = engine.ask(own_ranges, [PullMade.model_validate(row.pull) for row in counted])
    odd = {counted[number].pk for one in ranges for number in one.odd}
    pulls = []
    for row in reversed(rows):
        pull = PullMade.model_validate(row.pull)
        pulls.append(
            PullOut(
                id=row.pk, pull=pull, name=as_pulled_name(pull), by=row.by.get_username(), at=row.at, odd=row.pk in odd, left_out=row.left_out,
                left_out_by=row.left_out_by.get_username() if row.left_out_by else "",
            )
        )  # fmt: skip
    return PullsOut(writes=writes, pulls=pulls, ranges=[own_range_report(one, say) for one in ranges])


def away_from(plan: Plan, out: dict[str, dict[uuid.UUID, int]]) -> dict[str, int]:
    """Of each label that is `out`, how many for other plans."""
    return {label: sum(count for other, count in each.items() if other != plan.pk) for label, each in out.items()}


def _titles(out: dict[str, dict[uuid.UUID, int]]) -> dict[uuid.UUID, str]:
    """The titles of the plans that something is out for."""
    return {one.pk: one.title for one in Plan.objects.filter(pk__in={plan for each in out.values() for plan in each})}


def packing_of(plan: Plan, writes: bool, on: date) -> PackingOut:
    """A plan's gear against its team's shelf: what is out for it already goes before what lies in the bags."""
    document, shelf, out = Document.model_validate_json(plan.latest.document), pieces_of(plan.team), out_of(plan.team)
    here = {label: each[plan.pk] for label, each in out.items() if plan.pk in each}
    found = packed(document, shelf, away_from(plan, out), on, here)
    titles = _titles(out)
    wheres = {label: sorted(titles[other] for other in each if other != plan.pk) for label, each in out.items()}
    left = dict(here)
    rows = [_row(one, left, wheres) for one in found]
    names = {one.label: one.name for one in shelf}
    wanted = {one.label for row in rows for one in row.taken}
    now = [OutNow(label=label, name=names[label], count=count, wanted=label in wanted) for label, count in here.items()]
    return PackingOut(
        on=on, title=document.title, writes=writes, rows=rows, carriers=_carriers(rows), out=now, short=sum(row.short for row in rows)
    )  # fmt: skip


def _row(one: Packed, left: dict[str, int], wheres: dict[str, list[str]]) -> PackingRow:
    taken = []
    for some in one.taken:
        piece = some.piece
        out = min(some.count, left.get(piece.label, 0))
        left[piece.label] = left.get(piece.label, 0) - out
        taken.append(
            TakenFor(
                label=piece.label, count=some.count, out=out, bag=piece.bag, carried_by=piece.carried_by,
                goes_with=piece.carried_by or piece.bag or "Loose", mass_kg=piece.mass_kg, is_due=some.due,
            )
        )  # fmt: skip
    want = one.want
    return PackingRow(
        table=want.table, kind=want.kind, name=want.name, count=want.count, length_m=want.length_m, taken=taken, short=one.short,
        elsewhere=[f"{piece.label}: out for {', '.join(wheres.get(piece.label, []))}" for piece in one.elsewhere],
        retired=[f"{piece.label}: {piece.retired}" for piece in one.retired],
    )  # fmt: skip


def _carriers(rows: list[PackingRow]) -> list[CarrierOut]:
    """By who carries it, and where nobody does by the bag."""
    found: dict[str, list[TakenFor]] = defaultdict(list)
    for row in rows:
        for one in row.taken:
            found[one.goes_with].append(one)
    return [
        CarrierOut(
            who=who, pieces=sum(one.count for one in taken), mass_kg=round(sum((one.mass_kg or 0.0) * one.count for one in taken), 2),
            unweighed=sum(one.count for one in taken if one.mass_kg is None),
        )
        for who, taken in sorted(found.items())
    ]  # fmt: skip
