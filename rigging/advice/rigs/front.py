"""Those of many rows that no other betters in everything, found again and again while some of them get worse."""

from __future__ import annotations

import numpy as np

from rigging.advice.rigs.figures import GOALS, NEVER, told
from rigging.mechanics.vectors import Array

# What a leader would tell apart: a twentieth of the rule, one more to haul, a change of grip, a reset, a minute, two pieces.
_NOTICED = np.array([0.05, 1.0, 25.0, 1.0, 1.0, 2.0])
_MINUTES, _SLOW = GOALS.index("minutes"), 3.0


def front(sizes: Array, changed: Array) -> Array:
    """Places of the rows (r, g) that none betters in everything as told, less being better; of those alike the one that changes least."""
    rows = told(sizes)
    order = np.lexsort([changed, *rows.T[::-1]])
    # Whatever betters a row comes before it in this order.
    firsts = np.ones(len(order), dtype=bool)
    firsts[1:] = (rows[order][1:] != rows[order][:-1]).any(axis=1)
    left = order[firsts]
    found = []
    while len(left):
        first, rest = left[0], left[1:]
        found.append(first)
        left = rest[~(rows[rest] >= rows[first]).all(axis=1)]
    return np.array(found, dtype=int)


def worth_a_look(sizes: Array, most: int) -> list[int]:
    """Places of at most so many rows of a front: the best by every goal, then the nearest to the best by all, none that nobody would tell from one
    that is taken already, and none that takes thrice as long as the quickest."""
    if not len(sizes):
        return []
    # A margin that nothing is known of is drawn as one beyond any.
    sizes = np.clip(sizes, -NEVER, NEVER)
    in_time = np.flatnonzero(sizes[:, _MINUTES] <= _SLOW * sizes[:, _MINUTES].min())
    some = sizes[in_time]
    best = [int(np.lexsort([some.sum(axis=1), some[:, goal]])[0]) for goal in range(len(GOALS))]
    low, high = some.min(axis=0), some.max(axis=0)
    weight = ((some - low) / np.where(high > low, high - low, 1)).sum(axis=1)
    taken: list[int] = []
    for one in dict.fromkeys([*best, *np.argsort(weight, kind="stable").tolist()]):
        alike = any((np.abs(some[one] - some[other]) < _NOTICED).all() for other in taken)
        if not alike and len(taken) < most:
            taken.append(one)
    return [int(in_time[one]) for one in taken]
