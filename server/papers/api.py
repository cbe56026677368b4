"""Papers, made from the log, the plan and the readings as they are. What draws them is loaded where one is first asked for."""

import uuid
from typing import Annotated, Literal

from accounts.models import Role
from accounts.permissions import team_of
from answering.contents import answers
from answering.faults import REFUSED
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router
from operations.composing import begun
from plans.permissions import real_plan_of
from shelf.selectors import pieces_of

from rigging.document import Plan as Document
from rigging.learning.knots import knot
from rigging.quantities.faults import refuse
from rigging.quantities.units import ForceUnit, Wording
from rigging.shelf.pieces import Label
from rigging.telling.sheet.report import analyse

router = Router()
# So many labels on one paper.
_LABELS = 300


def _alone(request: HttpRequest) -> bool:
    """Whether an address of this machine, as it is asked for, helps no other."""
    return request.get_host().partition(":")[0] in ("localhost", "127.0.0.1", "[")


def _answer(content: bytes, name: str) -> HttpResponse:
    answer = HttpResponse(content, content_type="application/pdf")
    answer["Content-Disposition"] = f'attachment; filename="{name}.pdf"'
    return answer


@router.get("/guide", response={200: None, **REFUSED}, operation_id="guide", openapi_extra=answers("application/pdf"))
def read_guide(request: HttpRequest) -> HttpResponse:
    """The leader's guide, four pages to print."""
    from papers.guide import guide

    return _answer(guide(), "leaders-guide")


@router.get(
    "/knots/{knot_id}/card",
    response={200: None, **REFUSED},
    operation_id="knot_card",
    openapi_extra=answers("application/pdf"),
)
def read_knot_card(request: HttpRequest, knot_id: str, force_unit: ForceUnit = "kN") -> HttpResponse:
    """A card of a knot to print: its stages, what to look at, its faults."""
    from papers.knot_card import knot_card

    return _answer(knot_card(knot(knot_id), Wording(force_unit)), knot_id)


@router.get(
    "/teams/{team_id}/shelf/labels",
    response={200: None, **REFUSED},
    operation_id="shelf_labels",
    openapi_extra=answers("application/pdf"),
)
def read_labels(
    request: HttpRequest, team_id: int, label: Annotated[list[Label] | None, Query(max_length=_LABELS)] = None
) -> HttpResponse:
    """Labels of a team's gear to print, all of it or those named, each with a code that leads to its page here."""
    from papers.labels import labels

    team = team_of(request, team_id, *Role)
    pieces = [one for one in pieces_of(team) if label is None or one.label in label]
    if len(pieces) > _LABELS:
        raise refuse("label", f"{len(pieces)} labels are too many for one paper", f"at most {_LABELS}, by name")
    if not pieces:
        raise refuse("label", "there is no such piece on the shelf", "labels of the shelf; enter the pieces first")
    return _answer(
        labels(pieces, lambda one: request.build_absolute_uri(f"/shelf/{team_id}/{one}"), _alone(request)), "labels"
    )


@router.get(
    "/plans/{plan_id}/papers/check",
    response={200: None, **REFUSED},
    operation_id="check_sheet",
    openapi_extra=answers("application/pdf"),
)
def read_check_sheet(request: HttpRequest, plan_id: uuid.UUID) -> HttpResponse:
    from papers.check_sheet import check_sheet

    return _answer(check_sheet(real_plan_of(request, plan_id)), "check")


@router.get(
    "/plans/{plan_id}/papers/run",
    response={200: None, **REFUSED},
    operation_id="run_report",
    openapi_extra=answers("application/pdf"),
)
def read_run_report(request: HttpRequest, plan_id: uuid.UUID) -> HttpResponse:
    """The report of the run under way, or of the last."""
    from papers.run_report import run_report

    plan = real_plan_of(request, plan_id)
    return _answer(run_report(plan, begun(plan)), "run-report")


@router.get(
    "/plans/{plan_id}/papers/card",
    response={200: None, **REFUSED},
    operation_id="rig_card",
    openapi_extra=answers("application/pdf"),
)
def read_rig_card(request: HttpRequest, plan_id: uuid.UUID) -> HttpResponse:
    from papers.rig_card import rig_card

    plan = real_plan_of(request, plan_id)
    address = "" if _alone(request) else request.build_absolute_uri(f"/plans/{plan.pk}/lines")
    return _answer(rig_card(plan, address), "rig-card")


@router.get(
    "/plans/{plan_id}/papers/{drawing}.svg",
    response={200: None, **REFUSED},
    operation_id="drawing",
    openapi_extra=answers("image/svg+xml"),
)
def read_drawing(
    request: HttpRequest, plan_id: uuid.UUID, drawing: Literal["section", "anchors", "bench"]
) -> HttpResponse:
    """The rig from the side, its anchors from above, or the line at work unfolded."""
    from papers.bench import bench
    from papers.drawings import Numbered, crossing, from_above, section
    from papers.rig_card import at_work, shown, spans_of
    from papers.vector import svg

    revision = real_plan_of(request, plan_id).latest
    document = Document.model_validate_json(revision.document)
    report = analyse(document)
    state = shown(report)
    rows: list[Numbered] = []
    if drawing == "anchors":
        found, rows = from_above(document, 120, 120, 1)
        title = "anchors from above, out along the fall line to the right"
    elif state is None and drawing == "section":
        found, rows = crossing(document, [hung for _, hung in spans_of(document).values()], 180, 120)
        title = "from the side"
    elif state is None:
        raise refuse("drawing", "no line of this plan can be laid on the bench", "ask for section or anchors")
    elif drawing == "section":
        found, rows = section(document, report, state, 180, 120)
        title = f"from the side, {state.name.lower()}"
    else:
        found = bench(state, at_work(report, state), 180, Wording())
        title = f"the bench, {state.name.lower()}"
    answer = HttpResponse(svg(found, f"{document.title}: {title}", rows, revision), content_type="image/svg+xml")
    answer["Content-Disposition"] = f'attachment; filename="{drawing}.svg"'
    return answer
