"""Tie-offs on a drum as somebody finished them: no check, but what four ask."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.anchors.rig import LegLine
from rigging.anchors.wraps import method_of
from rigging.checks.anchors.made import Made, path_of
from rigging.document import Plan, TieOff


def drum_ties(made: Made) -> Iterator[tuple[str, str, LegLine, TieOff]]:
    """Every leg tied off on a drum, with how that ends."""
    for about, key, line in made.legs():
        if line.leg.tie_off is not None and method_of(line.leg).drum:
            yield about, key, line, line.leg.tie_off


def tie_path(plan: Plan, arrangement: str, leg: int) -> str:
    return f"{path_of(plan, arrangement)}/legs/{leg}/tie_off"
