"""A system that can not be set forward on the rope, and does not lift the whole way at once."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.mending import Mend, line_number, setting
from rigging.checks.work.no_stroke import LEAST_M
from rigging.document import Plan
from rigging.lines.lengths import can_be_reset, stroke_of
from rigging.lines.solve import LineForces
from rigging.study.place import AtPlace


class NoReset(Found, topic="ground", source="clearance"):
    line: str
    rise_m: float
    whole_m: float


def find(here: AtPlace) -> Iterator[NoReset]:
    line = here.hauling
    found = stroke_of(line) if line else None
    if line and found is not None and ends_early(line):
        of = line.rig.line.id
        yield NoReset(
            level="stop", about=f"{of}:haul", key=of, state="raising", line=of, rise_m=found.rise_m, whole_m=line.rig.way.rise_m
        )  # fmt: skip


def ends_early(line: LineForces) -> bool:
    """Whether a haul stops before the load is up and can not be begun again."""
    found = stroke_of(line)
    if found is None or found.rise_m < LEAST_M:
        return False
    return not can_be_reset(line) and found.rise_m < line.rig.way.rise_m - 1e-6


def mends(found: NoReset, plan: Plan) -> Iterator[Mend]:
    """The ratchet on the load's own strand, so that the grab can be set forward."""
    number = line_number(plan, found.line)
    haul = plan.lines[number].haul
    if haul and haul.capture and haul.capture_on == "haul":
        yield setting("capture-on", f"/lines/{number}/haul/capture_on", "line")
