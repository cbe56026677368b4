"""Knots: what is wrong with one tied by another, which one for that, which strand of a clove is drawn first."""

from __future__ import annotations

import random

from rigging.catalogue import catalogue
from rigging.learning.drills.drill import Again, Level, Made, Sketch
from rigging.learning.knots import knots

RIGHT_FORM = ""


def fault(luck: random.Random, level: Level) -> Made:
    """What is wrong in a drawing, or nothing."""
    one = knots()[luck.choice(sorted(knots()))]
    ids = [row.id for row in one.faults]
    right = luck.choice([RIGHT_FORM, *ids])
    behind, mirrored = level > 1 and luck.random() < 0.5, level > 2 and luck.random() < 0.5
    options = [RIGHT_FORM, *ids]
    if len(options) < 3:
        raise Again
    shown = Sketch(knot=one.id, fault=right or None, behind=behind, mirrored=mirrored)
    return Made({"knot": one.id}, right, tuple(row for row in options if row != right), {}, shown)


# What is much the same thing: asking for the one, the other is no wrong answer.
_LIKE = (
    {"overhand", "figure-eight", "figure-nine", "double-overhand", "slipped-overhand", "slipped-figure-eight"},
    {"figure-eight-loop", "figure-nine-loop", "overhand-loop", "bowline", "butterfly-loop", "long-bight-overhand"},
    {"double-fisherman", "triple-fisherman", "water-knot", "figure-eight-bend", "flat-overhand", "overhand-loop"},
    {"prusik-8", "tandem-prusik-8", "french-8"}, {"girth-hitch", "round-turn", "clove", "bowline"},
)  # fmt: skip


def which(luck: random.Random, level: Level) -> Made:
    """Which knot for what is to be done."""
    one = knots()[luck.choice(sorted(knots()))]
    like = {one.id}.union(*(group for group in _LIKE if one.id in group))
    pool = [id for id, other in sorted(knots().items()) if id not in like and other.used != one.used]
    return Made({"for": one.id}, one.id, tuple(luck.sample(pool, 3)))


def keeps_most(luck: random.Random, level: Level) -> Made:
    """Which of several knots keeps most of the rope's strength, pulled as it is meant to be."""
    shelf = {id: one for id, one in catalogue().knots.items() if not one.wire and not one.special}
    bend = luck.random() < 0.5
    ids = luck.sample([id for id, one in sorted(shelf.items()) if one.bend == bend], 3)
    ranked = sorted(ids, key=lambda id: -shelf[id].keeps.expected)
    first, second = (shelf[id].keeps for id in ranked[:2])
    if first.expected - second.expected < (0.05, 0.03, 0.02)[level - 1]:
        raise Again
    return Made({"bend": bend}, ranked[0], tuple(ranked[1:]), {"keeps": {id: shelf[id].keeps for id in ids}})


def slips_first(luck: random.Random, level: Level) -> Made:
    """Which of several things that grip slips first on one rope."""
    shelf = {id: one for id, one in catalogue().hitches.items() if one.slip_n is not None}
    ids = luck.sample(sorted(shelf), 3)
    ranked = sorted(ids, key=lambda id: shelf[id].slip_n.expected)  # type: ignore[union-attr]
    least, next_ = (shelf[id].slip_n for id in ranked[:2])
    assert least is not None and next_ is not None
    if next_.expected < 1.2 * least.expected:
        raise Again
    return Made({}, ranked[0], tuple(ranked[1:]), {"slips_n": {id: shelf[id].slip_n for id in ids}})


# The strands of a clove in the order in which its rope goes through it, from the load to its tail.
CLOVE = ("load", "first-turn", "across", "second-turn", "tail")


def clove(luck: random.Random, level: Level) -> Made:
    """Which strand is drawn first to let a clove out, or take it in: the one next to where the rope comes from, never the end itself pushed."""
    longer = luck.random() < 0.5
    comes_from = "tail" if longer else "load"
    at = CLOVE.index(comes_from)
    right = CLOVE[at + (1 if at == 0 else -1)]
    wrong = [one for one in CLOVE if one not in (right, comes_from)]
    return Made({"longer": longer}, right, tuple(luck.sample(wrong, 2)), sketch=Sketch(knot="clove"))
