"""What is asked of a table-top is answered by its own clock, after what was due by then."""

import re
import uuid
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from plans.models import TableTop
from plans.moments import by_its_clock

from practice.table_tops import comes_due

_PLAN = re.compile(r"^/api/plans/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})(?:/|$)")


class ByItsClock:
    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]):
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        found = _PLAN.match(request.path_info)
        if found is None or not request.user.is_authenticated:
            return self.answer(request)
        top = TableTop.objects.select_related("plan__team", "made_by").filter(plan_id=uuid.UUID(found[1])).first()
        if top is None:
            return self.answer(request)
        comes_due(top)
        with by_its_clock(top.plan):
            return self.answer(request)
