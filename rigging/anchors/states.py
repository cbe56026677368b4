"""Every state asked of an anchor: the pull swung to either side, each leg gone in turn, good and bad luck in each leg.

Luck is one leg at a time: its force is highest with that leg stiff, all others soft and the pull at its most, and lowest
with the opposite. A sliding anchor's luck is the way the slider last ran and how much it rubs."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rigging.anchors.rig import AnchorRig, Elements
from rigging.catalogue import catalogue
from rigging.mechanics.legs import Hangs, hang_all
from rigging.mechanics.sliding import held_on_line, shares_of, slide_all
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range, spanning

SWEEP = 61


@dataclass(frozen=True)
class States:
    """Forces on the n legs in newtons and the point's place in metres, for r removals (0 none, then each leg), d
    directions (`offsets_rad` from the pull) and c cases of luck (0 the expected one).

    `forces_n` (r, d, c, n), `points` (r, d, c, 3); `unit` (d, 3) the directions; `made_at` (3,) where it lies unloaded.
    """

    offsets_rad: Array
    unit: Array
    forces_n: Array
    points: Array
    made_at: Array

    @property
    def straight(self) -> int:
        """Index of the direction that does not swing."""
        return len(self.offsets_rad) // 2

    def force(self, leg: int, removed: int = 0) -> Range:
        """Force on a leg over all luck, the pull straight."""
        row = self.forces_n[removed, self.straight, :, leg]
        return Range(low=float(row.min()), expected=float(row[0]), high=float(row.max()))

    def swung(self, leg: int) -> Range:
        """Force on a leg over all luck and the whole swing."""
        rows = self.forces_n[0, :, :, leg]
        return Range(low=float(rows.min()), expected=float(rows[self.straight, 0]), high=float(rows.max()))

    def moved_m(self, removed: int = 0) -> Range:
        """How far the point goes: loaded from unloaded, or when a leg goes, from where it was."""
        s = self.straight
        start = self.made_at if removed == 0 else self.points[0, s]
        apart = np.linalg.norm(self.points[removed, s] - start, axis=1)
        return Range(low=float(apart.min()), expected=float(apart[0]), high=float(apart.max()))


def directions(pull: Array, offsets_rad: Array) -> Array:
    """The pull swung about the vertical by each offset: (d, 3)."""
    cos, sin = np.cos(offsets_rad), np.sin(offsets_rad)
    x = cos * pull[0] - sin * pull[1]
    y = sin * pull[0] + cos * pull[1]
    return np.stack([x, y, np.full_like(x, pull[2])], axis=1)


def offsets(swing_rad: float, count: int = SWEEP) -> Array:
    return np.linspace(-swing_rad, swing_rad, count) if swing_rad > 0 else np.zeros(1)


def luck(rig: AnchorRig, elements: Elements, force_n: Range) -> tuple[Array, Array, Array]:
    """Force (c,) in kN, EA (c, m) in kN and unloaded lengths (c, m) in metres of each case."""
    forces, levels = [force_n.expected], [np.ones(len(elements.owner), dtype=int)]
    for leg in range(rig.count):
        mine = elements.owner == leg
        forces += [force_n.high, force_n.low]
        levels += [np.where(mine, 2, 0), np.where(mine, 0, 2)]
    level, column = np.array(levels), np.arange(len(elements.owner))
    return np.array(forces) / 1000, elements.ea_kn[level, column], elements.rest_m[level, column]


def all_states(
    rig: AnchorRig, forces_n: list[Range], pull: Array, swing: Array, removals: list[int | None] | None = None
) -> list[States]:
    """Every state of an anchor under pulls of several sizes along `pull` (3,), for each size.

    `swing` (d,) are the offsets to ask about; `removals` limits which legs are asked to go (None: the anchor whole).
    What can not be removed is not asked.
    """
    unit = directions(pull, swing)
    wanted: list[int | None] = [None, *rig.removable] if removals is None else removals
    if rig.slides:
        forces, points, made_at = _sliding(rig, forces_n, unit, swing, wanted)
    else:
        forces, points, made_at = _hanging(rig, forces_n, unit, wanted)
    each = forces.shape[2] // len(forces_n)
    cuts = [slice(number * each, (number + 1) * each) for number in range(len(forces_n))]
    return [States(swing, unit, forces[:, :, cut], points[:, :, cut], made_at) for cut in cuts]


def _resting(rig: AnchorRig) -> Array:
    """Where the point lies with the legs tied and nothing on it: where it was tied, unless pretension moves it."""
    elements = rig.whole
    if np.all(np.linalg.norm(elements.to - rig.point, axis=1) <= elements.rest_m[1] + 1e-9):
        return rig.point
    return np.asarray(_expected([elements], np.zeros(1), np.zeros(3), rig.point)[0])


def _hanging(
    rig: AnchorRig, forces_n: list[Range], unit: Array, wanted: list[int | None]
) -> tuple[Array, Array, Array]:
    shapes = [rig.without(gone) for gone in wanted]
    beyond = [rig.reaches_on_m(gone) for gone in wanted]
    made_at = _resting(rig)
    to, ea, rest, load = [], [], [], []
    for reach, one in zip(beyond, shapes, strict=True):
        cases = [luck(rig, one, force) for force in forces_n]
        forces, stiffness, unloaded = (np.concatenate(parts) for parts in zip(*cases, strict=True))
        count = len(unit) * len(forces)
        ea.append(np.tile(stiffness, (len(unit), 1)))
        rest.append(np.tile(unloaded + reach, (len(unit), 1)))
        to.append(np.broadcast_to(one.to, (count, *one.to.shape)))
        load.append((unit[:, None] * forces[None, :, None]).reshape(-1, 3))
    straight = forces_n[0].expected / 1000 * unit[len(unit) // 2]
    # Each search starts from where the point rests with the same leg gone, the pull straight.
    near = _expected(shapes, np.array(beyond), straight, made_at) if len(wanted) > 1 else made_at[None]
    found = hang_all(
        np.concatenate(to), np.concatenate(ea), np.concatenate(rest), np.concatenate(load),
        np.repeat(near, count, axis=0), shapes[0].acts,
    )  # fmt: skip
    shape = (len(wanted), len(unit), -1)
    tension = found.tensions.reshape(*shape, found.tensions.shape[1])
    on_legs = np.stack([rig.bears(one, tension[row]) for row, one in enumerate(shapes)])
    return on_legs, found.points.reshape(*shape, 3), made_at


def _expected(shapes: list[Elements], beyond_m: Array, load_kn: Array, start: Array) -> Array:
    """Where the point of each of several sets of elements comes to rest (r, 3) under one load, at expected stiffness."""
    to = np.stack([one.to for one in shapes])
    ea = np.stack([one.ea_kn[1] for one in shapes])
    rest = np.stack([one.rest_m[1] for one in shapes]) + beyond_m[:, None]
    everywhere = np.ones((len(shapes), 1))
    return hang_all(to, ea, rest, everywhere * load_kn, everywhere * start, shapes[0].acts).points


def prop_force(rig: AnchorRig, force_n: Range, unit: Array) -> Range:
    """What the pole under the point bears in newtons, at low, expected and high pull and stiffness alike."""
    whole = rig.whole
    load = np.array([force_n.low, force_n.expected, force_n.high])[:, None] / 1000 * unit
    found = hang_all(whole.to, whole.ea_kn, whole.rest_m, load, np.tile(rig.point, (3, 1)), whole.acts)
    pushed = -found.tensions[:, whole.acts < 0].sum(axis=1) * 1000
    return spanning(*(float(one) for one in pushed))


def slider_eta(rig: AnchorRig) -> Range:
    return catalogue().bends[rig.arrangement.slider].eta


def _sliding(
    rig: AnchorRig, forces_n: list[Range], unit: Array, swing: Array, wanted: list[int | None]
) -> tuple[Array, Array, Array]:
    """Equal tension first, to see which way the slider runs as the pull swings; then with friction, run either way."""
    to, eta, count = rig.whole.to[: rig.count], slider_eta(rig), rig.count
    sizes = [max(size, 1.0) / 1000 for one in forces_n for size in (one.expected, one.high, one.high, one.low, one.low)]
    found_forces, found_points = [], []
    for gone in wanted:
        there = np.array([0.0 if index == gone else 1.0 for index in range(count)])
        # A loop round fewer legs is as long as before: the legs left share what the lost one gives up.
        cord = rig.slack_cord_m(gone)
        equal = _slid(rig, np.tile(there, (len(unit), 1)), cord, forces_n[0].expected / 1000 * unit, None)
        runs = np.gradient(equal.points, axis=0) if len(unit) > 1 else _sideways(unit)
        away = equal.points[:, None] - to
        legs = away / np.maximum(np.linalg.norm(away, axis=2), 1e-9)[..., None]
        grows = np.einsum("bni,bi->bn", legs, runs)
        plain = shares_of(grows * np.sign(swing)[:, None], legs, eta.expected, there)
        either = [shares_of(way * grows, legs, eta.low, there) for way in (1, -1)]
        shares = np.stack([plain, *either, *either] * len(forces_n), axis=1).reshape(-1, count)
        loads = (unit[:, None] * np.array(sizes)[None, :, None]).reshape(-1, 3)
        start = Hangs(np.repeat(equal.points, len(sizes), axis=0), np.repeat(equal.tensions, len(sizes), axis=0))
        found = _slid(rig, shares, cord, loads, start)
        found_forces.append(found.tensions.reshape(len(unit), len(sizes), count) * 1000)
        found_points.append(found.points.reshape(len(unit), len(sizes), 3))
    return np.stack(found_forces), np.stack(found_points), rig.point


def _sideways(unit: Array) -> Array:
    """Level and square to the pull: the way the point runs when the pull swings."""
    return np.stack([-unit[:, 1], unit[:, 0], np.zeros(len(unit))], axis=1)


def _slid(rig: AnchorRig, shares: Array, cord_m: float, load: Array, start: Hangs | None) -> Hangs:
    count = len(shares)
    ea = np.full(count, float(rig.whole.ea_kn[1, : rig.count].mean()))
    place = np.broadcast_to(rig.point, (count, 3)) if start is None else start.points
    to, cord = rig.whole.to[: rig.count], np.full(count, cord_m)
    if rig.arrangement.scheme == "span" and np.all(shares > 0):
        return held_on_line(to, ea, cord, load, place)
    return slide_all(to, shares, ea, cord, load, place)
