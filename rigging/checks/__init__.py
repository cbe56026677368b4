"""Everything that a careful leader asks before loading: one file a check, by what it is about.

A module of a room is a check if it has a `Found` of its own and one of the functions that find it; the others are what several of
its neighbours share. A new check is a new file, and its words in `telling/words`."""

from __future__ import annotations

import pkgutil
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan

# In the order in which what is equally urgent is read.
ROOMS = (
    "anchors", "holding", "margins", "work", "minding", "ropes", "hitches", "connectors", "lying", "release", "day", "frames",
    "spans", "people", "operation",
)  # fmt: skip
_FINDS = ("find", "find_in_state", "find_made", "find_over")


@dataclass(frozen=True)
class Check:
    """One check: the kind that it finds, in which room it stands, what finds it at one place of the load, in one state, in an arrangement or over
    the whole way, and what mends it."""

    kind: type[Found]
    room: str
    find: Callable[[Any], Iterator[Any]] | None
    find_in_state: Callable[[Any, Any], Iterator[Any]] | None
    find_made: Callable[[Any], Iterator[Any]] | None
    find_over: Callable[[Any], Iterator[Any]] | None
    mends: Callable[[Any, Plan], Iterator[Mend]] | None


def _all() -> Iterator[Check]:
    for room in ROOMS:
        package = import_module(f"{__name__}.{room}")
        for file in pkgutil.iter_modules(package.__path__):
            module = import_module(f"{package.__name__}.{file.name}")
            finds = {name: vars(module).get(name) for name in _FINDS}
            if any(finds.values()):
                kinds = [one for one in vars(module).values() if _own(one, module.__name__)]
                assert len(kinds) == 1, f"{module.__name__} has {len(kinds)} kinds of its own: a check has one"
                yield Check(kinds[0], room, mends=vars(module).get("mends"), **finds)


def _own(one: object, module: str) -> bool:
    return isinstance(one, type) and issubclass(one, Found) and one.__module__ == module


CHECKS: dict[str, Check] = {one.kind.kind: one for one in _all()}


def mends_of(found: Found, plan: Plan) -> list[Mend]:
    """What would mend a finding, best first; empty where no change of the plan alone does."""
    mends = CHECKS[found.kind].mends
    return list(mends(found, plan)) if mends else []
