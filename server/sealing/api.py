"""Every seal of a plan worked out again."""

import itertools
import uuid

from answering.faults import REFUSED
from django.http import HttpRequest
from ninja import Router
from plans.permissions import plan_of

from sealing.schemas import VerifiedOut
from sealing.seals import broken_seals

router = Router()


@router.get("/plans/{plan_id}/log/verified", response={200: VerifiedOut, **REFUSED}, operation_id="verify_log")
def verify(request: HttpRequest, plan_id: uuid.UUID) -> VerifiedOut:
    """Every seal of this plan's revisions, entries, photographs and readings worked out again."""
    plan = plan_of(request, plan_id)
    broken = list(itertools.islice(broken_seals(plan), 20))
    return VerifiedOut(entries=plan.log.count(), broken=broken)
