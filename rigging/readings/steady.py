"""Steady stretches of a cell's readings: what was read while the load hung still, and while it moved.

Hanging still a cell scatters by its own noise; while rope runs it scatters more: haulers surge, rope sticks and slips at edges.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rigging.mechanics.vectors import Array
from rigging.readings.learn import Observed
from rigging.readings.places import Motion, Place

# Looked at second by second, where enough was read; a stretch is at least so many that agree within so much.
_BLOCK_S, _FEWEST, _LEAST, _AGREE = 1.0, 8, 4, 0.05
# Moving scatters at least so much of the force, and so many times as much as the quiet seconds.
_MOVES, _TIMES = 0.012, 1.8


@dataclass(frozen=True)
class Stretch:
    """Readings that stood at one level from `from_s` to `to_s`; whether they scatter as running rope does."""

    from_s: float
    to_s: float
    force_n: float
    scatter_n: float
    moves: bool


def stretches(times_s: Array, forces_n: Array) -> list[Stretch]:
    """Every steady stretch, in order."""
    if len(times_s) == 0:
        return []
    number = np.floor((times_s - times_s[0]) / _BLOCK_S).astype(int)
    blocks = [rows for one in range(int(number[-1]) + 1) if len(rows := np.flatnonzero(number == one)) >= _FEWEST]
    scatters = [_scatter(forces_n[rows]) for rows in blocks]
    quiet_n = float(np.quantile(scatters, 0.2)) if scatters else 0.0
    moves = [
        one > max(_MOVES * abs(float(np.median(forces_n[rows]))), _TIMES * quiet_n)
        for one, rows in zip(scatters, blocks, strict=True)
    ]
    found: list[Stretch] = []
    start = 0
    for at in range(1, len(blocks) + 1):
        before = np.concatenate(blocks[start:at])
        if at < len(blocks) and moves[at] == moves[start] and _agree(forces_n[before], forces_n[blocks[at]]):
            continue
        if at - start >= _LEAST:
            # Its ends are where it began and where it let off.
            rows = np.concatenate(blocks[start + 1 : at - 1])
            level = float(np.median(forces_n[rows]))
            found.append(
                Stretch(
                    float(times_s[rows[0]]), float(times_s[rows[-1]]), level, _scatter(forces_n[rows]), moves[start]
                )
            )
        start = at
    return found


def _scatter(forces_n: Array) -> float:
    return float(1.4826 * np.median(np.abs(forces_n - np.median(forces_n))))


def _agree(before: Array, now: Array) -> bool:
    level = float(np.median(before))
    return abs(float(np.median(now)) - level) <= max(_AGREE * abs(level), 20.0)


def observed(
    where: Place, moves: Motion, found: list[Stretch], runs_m: tuple[float, float] = (0.0, 0.0)
) -> Iterator[Observed]:
    """What stretches say of a place: those in which rope runs, while the load `moves`; the rest hang still. `runs_m`: between which places
    of its way the load was."""
    for one in found:
        # The middle of many readings is better known than one; surges hang together over a second or two.
        sure_n = one.scatter_n / max(1.0, (one.to_s - one.from_s) / 2) ** 0.5
        yield Observed(where, moves if one.moves else "still", one.force_n, max(sure_n, 2.0), runs_m)
