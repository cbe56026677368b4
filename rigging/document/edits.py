"""Edits of a plan document: add, replace or remove a value by its path (JSON Patch, RFC 6902)."""

from __future__ import annotations

import copy
import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from rigging.document.plan import Plan


@dataclass(frozen=True)
class Edit:
    """One edit: `path` is a JSON pointer (RFC 6901); "-" at its end is the place after a list's last."""

    op: Literal["add", "replace", "remove"]
    path: str
    value: Any = None


def edited(document: dict[str, Any], edits: Iterable[Edit]) -> dict[str, Any]:
    """A copy of the document with the edits made, in their order.

    Raises
    ------
    LookupError
        If a path leads nowhere.

    Examples
    --------
    >>> edited({"lines": [{"slack_m": 1.0}]}, [Edit("replace", "/lines/0/slack_m", 0.3)])
    {'lines': [{'slack_m': 0.3}]}
    """
    found = copy.deepcopy(document)
    for edit in edits:
        *steps, last = (step.replace("~1", "/").replace("~0", "~") for step in edit.path.split("/")[1:])
        place: Any = found
        for step in steps:
            place = place[_index(step, len(place) - 1)] if isinstance(place, list) else place[step]
        if isinstance(place, list):
            _in_list(place, last, edit)
        elif edit.op == "remove":
            del place[last]
        elif edit.op == "replace" and last not in place:
            raise LookupError(f"{edit.path} is not there to be replaced")
        else:
            place[last] = copy.deepcopy(edit.value)
    return found


def _index(text: str, most: int) -> int:
    """A place in a list: digits without a leading zero, no more than `most` (RFC 6901)."""
    if not re.fullmatch("0|[1-9][0-9]*", text) or int(text) > most:
        raise LookupError(f"{text!r} is no place in a list of {most + 1}")
    return int(text)


def _in_list(place: list[Any], last: str, edit: Edit) -> None:
    if edit.op == "add":
        number = len(place) if last == "-" else _index(last, len(place))
    else:
        number = _index(last, len(place) - 1)
    if edit.op == "add":
        place.insert(number, copy.deepcopy(edit.value))
    elif edit.op == "remove":
        del place[number]
    else:
        place[number] = copy.deepcopy(edit.value)


def plan_edited(plan: Plan, edits: Iterable[Edit]) -> Plan:
    """The plan with the edits made, checked as any document is."""
    return Plan.model_validate(edited(plan.model_dump(mode="json"), edits))
