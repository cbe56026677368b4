"""Tensions of a network's strands over every corner of what is not known to the digit, and what they add up to at its nodes."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from rigging.mechanics.bounds import Cloud, bounded, cloud
from rigging.mechanics.network import Network
from rigging.mechanics.tension import strand_ways
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range

# As many strands at one anchor can each be at either end by itself.
_BOXED = 10


@dataclass(frozen=True)
class StrandForces:
    """`rows` (c, s): every strand, rope by rope in order, at each corner, the first as expected, per unit of `scale` in newtons.

    `passed`, by pass: what the strand after is of the one before, where the rows are least and most of each strand by itself
    (`boxed`): what strands add up to is then taken over all of their ends.
    """

    network: Network
    rows: Array
    scale: Range
    passed: Mapping[str, Range] = field(default_factory=dict)

    @property
    def boxed(self) -> bool:
        return bool(self.passed)

    def column(self, rope: int, index: int) -> int:
        """Place of a strand among all."""
        return self.network.starts[rope] + index

    def strand(self, rope: int, index: int) -> Range:
        column = self.column(rope, index)
        if column not in self._known:
            self._known[column] = bounded(self.rows[:, column], self.scale)
        return self._known[column]

    @cached_property
    def _known(self) -> dict[int, Range]:
        return {}

    @cached_property
    def _strands(self) -> list[Range]:
        return [bounded(column, self.scale) for column in self.rows.T]

    def sum_of(self, names: set[str]) -> Cloud:
        """The forces of the strands on several nodes, added up."""
        return cloud(self._points(strand_ways(self.network, names)), self.scale)

    def _points(self, ways: Array) -> Array:
        """What strands add up to (c, 3), each along its row of `ways` (s, 3): the first as expected."""
        if not self.boxed:
            return np.asarray(self.rows @ ways)
        there = np.flatnonzero(np.abs(ways).max(axis=1) > 1e-12)
        ends = np.stack([self.rows.min(axis=0), self.rows.max(axis=0)])[:, there]
        free = there[:_BOXED]
        picks = np.array(list(itertools.product((0, 1), repeat=len(free))), dtype=int).reshape(
            2 ** len(free), len(free)
        )
        values = ends[picks, np.arange(len(free))]
        return np.concatenate([self.rows[:1] @ ways, values @ ways[free]])
