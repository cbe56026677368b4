"""The skills that drills are of, and a drill of one by its seed; a round of them, no two alike in a row."""

from __future__ import annotations

import random
from collections.abc import Sequence

from rigging.learning.drills import anchors, hauling, holding, running, tying
from rigging.learning.drills.drill import LEVELS, Again, Drill, Level, Maker, lay
from rigging.quantities.faults import refuse

SKILLS: dict[str, Maker] = {
    "holds-now": holding.holds_now, "if-it-goes": holding.then, "alone": holding.alone, "hands-off": holding.let_go, "bench": holding.bench,
    "leg-swing": anchors.leg_swing, "piece-length": anchors.piece_length, "least-anchor": anchors.least_anchor, "redirect": hauling.redirect,
    "ideal": hauling.ideal, "actual": hauling.actual, "rope-end": hauling.rope_end, "good-pulley": hauling.good_pulley, "haulers": hauling.haulers, "stuck": hauling.stuck,
    "strip": running.strip, "order": running.order, "missing": running.missing, "rangefinder": running.sighting,
    "knot-fault": tying.fault, "knot-for": tying.which, "keeps-most": tying.keeps_most, "slips-first": tying.slips_first, "clove": tying.clove,
}  # fmt: skip
# Luck that comes to no clear answer is tried again, so often at most.
_TRIES = 400


def drill(skill: str, seed: int, level: Level = 1) -> Drill:
    """The drill of a skill that a seed makes, always the same.

    Raises
    ------
    Refused
        If there is no such skill or level.
    """
    if skill not in SKILLS:
        raise refuse("skill", f"there is no skill {skill!r}", f"one of {', '.join(SKILLS)}")
    if level not in LEVELS:
        raise refuse("level", f"{level} is no level", "1, 2 or 3")
    luck = random.Random(f"{skill} {seed} {level}")
    for _ in range(_TRIES):
        try:
            made = SKILLS[skill](luck, level)
        except Again:
            continue
        return lay(skill, seed, level, made, luck)
    raise AssertionError(f"{skill} {seed} {level}: no clear question in {_TRIES} tries")


def in_turn(asked: Sequence[tuple[str, Level]], seed: int) -> list[Drill]:
    """One drill of each skill asked for, in that order, none like the one before it."""
    found: list[Drill] = []
    for number, (skill, level) in enumerate(asked):
        one = drill(skill, seed + 1000 * number, level)
        more = 0
        while found and (one.skill, one.asks, one.sketch) == (found[-1].skill, found[-1].asks, found[-1].sketch):
            more += 1
            one = drill(skill, seed + 1000 * number + more, level)
        found.append(one)
    return found
