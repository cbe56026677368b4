"""Table-tops: made from a plan, played by a clock of their own, with what happens in them told when it is due."""

import json
import math
import random
import uuid
from collections.abc import Iterator
from dataclasses import asdict
from datetime import datetime, timedelta
from functools import partial
from typing import Any

from django.db import transaction
from django.utils import timezone
from operations import live
from operations.acts import Act
from operations.before import before
from operations.composed import Composed
from operations.composing import composed_of, current
from operations.models import LogEntry, Run
from operations.runs import act_on
from operations.services import append
from plans.models import Plan, Revision, TableTop
from plans.moments import by_its_clock, paced, played
from plans.selectors import is_played
from plans.services import create_plan
from readings import simulated
from readings.take import cell_made
from storing import clock
from storing.canonical import canonical
from storing.writing import writing

from practice.schemas import NewTableTop
from rigging.document import Plan as Document
from rigging.learning.table_top import KINDS, Entry, Happening, Met, due, met, scheduled
from rigging.quantities.faults import refuse
from rigging.telling.learning.table_top import said_of

# What a simulated cell reads while something happens.
_READS: dict[str, simulated.Happens] = {"heavy": "jam", "creeps": "creep", "stuck-join": "snag", "anchor-moves": "creep"}  # fmt: skip
_BEGUN = "A table-top: nothing of it is real"


def made(of: Plan, leader: Any, body: NewTableTop) -> Plan:
    """A table-top on a plan as it is given: a copy of it, its run begun, a simulated cell in it, what will happen set by the seed; sent again, the one
    that is there.

    Raises
    ------
    Refused
        If there is no such step to begin at, or the id is another plan's.
    """
    seed = body.seed if body.seed is not None else random.SystemRandom().randrange(1_000_000)
    latest = of.latest
    document = Document.model_validate_json(latest.document)
    # Its copy composes alike: worked out before anybody waits in the writer's turn.
    composed = composed_of(of, latest, None)
    before(of, latest)
    begins = body.begins or composed.order[0]
    if begins not in composed.order:
        raise refuse("begins", f"there is no step {begins!r} in its operation", "one that is there, or the first")
    happens = [asdict(one) | {"told_at": None, "over": False} for one in scheduled(document, composed.operation, seed)]
    with writing():
        known = Revision.objects.filter(client_id=body.id).select_related("plan").first()
        if known is not None and not is_played(known.plan):
            raise refuse("id", "it is the id of a plan", "make a new one for each table-top")
        plan = create_plan(of.team, leader, document, body.id)
        if known is None:
            now = timezone.now().isoformat()
            TableTop.objects.create(
                plan=plan, of=of, seed=seed, rigged=body.rigged, clock=[[now, now, 1.0 if body.rigged else body.pace]], happenings=happens, made_by=leader
            )  # fmt: skip
            _begin(plan, leader, begins, seed)
    return Plan.objects.select_related("team", "table_top").get(pk=plan.pk)


def _begin(plan: Plan, leader: Any, at: str, seed: int) -> None:
    with by_its_clock(plan):
        act_on(plan, leader, Act(uuid.uuid5(plan.pk, "begun"), "begin", text=_BEGUN, data={"from": at}))
        cell = cell_made(plan, uuid.uuid5(plan.pk, "cell"), "Cell", "working-point", "kN", clock.now())
    transaction.on_commit(partial(_hang, plan, cell, leader, seed))


def _hang(plan: Plan, cell: Any, leader: Any, seed: int) -> None:
    simulated.start(plan, cell, leader, seed, lambda: played(TableTop.objects.get(plan=plan)))


def set_pace(top: TableTop, pace: float) -> None:
    """Its clock faster or slower from now on, or standing still; every device is told.

    Raises
    ------
    Refused
        If it is rigged on real ropes.
    """
    if top.rigged:
        raise refuse("pace", "it is rigged on real ropes", "leave its clock as it is")
    with writing():
        paced(top, pace)
        top.save()
        run = current(top.plan)
        if run is not None:
            run.version += 1
            run.save()
        transaction.on_commit(lambda: live.tell(top.plan_id))


def _happening(row: dict[str, Any]) -> Happening:
    return Happening(
        row["kind"], row["step"], row["after_s"], tuple(row["fits"]), row.get("feature", ""), row.get("guard", "")
    )


def happened(top: TableTop, run: Run) -> Iterator[tuple[Happening, float]]:
    """What was told, and when, in seconds since the run began."""
    for row in top.happenings:
        if row["told_at"]:
            yield _happening(row), (datetime.fromisoformat(row["told_at"]) - run.begun_at).total_seconds()


def not_come(top: TableTop) -> list[Happening]:
    return [_happening(row) for row in top.happenings if not row["told_at"]]


def met_in(top: TableTop, run: Run) -> list[Met]:
    """What was done about each thing that happened."""
    entries = top.plan.log.filter(time__gte=run.begun_at).order_by("sequence").values_list("time", "kind", "data")
    rows = []
    for time, kind, data in entries:
        said = _said(data)
        # What is told of a contingency, its steps done among it, is of that one; what is told of the exercise answers nothing.
        contingency = said.get("id", "") if kind in (LogEntry.Kind.CONTINGENCY, LogEntry.Kind.STEP) else ""
        if "happens" not in said:
            rows.append(Entry((time - run.begun_at).total_seconds(), kind, contingency if contingency in KINDS else ""))
    return list(met(happened(top, run), rows))


def _said(data: str) -> dict[str, Any]:
    return json.loads(data) if data else {}


def comes_due(top: TableTop) -> None:
    """What is due by its clock is told, each at its own moment, before anything else is done in it; cells that read what is over go back."""
    run = current(top.plan)
    if run is None or run.status != Run.Status.GOING or run.contingency:
        return
    _let_off(top, run)
    composed = composed_of(top.plan, run.revision, run)
    if _next(top, run, composed) is None:
        return
    with writing():
        top.refresh_from_db()
        number = _next(top, run, composed)
        if number is not None:
            _tell(top, run, number)


def _next(top: TableTop, run: Run, composed: Composed) -> int | None:
    rows = top.happenings
    told = [number for number, row in enumerate(rows) if row["told_at"]]
    now = played(top)
    last = max((datetime.fromisoformat(rows[number]["told_at"]) for number in told), default=None)
    quiet_s = (now - last).total_seconds() if last else math.inf
    for_s = (now - run.since).total_seconds()
    return due([_happening(row) for row in rows], told, composed.order, run.at, for_s, quiet_s)


def _tell(top: TableTop, run: Run, number: int) -> None:
    row, plan = top.happenings[number], top.plan
    one = _happening(row)
    last = plan.log.order_by("-sequence").values_list("time", flat=True).first()
    # At the moment that it was due, where nothing was written since.
    at = run.since + timedelta(seconds=one.after_s) if one.step == run.at else played(top)
    moment = max(at, last) if last else at
    with clock.told_at(moment):
        append(
            plan, top.made_by, id=uuid.uuid5(plan.pk, f"happens {number}"), revision=run.revision, kind=LogEntry.Kind.OBSERVATION,
            decision=said_of(Document.model_validate_json(run.revision.document), one), data=canonical({"happens": one.kind}), step=run.at,
        )  # fmt: skip
    top.happenings = [old | {"told_at": moment.isoformat()} if at_ == number else old for at_, old in enumerate(top.happenings)]  # fmt: skip
    top.save(update_fields=["happenings"])
    if one.kind in _READS:
        _cells(plan, _READS[one.kind])


def _let_off(top: TableTop, run: Run) -> None:
    """What was met and is gone on from is over: the cells read as before."""
    open_ = {row["kind"] for row in top.happenings if row["told_at"] and not row["over"] and row["kind"] in _READS}
    over = {one.happening.kind for one in met_in(top, run) if one.met_after_s is not None} & open_ if open_ else set()
    if over:
        top.happenings = [row | {"over": row["over"] or row["kind"] in over} for row in top.happenings]
        top.save(update_fields=["happenings"])
        _cells(top.plan, "over")


def _cells(plan: Plan, event: simulated.Happens) -> None:
    for cell in plan.cells.all():
        simulated.happens(cell, event)
