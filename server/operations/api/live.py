"""What is told live to every device: entries, the run as it moves, a STOP before all else, readings, and who has called stop elsewhere."""

import asyncio
import json
import time
import uuid
from collections.abc import AsyncIterator, Callable, Iterable
from contextlib import ExitStack
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import partial
from typing import Annotated, TypeVar

from accounts import sessions
from accounts.models import Membership
from accounts.permissions import person
from answering.contents import answers
from answering.faults import REFUSED
from asgiref.sync import sync_to_async
from django.http import HttpRequest, StreamingHttpResponse
from django.utils import timezone
from ninja import Query, Router
from plans.models import ObserverLink, Plan
from plans.permissions import plan_of
from plans.selectors import readable
from pydantic import Field

from operations import live
from operations.api.log import entry_out
from operations.api.run import run_state
from operations.composing import current
from operations.live import Channel, Piece, form_of
from operations.models import LogEntry, Run
from operations.runs import stop_told
from rigging.quantities.faults import refuse

router = Router()
T = TypeVar("T")
# A beat is sent this often, so that a connection that is gone is noticed at both ends, and who listens is asked again whether they may.
_BEAT_S = 5.0
_AT_ONCE = 500
# A stop of before is told to whoever shows another plan for so long.
_LATELY = timedelta(hours=12)
# Plans that one browser listens to.
MOST = 12
# The database holds no number past this one.
_LARGEST = 2**31 - 1


def _rows(plan: uuid.UUID, after: int) -> list[Piece]:
    found = LogEntry.objects.filter(plan_id=plan, sequence__gt=after).order_by("sequence")
    rows = found.select_related("author", "revision", "corrects").defer("revision__document")[:_AT_ONCE]
    return [Piece(plan, form_of("entry", entry_out(one).model_dump_json(), one.sequence), one.sequence) for one in rows]


@live.reads("entries", quick=True)
def _tell_entries(channel: Channel) -> None:
    while rows := _rows(channel.plan, channel.sequence):
        channel.sequence = rows[-1].sequence or channel.sequence
        channel.tell(*rows)


@live.reads("run", quick=False)
def _tell_run(channel: Channel) -> None:
    plan = Plan.objects.select_related("team").filter(id=channel.plan).first()
    run = current(plan) if plan else None
    if plan is not None and run is not None and channel.version != (str(run.id), run.version):
        channel.version = (str(run.id), run.version)
        channel.tell(_run_told(plan, run))


def _run_told(plan: Plan, run: Run) -> Piece:
    return Piece(plan.id, form_of("run", run_state(plan, run).model_dump_json()))


def _stops(plans: Iterable[uuid.UUID]) -> list[Piece]:
    """Who has called stop, for somebody who begins to listen: a run that was left stopped long ago is nobody's alarm on another page."""
    lately = timezone.now() - _LATELY
    runs = Run.objects.filter(plan_id__in=list(plans), status=Run.Status.STOPPED).select_related("revision")
    return [
        Piece(run.plan_id, form_of("stopped", stop_told(run)))
        for run in runs
        if run.stopped and datetime.fromisoformat(run.stopped["at"]) > lately
    ]


def _run_now(plan: Plan) -> list[Piece]:
    run = current(plan)
    return [] if run is None else [_run_told(plan, run)]


async def _in_a_thread(work: Callable[..., T], *given: object) -> T:
    return await sync_to_async(partial(work, *given), thread_sensitive=False)()


@dataclass
class _Wanted:
    """A plan that somebody listens to: its newest entry when they began, and the last that they have."""

    plan: Plan
    newest: int
    seen: int


def _wanted(plan: Plan, seen: int | None) -> _Wanted:
    newest = plan.log.order_by("-sequence").values_list("sequence", flat=True).first() or 0
    return _Wanted(plan, newest, newest if seen is None else min(seen, _LARGEST))


def _answer(request: HttpRequest, wanted: list[_Wanted], everywhere: bool) -> StreamingHttpResponse:
    heard = _stream(person(request).pk, request.session.session_key or "", wanted, everywhere)
    answer = StreamingHttpResponse(heard, content_type="text/event-stream")
    answer["Cache-Control"] = "no-store"
    answer["X-Accel-Buffering"] = "no"
    return answer


@router.get(
    "/plans/{plan_id}/events",
    response={200: None, **REFUSED},
    operation_id="events",
    openapi_extra=answers("text/event-stream"),
)
def events(
    request: HttpRequest, plan_id: uuid.UUID, after: Annotated[int, Field(ge=-1, le=_LARGEST)] | None = None
) -> StreamingHttpResponse:
    """Server-Sent Events of one plan: every entry after `after` (or the last event id of a connection that broke), the run as it moves, and a
    stop by itself before it."""
    last = request.headers.get("Last-Event-ID", "")
    seen = int(last) if last.isascii() and last.isdigit() else after
    return _answer(request, [_wanted(plan_of(request, plan_id), seen)], everywhere=False)


_AT = Annotated[str, Field(pattern=r"^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}(:[0-9]{1,9})?$")]


@router.get("/live", response={200: None, **REFUSED}, operation_id="live", openapi_extra=answers("text/event-stream"))
def listen(request: HttpRequest, plan: Query[list[_AT]] = []) -> StreamingHttpResponse:  # noqa: B006 (read only)
    """The one connection of a browser: of each `plan` (its id; a colon and the last entry that is there, or what comes from now on) everything, each stretch after an event
    `of` with the plan's id; of every plan that who asks may read, who has called stop."""
    if len(plan) > MOST:
        raise refuse("plan", f"{len(plan)} plans at once", f"at most {MOST}")
    asked = [one.partition(":") for one in plan]
    wanted = [_wanted(plan_of(request, uuid.UUID(id)), int(seen) if seen else None) for id, _, seen in asked]
    return _answer(request, wanted, everywhere=True)


async def _stream(user: int, session: str, wanted: list[_Wanted], everywhere: bool) -> AsyncIterator[bytes]:
    yield b"retry: 1000\n\n"
    ear, mine = live.Ear(), {one.plan.id for one in wanted}
    seen = {one.plan.id: one.seen for one in wanted}

    def form(pieces: Iterable[Piece]) -> bytes:
        """Stops of any plan of theirs, and of those that they listen to what is new to them."""
        told, of = [], None
        for one in pieces:
            if one.plan not in mine or (one.sequence is not None and one.sequence <= seen[one.plan]):
                continue
            if one.sequence is not None:
                seen[one.plan] = one.sequence
            if everywhere and of != one.plan:
                told.append(form_of("of", json.dumps(str(one.plan))))
                of = one.plan
            told.append(one.form)
        return b"".join(told)

    with ExitStack() as open_to:
        for one in wanted:
            open_to.enter_context(live.listening(ear, one.plan.id, one.newest))
        if everywhere:
            open_to.enter_context(live.listening(ear, live.EVERYWHERE, 0))
            theirs = await _in_a_thread(_readable, user, session)
            mine |= theirs or set()
        yield form(await _in_a_thread(_stops, mine))
        for one in wanted:
            while rows := await _in_a_thread(_rows, one.plan.id, seen[one.plan.id]):
                yield form(rows)
            yield form(await _in_a_thread(_run_now, one.plan))
        asked = time.monotonic()
        while (pieces := await ear.hear(_BEAT_S)) is not None:
            if time.monotonic() - asked > _BEAT_S * 0.9:
                asked = time.monotonic()
                may = [await _may(one.plan, user, session) for one in wanted]
                if not all(may):
                    return
                if everywhere:
                    still = await _in_a_thread(_readable, user, session)
                    if still is None:
                        return
                    mine = still | seen.keys()
            yield form(pieces) or form_of("beat", str(round(time.time())))


def _readable(user: int, session: str) -> set[uuid.UUID] | None:
    """The plans that somebody may read; None where their session has ended."""
    if not any(sessions.signed_in(session)):
        return None
    return set(readable(user).values_list("id", flat=True))


# By plan: since when, and who may, asked once for all who listen.
_rights: "dict[uuid.UUID, tuple[float, asyncio.Task[frozenset[tuple[int, str]]]]]" = {}


async def _may(plan: Plan, user: int, session: str) -> bool:
    """Whether somebody may still listen."""
    at, those = _rights.get(plan.id, (0.0, None))
    fresh = those is not None and time.monotonic() - at < _BEAT_S * 0.8
    if those is not None and fresh and (user, session) in await those:
        return True
    if len(_rights) > 200:
        _rights.clear()
    asked = asyncio.ensure_future(_in_a_thread(_who_may, plan))
    _rights[plan.id] = (time.monotonic(), asked)
    return (user, session) in await asked


def _who_may(plan: Plan) -> frozenset[tuple[int, str]]:
    """Everybody who may read a plan, with the sessions in which they are signed in."""
    members = Membership.objects.filter(team_id=plan.team_id, user__is_active=True).values_list("user_id", flat=True)
    links = ObserverLink.objects.filter(plan=plan, ends_at__gt=timezone.now(), reader__isnull=False)
    those = {*members, *links.values_list("reader_id", flat=True)}
    return frozenset((user, one.session_key) for user, one in sessions.signed_in() if user in those)
