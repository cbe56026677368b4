"""How far the haulers walk for one haul: no check, but what three ask."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from rigging.checks.work.no_reset import ends_early
from rigging.checks.work.no_stroke import LEAST_M
from rigging.lines.lengths import stroke_of
from rigging.study.place import AtPlace


@dataclass(frozen=True)
class Walk:
    """One haul of a line: the rope it brings through the hands by ideal advantage × rise, and the way there is (None: not said)."""

    line: str
    rise_m: float
    through_m: float
    way_m: float | None


def walks(here: AtPlace) -> list[Walk]:
    """The haul's walk, unless what is wrong with its stroke comes first."""
    return here.once("walks", lambda: list(_walks(here)))


def _walks(here: AtPlace) -> Iterator[Walk]:
    line = here.hauling
    if line is None:
        return
    found = stroke_of(line)
    if (found is not None and found.rise_m < LEAST_M) or ends_early(line):
        return
    assert line.running is not None and line.rig.line.haul is not None
    rise = found.rise_m if found else line.rig.way.rise_m
    yield Walk(line.rig.line.id, rise, rise * line.running.motion.ideal, line.rig.line.haul.way_m)
