"""Legs pulled tight one after another: each pull moves the point, and loosens or tightens those that were tight before.

A leg is pulled until it bears what it is to; its length is then fixed. Going round again brings all of them nearer to what they are to bear."""

from __future__ import annotations

import numpy as np

from rigging.anchors.rig import AnchorRig, at
from rigging.mechanics.legs import hang
from rigging.mechanics.vectors import Array
from rigging.quantities.kept import kept

# As far as a leg may be drawn in or let out to come to its pretension, as a share of its length.
_SHORTEST, _LONGEST = 0.5, 1.2


def order_of(rig: AnchorRig, unit: Array) -> tuple[int, ...]:
    """Legs in the order in which opposed ones follow each other: the one straight behind the pull, the one most against it, then of those left the
    one most aside, and the one against that."""
    away = np.array([at(line.feature) - rig.point for line in rig.lines])
    away /= np.linalg.norm(away, axis=1)[:, None]
    left = list(range(rig.count))
    found: list[int] = []
    while left:
        first = (
            min(left, key=lambda leg: away[leg] @ unit)
            if not found
            else max(left, key=lambda leg: 1 - abs(away[leg] @ unit))
        )
        left.remove(first)
        found.append(first)
        if left:
            against = min(left, key=lambda leg: away[leg] @ away[first])
            left.remove(against)
            found.append(against)
    return tuple(found)


@kept(500)
def tightened_kn(rig: AnchorRig, order: tuple[int, ...], rounds: int) -> Array:
    """What every leg bears after each round (rounds, n), in kN, before the load is on; stiffnesses as expected."""
    # Loaded where legs are first tightened: it takes a while.
    from scipy.optimize import brentq

    whole, count = rig.whole, rig.count
    to, ea, acts = whole.to[:count], whole.ea_kn[1, :count], whole.acts[:count]
    wanted = np.array([(line.leg.pretension_n or 0.0) / 1000 for line in rig.lines])
    length = np.linalg.norm(to - rig.point, axis=1)
    # Tied, not pulled: each just reaches.
    rest, point = length.copy(), rig.point
    nothing, after = np.zeros(3), []
    for _ in range(rounds):
        for leg in order:
            if wanted[leg] <= 0:
                continue

            def over(long: float, leg: int = leg, start: Array = point) -> float:
                tried = np.where(np.arange(count) == leg, long, rest)
                return float(hang(to, ea, tried, nothing, start, acts).tensions[leg] - wanted[leg])

            low, high = _SHORTEST * length[leg], _LONGEST * length[leg]
            if over(low) > 0 > over(high):
                rest[leg] = brentq(over, low, high, xtol=1e-6)
                point = hang(to, ea, rest, nothing, point, acts).point
        after.append(hang(to, ea, rest, nothing, point, acts).tensions)
    return np.array(after)
