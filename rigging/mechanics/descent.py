"""Down the elastic energy of legs on one point, state after state: Newton's steps with Levenberg's damping, compiled.

    U(p) = Σ EA·s² / (2r) − F·p,   s = L(p) − r where a leg pulls, or a prop pushes, and 0 else

Written out number by number: an anchor is asked some hundred states for each figure, each a handful of steps in three unknowns."""

from __future__ import annotations

import math

import numpy as np
from numba import njit, types
from numpy.typing import NDArray

from rigging.mechanics.vectors import Array

_SNUG_M = 1e-9
_ROW, _ROWS, _STACK = types.float64[::1], types.float64[:, ::1], types.float64[:, :, ::1]
# Compiled once, when it is first imported, and kept beside this file.
_FOUND = types.Tuple((_ROWS, _ROWS, _ROWS, _ROW, types.boolean[::1]))  # type: ignore[no-untyped-call]
_FOLLOWED = types.Tuple((_ROWS, _ROWS, types.boolean[::1]))  # type: ignore[no-untyped-call]
_FOLLOWS = _FOLLOWED(
    _STACK, _ROWS, _ROWS, _ROWS, _ROW, _ROW, types.int64, types.float64, types.float64, types.float64, types.int64, types.float64, types.float64, types.float64
)  # fmt: skip
_DESCENDS = _FOUND(_STACK, _ROWS, _ROWS, _ROWS, _ROW, _ROWS, _ROW, types.int64, types.float64, types.float64)


@njit(cache=True)
def _measure(
    to: Array,
    stiff: Array,
    rest: Array,
    load: Array,
    acts: Array,
    point: Array,
    gradient: Array,
    hessian: Array,
    tension: Array,
) -> tuple[float, float]:
    """Energy and unbalance at a point; gradient, Hessian and tensions into what is handed in."""
    energy = 0.0
    for i in range(3):
        energy -= load[i] * point[i]
        gradient[i] = -load[i]
        for j in range(3):
            hessian[i, j] = 0.0
    for leg in range(len(rest)):
        x, y, z = point[0] - to[leg, 0], point[1] - to[leg, 1], point[2] - to[leg, 2]
        length = max(math.sqrt(x * x + y * y + z * z), 1e-12)
        stretch = length - rest[leg]
        # A leg just snug counts as taut, so that the first step knows its stiffness.
        taut = (acts[leg] >= 0 and stretch > -_SNUG_M) or (acts[leg] <= 0 and stretch < _SNUG_M)
        tension[leg] = stiff[leg] * stretch if taut else 0.0
        if not taut:
            continue
        energy += 0.5 * tension[leg] * stretch
        unit = (x / length, y / length, z / length)
        across = tension[leg] / length
        for i in range(3):
            gradient[i] += tension[leg] * unit[i]
            hessian[i, i] += across
            for j in range(3):
                hessian[i, j] += (stiff[leg] - across) * unit[i] * unit[j]
    return energy, math.sqrt(gradient[0] ** 2 + gradient[1] ** 2 + gradient[2] ** 2)


@njit(cache=True)
def _solved(a: Array, shift: float, b: Array, x: Array) -> float:
    """x of (A + shift·I)·x = −b for a symmetric A (3, 3); its determinant."""
    p, q, r = a[0, 0] + shift, a[1, 1] + shift, a[2, 2] + shift
    u, v, w = a[0, 1], a[0, 2], a[1, 2]
    c00, c01, c02 = q * r - w * w, v * w - u * r, u * w - v * q
    c11, c12, c22 = p * r - v * v, u * v - p * w, p * q - u * u
    det = p * c00 + u * c01 + v * c02
    if det == 0.0:
        return 0.0
    x[0] = -(c00 * b[0] + c01 * b[1] + c02 * b[2]) / det
    x[1] = -(c01 * b[0] + c11 * b[1] + c12 * b[2]) / det
    x[2] = -(c02 * b[0] + c12 * b[1] + c22 * b[2]) / det
    return float(det)


@njit(cache=True)
def _is_firm(a: Array, least: float) -> bool:
    """Whether every eigenvalue of a symmetric (3, 3) is above `least` (Sylvester's criterion)."""
    p, q, r = a[0, 0] - least, a[1, 1] - least, a[2, 2] - least
    u, v, w = a[0, 1], a[0, 2], a[1, 2]
    return bool(p > 0 and p * q - u * u > 0 and p * (q * r - w * w) - u * (u * r - v * w) + v * (u * w - v * q) > 0)


@njit([_DESCENDS], cache=True)
def descend(
    to: Array,
    stiff: Array,
    rest: Array,
    load: Array,
    acts: Array,
    start: Array,
    reach_m: Array,
    steps: int,
    balanced: float,
    firm_share: float,
) -> tuple[Array, Array, Array, Array, NDArray[np.bool_]]:
    """Where the point of each state comes to.

    Parameters
    ----------
    to : (1 or b, n, 3) far ends, m; stiff : (b, n) kN/m, EA/r; rest : (b, n) m; load : (b, 3) kN
    acts : (n,) +1 pulls, −1 pushes, 0 both
    start : (b, 3) m; reach_m : (b,) no step is longer; steps : at most so many; balanced : unbalance in kN that ends the search
    firm_share : a balance is firm where every stiffness against moving is more than this share of the stiffest leg

    Returns
    -------
    Points (b, 3), tensions (b, n), gradients (b, 3), unbalance (b,) in kN, and whether each is firm (b,).
    """
    states, legs = rest.shape
    points, tensions, gradients = start.copy(), np.zeros((states, legs)), np.zeros((states, 3))
    unbalance, firm = np.zeros(states), np.zeros(states, dtype=np.bool_)
    gradient, hessian, tension = np.zeros(3), np.zeros((3, 3)), np.zeros(legs)
    tried_gradient, tried_hessian, tried_tension = np.zeros(3), np.zeros((3, 3)), np.zeros(legs)
    step, trial = np.zeros(3), np.zeros(3)
    for row in range(states):
        ends = to[row] if len(to) > 1 else to[0]
        point = points[row]
        stiffest = 0.0
        for leg in range(legs):
            stiffest = max(stiffest, stiff[row, leg])
        energy, off = _measure(ends, stiff[row], rest[row], load[row], acts, point, gradient, hessian, tension)
        damping = 0.01 * stiffest
        for _ in range(steps):
            if off < balanced:
                break
            if _solved(hessian, damping, gradient, step) == 0.0:
                damping = max(8.0 * damping, 1e-9 * stiffest)
                continue
            size = math.sqrt(step[0] ** 2 + step[1] ** 2 + step[2] ** 2)
            share = min(1.0, reach_m[row] / max(size, 1e-30))
            along = 0.0
            for i in range(3):
                trial[i] = point[i] + share * step[i]
                along += gradient[i] * share * step[i]
            lower, nearer = _measure(
                ends, stiff[row], rest[row], load[row], acts, trial, tried_gradient, tried_hessian, tried_tension
            )
            # Near the minimum the energy's last digits are noise: there a smaller unbalance counts as progress.
            if lower < energy + 1e-4 * along or nearer < 0.5 * off:
                energy, off = lower, nearer
                point[:] = trial
                gradient[:] = tried_gradient
                hessian[:] = tried_hessian
                tension[:] = tried_tension
                damping /= 30.0
            else:
                damping = max(8.0 * damping, 1e-12 * stiffest)
        tensions[row] = tension
        gradients[row] = gradient
        unbalance[row] = off
        firm[row] = _is_firm(hessian, firm_share * stiffest)
    return points, tensions, gradients, unbalance, firm


@njit([_FOLLOWS], cache=True)
def followed(
    to: Array,
    stiff: Array,
    rest: Array,
    load: Array,
    acts: Array,
    built: Array,
    parts: int,
    stirs_m: float,
    far_m: float,
    step_m: float,
    steps: int,
    balanced: float,
    enough: float,
    firm_share: float,
) -> tuple[Array, Array, NDArray[np.bool_]]:
    """Each state's balance followed from the built place as what holds the head there is let go and the load comes on, in so many parts.

    Parameters
    ----------
    to, stiff, rest, load, acts, balanced, firm_share : as in `descend`; built : (3,) m; enough : unbalance in kN that is none
    stirs_m, far_m : how far the head may go in one part, and in all
    step_m, steps : the search of each part

    Returns
    -------
    Points (b, 3), tensions (b, n), and which states stand (b,): the others are where they were last in balance.
    """
    states, legs = rest.shape
    points, tensions = np.zeros((states, 3)), np.zeros((states, legs))
    stands = np.ones(states, dtype=np.bool_)
    reach, carried, nothing = np.full(1, step_m), np.zeros((1, 3)), np.zeros((1, 3))
    for row in range(states):
        points[row] = built
        mine_stiff, mine_rest = stiff[row : row + 1], rest[row : row + 1]
        # What somebody holds the head with while its guys are tightened and the load is not on.
        held = descend(to, mine_stiff, mine_rest, nothing, acts, points[row : row + 1], reach, 0, balanced, firm_share)[
            2
        ]
        for number in range(1, parts + 1):
            part = number / parts
            for i in range(3):
                carried[0, i] = part * load[row, i] + (1 - part) * held[0, i]
            point, tension, _, off, firm = descend(
                to, mine_stiff, mine_rest, carried, acts, points[row : row + 1], reach, steps, balanced, firm_share
            )
            stirred, gone = 0.0, 0.0
            for i in range(3):
                stirred += (point[0, i] - points[row, i]) ** 2
                gone += (point[0, i] - built[i]) ** 2
            points[row], tensions[row] = point[0], tension[0]
            if off[0] >= enough or not firm[0] or math.sqrt(gone) > far_m or math.sqrt(stirred) > stirs_m:
                stands[row] = False
                break
    return points, tensions, stands
