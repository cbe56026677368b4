"""Questions to the core: a document in, an answer out, no state."""

from collections.abc import Callable
from functools import partial
from typing import Annotated, Any
from uuid import UUID

from answering.faults import REFUSED
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel, Field

from core import engine
from core.answers import content_of, question_of, told_once
from core.schemas import AskDecided, AskHolds, AskWorking, CatalogueOut, Doing, StackSystems
from core.searching import rigs_by
from rigging.advice.best import Goal
from rigging.advice.choices import What
from rigging.anchors.states import SWEEP
from rigging.catalogue import catalogue
from rigging.catalogue.haul import HaulSystem, add_redirect, drop_redirect, stack
from rigging.document import Plan as Document
from rigging.document import schema as document_schema
from rigging.quantities.faults import refuse
from rigging.quantities.units import FORCE_UNITS, LENGTH_UNITS, ForceUnit, LengthUnit, Wording, si_value
from rigging.telling.anchors.report import anchor_working, study
from rigging.telling.anchors.shapes import AnchorsReport
from rigging.telling.check.holding import HoldsReport, holding
from rigging.telling.check.sheet import CheckReport, check, check_here
from rigging.telling.figures.shapes import Report
from rigging.telling.figures.working import Working
from rigging.telling.learning.knots import KnotsReport, knots_report
from rigging.telling.learning.systems import SystemsReport, systems_report
from rigging.telling.sheet.asks import AsksReport, asks_report
from rigging.telling.sheet.best import BestReport, best_report
from rigging.telling.sheet.choices import ChoicesReport, choices
from rigging.telling.sheet.leading import LeadReport, lead
from rigging.telling.sheet.moment import MomentReport, moment_report
from rigging.telling.sheet.report import analyse, working_of
from rigging.telling.sheet.rigs import RigsReport
from rigging.telling.sheet.way import WayReport, moved, way_report
from rigging.telling.work.decided import DecidedReport, DiffersReport, decided, differs

router = Router()


def _written(report: Callable[..., BaseModel], *given: object) -> HttpResponse:
    """A report by the engine."""
    return HttpResponse(engine.ask(engine.told, report, *given), content_type="application/json")


def _kept(request: HttpRequest, body: Document, report: Callable[..., BaseModel], *given: object) -> HttpResponse:
    """A report that is worked out once for all who ask the same of one content."""
    question = f"{request.get_full_path()} {content_of(body)}"
    told = told_once(question, request.headers.get("X-Doing", ""), report, body, *given)
    return HttpResponse(told, content_type="application/json")


@router.get("/doing/{id}", response={200: Doing, **REFUSED}, operation_id="doing")
def read_doing(request: HttpRequest, id: UUID) -> Doing:
    """How far a question has come that was sent with this id as `X-Doing` and is being worked out."""
    done, of = engine.come_to(question_of(str(id)))
    return Doing(done=done, of=of)


@router.get("/catalogue", response={200: CatalogueOut, **REFUSED}, operation_id="catalogue")
def read_catalogue(request: HttpRequest) -> CatalogueOut:
    units = {str(name): si_value(unit) for name, unit in (FORCE_UNITS | LENGTH_UNITS).items()}
    return CatalogueOut(catalogue=catalogue(), units=units)


@router.get("/knots", response={200: KnotsReport, **REFUSED}, operation_id="knots")
def read_knots(request: HttpRequest, force_unit: ForceUnit = "kN") -> HttpResponse:
    return _written(knots_report, Wording(force_unit))


@router.get("/systems", response={200: SystemsReport, **REFUSED}, operation_id="systems")
def read_systems(request: HttpRequest) -> HttpResponse:
    """Haul systems and anchor schemes, drawn, with what each comes to."""
    return _written(systems_report)


@router.get("/schema/plan", response={200: dict[str, Any], **REFUSED}, operation_id="plan_schema")
def plan_schema(request: HttpRequest) -> dict[str, Any]:
    return document_schema.plan_schema()


@router.post("/analyse", response={200: Report, **REFUSED}, operation_id="analyse")
def analyse_document(
    request: HttpRequest,
    body: Document,
    only: str | None = None,
    run_m: Annotated[float | None, Field(ge=0, le=5000)] = None,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    """`run_m`: with the load so far up its way from where the plan has it."""
    plan = body if run_m is None else moved(body, run_m)
    return _written(analyse, plan, Wording(force_unit, length_unit), only)


@router.post("/anchors", response={200: AnchorsReport, **REFUSED}, operation_id="anchors")
def study_anchors(
    request: HttpRequest,
    body: Document,
    state: str = "raising",
    only: str | None = None,
    directions: Annotated[int, Field(ge=3, le=121)] = SWEEP,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    return _written(study, body, state, Wording(force_unit, length_unit), only, directions)


@router.post("/moment", response={200: MomentReport, **REFUSED}, operation_id="moment")
def ask_moment(
    request: HttpRequest,
    body: Document,
    state: str = "raising",
    run_m: Annotated[float, Field(ge=0, le=5000)] = 0.0,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    """What everybody asks the leader, for one state with the load so far up its way."""
    return _written(moment_report, body, state, run_m, Wording(force_unit, length_unit))


@router.post("/working", response={200: Working, **REFUSED}, operation_id="working")
def tell_working(
    request: HttpRequest, body: AskWorking, force_unit: ForceUnit = "kN", length_unit: LengthUnit = "m"
) -> Working:
    say = Wording(force_unit, length_unit)
    if body.of == "plan":
        found = engine.ask(working_of, body.document, body.figure, say)
    else:
        found = engine.ask(anchor_working, body.document, body.state, body.figure, say)
    if found is None:
        raise refuse(
            "figure", f"there is no figure {body.figure!r} in this report", "ask for a figure that the report names"
        )
    return found


@router.post("/holds", response={200: HoldsReport, **REFUSED}, operation_id="holds")
def what_holds(
    request: HttpRequest, body: AskHolds, force_unit: ForceUnit = "kN", length_unit: LengthUnit = "m"
) -> HttpResponse:
    return _written(holding, body.document, body.state, body.gone, Wording(force_unit, length_unit), body.every)


@router.post("/check", response={200: CheckReport, **REFUSED}, operation_id="check")
def check_document(
    request: HttpRequest, body: Document, force_unit: ForceUnit = "kN", length_unit: LengthUnit = "m"
) -> HttpResponse:
    return _kept(request, body, check, Wording(force_unit, length_unit))


@router.post("/check/here", response={200: CheckReport, **REFUSED}, operation_id="check_here")
def check_where_it_starts(
    request: HttpRequest, body: Document, force_unit: ForceUnit = "kN", length_unit: LengthUnit = "m"
) -> HttpResponse:
    """The check where the load starts alone, while the rest of its way is asked."""
    return _kept(request, body, check_here, Wording(force_unit, length_unit))


@router.post("/differs", response={200: DiffersReport, **REFUSED}, operation_id="differs")
def what_differs(
    request: HttpRequest, body: AskDecided, force_unit: ForceUnit = "kN", length_unit: LengthUnit = "m"
) -> HttpResponse:
    return _written(differs, body.before, body.after, Wording(force_unit, length_unit))


@router.post("/decided", response={200: DecidedReport, **REFUSED}, operation_id="decided")
def what_was_decided(
    request: HttpRequest, body: AskDecided, force_unit: ForceUnit = "kN", length_unit: LengthUnit = "m"
) -> DecidedReport:
    return engine.ask(decided, body.before, body.after, Wording(force_unit, length_unit))


@router.post("/way", response={200: WayReport, **REFUSED}, operation_id="way")
def tell_way(
    request: HttpRequest,
    body: Document,
    line: str | None = None,
    positions: Annotated[int, Field(ge=2, le=400)] = 50,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    say = Wording(force_unit, length_unit)
    return _kept(request, body, way_report, line, positions, say)


@router.post("/lead", response={200: LeadReport, **REFUSED}, operation_id="lead")
def how_to_lead(
    request: HttpRequest,
    body: Document,
    state: str,
    line: str,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    return _written(lead, body, state, line, Wording(force_unit, length_unit))


@router.post("/best", response={200: BestReport, **REFUSED}, operation_id="best")
def what_buys_most(
    request: HttpRequest,
    body: Document,
    goal: Goal = "margin",
    most: Annotated[int, Field(ge=1, le=300)] = 12,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    say = Wording(force_unit, length_unit)
    return _kept(request, body, best_report, goal, most, say)


@router.post("/rigs", response={200: RigsReport, **REFUSED}, operation_id="rigs")
def best_rigs(
    request: HttpRequest,
    body: Document,
    without: str | None = None,
    people: Annotated[int, Field(ge=0, le=100)] | None = None,
    no_good: str | None = None,
    one_more: str | None = None,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    say = Wording(force_unit, length_unit)
    return _kept(request, body, partial(rigs_by, settings.CLUSTER), without, people, no_good, one_more, say)


@router.post("/asks", response={200: AsksReport, **REFUSED}, operation_id="asks")
def what_to_ask_first(request: HttpRequest, body: Document) -> HttpResponse:
    return _kept(request, body, asks_report)


@router.post("/choices", response={200: ChoicesReport, **REFUSED}, operation_id="choices")
def what_fits(
    request: HttpRequest,
    body: Document,
    what: What,
    force_unit: ForceUnit = "kN",
    length_unit: LengthUnit = "m",
) -> HttpResponse:
    return _kept(request, body, choices, what, Wording(force_unit, length_unit))


@router.post("/haul/redirect", response={200: HaulSystem, **REFUSED}, operation_id="haul_redirect")
def haul_redirect(request: HttpRequest, body: HaulSystem) -> HaulSystem:
    return add_redirect(body)


@router.post("/haul/straight", response={200: HaulSystem, **REFUSED}, operation_id="haul_straight")
def haul_straight(request: HttpRequest, body: HaulSystem) -> HaulSystem:
    shorter = drop_redirect(body)
    if shorter is None:
        raise refuse("system", "its last bend is not a redirect of its own", "choose another system")
    return shorter


@router.post("/haul/stack", response={200: HaulSystem, **REFUSED}, operation_id="haul_stack")
def haul_stack(request: HttpRequest, body: StackSystems) -> HaulSystem:
    try:
        return stack(body.base, body.top)
    except ValueError as error:
        raise refuse("system", "stacked, this would be more rope and nodes than a plan takes", "stack less") from error
