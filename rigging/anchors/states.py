"""Every state asked of an anchor: the pull swung, each leg gone in turn, good and bad luck in each leg and in the pull.

Luck is each leg's stiffness anywhere in its range, by itself, and the pull anywhere that its lines can add up to. With one
set of legs tight a leg's force is a quotient of two expressions affine in each stiffness and linear in the pull: it is most
and least at corners (any text on structures: members added one by one change a flexibility by a matrix of rank one). A sliding
anchor's luck is the way the slider last ran, how much it rubs, and how stiff its cord is.

The swing is a cone: as far to either side as the leader said, and out and in by as much of that as the pull hangs. A leg
sees most on its rim or, if it lies inside, along its own line; both are asked."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rigging.anchors.pull import Asked, crossed, turned_to
from rigging.anchors.rig import LEVELS, AnchorRig, Level
from rigging.mechanics.bounds import beyond, chosen_corners, ends_and_middles, every_corner
from rigging.mechanics.built import follow
from rigging.mechanics.legs import Hangs, hang_all
from rigging.mechanics.sliding import held_on_line, shares_along, shares_of, slide_all
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import refuse
from rigging.quantities.kept import kept
from rigging.quantities.ranges import Range

SWEEP = 61
_BETWEEN = np.arange(1, 8) / 8
# A head that goes further than this as the load comes on has left the place that its legs were set for.
TRAVEL_M = 0.5
# Legs up to which every corner of their stiffnesses is asked; with more they are chosen by slope.
_EVERY_LEG = 4
# A pull of less than a newton, in kN: which way a slider runs under it is asked at a newton.
_LEAST_KN = 1e-3
# The middle of the cone, round half-way out and round its rim: shares (2, d) of how far it goes aside, and out.
_RIM_RAD, _INNER_RAD = np.arange(0, 2 * np.pi, np.pi / 8), np.arange(0, 2 * np.pi, np.pi / 4)
_OVER_CONE = np.concatenate(
    [np.zeros((2, 1)), [np.cos(_INNER_RAD) / 2, np.sin(_INNER_RAD) / 2], [np.cos(_RIM_RAD), np.sin(_RIM_RAD)]], axis=1
)


@dataclass(frozen=True)
class Swing:
    """How far a pull may swing to either side, and of how many directions each way is told what comes on the legs."""

    rad: float
    count: int = 3

    @property
    def offsets_rad(self) -> Array:
        return np.linspace(-self.rad, self.rad, self.count) if self.rad > 0 else np.zeros(1)


STEADY = Swing(0.0, 1)


@dataclass(frozen=True)
class States:
    """What the n legs of an anchor bear in newtons and where its point lies in metres.

    `offsets_rad` (d,) are directions to either side, `unit` (3,) the pull, `swept_n` (d, n) the forces expected at each offset.
    `low_n`, `expected_n`, `high_n` (r, n) bound them for r removals (0 none, then each leg asked) without swing, `swung_n` (2, n) over
    the whole cone of swing, `worst_rad` (n,) how far off the pull each sees most. `points` (r, 3) as expected, `moved` (r) how far
    it goes: loaded from unloaded, or when a leg goes, from where it was; `made_at` (3,) where it lies unloaded. `shares` (3, n) low,
    expected and high share of the pull on each leg. `uneven`: how
    many times another a leg of a sliding anchor may bear. `falls`, `falls_swung`: it stands as expected, but comes down somewhere
    in the ranges of stiffness and pull, or of the swing; what it then bears is in no figure.
    """

    offsets_rad: Array
    unit: Array
    swept_n: Array
    low_n: Array
    expected_n: Array
    high_n: Array
    swung_n: Array
    worst_rad: Array
    points: Array
    moved: tuple[Range, ...]
    made_at: Array
    shares: Array
    uneven: float = 1.0
    falls: bool = False
    falls_swung: bool = False

    def force(self, leg: int, removed: int = 0) -> Range:
        """Force on a leg over all luck, the pull without swing."""
        low, expected, high = (float(one[removed, leg]) for one in (self.low_n, self.expected_n, self.high_n))
        return Range(min(low, expected), expected, max(high, expected))

    def swung(self, leg: int) -> Range:
        """Force on a leg over all luck and the whole swing."""
        straight = self.force(leg)
        low, high = (float(one) for one in self.swung_n[:, leg])
        return Range(min(low, straight.low), straight.expected, max(high, straight.high))


def sideways(unit: Array) -> Array:
    """Level and square to a pull; for one that hangs, along y."""
    level = math.hypot(unit[0], unit[1])
    return np.array([-unit[1], unit[0], 0.0]) / level if level > 1e-6 else np.array([0.0, 1.0, 0.0])


def tilted(unit: Array, aside_rad: Array, out_rad: Array) -> Array:
    """A pull tilted (d, 3) by so much to the side and so much out."""
    side = sideways(unit)
    out = crossed(side, unit)
    angle = np.hypot(aside_rad, out_rad)
    way = aside_rad[:, None] * side + out_rad[:, None] * out
    way /= np.maximum(angle, 1e-12)[:, None]
    return np.asarray(np.cos(angle)[:, None] * unit + np.sin(angle)[:, None] * way)


def _cone(unit: Array, rad: float) -> Array:
    """Directions (d, 3) over the cone of swing, the pull itself first."""
    if rad <= 0:
        return unit[None]
    out = rad * abs(float(unit[2]))
    return tilted(unit, rad * _OVER_CONE[0], out * _OVER_CONE[1])


def _nearest_in_cone(unit: Array, rad: float, ways: Array) -> Array:
    """The directions of a cone that legs would pull along (n, 3), or the nearest to them on the rim."""
    ways = ways / np.maximum(np.sqrt(np.einsum("ni,ni->n", ways, ways)), 1e-12)[:, None]
    side = sideways(unit)
    across = ways @ np.stack([side, crossed(side, unit)], axis=1)
    far = np.sqrt(np.einsum("ni,ni->n", across, across))
    across *= (np.arccos(np.clip(ways @ unit, -1, 1)) / np.maximum(far, 1e-12))[:, None]
    share = across / np.array([rad, max(rad * abs(float(unit[2])), 1e-9)])
    across /= np.maximum(1.0, np.sqrt(np.einsum("ni,ni->n", share, share)))[:, None]
    return tilted(unit, across[:, 0], across[:, 1])


def all_states(rig: AnchorRig, asked: Asked, swing: Swing, removals: Sequence[int | None] | None = None) -> States:
    """Every state of an anchor under a pull.

    `removals` limits which legs are asked to go (None: the anchor whole). What can not be removed is not asked.

    Raises
    ------
    Refused
        If a state finds no balance.
    """
    return _states(rig, asked, swing, (None, *rig.removable) if removals is None else tuple(removals))


@kept(5_000)
def _states(rig: AnchorRig, asked: Asked, swing: Swing, wanted: tuple[int | None, ...]) -> States:
    if rig.slides:
        return _sliding(rig, asked, swing, wanted)
    return _Hanging(rig, asked, swing, wanted, _resting(rig)).states()


def alone(rig: AnchorRig, asked: Asked, swing: Swing) -> States:
    """A lone leg without a prop: it carries all of the pull, wherever that swings."""
    offsets, force = swing.offsets_rad, asked.force_n
    low, expected, high = (np.full((1, 1), one) for one in (force.low, force.expected, force.high))
    still = Range(0.0, 0.0, 0.0)
    return States(
        offsets, asked.unit, np.full((len(offsets), 1), force.expected), low, expected, high, np.concatenate([low, high]),
        np.zeros(1), rig.point[None], (still,), rig.point, np.ones((3, 1)),
    )  # fmt: skip


def at_least(rig: AnchorRig, asked: Asked, swing: Swing) -> States:
    """What each leg bears at its most, or less, and quickly: no leg's stiffness otherwise than expected, or without its swing.

    Raises
    ------
    Refused
        If that finds no balance.
    """
    if rig.slides or np.any(rig.whole.acts < 0):
        return all_states(rig, asked, STEADY, [None])
    loads, elements = turned_to(asked.ends, asked.unit, _cone(asked.unit, swing.rad)).reshape(-1, 3), rig.whole
    ea, rest = (np.repeat(one[1:2], len(loads), axis=0) for one in (elements.ea_kn, elements.rest_m))
    found = hang_all(elements.to, ea, rest, loads / 1000, np.broadcast_to(_resting(rig), loads.shape), elements.acts)
    forces = rig.bears(elements, found.tensions)
    ends = np.stack([forces.min(axis=0), forces.max(axis=0)])
    plain, still = forces[:1], Range(0.0, 0.0, 0.0)
    return States(
        np.zeros(1), asked.unit, plain, ends[:1], plain, ends[1:], ends, np.zeros(rig.count), rig.point[None], (still,), rig.point,
        np.ones((3, rig.count)),
    )  # fmt: skip


def _resting(rig: AnchorRig) -> Array:
    """Where the point lies with the legs tied and nothing on it: where it was tied, unless pretension moves it. What pushes is
    held where it is built until the load is on."""
    elements = rig.whole
    if np.any(elements.acts < 0) or np.all(
        np.linalg.norm(elements.to - rig.point, axis=1) <= elements.rest_m[1] + 1e-9
    ):
        return rig.point
    found = hang_all(
        elements.to, elements.ea_kn[1:2], elements.rest_m[1:2], np.zeros((1, 3)), rig.point[None], elements.acts
    )
    return np.asarray(found.points[0])


def _each_once(rows: Array) -> Array:
    """The rows that are not alike, each once."""
    return np.array(list({tuple(row): row for row in np.round(rows, 6).tolist()}.values()))


def _shares(forces: Array, loads: Array, corner: NDArray[np.bool_]) -> Array:
    """Low, expected and high share (3, n) of the pull on each leg, the first case as expected."""
    shares = forces / np.maximum(np.linalg.norm(loads, axis=1), 1.0)[:, None]
    low, high = beyond(shares, corner)
    return np.stack([np.maximum(low, 0.0), shares[0], high])


class _Hanging:
    """An anchor of elastic legs under one pull."""

    def __init__(self, rig: AnchorRig, asked: Asked, swing: Swing, wanted: tuple[int | None, ...], made_at: Array):
        self.rig, self.asked, self.swing, self.made_at = rig, asked, swing, made_at
        self.shapes = [rig.without(gone) for gone in wanted]
        self.beyond = [rig.reaches_on_m(gone) for gone in wanted]
        owners, stiff = rig.whole.owner, rig.whole.ea_kn
        # Legs whose stiffness is a range: what is known to the digit has no luck.
        self.lucky = [
            one for one in range(rig.count) if np.any(stiff[2, owners == one] > stiff[0, owners == one])
        ]  # fmt: skip
        self.owned = np.array([owners == one for one in self.lucky], dtype=int).reshape(len(self.lucky), len(owners))
        # What pushes stands where it was built, or comes down: other balances are none of its own.
        self.built = bool(np.any(rig.whole.acts < 0))
        # Drawn tight against each other, legs slacken before they take more: then a pull in between may leave a leg least.
        between = _BETWEEN[:, None] * (asked.ends[-1] - asked.ends[0]) + asked.ends[0]
        tight = any(line.leg.pretension_n for line in rig.lines)
        self.loads = np.concatenate([asked.ends, asked.expected[None], between]) if tight else asked.ends
        rows = range(len(self.shapes))
        starts = [made_at]
        for row in rows:
            starts.append(self._solve(row, self._plain(1), asked.expected[None], starts[min(row, 1)]).points[0])
        self.starts = starts[1:]
        if self.built and not np.linalg.norm(self.starts[0] - made_at) <= TRAVEL_M:
            raise refuse(
                "legs", "it does not stand under the pull", "guy it against the way it goes, or set its feet wider"
            )

    def states(self) -> States:
        unit, offsets, rows = self.asked.unit, self.swing.offsets_rad, range(len(self.shapes))
        # The same corners are asked of the whole anchor and of what is left: luck stays as it was when a leg goes.
        corners = [self._corners(row, self.loads) for row in rows]
        levels, loads = (np.concatenate(part) for part in zip(*corners, strict=True))
        cases = _each_once(np.hstack([levels, loads]))
        levels = np.concatenate([self._plain(1), cases[:, : len(self.lucky)]])
        loads = np.concatenate([self.asked.expected[None], cases[:, len(self.lucky) :]])
        found = [self._solve(row, levels, loads, self.starts[row]) for row in rows]
        forces = np.stack([self.rig.bears(self.shapes[row], one.tensions) for row, one in enumerate(found)])
        falls = bool(np.isnan(forces[0]).any())
        # With a leg gone, what pushes may come down whatever its luck: there is no figure then.
        down = [bool(np.isnan(one[0]).any()) for one in forces]
        forces[down] = 0.0
        before = [self.made_at, *(found[0].points for _ in rows[1:])]
        moved = [np.linalg.norm(one.points - start, axis=1) for one, start in zip(found, before, strict=True)]
        moved = [np.zeros(1) if gone else one for one, gone in zip(moved, down, strict=True)]
        swept = tilted(unit, offsets, np.zeros(len(offsets))) * self.asked.force_n.expected
        swung, worst = self._swung()
        at_end = (np.abs(loads[:, None] - self.asked.ends).max(axis=2) < 1e-3).any(axis=1)
        corner = self._at_corner(levels) & at_end
        low, high = (np.stack(part) for part in zip(*(beyond(one, corner) for one in forces), strict=True))
        return States(
            offsets, unit, np.nan_to_num(self._legs(0, self._plain(len(swept)), swept)), np.maximum(low, 0.0), forces[:, 0], high,
            swung, worst, np.stack([self.made_at if gone else one.points[0] for one, gone in zip(found, down, strict=True)]),
            tuple(Range(float(np.nanmin(one)), float(one[0]), float(np.nanmax(one))) for one in moved), self.made_at,
            _shares(forces[0], loads, corner), falls=falls, falls_swung=self.falls_swung,
        )  # fmt: skip

    def pushed(self) -> Range:
        """What props without a leg of their own bear."""
        pushes = (self.rig.whole.acts < 0) & (self.rig.whole.owner < 0)

        def figures(levels: Array, loads_n: Array) -> Array:
            found = self._solve(0, levels, loads_n, self.starts[0])
            return np.asarray(-found.tensions[:, pushes].sum(axis=1, keepdims=True) * 1000)

        count = len(self.lucky)
        rows = [figures(self._plain(1), self.asked.expected[None])]
        for end in self.asked.ends:

            def alike(levels: Array, end: Array = end) -> Array:
                return figures(levels, np.tile(end, (len(levels), 1)))

            rows.append(alike(every_corner(count) if count <= _EVERY_LEG else chosen_corners(count, alike)))
        bears = np.concatenate(rows)
        return Range(float(np.nanmin(bears)), float(bears[0, 0]), float(np.nanmax(bears)))

    def _plain(self, count: int) -> Array:
        return np.zeros((count, len(self.lucky)))

    def _solve(self, row: int, levels: Array, loads_n: Array, start: Array) -> Hangs:
        """A removal at levels (c, k) of the lucky legs' stiffness, under loads (c, 3)."""
        shape = self.shapes[row]
        level = 1 + levels.astype(int) @ self.owned
        columns = np.arange(len(shape.owner))
        ea, rest = shape.ea_kn[level, columns], shape.rest_m[level, columns] + self.beyond[row]
        if not self.built:
            return hang_all(shape.to, ea, rest, loads_n / 1000, np.broadcast_to(start, (len(levels), 3)), shape.acts)
        found = follow(shape.to, ea, rest, loads_n / 1000, self.made_at, shape.acts)
        down = np.logical_not(found.stands)[:, None]
        return Hangs(np.where(down, np.nan, found.found.points), np.where(down, np.nan, found.found.tensions))

    def _legs(self, row: int, levels: Array, loads_n: Array) -> Array:
        """Forces (c, n) on the legs."""
        return self.rig.bears(self.shapes[row], self._solve(row, levels, loads_n, self.starts[row]).tensions)

    def _under(self, row: int, load_n: Array) -> Callable[[Array], Array]:
        """Forces on the legs under one load, at levels of their stiffness."""
        return lambda levels: self._legs(row, levels, np.tile(load_n, (len(levels), 1)))

    def _corners(self, row: int, loads_n: Array) -> tuple[Array, Array]:
        """Levels (c, k) and loads (c, 3) that bound the leg forces under each of several loads."""
        count = len(self.lucky)
        if count <= _EVERY_LEG:
            levels = [ends_and_middles(count)] * len(loads_n)
        else:
            levels = [chosen_corners(count, self._under(row, one)) for one in loads_n]
        return np.concatenate(levels), np.repeat(loads_n, [len(one) for one in levels], axis=0)

    def _nothing(self) -> tuple[Array, Array]:
        """No direction of the swing in which it stands."""
        count = self.rig.count
        return np.stack([np.full(count, np.inf), np.full(count, -np.inf)]), np.zeros(count)

    def _at_corner(self, levels: Array) -> NDArray[np.bool_]:
        """Which rows have every leg at an end of its range: all, where no leg's stiffness is one."""
        return np.asarray((levels != 0).all(axis=1))

    def _swung(self) -> tuple[Array, Array]:
        """Least and most on each leg over the cone (2, n), and how far to the side of the pull that is most (n,)."""
        unit, ends, rad = self.asked.unit, self.asked.ends, self.swing.rad
        loads = turned_to(ends, unit, _cone(unit, rad)).reshape(-1, 3)
        plain = self._legs(0, self._plain(len(loads)), loads)
        stands = ~np.isnan(plain).any(axis=1)
        self.falls_swung = not stands.all()
        loads, plain = loads[stands], plain[stands]
        if not len(loads):
            return self._nothing()
        most, least = loads[plain.argmax(axis=0)], loads[plain.argmin(axis=0)]
        if rad > 0:
            # Were a leg's force linear in the pull, it would be greatest along the leg's own line, if that is in the cone.
            slopes = np.asarray(np.linalg.lstsq(loads, plain, rcond=None)[0].T, dtype=float)
            aligned = turned_to(ends, unit, _nearest_in_cone(unit, rad, slopes))
            best = np.einsum("nmi,ni->nm", aligned, slopes).argmax(axis=1)
            most = np.concatenate([most, aligned[np.arange(len(best)), best]])
        levels, asked = self._corners(0, _each_once(np.concatenate([most, least])))
        forces = self._legs(0, levels, asked)
        stands = ~np.isnan(forces).any(axis=1)
        self.falls_swung |= not stands.all()
        forces, asked = forces[stands], asked[stands]
        if not len(forces):
            return self._nothing()
        peaks = asked[forces.argmax(axis=0)]
        aside = peaks @ sideways(unit) / np.maximum(np.linalg.norm(peaks, axis=1), 1e-9)
        low, high = beyond(forces, self._at_corner(levels[stands]))
        if rad > 0:
            again = self._swung_at(levels[stands][forces.argmax(axis=0)])
            # Between two directions that were asked a force linear in the pull is no more than this above the greater.
            high = np.maximum(high, np.nan_to_num(again)) / math.cos(rad / 4)
        return np.stack([np.maximum(low, 0.0), high]), np.arcsin(np.clip(aside, -1, 1))

    def _swung_at(self, levels: Array) -> Array:
        """Most on each leg (n,) over the cone with stiffnesses (n, k) at which it bears most: they move where it looks."""
        unit, ends, rad = self.asked.unit, self.asked.ends, self.swing.rad
        cone = turned_to(ends, unit, _cone(unit, rad)).reshape(-1, 3)
        plain = self._legs(0, np.repeat(levels, len(cone), axis=0), np.tile(cone, (len(levels), 1)))
        plain = plain.reshape(len(levels), len(cone), -1)[np.arange(len(levels)), :, np.arange(len(levels))]
        slopes = np.asarray(np.linalg.lstsq(cone, np.nan_to_num(plain).T, rcond=None)[0].T, dtype=float)
        aligned = turned_to(ends, unit, _nearest_in_cone(unit, rad, slopes))
        best = aligned[np.arange(len(slopes)), np.einsum("nmi,ni->nm", aligned, slopes).argmax(axis=1)]
        straight = np.diag(self._legs(0, levels, best))
        return np.asarray(np.fmax(straight, np.nanmax(plain, axis=1)))


@kept(500)
def prop_force(rig: AnchorRig, asked: Asked) -> Range:
    """What the pole under the point bears in newtons, wherever stiffness and pull are in their ranges."""
    return _Hanging(rig, asked, STEADY, (None,), _resting(rig)).pushed()


def _sliding(rig: AnchorRig, asked: Asked, swing: Swing, wanted: tuple[int | None, ...]) -> States:
    """Equal tension first, to see which way the slider runs as the pull swings; then with friction, run either way."""
    unit, offsets = asked.unit, swing.offsets_rad
    ways = _cone(unit, swing.rad)
    swept = tilted(unit, offsets, np.zeros(len(offsets)))
    every = np.concatenate([swept, ways])
    found = [_slid_over(rig, asked, every, np.concatenate([offsets, np.zeros(len(ways))]), gone) for gone in wanted]
    straight = len(offsets)
    forces = [one[0] for one in found]
    points = [one[1][straight, 0] for one in found]
    moved = []
    for row, (_, where, _) in enumerate(found):
        apart = np.linalg.norm(where[straight] - (rig.point if row == 0 else found[0][1][straight]), axis=1)
        moved.append(Range(float(apart.min()), float(apart[0]), float(apart.max())))
    whole = forces[0][straight:]
    by_way = whole.max(axis=1)
    uneven = float(
        (whole.max(axis=2) / np.maximum(whole.min(axis=2), np.maximum(1e-3 * whole.max(axis=2), 1e-9))).max()
    )
    aside = np.arcsin(np.clip(ways @ sideways(unit), -1, 1))
    return States(
        offsets, unit, forces[0][: len(offsets), 0], np.stack([one[straight].min(axis=0) for one in forces]),
        np.stack([one[straight, 0] for one in forces]), np.stack([one[straight].max(axis=0) for one in forces]),
        np.stack([whole.min(axis=(0, 1)), whole.max(axis=(0, 1))]), aside[by_way.argmax(axis=0)], np.stack(points), tuple(moved), rig.point,
        _shares(forces[0][straight], found[0][2][straight], np.arange(len(forces[0][straight])) > 0), uneven,
    )  # fmt: skip


def _slid_over(
    rig: AnchorRig, asked: Asked, ways: Array, offsets: Array, gone: int | None
) -> tuple[Array, Array, Array]:
    """Forces (d, c, n) in newtons, points (d, c, 3) and pulls (d, c, 3) in newtons along each direction: as expected, then every end of pull and stiffness
    with the slider run either way."""
    to, count = rig.whole.to[: rig.count], rig.count
    there = np.array([0.0 if index == gone else 1.0 for index in range(count)])
    # A loop round fewer legs is as long as before: the legs left share what the lost one gives up.
    cords, stiff = [rig.slack_cord_m(gone, level) for level in LEVELS], rig.strand_ea_kn
    kept = [rig.knots_m(level) for level in LEVELS]
    ends = np.moveaxis(turned_to(asked.ends / 1000, asked.unit, ways), 1, 0)
    given = [(asked.force_n.expected / 1000 * ways, 1), *((end, level) for end in ends for level in (0, 2))]
    each, cases = np.ones(len(ways)), 2 * len(given) - 1
    loads, cord, ea, knots = (
        np.concatenate(part)
        for part in zip(
            *((load, cords[at] * each, stiff[at] * each, np.outer(each, kept[at])) for load, at in given), strict=True
        )
    )
    # A pull that may be nothing lies where the least one does, and bears what it is.
    size = np.linalg.norm(loads, axis=1)
    part = np.minimum(size / _LEAST_KN, 1.0)
    loads = np.where((part < 1)[:, None], _LEAST_KN * np.tile(ways, (len(given), 1)), loads)
    # Where equal tension brings the point, and so which way the slider runs, goes with pull and stiffness, too.
    equal = _slid(rig, np.tile(there * rig.strands, (len(loads), 1)), cord, knots, ea, loads, None)
    away = equal.points[:, None] - to
    legs = away / np.maximum(np.linalg.norm(away, axis=2), 1e-9)[..., None]
    grows = np.einsum("bni,bi->bn", legs, np.tile(_sideways(ways), (len(given), 1)))
    first = np.arange(len(ways))
    plain = _run(rig, grows[first] * np.sign(offsets)[:, None], legs[first], "expected", there)
    rest = np.arange(len(ways), len(loads))
    either = [_run(rig, way * grows[rest], legs[rest], "low", there) for way in (1, -1)]
    rows = np.concatenate([first, rest, rest])
    start = Hangs(equal.points[rows], equal.tensions[rows])
    found = _slid(rig, np.concatenate([plain, *either]), cord[rows], knots[rows], ea[rows], loads[rows], start)
    forces = (found.tensions * part[rows, None]).reshape(cases, len(ways), count).transpose(1, 0, 2) * 1000
    pulls = (loads * part[:, None])[rows].reshape(cases, len(ways), 3).transpose(1, 0, 2) * 1000
    return forces, found.points.reshape(cases, len(ways), 3).transpose(1, 0, 2), pulls


def _run(rig: AnchorRig, grows: Array, legs: Array, level: Level, there: Array) -> Array:
    """k of each leg (b, n) once its cord has run as the legs grow: on the slider, and of one piece round what it passes, too."""
    eta = getattr(rig.slider_eta, level)
    if rig.arrangement.piece is None:
        return shares_of(grows, legs, eta, there)
    to = rig.course.strands
    between: list[Array] = []
    for one, on in itertools.pairwise(to):
        if rig.course.at_feature(len(between)):
            between.append(np.full(len(grows), getattr(rig.passed_on[one], level)))
        else:
            turn = np.pi - np.arccos(np.clip(np.einsum("bi,bi->b", legs[:, one], legs[:, on]), -1, 1))
            between.append(eta ** (turn / np.pi))
    return shares_along(grows, to, np.stack(between, axis=1), there)


def _sideways(unit: Array) -> Array:
    """Level and square to each pull: the way the point runs when it swings."""
    return np.array([sideways(one) for one in unit])


def _slid(
    rig: AnchorRig, shares: Array, cord: Array, knots: Array, ea: Array, load: Array, start: Hangs | None
) -> Hangs:
    count = len(shares)
    place = np.broadcast_to(rig.point, (count, 3)) if start is None else start.points
    to = rig.whole.to[: rig.count]
    if rig.scheme.made == "line" and np.all(shares > 0):
        return held_on_line(to, ea, cord, load, place)
    return slide_all(to, shares, ea, cord, load, place, np.array(rig.strands, dtype=float), knots)
