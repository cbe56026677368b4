"""Keeping a team's gear and pulls; counting out and in."""

import uuid
from collections.abc import Sequence

from accounts.models import Team
from django.contrib.auth.models import User
from plans.models import Plan
from storing import clock
from storing.writing import writing

from rigging.quantities.faults import refuse
from rigging.shelf.pieces import Piece
from rigging.shelf.table import MOST
from shelf.models import Counted, PullTest, ShelfPiece
from shelf.schemas import LeaveOut, NewCount, NewPull
from shelf.selectors import out_of

# So many pulls a team keeps.
_PULLS = 5000


def keep_pieces(team: Team, by: User, pieces: Sequence[Piece]) -> None:
    """Pieces under their labels, new or changed; what is the same stays as it was. Nothing is ever taken off the shelf: it is retired.

    Raises
    ------
    Refused
        If fewer would be there than are out, or more labels than a shelf has.
    """
    with writing():
        out = out_of(team)
        known = {one.label: one for one in ShelfPiece.objects.filter(team=team)}
        new, changed = [], []
        for piece in pieces:
            away = sum(out.get(piece.label, {}).values())
            if piece.count < away:
                raise refuse(
                    "count", f"{away} of {piece.label} are out, more than {piece.count}", "count them back first"
                )
            said, row = piece.model_dump(mode="json"), known.get(piece.label)
            if row is None:
                new.append(ShelfPiece(team=team, label=piece.label, piece=said, changed_by=by))
            elif row.piece != said:
                row.piece, row.changed_by, row.changed_at = said, by, clock.now()
                changed.append(row)
        if len(known) + len(new) > MOST:
            problem = f"the shelf would have {len(known) + len(new)} labels"
            raise refuse("label", problem, f"at most {MOST}: what is alike goes under one label with its count")
        ShelfPiece.objects.bulk_create(new)
        ShelfPiece.objects.bulk_update(changed, ["piece", "changed_by", "changed_at"], batch_size=200)


def count_one(plan: Plan, by: User, body: NewCount) -> None:
    """So many of a piece out for a plan, or back; once, however often it is sent.

    Raises
    ------
    Refused
        If there is no such piece, it is retired, more would go out than are there, or come back than went.
    """
    with writing():
        if known := Counted.objects.filter(pk=body.id).select_related("piece").first():
            same = (known.plan_id, known.piece.label, known.count, known.out, known.by_id)
            if same != (plan.pk, body.label, body.count, body.out, by.pk):
                raise refuse("id", "it is the id of another count", "make a new one for each")
            return
        row = ShelfPiece.objects.filter(team=plan.team, label=body.label).first()
        if row is None:
            raise refuse(
                "label",
                f"there is no {body.label} on the team's shelf",
                "a label of the shelf, or enter the piece first",
            )
        piece, out = Piece.kept(row.piece), out_of(plan.team).get(body.label, {})
        if body.out:
            _may_go(piece, body.count, sum(out.values()), plan, out)
        elif body.count > out.get(plan.pk, 0):
            raise refuse("count", f"{out.get(plan.pk, 0)} of {body.label} are out for this plan", "as many as went out")
        Counted.objects.create(id=body.id, plan=plan, piece=row, count=body.count, out=body.out, by=by)


def _may_go(piece: Piece, count: int, away: int, plan: Plan, out: dict[uuid.UUID, int]) -> None:
    if piece.retired:
        raise refuse(
            "label",
            f"{piece.label} is retired: {piece.retired}",
            "another piece; or put it back into use on the shelf, with what was found",
        )
    if count > piece.count - away:
        others = Plan.objects.filter(pk__in=[one for one in out if one != plan.pk])
        where = ", ".join(sorted(one.title for one in others))
        said = f"{piece.count - away} of {piece.count} are here" + (
            f"; the others are out for {where}" if where else ""
        )
        raise refuse("count", f"{piece.label}: {said}", "fewer, another piece, or count those back first")


def keep_pull(team: Team, by: User, body: NewPull) -> None:
    """A pull test, once.

    Raises
    ------
    Refused
        If the id stands for another, or there are too many.
    """
    said = body.pull.model_dump(mode="json")
    with writing():
        known = PullTest.objects.filter(pk=body.id).first()
        if known is None and PullTest.objects.filter(team=team).count() >= _PULLS:
            raise refuse("pull", f"there are {_PULLS} pulls already", "no more in this installation")
        if known is None:
            PullTest.objects.create(id=body.id, team=team, pull=said, by=by)
        elif (known.team_id, known.by_id, known.pull) != (team.pk, by.pk, said):
            raise refuse("id", "it is the id of another pull", "make a new one for each")


def leave_out(pull: PullTest, by: User, body: LeaveOut) -> None:
    """A pull that no longer counts, with why; or does again."""
    why = body.why.strip()
    with writing():
        pull.left_out, pull.left_out_by = why, by if why else None
        pull.save()
