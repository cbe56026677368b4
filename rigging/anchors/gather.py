"""Where to gather: leg lengths for a wanted working point and pull, and what a centimetre of error does."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import nnls

from rigging.legs import Array


@dataclass(frozen=True)
class Gather:
    """Unloaded lengths (n,) in metres that share the pull as evenly as it goes, the tensions (n,) in kN that they then
    have, how far those stay from balancing the pull (share of it), and (n, n) kN per metre that leg j is made longer."""

    rest_m: Array
    tensions_kn: Array
    misses: float
    per_metre_kn: Array


def gather(to: Array, ea_kn: Array, load_kn: Array, point: Array) -> Gather:
    """Leg lengths that bring the loaded point to rest at `point`.

    Of all tensions T ≥ 0 with Σ T·u = F those nearest to each other are taken (least squares with a light weight on
    their differences), and a leg of tension T has r = L / (1 + T/EA).

    Parameters
    ----------
    to : (n, 3) m; ea_kn : (n,); load_kn : (3,); point : (3,) m
    """
    away = point - to
    length: Array = np.linalg.norm(away, axis=1)
    unit = away / length[:, None]
    count = len(to)
    even = np.eye(count) - np.full((count, count), 1 / count)
    tensions, _ = nnls(np.vstack([unit.T, 1e-4 * even]), np.concatenate([load_kn, np.zeros(count)]))
    misses = float(np.linalg.norm(tensions @ unit - load_kn)) / max(float(np.linalg.norm(load_kn)), 1e-12)
    rest = length / (1 + tensions / ea_kn)
    return Gather(rest, tensions, misses, _sensitivity(unit, length, ea_kn, rest, tensions))


def _sensitivity(unit: Array, length: Array, ea_kn: Array, rest: Array, tensions: Array) -> Array:
    """∂T_i/∂r_j at equilibrium: longer leg j loses EA·L/r² at once, then the point moves until forces balance again."""
    along, across = ea_kn / rest, tensions / length
    outer = unit[:, :, None] * unit[:, None, :]
    stiffness = np.tensordot(along - across, outer, axes=1) + across.sum() * np.eye(3)
    direct = np.diag(-ea_kn * length / rest**2)
    moved = -np.linalg.pinv(stiffness, rcond=1e-9) @ unit.T @ direct
    return np.asarray(direct + (along[:, None] * unit) @ moved)
