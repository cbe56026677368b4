"""What the gear of a run went through, and the list signed by somebody who had each piece in hand."""

import uuid
from typing import get_args

from accounts.models import Role
from answering.faults import REFUSED
from django.http import HttpRequest
from ninja import Router
from operations.composing import begun
from operations.models import Run
from operations.selectors import signed_lines
from operations.services import sign
from plans.models import Plan
from plans.permissions import may_write, real_plan_of

from gear.schemas import GearOut, PieceLine, Seen, SignedPiece, SignGear
from gear.went_through import gear_of
from rigging.gear.becomes import URGENCY
from rigging.quantities.faults import Fault, Refused
from rigging.telling.work.gear import BECOMES, PieceReport

router = Router()


def signed_gear(plan: Plan, run: Run) -> dict[str, SignedPiece]:
    """What was last signed of each piece in a run."""
    return {
        id: SignedPiece(
            becomes=said["answer"], found=said["found"], by=entry.author.get_username(), at=entry.time, entry=entry.sequence
        )
        for id, (said, entry) in signed_lines(plan, gear=True).items()
        if entry.time >= run.begun_at
    }  # fmt: skip


def _out(request: HttpRequest, plan: Plan, run: Run) -> GearOut:
    return GearOut(
        report=gear_of(plan, run), signs=may_write(request, plan), seen=list(get_args(Seen)), signed=signed_gear(plan, run)
    )  # fmt: skip


@router.get("/plans/{plan_id}/gear", response={200: GearOut, **REFUSED}, operation_id="gear")
def read_gear(request: HttpRequest, plan_id: uuid.UUID) -> GearOut:
    """What the gear of the run under way, or of the last, went through."""
    plan = real_plan_of(request, plan_id)
    return _out(request, plan, begun(plan))


@router.post("/plans/{plan_id}/gear", response={200: GearOut, **REFUSED}, operation_id="sign_gear")
def sign_gear(request: HttpRequest, plan_id: uuid.UUID, body: SignGear) -> GearOut:
    plan = real_plan_of(request, plan_id, Role.LEADER, Role.MEMBER)
    run = begun(plan)
    pieces = {one.id: one for one in gear_of(plan, run).pieces}
    faults = [fault for number, line in enumerate(body.lines) if (fault := _fault(pieces, number, line))]
    if faults:
        raise Refused(faults)
    lines = {
        one.piece: {"answer": one.becomes, "text": f"{pieces[one.piece].name}, {pieces[one.piece].highest_text}", "found": _found(one)}
        for one in body.lines
    }  # fmt: skip
    sign(plan, request.user, id=body.id, revision=run.revision, lines=lines, gear=True, step=run.at)
    return _out(request, plan, run)


def _fault(pieces: dict[str, PieceReport], number: int, line: PieceLine) -> Fault | None:
    piece = pieces.get(line.piece)
    if piece is None:
        return Fault(f"lines[{number}].piece", f"{line.piece!r} was not in this rig", "name a piece of the list")
    if URGENCY.index(line.becomes) > URGENCY.index(piece.becomes) and not line.note.strip():
        right = f"say why it does not become what the list proposes: {piece.becomes_text}"
        return Fault(f"lines[{number}].note", f"{piece.name}: nothing is said", right)
    return None


def _found(line: PieceLine) -> str:
    seen = f"; seen: {', '.join(line.seen)}" if line.seen else ""
    note = f"; {line.note.strip()}" if line.note.strip() else ""
    return f"{BECOMES[line.becomes]}{seen}{note}"
