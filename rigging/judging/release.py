"""Whether every loaded hitch, tie and device can be let off under load: how, and by how much."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.document import Line, Plan
from rigging.judging.found import Found


def find_release(plan: Plan) -> Iterator[Found]:
    """Every line's way of being let off."""
    for line in plan.lines:
        if line.belay is not None:
            yield _belay(line)
        elif line.lowering is not None:
            yield _device(line)
        elif line.role in ("main", "second"):
            yield Found("release-tied", "look", f"{line.id}:rope", {"line": line.id}, line.id)


def _belay(line: Line) -> Found:
    assert line.belay is not None
    belay, about = line.belay, f"{line.id}:belay"
    what = catalogue().catching(belay.holds, belay.what).name
    values = {"line": line.id, "what": what, "by_m": belay.releasing_m}
    if belay.releasing_m is not None:
        return Found("releases", "note", about, values, line.id)
    hitch = catalogue().hitches[belay.what] if belay.holds == "hitch" else None
    # One that opens only below a force does not under what a catch leaves on it.
    if belay.holds == "device" or (hitch and hitch.releases_under_load and hitch.releases_below_n is None):
        return Found("releases", "note", about, values, line.id)
    return Found("release-missing", "look", about, values, line.id)


def _device(line: Line) -> Found:
    """A lowering device is let off by letting it run; a hitch behind it bears only what is left at the brake side."""
    assert line.lowering is not None
    device = catalogue().devices[line.lowering.device]
    return Found("releases", "note", f"{line.id}:device", {"line": line.id, "what": device.name, "by_m": None}, line.id)
