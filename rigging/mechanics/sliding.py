"""A loop that slides: legs share one length of cord, and friction where it slides keeps their tensions apart.

Leg i pulls with k_i·T along its direction u_i. Balance of forces and the cord's length are four equations for the
point p and T:

    Σ k_i·T·u_i(p) = F,      Σ n_i·L_i(p) = R·(1 + T·Σk/Σn/EA)

n_i strands of the cord go to leg i, and k_i is their sum. With k = n this is a frictionless slider. Sliding, the strand that cord runs from carries η of the one it runs to
(the same rule as at every other bend), so a leg that shortens has k = η^(turn/π) and one that lengthens k = 1.

A knot beside the slider ends the sliding: a leg whose cord has run down to it keeps that cord R_i for itself, and pulls with
n_i·EA·(n_i·L_i − R_i)/R_i or is slack; the others share what is left."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from rigging.mechanics.legs import Hangs
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import refuse

_STEPS = 200
_BALANCED = 1e-8
_HALVINGS, _EXACT = 24, 60


def slide_all(
    to: Array, shares: Array, ea: Array, rest: Array, load: Array, start: Array, strands: Array | None = None,
    least: Array | None = None,
) -> Hangs:  # fmt: skip
    """Equilibria of many states of a sliding anchor, worked out side by side by damped Newton steps.

    Parameters
    ----------
    to : (n, 3) ends of the legs, m
    shares : (b, n) k of each leg; 0 for a leg that is gone
    ea : (b,) stiffness of a strand in kN
    rest : (b,) cord shared by the legs, summed over their strands, m
    load : (b, 3) kN, not zero
    start : (b, 3) m
    strands : (n,) of the cord to each leg; one each if left out
    least : (b, n) cord that each leg keeps once its knot meets the slider, summed over its strands, m; 0 or left out
        without a knot. All together no more than the cord there is

    Raises
    ------
    Refused
        If no balance is found: the pull runs away from the legs, or the cord is too short to reach.
    """
    strands = np.ones(len(to)) if strands is None else strands
    cords = _Cords(to, strands, shares, ea, rest, load, np.linalg.norm(load, axis=1), np.zeros(shares.shape))
    unknown = _balanced(cords, start)
    if least is None:
        return Hangs(unknown[:, :3], cords.forces(unknown))
    for _ in range(len(to) - 1):
        # Of what has run past its knot, the leg that did so furthest is on it; whether another is, is seen then.
        past = np.where(cords.there > 0, least - cords.cord(unknown), 0.0)
        rows = past.max(axis=1) > _BALANCED
        rows &= (cords.there > 0).sum(axis=1) > 1
        if not rows.any():
            break
        on_knot = rows[:, None] & (past == past.max(axis=1, keepdims=True))
        cords = cords.by_itself(on_knot, least)
        unknown[rows] = _balanced(cords.only(rows), unknown[rows, :3])
    return Hangs(unknown[:, :3], cords.forces(unknown))


def _balanced(cords: _Cords, start: Array) -> Array:
    """Point and tension (b, 4) of each state."""
    # A leg left alone hangs straight along the load from its own end.
    alone = (cords.shares > 0).sum(axis=1) == 1
    start = np.where(alone[:, None], cords.to[np.argmax(cords.shares, axis=1)], start)
    unknown = _pulled_out(cords, start)
    going = np.arange(len(unknown))
    for _ in range(_STEPS):
        value = cords.residual(unknown[going])
        off = np.linalg.norm(value, axis=1)
        rows = off >= _BALANCED * (1 + cords.size)
        if not rows.any():
            return unknown
        going, value, off, cords = going[rows], value[rows], off[rows], cords.only(rows)
        here = unknown[going]
        step = np.linalg.solve(cords.jacobian(here) + 1e-12 * np.eye(4), -value[..., None])[..., 0]
        far = np.linalg.norm(step[:, :3], axis=1)
        step *= np.minimum(1.0, 0.5 * cords.rest / np.maximum(far, 1e-30))[:, None]
        unknown[going] = _backed_off(cords, here, step, off)
    raise refuse("legs", "the sliding loop finds no balance", "check its length and the direction of pull")


def held_on_line(to: Array, ea: Array, rest: Array, load: Array, start: Array) -> Hangs:
    """A carriage that rolls on one cord between two ends and is held along it by tag lines.

    The cord pulls alike on either side; the part of the load square to the line between the ends is balanced by the
    sag, the part along it is left to the tag lines. Parameters as in `slide_all`, `to` (2, 3).
    """
    chord = (to[1] - to[0]) / np.linalg.norm(to[1] - to[0])
    square = load - (load @ chord)[:, None] * chord
    size = np.maximum(np.linalg.norm(square, axis=1), 1e-9)
    on_line = to[0] + ((start - to[0]) @ chord)[:, None] * chord
    alike, own = np.ones((len(load), 2)), np.zeros((len(load), 2))
    found = _pulled_out(_Cords(to, np.ones(2), alike, ea, rest, square, size, own), on_line, _EXACT)
    return Hangs(found[:, :3], np.repeat(found[:, 3:], 2, axis=1))


def _pulled_out(cords: _Cords, start: Array, halvings: int = _HALVINGS) -> Array:
    """A first guess (b, 4): each start moved along its load until the cord there holds the load's size along it."""
    along, give, there = cords.load / cords.size[:, None], cords.give, cords.there
    low, high = np.zeros(len(start)), np.linalg.norm(cords.to - start[:, None], axis=2).max(axis=1) + cords.rest
    for _ in range(halvings):
        middle = (low + high) / 2
        point = start + middle[:, None] * along
        length, unit = cords.legs(np.concatenate([point, middle[:, None]], axis=1))
        tension = np.maximum(0.0, np.einsum("bn,bn->b", length, there) - cords.rest) / give
        holds = np.einsum("bn,bni,bi->b", cords.shares * tension[:, None], unit, along) >= cords.size
        low, high = np.where(holds, low, middle), np.where(holds, middle, high)
    return np.concatenate([point, np.maximum(tension, 0.1 * cords.size)[:, None]], axis=1)


def _backed_off(cords: _Cords, here: Array, step: Array, off: Array) -> Array:
    """Each state a whole step on, or as much of it as brings it nearer to balance."""
    part = np.ones(len(here))
    for _ in range(25):
        trial = here + part[:, None] * step
        trial[:, 3] = np.maximum(trial[:, 3], 1e-3 * here[:, 3])
        worse = np.linalg.norm(cords.residual(trial), axis=1) > (1 - 1e-4 * part) * off
        if not worse.any():
            break
        part = np.where(worse, part / 2, part)
    return trial


@dataclass(frozen=True)
class _Cords:
    """The four equations of each state at given (b, 4) unknowns: point and tension. `own` (b, n) is the cord of a leg that is on
    its knot, and then shares in nothing; 0 for the others."""

    to: Array
    strands: Array
    shares: Array
    ea: Array
    rest: Array
    load: Array
    size: Array
    own: Array

    def only(self, rows: Array) -> _Cords:
        parts = (self.shares, self.ea, self.rest, self.load, self.size, self.own)
        return _Cords(self.to, self.strands, *(part[rows] for part in parts))

    def by_itself(self, legs: Array, least: Array) -> _Cords:
        """The same with those legs (b, n) on their knots."""
        kept = np.where(legs, least, 0.0)
        shares = np.where(legs, 0.0, self.shares)
        return replace(self, shares=shares, rest=self.rest - kept.sum(axis=1), own=self.own + kept)

    @property
    def give(self) -> Array:
        """Stretch of the whole cord per unit of T."""
        return np.asarray(self.rest * self.shares.sum(axis=1) / np.maximum(self.there.sum(axis=1), 1) / self.ea)

    @property
    def there(self) -> Array:
        """Strands (b, n) to the legs that are there."""
        return np.asarray((self.shares > 0) * self.strands)

    def legs(self, x: Array) -> tuple[Array, Array]:
        away = x[:, None, :3] - self.to
        length = np.maximum(np.sqrt(np.einsum("bni,bni->bn", away, away)), 1e-9)
        return length, away / length[..., None]

    def cord(self, x: Array) -> Array:
        """Unloaded cord (b, n) that lies on each leg's side of the slider."""
        pulled = self.shares * x[:, 3:] / np.maximum(self.strands, 1) / self.ea[:, None]
        return self.legs(x)[0] * self.strands / (1 + pulled)

    def forces(self, x: Array) -> Array:
        """What each leg pulls with (b, n), in kN."""
        return self.shares * x[:, 3:] + self._on_knots(self.legs(x)[0])[0]

    def _on_knots(self, length: Array) -> tuple[Array, Array]:
        """Pull of the legs that are on their knots, and what it grows by with their length."""
        if not self.own.any():
            return np.zeros(1), np.zeros(1)
        over = length * self.strands - self.own
        taut = (self.own > 0) & (over > 0)
        rises = np.where(taut, self.strands * self.ea[:, None] / np.where(taut, self.own, 1.0), 0.0)
        return rises * over, rises * self.strands

    def residual(self, x: Array) -> Array:
        length, unit = self.legs(x)
        pulls = self.shares * x[:, 3:] + self._on_knots(length)[0]
        force = np.einsum("bn,bni->bi", pulls, unit) - self.load
        over = (length * self.there).sum(axis=1) - self.rest - self.give * x[:, 3]
        return np.concatenate([force, (over * self.size)[:, None]], axis=1)

    def jacobian(self, x: Array) -> Array:
        length, unit = self.legs(x)
        pulls, rises = self._on_knots(length)
        across = (self.shares * x[:, 3:] + pulls) / length
        found = np.zeros((len(x), 4, 4))
        found[:, :3, :3] = across.sum(axis=1)[:, None, None] * np.eye(3)
        found[:, :3, :3] += np.einsum("bn,bni,bnj->bij", rises - across, unit, unit)
        found[:, :3, 3] = np.einsum("bn,bni->bi", self.shares, unit)
        found[:, 3, :3] = np.einsum("bn,bni->bi", self.there, unit) * self.size[:, None]
        found[:, 3, 3] = -self.give * self.size
        return found


def shares_of(lengthens: Array, unit: Array, eta: float, there: Array) -> Array:
    """k of each leg as the slider runs: 1 where it lengthens, else η^(turn/π) at every pass to a leg that does.

    Parameters
    ----------
    lengthens : (b, n) how much each leg grows, m
    unit : (b, n, 3) directions of the legs
    eta : share of tension a half turn passes on
    there : (n,) 1 for a leg that is there, 0 for one that is gone
    """
    left = np.flatnonzero(there)
    count = len(left)
    shares = np.zeros(lengthens.shape)
    shares[:, left] = 1.0
    if count < 2:
        return shares
    legs = np.asarray(unit[:, left])
    grows = np.asarray(lengthens[:, left] > 0)
    turn = np.pi - np.arccos(np.clip(np.einsum("bni,bmi->bnm", legs, legs), -1, 1))
    beside = np.abs(np.subtract.outer(np.arange(count), np.arange(count)))
    meets = (beside == 1) | ((beside == count - 1) & (count > 2))
    passed = np.where(meets, eta ** (turn / np.pi), 0.0) + np.eye(count)
    for _ in range(count - 2):
        passed = np.max(passed[:, :, :, None] * passed[:, None, :, :], axis=2)
    runs = np.asarray(grows.any(axis=1) & ~grows.all(axis=1))
    reached = np.max(np.where(grows[:, None, :], passed, 0.0), axis=2)
    shares[:, left] = np.where(runs[:, None] & ~grows, reached, 1.0)
    return shares


def shares_along(lengthens: Array, to: Sequence[int], passes: Array, there: Array) -> Array:
    """k of each leg (b, n), summed over its strands, as one cord runs on its way past features and slider.

    Over each pass it runs from where the way before it gets shorter to where it gets longer, and the strand that it runs from carries the pass's share of
    the one that it runs to. The strand that is pulled most has 1.

    Parameters
    ----------
    lengthens : (b, n) how much each leg grows, m
    to : the leg of each of the m strands, in their order
    passes : (b, m − 1) share of tension passed on between strands
    there : (n,) 1 for a leg that is there, 0 for one that is gone: its strands are pulled through
    """
    legs = np.asarray(to)
    grown = np.cumsum((lengthens * there)[:, legs], axis=1)[:, :-1]
    # What gets shorter before a pass runs on over it.
    rises = np.sign(np.where(np.abs(grown) < 1e-12, 0.0, -grown)) * -np.log(passes)
    log = np.concatenate([np.zeros((len(rises), 1)), np.cumsum(rises, axis=1)], axis=1)
    each = np.exp(log - log.max(axis=1, keepdims=True))
    of_leg = legs[:, None] == np.arange(lengthens.shape[1])
    return np.asarray(each @ of_leg * there)
