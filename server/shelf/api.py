"""Endpoints of the team's own gear: the shelf, a plan's gear against it, counted out and in, pull tests and what a plan takes of them."""

import uuid

from accounts.models import Role, Team
from accounts.permissions import person, role_of, team_of
from answering.contents import answers
from answering.faults import REFUSED
from answering.plain import with_mark
from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, UploadedFile
from ninja.errors import HttpError
from operations.schemas import Arranged
from plans.permissions import may_write, plan_of, real_plan_of
from plans.services import save_changed
from storing import clock

from rigging.quantities.faults import refuse
from rigging.quantities.units import ForceUnit, Wording
from rigging.shelf.bags import FromShelf, bags_of
from rigging.shelf.pieces import Piece
from rigging.shelf.table import read_shelf, write_shelf
from shelf.models import PullTest
from shelf.schemas import (
    BringShelf,
    LeaveOut,
    NewCount,
    NewPull,
    PackingOut,
    PullsOut,
    ShelfFileOut,
    ShelfOut,
    TakeTested,
)
from shelf.selectors import away_from, out_of, packing_of, pieces_of, pulls_of, shelf_of
from shelf.services import count_one, keep_pieces, keep_pull, leave_out

router = Router()
_WRITERS = (Role.LEADER, Role.MEMBER)


def _writes(request: HttpRequest, team: Team) -> bool:
    return role_of(request.user, team) in _WRITERS


@router.get("/teams/{team_id}/shelf", response={200: ShelfOut, **REFUSED}, operation_id="shelf")
def read_shelf_of(request: HttpRequest, team_id: int) -> ShelfOut:
    """What the team has, piece by piece, and where it is."""
    team = team_of(request, team_id, *Role)
    return shelf_of(team, _writes(request, team), clock.now().date())


@router.put("/teams/{team_id}/shelf/pieces/{label}", response={200: ShelfOut, **REFUSED}, operation_id="keep_piece")
def keep_piece(request: HttpRequest, team_id: int, label: str, body: Piece) -> ShelfOut:
    """A piece under its label, new or changed."""
    team = team_of(request, team_id, *_WRITERS)
    if body.label != label:
        raise refuse("label", f"it is {body.label!r} in the piece and {label!r} in the path", "one label")
    keep_pieces(team, person(request), [body])
    return shelf_of(team, True, clock.now().date())


@router.get(
    "/teams/{team_id}/shelf.csv", response={200: None, **REFUSED}, operation_id="shelf_csv", openapi_extra=answers("text/csv")
)  # fmt: skip
def read_shelf_table(request: HttpRequest, team_id: int, mark: bool = False) -> HttpResponse:
    text = write_shelf(pieces_of(team_of(request, team_id, *Role)))
    answer = HttpResponse(with_mark(iter([text]), mark), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="shelf.csv"'
    return answer


@router.post("/teams/{team_id}/shelf/file", response={200: ShelfFileOut, **REFUSED}, operation_id="bring_shelf")
def bring_shelf(request: HttpRequest, team_id: int, asked: Form[BringShelf], file: File[UploadedFile]) -> ShelfFileOut:
    """What a table would bring to the shelf; brought where that is asked for and nothing is wrong."""
    team = team_of(request, team_id, *_WRITERS)
    read = read_shelf(file.read())
    known = {one.label: one for one in pieces_of(team)}
    brings = asked.bring and not read.faults
    if brings:
        keep_pieces(team, person(request), read.pieces)
    new = sum(one.label not in known for one in read.pieces)
    changed = sum(one.label in known and known[one.label] != one for one in read.pieces)
    return ShelfFileOut(new=new, changed=changed, faults=read.faults, brought=brings)


@router.get("/plans/{plan_id}/bags", response={200: FromShelf, **REFUSED}, operation_id="bags_from_shelf")
def read_bags_of(request: HttpRequest, plan_id: uuid.UUID) -> FromShelf:
    """What the shelf would put in a plan's bags: what is in use and not out for another."""
    plan = plan_of(request, plan_id, *_WRITERS)
    return bags_of(pieces_of(plan.team), away_from(plan, out_of(plan.team)), clock.now().date())


@router.get("/plans/{plan_id}/packing", response={200: PackingOut, **REFUSED}, operation_id="packing")
def read_packing(request: HttpRequest, plan_id: uuid.UUID) -> PackingOut:
    """What the plan takes out of the team's shelf: there, short, due, out elsewhere; by who carries it."""
    # Where a piece is out says what else the team does: nobody's from outside.
    plan = real_plan_of(request, plan_id, *Role)
    return packing_of(plan, may_write(request, plan), clock.now().date())


@router.post("/plans/{plan_id}/packing", response={200: PackingOut, **REFUSED}, operation_id="count_piece")
def count_piece(request: HttpRequest, plan_id: uuid.UUID, body: NewCount) -> PackingOut:
    """So many of a piece out for the plan, or back."""
    plan = real_plan_of(request, plan_id, *_WRITERS)
    count_one(plan, person(request), body)
    return packing_of(plan, True, clock.now().date())


@router.get("/teams/{team_id}/pulls", response={200: PullsOut, **REFUSED}, operation_id="pulls")
def read_pulls(request: HttpRequest, team_id: int, force_unit: ForceUnit = "kN") -> PullsOut:
    """The team's own pull tests, and the ranges that follow from them beside the catalogue's."""
    team = team_of(request, team_id, *Role)
    return pulls_of(team, _writes(request, team), Wording(force_unit))


@router.post("/teams/{team_id}/pulls", response={200: PullsOut, **REFUSED}, operation_id="new_pull")
def new_pull(request: HttpRequest, team_id: int, body: NewPull, force_unit: ForceUnit = "kN") -> PullsOut:
    team = team_of(request, team_id, *_WRITERS)
    keep_pull(team, person(request), body)
    return pulls_of(team, True, Wording(force_unit))


@router.post(
    "/teams/{team_id}/pulls/{pull_id}/left-out", response={200: PullsOut, **REFUSED}, operation_id="leave_pull_out"
)
def leave_pull_out(
    request: HttpRequest, team_id: int, pull_id: uuid.UUID, body: LeaveOut, force_unit: ForceUnit = "kN"
) -> PullsOut:
    """A pull no longer counts, with why; or counts again."""
    team = team_of(request, team_id, *_WRITERS)
    pull = PullTest.objects.filter(team=team, pk=pull_id).first()
    if pull is None:
        raise HttpError(404, "no such pull in this team")
    leave_out(pull, person(request), body)
    return pulls_of(team, True, Wording(force_unit))


@router.put("/plans/{plan_id}/tested", response={200: Arranged, **REFUSED}, operation_id="take_tested")
def take_tested(request: HttpRequest, plan_id: uuid.UUID, body: TakeTested) -> Arranged:
    """The team's own ranges in place of the catalogue's: a decision, and a revision of its own."""
    plan = plan_of(request, plan_id, Role.LEADER)
    return Arranged(revision=save_changed(plan, person(request), body.base, body.id, tested=body.tested).number)
