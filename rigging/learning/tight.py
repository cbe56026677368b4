"""A knot set: its rope drawn short through itself, where it is held by its ends and what lies in its loops, nothing nearer to anything than rope is thick.
`python -m rigging.learning.tight` works all of them out anew, into `set.json`.

Reference: tightening of knots by shrinking and keeping apart, as in P. Pieranski, "In search of ideal knots" (1998, from memory)."""

from __future__ import annotations

import itertools
import json
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

import numpy as np

from rigging.learning.curves import THICK, Strand, along, smooth
from rigging.learning.knots import Knot, knots
from rigging.mechanics.vectors import Array

_FILE = Path(__file__).parent / "set.json"
# What runs is never drawn tight, and what goes round something lies as it is drawn; nor parts that slide together and what is long: they are drawn apart, so that
# they can be seen.
_KINDS = ("stopper", "loop", "bend", "tied on", "grip")
_LEFT_OPEN = ("double-fisherman", "triple-fisherman", "long-bight-overhand")
# Places of a rope lie so far apart; those nearer along it than a turn takes are neighbours.
_PACE, _TURN = 0.22, 0.9
# Two strands keep a little further than they are thick, so that between its places, too, none cuts another.
_APART_BY = 1.07 * THICK
# A rope keeps so far from what it goes round: half of each.
_FROM_SOLID = 0.43
# Drawn and pushed so often, and at last only pushed.
_ROUNDS, _LAST, _DRAWN, _PUSHED = 300, 60, 0.3, 0.85
_EVENED_EVERY = 12


def tightened(one: Knot) -> tuple[Strand, ...]:
    """The strands of a knot as they lie when it is set, what it goes round where it was."""
    strands = one.drawn()
    ropes = [strand for strand in strands if not strand.solid]
    solid = [_paced(smooth(strand.path, 6, strand.closed), _PACE / 2) for strand in strands if strand.solid]
    round_what = np.concatenate(solid) if solid else np.zeros((0, 3))
    paths = [_paced(smooth(strand.path, 6), _PACE) for strand in ropes]
    tips = _on(paths, _tips(one))
    for number in range(_ROUNDS + _LAST):
        held = [_held(path, tips) for path in paths]
        if number < _ROUNDS:
            paths = _drawn(paths, held)
        paths = _apart(paths, held, round_what)
        if number % _EVENED_EVERY == 0:
            paths = [_paced(path, _PACE, tips) for path in paths]
    found = {strand.id: Strand(strand.id, path, strand.ends) for strand, path in zip(ropes, paths, strict=True)}
    return tuple(found.get(strand.id, strand) for strand in strands)


def _tips(one: Knot) -> Array:
    """Where something lies in its loops or bights."""
    names = {name for load in one.loads for name in load.pulled} | set(one.pulled)
    return np.array([at for name in ("loop", "bight") if name in names for at, _ in one.pulls([name])]).reshape(-1, 3)


def _on(paths: Sequence[Array], tips: Array) -> Array:
    """The places of the ropes that are nearest to these."""
    whole = np.concatenate(paths)
    return np.array([whole[np.linalg.norm(whole - tip, axis=1).argmin()] for tip in tips]).reshape(-1, 3)


def _held(path: Array, tips: Array) -> Array:
    """The places that do not give: both ends, and where a loop is held."""
    found = np.zeros(len(path), dtype=bool)
    found[[0, -1]] = True
    if len(tips):
        found |= (np.linalg.norm(path[:, None] - tips[None], axis=2) < 1e-6).any(axis=1)
    return found


def _drawn(paths: Sequence[Array], held: Sequence[Array]) -> list[Array]:
    """Each place nearer to the middle of its neighbours."""
    found = []
    for path, fast in zip(paths, held, strict=True):
        moved = path.copy()
        moved[1:-1] += _DRAWN * (0.5 * (path[:-2] + path[2:]) - path[1:-1])
        found.append(np.where(fast[:, None], path, moved))
    return found


def _apart(paths: Sequence[Array], held: Sequence[Array], round_what: Array) -> list[Array]:
    """What came nearer than rope is thick pushed apart again, half by half."""
    whole, fast = np.concatenate(paths), np.concatenate(held)
    far = np.concatenate([along(path) + 1000.0 * number for number, path in enumerate(paths)])
    moved = whole + _pushed(whole, whole, _APART_BY, np.abs(far[:, None] - far[None]) < _TURN) / 2
    if len(round_what):
        moved += _pushed(moved, round_what, _FROM_SOLID, None)
    moved = np.where(fast[:, None], whole, moved)
    return list(np.split(moved, np.cumsum([len(path) for path in paths])[:-1]))


def _pushed(places: Array, others: Array, least: float, near: Array | None) -> Array:
    """How far each place has to give way to the one of others that is nearest and too near."""
    between = places[:, None] - others[None]
    far = np.linalg.norm(between, axis=2)
    if near is not None:
        far = np.where(near, np.inf, far)
    nearest = far.argmin(axis=1)
    row = np.arange(len(places))
    distance = far[row, nearest]
    way = between[row, nearest] / np.maximum(distance, 1e-6)[:, None]
    return np.where((distance < least)[:, None], _PUSHED * np.maximum(0.0, least - distance)[:, None] * way, 0.0)


def _paced(path: Array, pace: float, tips: Array | None = None) -> Array:
    """The same curve with places at an even pace; where a loop is held one stays."""
    stays = [0, len(path) - 1]
    if tips is not None and len(tips):
        stays += np.flatnonzero(_held(path, tips)).tolist()
    found = []
    for first, last in itertools.pairwise(sorted(set(stays))):
        piece = path[first : last + 1]
        far = along(piece)
        count = max(2, round(far[-1] / pace) + 1)
        at = np.linspace(0.0, far[-1], count)
        found.append(np.stack([np.interp(at, far, piece[:, axis]) for axis in range(3)], axis=1)[:-1])
    return np.concatenate([*found, path[-1:]])


def set_of(one: Knot) -> tuple[Strand, ...] | None:
    """The strands of a knot as they lie when it is set; None of what runs, or goes round something: it lies as it is drawn."""
    known = _known().get(one.id)
    if known is None:
        return None
    return tuple(
        strand if strand.solid else Strand(strand.id, np.array(known[strand.id]), strand.ends) for strand in one.drawn()
    )


@lru_cache
def _known() -> dict[str, dict[str, list[list[float]]]]:
    return json.loads(_FILE.read_text(encoding="utf-8"))  # type: ignore[no-any-return]


def main() -> None:
    """Every one that can be set, worked out anew."""
    found = {
        id: {strand.id: np.round(strand.path, 2).tolist() for strand in tightened(one) if not strand.solid}
        for id, one in knots().items()
        if one.kind in _KINDS and id not in _LEFT_OPEN
    }
    _FILE.write_text(json.dumps(found, separators=(",", ":")) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
