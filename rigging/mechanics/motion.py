"""Which way everything moves: ideal advantage, rope through the hands, stroke.

Rope does not stretch, so each rope gives one linear equation for the speeds of its nodes
(principle of virtual work on inextensible rope)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rigging.mechanics.network import Network, Strand
from rigging.mechanics.vectors import dot
from rigging.quantities.faults import refuse

_STILL = 1e-9


@dataclass(frozen=True)
class Motion:
    """Speeds per unit speed of the load along its axis.

    `runs`: for each rope and pass, how fast rope goes through
    towards the route's far end (negative: towards its first node). `rates`: for each strand, growth of its length.
    """

    runs: tuple[tuple[float, ...], ...]
    rates: tuple[tuple[float, ...], ...]
    ideal: float


def _growth(network: Network, strand: Strand, names: tuple[str, ...]) -> tuple[np.ndarray, float]:
    """Rate of a strand's length as (coefficients of the unknown speeds, part due to the load)."""
    row, known = np.zeros(len(names)), 0.0
    for name, sign in ((strand.end, 1.0), (strand.start, -1.0)):
        node = network.nodes[name]
        share = sign * dot(strand.along, node.axis)
        if node.kind == "load":
            known += share
        elif node.travels:
            row[names.index(name)] += share
    return row, known


def solve_motion(network: Network) -> Motion:
    """Speeds of all nodes for a load rising at unit speed.

    Raises
    ------
    Refused
        If the rig does not move as one mechanism: locked, or free to move in more than one way.

    Examples
    --------
    A 2:1 on a block at the load: two metres of rope through the hands for each metre the load rises.

    >>> from rigging.mechanics.network import Node, Pass, Rope
    >>> from rigging.quantities.ranges import exactly
    >>> nodes = [Node("A", "anchor", (9, 0, 0)), Node("L", "load", (0, 0, 0), (1, 0, 0)),
    ...          Node("H", "hands", (20, 0, 0), (1, 0, 0))]
    >>> one = Pass("L", "L", exactly(0.9))
    >>> found = solve_motion(Network({n.id: n for n in nodes}, (Rope(("A", "L", "H"), (one,)),)))
    >>> found.ideal
    2.0
    """
    names = network.travellers
    growth = [[_growth(network, strand, names) for strand in row] for row in network.strands]
    matrix = np.array([sum((part for part, _ in row), np.zeros(len(names))) for row in growth])
    right = -np.array([sum(known for _, known in row) for row in growth])
    speeds = _unique(matrix, right, names)
    rates = tuple(tuple(float(part @ speeds) + known for part, known in row) for row in growth)
    hand = next(iter(network.of_kind("hands"))).id
    ideal = round(float(speeds[names.index(hand)]), 12)
    if ideal <= _STILL:
        raise refuse("ropes", "pulling the hand does not raise the load", "lead the rope so that the load rises")
    runs = tuple(tuple(-math.fsum(row[: i + 1]) for i in range(len(row) - 1)) for row in rates)
    return Motion(runs, rates, ideal)


def _unique(matrix: np.ndarray, right: np.ndarray, names: tuple[str, ...]) -> np.ndarray:
    if matrix.shape[0] == matrix.shape[1] and abs(np.linalg.det(matrix)) > _STILL:
        return np.asarray(np.linalg.solve(matrix, right))
    speeds, _, rank, _ = np.linalg.lstsq(matrix, right, rcond=None)
    if not np.allclose(matrix @ speeds, right, atol=1e-7):
        raise refuse("ropes", "the load can not move: the ropes lock each other", "free one end, or take a rope out")
    if rank < len(names):
        loose = np.linalg.svd(matrix)[2][-1]
        free = ", ".join(name for name, part in zip(names, loose, strict=True) if abs(part) > 1e-6)
        raise refuse("ropes", f"it can move in more than one way ({free} free)", "tie or grip every moving part once")
    return np.asarray(speeds)


@dataclass(frozen=True)
class Stroke:
    """One haul: the rise of the load until two nodes meet, which two, the length between them and how fast it shortens
    per metre that the load rises."""

    rise_m: float
    meets: tuple[str, str]
    length_m: float
    rate: float


def stroke(network: Network, motion: Motion, clearance_m: float, rides: frozenset[str] = frozenset()) -> Stroke | None:
    """The haul until the first two nodes meet, None where nothing runs out.

    `clearance_m` is what hitch, connector and pulley take up between two nodes; `rides` are grabs that are kept where they are, just in
    front of a bend, while their rope comes through: what comes towards the bend stops at them.
    """
    best: Stroke | None = None
    for a, b, long, rate in _between(network, motion, rides):
        if rate < -_STILL and "hands" not in (network.nodes[a].kind, network.nodes[b].kind):
            rise = max(0.0, long - clearance_m) / -rate
            if best is None or rise < best.rise_m:
                best = Stroke(rise, (a, b), long, -rate)
    return best


def _between(network: Network, motion: Motion, rides: frozenset[str]) -> list[tuple[str, str, float, float]]:
    """Every stretch from node to node: its ends, length and growth; of those on either side of a riding grab the longer, with what both
    grow by: the other is the place where it is kept."""
    open_ends: dict[str, tuple[str, float, float]] = {}
    found = []
    for row, rates in zip(network.strands, motion.rates, strict=True):
        for strand, rate in zip(row, rates, strict=True):
            riding = next((end for end in (strand.start, strand.end) if end in rides), None)
            if riding is None:
                found.append((strand.start, strand.end, strand.length_m, rate))
                continue
            far = strand.end if riding == strand.start else strand.start
            other = open_ends.pop(riding, None)
            if other is None:
                open_ends[riding] = (far, strand.length_m, rate)
            else:
                end, long, _ = max(other, (far, strand.length_m, rate), key=lambda each: each[1])
                found.append((end, riding, long, other[2] + rate))
    return found
