"""How far one point can go while sums of distances stay within their lengths: the second-order cone programme.

Variables: how far the load has gone along its way, the other free points (3 each), and one bound for each strand that
has a free end. A strand's cone is |p_a − p_b| ≤ t, a piece's row Σ t ≤ ℓ less its strands between fixed points."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache

import clarabel
import numpy as np
from numpy.typing import NDArray

from rigging.mechanics.vectors import Array, Point3, unit

_SOLVED = {"Solved", "AlmostSolved"}
_UNBOUNDED = {"DualInfeasible", "AlmostDualInfeasible"}
# Lengths are given this much room, so that points held tight between two others leave the solver an inside to work in.
_ROOM_M = 1e-7
_FAR = 1e4


@dataclass(frozen=True)
class Way:
    """How far the load goes, m; where the free points then are (n, 3), and the multiplier of each piece's length."""

    far_m: float
    spots: Array
    multipliers: Array


def longest_way(
    at: dict[str, Point3], names: list[str], pieces: Sequence[tuple[tuple[str, ...], float]], load: str, along: Point3
) -> Way | None:
    """The free points `names` placed so that `load`, which moves along its way only, goes as far as the pieces (route,
    length) allow.

    None if it can go without end.
    """
    form = _form(tuple(names), tuple(route for route, _ in pieces), load, unit(along))
    size = max(1.0, max(length for _, length in pieces))
    right = [
        (length + _ROOM_M - math.fsum(math.dist(at[a], at[b]) for a, b in firm)) / size
        for (_, length), firm in zip(pieces, form.firm, strict=True)
    ]
    origin = at[load]
    for ends in form.known:
        known = [0.0, 0.0, 0.0]
        for name, sign in ends:
            spot = at[name]
            known = [known[axis] + sign * (spot[axis] - origin[axis]) / size for axis in range(3)]
        right += [0.0, *known]
    solver = clarabel.DefaultSolver(form.none, form.goal, form.matrix, np.array(right), form.kinds, _settings())
    found = solver.solve()
    status, far = str(found.status), float(found.x[0]) * size
    if status in _UNBOUNDED or (status not in _SOLVED and far > _FAR * size):
        return None
    spots = np.array(found.x[1 : 1 + 3 * len(names)]).reshape(-1, 3) * size + np.asarray(origin)
    return Way(far, spots, np.array(found.z[: len(pieces)]))


@dataclass(frozen=True)
class _Form:
    """What the programmes of rigs that hang together alike have in common, wherever their points lie: the matrices, the goal and the cones; of each piece its strands
    between fixed points (`firm`), and of each strand with a free end those of its ends that are known, with their signs."""

    none: _Columns
    goal: Array
    matrix: _Columns
    kinds: list[object]
    firm: tuple[tuple[tuple[str, str], ...], ...]
    known: tuple[tuple[tuple[str, float], ...], ...]


@lru_cache(maxsize=4096)
def _form(names: tuple[str, ...], routes: tuple[tuple[str, ...], ...], load: str, way: Point3) -> _Form:
    number = {name: 1 + 3 * i for i, name in enumerate(names)}
    width = 1 + 3 * len(names)
    entries: list[tuple[int, int, float]] = []
    strands: list[tuple[str, str]] = []
    firm: list[tuple[tuple[str, str], ...]] = []
    for line, route in enumerate(routes):
        between = list(itertools.pairwise(route))
        moving = [(a, b) for a, b in between if a in number or b in number or load in (a, b)]
        entries += [(line, width + len(strands) + place, 1.0) for place in range(len(moving))]
        strands += moving
        firm.append(tuple(one for one in between if one not in moving))
    line = len(routes)
    known = []
    for index, (a, b) in enumerate(strands):
        entries.append((line, width + index, -1.0))
        for name, sign in ((a, 1.0), (b, -1.0)):
            if name in number:
                entries += [(line + 1 + axis, number[name] + axis, -sign) for axis in range(3)]
            if name == load:
                entries += [(line + 1 + axis, 0, -sign * way[axis]) for axis in range(3) if way[axis]]
        known.append(tuple((name, sign) for name, sign in ((a, 1.0), (b, -1.0)) if name not in number))
        line += 4
    count = width + len(strands)
    goal = np.zeros(count)
    goal[0] = -1.0
    kinds = [clarabel.NonnegativeConeT(len(routes)), *([clarabel.SecondOrderConeT(4)] * len(strands))]
    return _Form(_columns([], count, count), goal, _columns(entries, line, count), kinds, tuple(firm), tuple(known))


@dataclass(frozen=True)
class _Columns:
    """A sparse matrix by columns, as the solver reads it."""

    data: Array
    indices: NDArray[np.int64]
    indptr: NDArray[np.int64]
    shape: tuple[int, int]
    has_canonical_format: bool = True


def _columns(entries: list[tuple[int, int, float]], rows: int, columns: int) -> _Columns:
    """Entries (row, column, value), each place once, as a matrix by columns."""
    given = sorted((column, row, value) for row, column, value in entries)
    counts = [0] * (columns + 1)
    for column, _, _ in given:
        counts[column + 1] += 1
    return _Columns(
        np.array([value for _, _, value in given], dtype=float), np.array([row for _, row, _ in given], dtype=np.int64),
        np.array(list(itertools.accumulate(counts)), dtype=np.int64), (rows, columns),
    )  # fmt: skip


@cache
def _settings() -> clarabel.DefaultSettings:
    settings = clarabel.DefaultSettings()
    settings.verbose = False
    settings.tol_gap_abs = settings.tol_gap_rel = 1e-9
    settings.tol_feas = 1e-9
    settings.max_iter = 100
    settings.max_threads = 1
    return settings
