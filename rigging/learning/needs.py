"""What a run asks of those who are on it: skills that drills are of, and knots that are drawn."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from rigging.document import Plan
from rigging.learning.drawings import drawings

# By what the procedures of a run are called, or begin with; whoever hangs a load on anything needs the first.
_ALWAYS = ("holds-now", "if-it-goes", "alone", "hands-off", "missing")
_BY_PROCEDURE = {
    "raise": ("ideal", "actual", "haulers", "stuck"), "drop": ("ideal", "actual", "haulers", "rope-end"), "straight-lift": ("actual", "haulers"), "sling": ("ideal", "actual"),
    "change": ("order",), "knot-pass": ("order",), "secure": ("order",), "escape": ("order",), "after-arrest": ("order",),
}  # fmt: skip


def skills_needed(plan: Plan, procedures: Iterable[str], cells: bool) -> list[str]:
    """The skills that a run through these procedures needs; `cells`: whether load cells read in it."""
    found = dict.fromkeys(_ALWAYS)
    for procedure in procedures:
        for begins, skills in _BY_PROCEDURE.items():
            if procedure.startswith(begins):
                found |= dict.fromkeys(skills)
    if any(len(anchor.arrangement.legs) > 1 for anchor in plan.anchors):
        found |= dict.fromkeys(("leg-swing", "piece-length"))
    if any(line.redirects for line in plan.lines):
        found["redirect"] = None
    if cells:
        found["strip"] = None
    return list(found)


def knots_needed(plan: Plan) -> list[str]:
    """The knots, hitches and devices in a plan that are drawn, by the id of their drawing."""
    used = set(_words(plan.model_dump(mode="json")))
    return sorted({drawing for id, (drawing, _) in drawings().items() if id in used})


def _words(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for one in value.values():
            yield from _words(one)
    elif isinstance(value, list):
        for one in value:
            yield from _words(one)
