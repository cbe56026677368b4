"""People at the ropes: who minds what, who is tied in to what, where they stand, how far they can walk."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.document import Line, Plan
from rigging.judging.found import Found
from rigging.judging.pulls import named_by
from rigging.judging.removal import below_the_load
from rigging.lines.lengths import can_be_reset, stroke_of
from rigging.lines.solve import LineForces


def find_people(plan: Plan, hauling: LineForces | None) -> Iterator[Found]:
    """Everything to be said of the people, as far as they were entered."""
    yield from _at_the_edge(plan)
    yield from _minders(plan)
    yield from _busy_twice(plan)
    yield from _below(plan)
    if hauling is not None:
        yield from _way(hauling)


def _at_the_edge(plan: Plan) -> Iterator[Found]:
    """Those at the edge are tied in to an anchor that is not the load's (common practice)."""
    loaded = {name for line in plan.lines for name in named_by(line)}
    there = [(number, one) for number, one in enumerate(plan.team.people) if one.role == "edge"]
    if not there and plan.site.edges:
        yield Found("edge-nobody", "unknown", "team")
    for number, one in there:
        values = {"person": one.name, "number": number}
        if one.tied_to is None:
            yield Found("untied", "stop", "team", values, one.name)
        elif one.tied_to in loaded:
            yield Found("tied-to-load", "look", f"anchor:{one.tied_to}", {**values, "anchor": one.tied_to}, one.name)


def jobs(line: Line) -> Iterator[tuple[str, str, str]]:
    """What has to be minded on a line: the job, who does it, and the field that names them."""
    if line.lowering and line.lowering.brake_hitch:
        yield "brake", line.lowering.minder.strip(), "lowering/minder"
    if line.belay and line.belay.holds != "tied":
        yield "belay", line.belay.minder.strip(), "belay/minder"
    if line.haul and line.haul.capture:
        yield "ratchet", line.haul.capture_minder.strip(), "haul/capture_minder"


def _minders(plan: Plan) -> Iterator[Found]:
    """Jobs without a name; names of people who are not there. The ratchet without one is found where it hauls."""
    listed = {one.name for one in plan.team.people}
    for line in plan.lines:
        for job, who, _ in jobs(line):
            about = f"{line.id}:{'ratchet' if job == 'ratchet' else 'belay' if job == 'belay' else 'brake'}"
            values = {"line": line.id, "job": job, "person": who}
            if not who and job != "ratchet":
                yield Found(f"{job}-unminded", "look", about, values, line.id)
            elif who and listed and who not in listed:
                yield Found("not-there", "unknown", about, values, who)


def _busy_twice(plan: Plan) -> Iterator[Found]:
    """One person with two ropes in hand at the same time: brake hitch or ratchet, and belay, or those of two lines."""
    for moment in ("brake", "ratchet"):
        at_once = [
            (who, line, job) for line in plan.lines for job, who, _ in jobs(line) if who and job in (moment, "belay")
        ]
        for number, (who, line, job) in enumerate(at_once):
            for other, first, same in at_once[:number]:
                if who == other:
                    values = {"person": who, "line": line.id, "job": job, "other": first.id, "other_job": same}
                    yield Found("two-jobs", "look", f"{line.id}:{job}", values, f"{who}:{moment}")


def _below(plan: Plan) -> Iterator[Found]:
    """People where the load would come down, were it let go."""
    names = below_the_load(plan)
    if names:
        yield Found("people-below", "look", "load", {"people": names})
    elif not any(one.at for one in plan.team.people):
        yield Found("below-unsaid", "unknown", "load")


def _way(line: LineForces) -> Iterator[Found]:
    """The haulers' way against the rope that one haul brings through their hands: ideal advantage × rise."""
    assert line.running is not None and line.rig.line.haul is not None
    haul, id = line.rig.line.haul, line.rig.line.id
    found = stroke_of(line)
    rise = found.rise_m if found else line.rig.way.rise_m
    through = rise * line.running.motion.ideal
    values = {"line": id, "through_m": through, "way_m": haul.way_m, "rise_m": rise}
    if found is not None and rise < 0.1:
        yield Found("no-stroke", "stop", f"{id}:haul", values, id)
    elif found is not None and not can_be_reset(line) and rise < line.rig.way.rise_m - 1e-6:
        yield Found("no-reset", "stop", f"{id}:haul", {**values, "whole_m": line.rig.way.rise_m}, id)
    elif haul.way_m is None:
        yield Found("way-unsaid", "unknown", f"{id}:hands", values, id)
    elif haul.way_m < through - 1e-6:
        hauls = math.ceil(through / haul.way_m - 1e-9)
        yield Found("way-short", "look", f"{id}:hands", {**values, "hauls": hauls}, id)
    else:
        yield Found("way-long", "note", f"{id}:hands", values, id)
