"""Where to gather: leg lengths for a wanted working point and pull, and what a centimetre of error does."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.anchors.pull import Asked
from rigging.anchors.rig import AnchorRig
from rigging.mechanics.bounds import every_corner
from rigging.mechanics.legs import hang_all, unloaded
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range


@dataclass(frozen=True)
class Gather:
    """Where the loaded point comes to rest (3,), unloaded lengths (n,) in metres that bring it there, the tensions (n,)
    in kN that the legs then have, how far those stay from balancing the pull (share of it), and (n, n) kN per metre
    that leg j is made longer."""

    point: Array
    rest_m: Array
    tensions_kn: Array
    misses: float
    per_metre_kn: Array


def gathered_n(rig: AnchorRig, found: Gather, asked: Asked) -> list[Range]:
    """What each leg bears in newtons once it is tied to its length: over the pull and the stiffness of every leg."""
    to, count = rig.whole.to[: rig.count], rig.count
    corners = every_corner(count) if count <= 6 else np.array([[-1.0] * count, [1.0] * count])
    levels = np.concatenate([np.zeros((1, count)), corners]).astype(int) + 1
    ends = np.concatenate([asked.expected[None], asked.ends]) / 1000
    loads = np.repeat(ends, len(levels), axis=0)
    ea = np.tile(rig.whole.ea_kn[levels, np.arange(count)], (len(ends), 1))
    rest = np.broadcast_to(found.rest_m, ea.shape)
    bears = hang_all(to, ea, rest, loads, np.broadcast_to(found.point, (len(ea), 3))).tensions * 1000
    return [Range(float(row.min()), float(row[0]), float(row.max())) for row in bears.T]


_COARSE_M, _FINE_M = np.linspace(0.08, -0.08, 41), np.linspace(-0.004, 0.004, 11)
_MISSES = 0.01


def gather(to: Array, ea_kn: Array, load_kn: Array, point: Array, rests_m: float) -> Gather:
    """Leg lengths that bring the loaded point over or under `point` and share the pull as evenly as it goes.

    Three legs and a pull balance in one plane only, so the height is left free: of heights about the one at which the
    point rests as it is tied now, `rests_m`, the one at which the busiest leg has least to do. There, of all tensions T ≥ 0 with Σ T·u = F those nearest
    to each other are taken (least squares with a light weight on their differences), and a leg of tension T has
    r = L / (1 + T/EA).

    Parameters
    ----------
    to : (n, 3) m; ea_kn : (n,); load_kn : (3,); point : (3,) m
    """
    there = np.array([point[0], point[1], rests_m])
    for heights in (_COARSE_M, _FINE_M):
        tried = there + np.outer(heights, [0.0, 0.0, 1.0])
        found = [(_tensions(to, load_kn, one), one) for one in tried]
        (tensions, misses), there = min(found, key=lambda one: (max(one[0][1], _MISSES), one[0][0].max()))
    away = there - to
    length: Array = np.linalg.norm(away, axis=1)
    rest = unloaded(length, tensions, ea_kn)
    unit = away / length[:, None]
    return Gather(there, rest, tensions, misses, _sensitivity(unit, length, ea_kn, rest, tensions))


def _tensions(to: Array, load_kn: Array, point: Array) -> tuple[Array, float]:
    from scipy.optimize import nnls

    away = point - to
    unit = away / np.linalg.norm(away, axis=1)[:, None]
    even = np.eye(len(to)) - np.full((len(to), len(to)), 1 / len(to))
    tensions, _ = nnls(np.vstack([unit.T, 1e-3 * even]), np.concatenate([load_kn, np.zeros(len(to))]))
    return tensions, float(np.linalg.norm(tensions @ unit - load_kn)) / max(float(np.linalg.norm(load_kn)), 1e-12)


def _sensitivity(unit: Array, length: Array, ea_kn: Array, rest: Array, tensions: Array) -> Array:
    """∂T_i/∂r_j at equilibrium: longer leg j loses EA·L/r² at once, then the point moves until forces balance again."""
    along, across = ea_kn / rest, tensions / length
    outer = unit[:, :, None] * unit[:, None, :]
    stiffness = np.tensordot(along - across, outer, axes=1) + across.sum() * np.eye(3)
    direct = np.diag(-ea_kn * length / rest**2)
    moved = -np.linalg.pinv(stiffness, rcond=1e-9) @ unit.T @ direct
    return np.asarray(direct + (along[:, None] * unit) @ moved)
