"""Vectors in three dimensions, metres: x out along the fall line, y to the right looking out, z up."""

from __future__ import annotations

import math
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

Array = NDArray[np.float64]
Coordinate = Annotated[float, Field(ge=-10_000, le=10_000)]
Point3 = tuple[Coordinate, Coordinate, Coordinate]
Vector = tuple[float, float, float]
STILL: Vector = (0.0, 0.0, 0.0)


def plus(a: Vector, b: Vector, times: float = 1.0) -> Vector:
    """a + times·b.

    >>> plus((1, 0, 0), (0, 1, 0), 2)
    (1, 2, 0)
    """
    return a[0] + times * b[0], a[1] + times * b[1], a[2] + times * b[2]


def minus(a: Vector, b: Vector) -> Vector:
    """a − b.

    >>> minus((3, 2, 1), (1, 1, 1))
    (2, 1, 0)
    """
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def dot(a: Vector, b: Vector) -> float:
    """Scalar product.

    >>> dot((1, 2, 3), (1, 1, 1))
    6
    """
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def length(a: Vector) -> float:
    """Size of a vector.

    >>> length((3, 4, 12))
    13.0
    """
    return math.sqrt(dot(a, a))


def unit(a: Vector) -> Vector:
    """Direction of `a`; the zero vector for two nodes in one place, whose strand pulls neither way.

    >>> unit((0, 0, -5))
    (0.0, 0.0, -1.0)
    """
    size = length(a)
    return (a[0] / size, a[1] / size, a[2] / size) if size > 1e-9 else (0.0, 0.0, 0.0)


def turn_angle(a: Vector, b: Vector, c: Vector) -> float:
    """Angle in radians by which a rope from `a` over `b` to `c` changes direction at `b`.

    >>> round(math.degrees(turn_angle((0, 0, 0), (1, 0, 0), (1, 0, -1))))
    90
    """
    return math.acos(max(-1.0, min(1.0, dot(unit(minus(b, a)), unit(minus(c, b))))))
