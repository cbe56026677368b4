"""A hitch or clamp that may not grip at all as wet, icy or muddy as it is."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.checks.hitches.on_line import all_hitches, here_on, tied_anew
from rigging.checks.mending import Mend, line_number, rope_number, setting
from rigging.document import Plan
from rigging.lines.tied import Place
from rigging.site.conditions import condition
from rigging.study.place import AtPlace


class MayNotGrip(Found, topic="margins", source="icy-grip"):
    line: str
    place: Place
    hitch: str
    condition: str


def find(here: AtPlace) -> Iterator[MayNotGrip]:
    for one in all_hitches(here):
        as_it_is = condition(one.at.made.state or one.rope.state)
        if as_it_is.grips(one.at.hitch.form).low <= 0:
            yield MayNotGrip(
                level="stop", about=one.about, key=one.key, line=one.line.id, place=one.at.place, hitch=one.at.hitch.name,
                condition=as_it_is.name,
            )  # fmt: skip


def mends(found: MayNotGrip, plan: Plan) -> Iterator[Mend]:
    """A hitch cleaned and dried, tried with a pull; a clamp or device on a rope that is."""
    if here_on(plan, found.line, found.place).hitch.form == "hitch":
        yield tied_anew(plan, found.line, found.place, "cleaned", {"state": "dry"})
    else:
        at = rope_number(plan, plan.lines[line_number(plan, found.line)].rope)
        yield setting("cleaned", f"/ropes/{at}/state", "dry")
