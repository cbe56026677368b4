"""What was changed between two states of a plan, in the trade's words, with its effect; what of the check it answered. It is what a
leader would write in the log, offered so that only the reason is left to say."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel, ConfigDict

from rigging.advice.best import GOALS, effect_of
from rigging.document import Plan
from rigging.quantities.faults import Refused
from rigging.quantities.units import Wording
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.best import GOAL_NAMES, value_text
from rigging.telling.words.names import lower_first, upper_first
from rigging.telling.work.changed import TOLD_WHOLE, Change, in_words

_MOST_ANSWERS = 3
_MOST_EFFECTS = 3
Leaf = tuple[tuple[Any, ...], Any, Any]


class DecidedReport(BaseModel):
    """`text`: what was changed, "" where nothing was; `effects`: quantities that read otherwise now; `answers`: lines of the check that
    it did away with, as reasons."""

    model_config = ConfigDict(frozen=True)

    text: str
    effects: list[str]
    answers: list[str]


class DiffersReport(BaseModel):
    """Each change from one state of a plan to another, in the leader's words; what nobody would write down is left out."""

    model_config = ConfigDict(frozen=True)

    changes: list[str]


def differs(before: Plan, after: Plan, say: Wording | None = None) -> DiffersReport:
    """What two states of a plan differ in: told, and nothing worked out."""
    return DiffersReport(changes=list(dict.fromkeys(changes_told(before, after, say or Wording()))))


def decided(before: Plan, after: Plan, say: Wording | None = None) -> DecidedReport:
    """Two states of a plan, compared.

    Several small changes are told as one decision. What can not be laid out has no effect to tell.
    """
    say = say or Wording()
    changes = list(dict.fromkeys(changes_told(before, after, say)))
    if not changes:
        return DecidedReport(text="", effects=[], answers=[])
    try:
        effects, answers = list(_effects(before, after, say)), list(_answers(before, after, say))
    except Refused:
        effects, answers = [], []
    return DecidedReport(
        text=upper_first("; ".join(changes)), effects=effects[:_MOST_EFFECTS], answers=answers[:_MOST_ANSWERS]
    )


def _effects(before: Plan, after: Plan, say: Wording) -> Iterator[str]:
    here, there = effect_of(before), effect_of(after)
    for goal in GOALS:
        was, now = value_text(here, goal, before, say), value_text(there, goal, after, say)
        if was != now:
            yield f"{lower_first(GOAL_NAMES[goal])} {was} → {now}"


def _answers(before: Plan, after: Plan, say: Wording) -> Iterator[str]:
    """Loud lines that are gone, as somebody would give them for a reason."""
    left = {one.id for one in check_here(after, say).lines if one.level in ("stop", "look", "unknown")}
    for one in check_here(before, say).lines:
        if one.level in ("stop", "look", "unknown") and one.id not in left:
            yield lower_first(re.split(r"(?<=[a-z)])\.\s", one.text)[0].rstrip("."))


# What changed, leaf by leaf


def changes_told(before: Plan, after: Plan, say: Wording) -> Iterator[str]:
    """Each change in words, in the plan's order; what nobody would write down is left out."""
    old, new = before.model_dump(mode="json"), after.model_dump(mode="json")
    for path, was, now in _leaves(old, new, ()):
        said = in_words(Change(path, was, now, before, after, say))
        if said:
            yield said


def _leaves(old: Any, new: Any, path: tuple[Any, ...]) -> Iterator[Leaf]:
    if old == new:
        return
    if path[-1:] and path[-1] in TOLD_WHOLE:
        yield path, old, new
    elif isinstance(old, dict) and isinstance(new, dict):
        for key in dict.fromkeys([*old, *new]):
            yield from _leaves(old.get(key), new.get(key), (*path, key))
    elif isinstance(old, list) and isinstance(new, list) and _named(old) and _named(new):
        ids = [_id(one) for one in (*old, *new)]
        if any(len({_id(one) for one in rows}) < len(rows) for rows in (old, new)):
            yield path, old, new  # names that stand twice tell nothing apart
            return
        for id in dict.fromkeys(ids):
            a, b = (next((one for one in rows if _id(one) == id), None) for rows in (old, new))
            yield from _leaves(a, b, (*path, id))
    elif isinstance(old, list) and isinstance(new, list) and len(old) == len(new):
        for number, (a, b) in enumerate(zip(old, new, strict=True)):
            yield from _leaves(a, b, (*path, number))
    else:
        yield path, old, new


def _id(one: Any) -> Any:
    return one.get("id") or one.get("name") or one.get("check")


def _named(rows: list[Any]) -> bool:
    return all(isinstance(one, dict) and _id(one) for one in rows)
