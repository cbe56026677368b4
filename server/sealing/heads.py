"""The head of each plan: what stands at the end of its log, its revisions, its runs and its readings, and what its people are called, signed with the
installation's key and kept in a file of its own beside the database. A chain of hashes shows what was changed within it; that its end was cut off, that all
of it was made anew, or that a name was changed, only something outside it shows."""

import json
import uuid
from collections.abc import Iterator
from functools import partial
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import transaction
from operations.models import LogEntry, Run
from plans.models import Plan, Revision
from readings.models import Cell, ReadingBlock
from storing.canonical import canonical, sha256

from sealing import keys

State = dict[str, Any]
# Writings in a row that were never settled, at most.
_UNSETTLED = 8
# What is saved, and which part of its plan's head that changes.
SEALED: dict[Any, str] = {LogEntry: "log", Revision: "revision", Run: "runs", Cell: "cells", ReadingBlock: "cells"}


def folder() -> Path:
    return Path(settings.VAR) / "heads"


def part_of(saved: Any) -> tuple[uuid.UUID, str]:
    """The plan of something sealed, and the part of its head that tells of it."""
    plan = saved.cell.plan_id if isinstance(saved, ReadingBlock) else saved.plan_id
    return plan, SEALED[type(saved)]


def keep(plan_id: uuid.UUID, saved: dict[str, Any]) -> None:
    """A plan's head as it will be once what is being written is settled, with the one before until it is: whichever of them a supply that fails
    meanwhile leaves, fits. What is not written to stays as it was kept, whatever stands in the database; `saved` is the last of each other part."""
    before, plan = kept(plan_id), Plan(pk=plan_id)
    if before is None or before["was"]:
        state = _state(plan, before["is"]["people"] if before else {})
    else:
        state = _after(before["is"], plan, saved)
    # What was written last and never settled, for want of room for instance, may not be what stands.
    was = [one for one in (before["is"], *before["was"]) if one != state][:_UNSETTLED] if before else []
    _write(plan_id, state, was)
    transaction.on_commit(partial(_write, plan_id, state, []))


def _write(plan_id: uuid.UUID, state: State, was: list[State]) -> None:
    said = canonical({"plan": str(plan_id), "is": state, "was": was})
    file = _file(plan_id)
    file.parent.mkdir(exist_ok=True)
    part = file.with_suffix(".part")
    part.write_text(json.dumps({"said": said, "signature": keys.signed(said.encode()).hex()}))
    part.replace(file)


def kept(plan_id: uuid.UUID) -> dict[str, Any] | None:
    """A plan's head; None where there is none that this installation signed."""
    try:
        told = json.loads(_file(plan_id).read_text())
        if not keys.fits(keys.public_key(), bytes.fromhex(told["signature"]), told["said"].encode()):
            return None
        said = json.loads(told["said"])
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return said if said["plan"] == str(plan_id) else None


def begin() -> None:
    """Heads for plans of before there were any."""
    for plan in Plan.objects.all():
        if not _file(plan.pk).exists():
            with transaction.atomic():
                keep(plan.pk, {})


def gone() -> Iterator[str]:
    """In words, every plan that has a head and is not there."""
    there = {str(one) for one in Plan.objects.values_list("pk", flat=True)}
    for file in sorted(folder().glob("*.json")):
        if file.stem not in there:
            yield f"plan {file.stem} is gone, with all of its log"


def broken(plan: Plan) -> Iterator[str]:
    """In words, what is otherwise at the end of a plan than when it was last written to. A plan without a head, of an installation that was restored or has
    just been upgraded, has nothing to compare with."""
    if not _file(plan.pk).exists():
        return
    head, where = kept(plan.pk), f"plan {plan.pk}"
    if head is None:
        yield f"{where}: its head is not one that this installation signed"
        return
    found = _state(plan, head["is"]["people"])
    if found not in (head["is"], *head["was"]):
        yield from _otherwise(where, head["is"], found)


def _otherwise(where: str, head: State, found: State) -> Iterator[str]:
    for what, one in (("log entry", "log"), ("revision", "revision")):
        (number, print_of), (there, now) = head[one], found[one]
        if there < number:
            yield f"{where}, {what} {there + 1} to {number}: gone"
        elif there > number:
            yield f"{where}, {what} {number + 1} to {there}: written past its head, or the head was lost with the supply"
        elif now != print_of:
            yield f"{where}, {what} {number}: another than was kept"
    for id, name in head["people"].items():
        if found["people"].get(id) != name:
            yield f"{where}: who wrote as {name} is called {found['people'].get(id, 'nobody')} now"
    for name, one in (("run", "runs"), ("readings of cell", "cells")):
        for id, print_of in head[one].items():
            if found[one].get(id) != print_of:
                yield f"{where}, {name} {id}: {'gone' if id not in found[one] else 'otherwise than was kept'}"
        for id in found[one].keys() - head[one].keys():
            yield f"{where}, {name} {id}: put in"


def _state(plan: Plan, people: dict[str, str]) -> State:
    """All of a plan's head as it stands, with what those `people` are called now."""
    ends = {
        "log": plan.log.order_by("sequence").select_related("author").last(),
        "revision": plan.revisions.order_by("number").select_related("author").last(),
    }
    empty: State = {"log": [0, ""], "revision": [0, ""], "people": _called(people)}
    return _after(empty, plan, {**{part: one for part, one in ends.items() if one}, "runs": None, "cells": None})


def _after(state: State, plan: Plan, saved: dict[str, Any]) -> State:
    """A head after the last of each part was saved; whoever wrote it is known by name from then on."""
    state = {**state, "people": {**state["people"]}}
    for part, one in saved.items():
        match part:
            case "log":
                state[part] = [one.sequence, one.hash]
            case "revision":
                state[part] = [one.number, one.sha256]
            case "runs":
                state[part] = {str(run.pk): _print_of(run) for run in plan.runs.all()}
            case "cells":
                state[part] = {
                    str(cell.pk): [cell.name, cell.place, cell.unit, *_end(cell)] for cell in plan.cells.all()
                }
        if part in ("log", "revision"):
            state["people"][str(one.author_id)] = one.author.get_username()
    return state


def _called(people: dict[str, str]) -> dict[str, str]:
    """What people are called now."""
    names = get_user_model().objects.filter(pk__in=map(int, people)).values_list("pk", "username")
    return {str(id): name for id, name in names}


def _end(cell: Any) -> list[Any]:
    last = cell.last_block
    return [last.following, bytes(last.hash).hex()] if last else [0, ""]


def _print_of(run: Run) -> str:
    """Of everything that a run says."""
    fields = {one.attname: getattr(run, one.attname) for one in run._meta.concrete_fields}
    if not fields["otherwise"]:
        # As it was kept before there was such a thing to say.
        del fields["otherwise"]
    return sha256(
        canonical({name: value if isinstance(value, dict | list) else str(value) for name, value in fields.items()})
    )


def _file(plan_id: uuid.UUID) -> Path:
    return folder() / f"{plan_id}.json"
