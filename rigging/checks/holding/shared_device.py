"""One device for both ropes: if it goes, both go."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, device, line_number
from rigging.document import Plan
from rigging.study.place import AtPlace


class SharedDevice(Found, topic="parts"):
    lines: tuple[str, ...]
    what: str


def find(here: AtPlace) -> Iterator[SharedDevice]:
    on = [line for line in here.plan.lines if line.lowering and catalogue().devices[line.lowering.device].both_ropes]
    if len(on) > 1 and on[0].lowering:
        what = catalogue().devices[on[0].lowering.device].name
        lines = tuple(line.id for line in on)
        yield SharedDevice(level="stop", about=f"{on[0].id}:device", lines=lines, what=what)


def mends(found: SharedDevice, plan: Plan) -> Iterator[Mend]:
    yield device(line_number(plan, found.lines[-1]), "self-locking")
