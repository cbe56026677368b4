"""An arrangement compiled for the legs solver: what pulls on its free point, from where, how stiffly, how long unloaded.

Nothing below this module knows a scheme by name; here each scheme becomes elements (legs, props, ground springs) that
act on one free point, and a rule for which leg bears which element's force."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property, partial
from typing import Literal

import numpy as np

from rigging.anchors.one_piece import Course, bights_of, course_of
from rigging.anchors.wraps import closes_at_m, friction_of, material_of, radius_of, strands_of, turns_of
from rigging.catalogue import AnchorScheme, catalogue
from rigging.document import Arrangement, Feature, Leg, Place3, Plan
from rigging.document.site import Condition
from rigging.mechanics.legs import unloaded
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range
from rigging.site.conditions import sling_ea_n
from rigging.site.features import kind_of

# A pole on its footing: the ground under it gives far more than the wood.
_POLE_EA_KN = 150.0
_GATHER_M = 2.0
Level = Literal["low", "expected", "high"]
LEVELS: tuple[Level, ...] = ("low", "expected", "high")
_GROUND_SPAN_M = 100.0


def at(place: Place3 | Feature) -> Array:
    return np.array([place.x_m, place.y_m, place.z_m])


@dataclass(frozen=True)
class LegLine:
    """A leg laid out: its feature, the distance it spans, its stiffness in kN as a range, the length it is tied to, wet or not."""

    index: int
    leg: Leg
    feature: Feature
    toward: Array
    spans_m: float
    radius_m: float | None
    ea_kn: Range
    tied_m: float
    state: Condition | None = None

    def rest_m(self, ea_kn: float) -> float:
        """Its unloaded length: as tied, or what leaves it with its pretension however stiff it is."""
        return unloaded(self.tied_m, (self.leg.pretension_n or 0.0) / 1000, ea_kn)

    @property
    def rise_rad(self) -> float:
        """How far the leg pulls upward on its feature."""
        away = self.toward - at(self.feature)
        return math.atan2(away[2], math.hypot(away[0], away[1]))


def ropes_of(arrangement: Arrangement) -> int:
    """Ropes side by side in each leg; one line to each anchor shares them out between an end's two legs."""
    span = arrangement.span
    if span is None:
        return 1
    return max(1, span.ropes // 2) if span.ends == "one-each" and len(arrangement.legs) == 4 else span.ropes


def series_ea(parts: list[tuple[float, float]]) -> float:
    """EA of lengths one after the other: L / Σ(l/EA), parts as (length, EA)."""
    return sum(length for length, _ in parts) / sum(length / ea for length, ea in parts)


def leg_lines(plan: Plan, arrangement: Arrangement) -> list[LegLine]:
    """The legs laid out from their features to where they pull.

    Raises
    ------
    Refused
        If a feature lies at the working point itself, or a leg is too short to reach it.
    """
    here = plan.path_of(arrangement)
    return [
        _leg_line(
            plan, leg, index, f"{here}.legs[{index}]", _pulls_from(plan, arrangement, index), ropes_of(arrangement)
        )
        for index, leg in enumerate(arrangement.legs)
    ]


def tie_lines(plan: Plan, arrangement: Arrangement) -> list[LegLine]:
    """What only holds the point in place, laid out like a leg.

    Raises
    ------
    Refused
        If a feature lies at the working point itself.
    """
    here, target = plan.path_of(arrangement), at(arrangement.point)
    return [_leg_line(plan, one, n, f"{here}.ties[{n}]", target, 1) for n, one in enumerate(arrangement.ties)]


def _leg_line(plan: Plan, leg: Leg, index: int, path: str, target: Array, ropes: int) -> LegLine:
    feature = plan.feature(leg.feature)
    spans = float(np.linalg.norm(at(feature) - target))
    if spans < 0.05:
        problem = f"{feature.name} lies at the working point itself: a leg there has no direction to pull in"
        raise refuse(f"{path}.feature", problem, "move the working point, or tie to another feature")
    radius = radius_of(feature)
    state = leg.state or plan.day.state
    ea = _stiffness(leg, radius or 0.0, spans, ropes, state)
    rest = leg.length_m if leg.length_m is not None else spans
    if spans > 1.3 * rest:
        problem = f"the leg to {feature.name} is {rest:.1f} m long and the working point is {spans:.1f} m away: it can not reach"
        raise refuse(f"{path}.length_m", problem, f"give {spans:.1f} m, or move the working point nearer")
    return LegLine(index, leg, feature, target, spans, radius, ea, rest, state)


def _pulls_from(plan: Plan, arrangement: Arrangement, index: int) -> Array:
    """Where a leg's near end is: where the legs come together, or the front feature for a tie back."""
    if arrangement.made_as.made == "front" and index > 0:
        return at(plan.feature(arrangement.legs[0].feature))
    return gathered_at(arrangement)


def gathered_at(arrangement: Arrangement) -> Array:
    """Where the legs come together: at the working point, unless that is set down from there."""
    return at(arrangement.set_down.gathers_at if arrangement.set_down else arrangement.point)


def _stiffness(leg: Leg, radius_m: float, spans_m: float, ropes: int, state: Condition | None) -> Range:
    closed = min(closes_at_m(leg, radius_m, spans_m), spans_m)
    strap = sling_ea_n(material_of(leg), state)
    strands = strands_of(leg)
    onward = sling_ea_n(catalogue().slings[leg.extension], state) if leg.extension else strap

    def one(strap_n: float, onward_n: float) -> float:
        parts = [(closed, strands * strap_n / 1000)]
        if leg.extension:
            parts.append((max(spans_m - closed, 0.01), ropes * leg.extension_strands * onward_n / 1000))
        return series_ea(parts)

    return Range(
        low=one(strap.low, onward.low), expected=one(strap.expected, onward.expected), high=one(strap.high, onward.high)
    )


@dataclass(frozen=True)
class Elements:
    """What acts on the free point: (m, 3) far ends, (3, m) EA in kN low/expected/high, (3, m) unloaded lengths, (m,)
    +1 pulls / −1 pushes / 0 both, (m,) owning leg (−1 none), and (n, m) how much of each element each leg bears."""

    to: Array
    ea_kn: Array
    rest_m: Array
    acts: Array
    owner: Array
    spread: Array


@dataclass(frozen=True)
class AnchorRig:
    """An arrangement compiled. `slides`: its legs share one cord of `cord_m`."""

    arrangement: Arrangement
    lines: list[LegLine]
    point: Array
    slides: bool
    front_m: float
    head_kn_per_m: Range

    @property
    def count(self) -> int:
        return len(self.lines)

    @property
    def scheme(self) -> AnchorScheme:
        return self.arrangement.made_as

    def bears_all(self, line: LegLine) -> bool:
        """Whether a leg carries all of the pull up to its feature: the front one, tied back by the others."""
        return self.scheme.made == "front" and line.index == 0

    @cached_property
    def every_number(self) -> tuple[object, ...]:
        """What tells its states from any other's."""
        lines = tuple(
            (at(one.feature).tobytes(), kind_of(one.feature).pushes, one.toward.tobytes(), one.ea_kn, one.tied_m, one.leg.pretension_n)
            for one in self.lines
        )  # fmt: skip
        arrangement = self.arrangement.model_dump_json(exclude={"id", "name", "legs", "ties"})
        one_piece = (self.passed_on, self.course, self.strands) if self.arrangement.piece else None
        rubs = (self.slider_eta, one_piece) if self.slides else None
        return arrangement, lines, self.point.tobytes(), rubs, self.front_m, self.head_kn_per_m

    @property
    def slider_eta(self) -> Range:
        """Share of the tension that the slider passes on."""
        return catalogue().bends[self.arrangement.slider].eta

    @property
    def removable(self) -> list[int]:
        """Legs that are asked to go, each by itself: not a lone one, nor any of a frame, which falls over as one thing."""
        return list(range(self.count)) if self.count > 1 and self.scheme.goes else []

    def cord_m(self, level: Level = "expected") -> float:
        """Cord of a sliding anchor, unloaded: what leaves it with its pretension, however stiff it is."""
        return math.fsum(self._cords_m(level))

    def _cords_m(self, level: Level) -> list[float]:
        """Cord of each leg as it is tied, unloaded, summed over its strands."""
        rests = (line.rest_m(getattr(line.ea_kn, level)) for line in self.lines)
        return [count * rest for count, rest in zip(self.strands, rests, strict=True)]

    @cached_property
    def strands(self) -> tuple[int, ...]:
        """Strands of the shared cord to each leg: of one piece as many as the leg has; else the cord runs through the leg's own strap, as one."""
        if self.arrangement.piece is None:
            return (1,) * self.count
        return tuple(strands_of(line.leg) for line in self.lines)

    @cached_property
    def strand_ea_kn(self) -> Array:
        """Stiffness (3,) of a strand of the shared cord, low, expected and high."""
        return np.asarray((self.whole.ea_kn[:, : self.count] / np.array(self.strands)).mean(axis=1))

    @cached_property
    def course(self) -> Course:
        """The way of the one piece that it is made out of."""
        return course_of(self.arrangement)

    @cached_property
    def passed_on(self) -> tuple[Range, ...]:
        """Share of tension that the piece passes on round each leg's feature: e^(−μβ), least where it holds most there."""
        return tuple(_round_feature(line) for line in self.lines)

    def slack_cord_m(self, gone: int | None, level: Level = "expected") -> float:
        """Cord of a sliding anchor once a leg is gone: all of it, or no more than its limiting knots let run."""
        whole = self.cord_m(level)
        return whole if gone is None else whole - float(self.knots_m(level)[gone])

    def knots_m(self, level: Level = "expected") -> Array:
        """Cord (n,) that each leg of a sliding anchor keeps once its limiting knot meets the slider, summed over its strands, unloaded; 0 without knots."""
        limit = self.arrangement.limit_m
        return np.zeros(self.count) if limit is None else np.maximum(np.array(self._cords_m(level)) - limit, 0.0)

    def reaches_on_m(self, gone: int | None) -> float:
        """How much longer the ties back are once the front feature they hold is gone and its strap hangs on them."""
        return self.front_m if gone == 0 else 0.0

    @cached_property
    def whole(self) -> Elements:
        return self.without(None)

    def without(self, gone: int | None) -> Elements:
        """The elements with one leg gone (its EA 0), or with all."""
        rows = list(self._elements(gone))
        count = self.count
        spread = np.zeros((count, len(rows)))
        for column, row in enumerate(rows):
            for leg, share in row.bears.items():
                spread[leg, column] = share
        return Elements(
            np.array([row.to for row in rows]),
            np.array([[0.0 if row.gone else part for level in LEVELS for part in [getattr(row.ea_kn, level)]] for row in rows]).T,
            np.array([[row.rest(ea) for row in rows for ea in [getattr(row.ea_kn, level)]] for level in LEVELS]),
            np.array([row.acts for row in rows]),
            np.array([row.owner for row in rows]),
            spread,
        )  # fmt: skip

    def bears(self, elements: Elements, tension_kn: Array) -> Array:
        """Forces (..., n) in newtons on the legs from the tensions (..., m) of the elements."""
        on_legs = np.abs(tension_kn @ elements.spread.T)
        if self.scheme.made == "front":
            on_legs[..., 0] = np.linalg.norm(tension_kn[..., :3], axis=-1)
        return np.asarray(on_legs * 1000)

    def _elements(self, gone: int | None) -> Iterator[_Element]:
        span = self.arrangement.span
        if self.scheme.made == "front":
            yield from self._tied_back(gone)
        elif span is not None and self.count == 4 and span.ends == "gathered":
            yield from self._gathered_ends(gone)
        else:
            for line in self.lines:
                i = line.index
                acts = -1 if kind_of(line.feature).pushes else 1
                yield _Element(at(line.feature), line.ea_kn, line.rest_m, acts, i, {i: 1.0}, gone == i)
        prop = self.arrangement.prop
        if prop:
            foot = at(prop.foot)
            long = float(np.linalg.norm(foot - self.point))
            stiff = Range(low=_POLE_EA_KN, expected=_POLE_EA_KN, high=_POLE_EA_KN)
            yield _Element(foot, stiff, lambda _: long, -1, -1, {}, False)

    def _tied_back(self, gone: int | None) -> Iterator[_Element]:
        """Ground springs along three axes for the front feature's head, and the ties; the front gone, the ties reach on."""
        stiff = self.head_kn_per_m.map(lambda one: one * _GROUND_SPAN_M)
        tight = sum((_pretension(line, self.point) for line in self.lines[1:]), np.zeros(3))
        for axis in np.eye(3):
            # The ground holds the head against the ties' pretension: that is how they were tightened.
            held = -float(tight @ axis)
            rest = partial(unloaded, _GROUND_SPAN_M, held)
            yield _Element(self.point + axis * _GROUND_SPAN_M, stiff, rest, 0, 0, {}, gone == 0)
        for line in self.lines[1:]:
            i = line.index
            yield _Element(at(line.feature), line.ea_kn, line.rest_m, 1, i, {i: 1.0}, gone == i)

    def _gathered_ends(self, gone: int | None) -> Iterator[_Element]:
        """Each end's two features gathered: one element from between them, or from the one that is left."""
        for pair in (self.lines[:2], self.lines[2:]):
            a, b = at(pair[0].feature), at(pair[1].feature)
            left = [line for line in pair if line.index != gone]
            half = np.arctan2(np.linalg.norm(a - b) / 2, _GATHER_M)
            share = 1.0 if len(left) == 1 else 1 / (2 * np.cos(half))
            to = at(left[0].feature) if len(left) == 1 else (a + b) / 2
            yield _Element(
                to, pair[0].ea_kn, pair[0].rest_m, 1, pair[0].index, {line.index: share for line in left}, False
            )


def _round_feature(line: LegLine) -> Range:
    """e^(−μβ) of a bight round a feature: from tangent to tangent, and the wraps that lie there besides."""
    radius, bights = line.radius_m or 0.0, bights_of(line.leg)
    once = 2 * math.pi - 2 * math.acos(min(1.0, radius / line.spans_m))
    turn = once + 2 * math.pi * (
        turns_of(line.leg) - 1 if bights == 1 else max(0.0, turns_of(line.leg) - bights) / bights
    )
    mu = friction_of(line.leg, line.feature)
    return Range(*(math.exp(-one * turn) for one in (mu.high, mu.expected, mu.low)))


def _pretension(line: LegLine, point: Array) -> Array:
    away = at(line.feature) - point
    return np.asarray((line.leg.pretension_n or 0.0) / 1000 * away / np.linalg.norm(away))


@dataclass(frozen=True)
class _Element:
    to: Array
    ea_kn: Range
    rest: Callable[[float], float]
    acts: int
    owner: int
    bears: dict[int, float]
    gone: bool


def span_ends(lines: list[LegLine]) -> Array:
    """Where the two ends of a span are (2, 3): a feature, or between the two that an end is tied to."""
    half = len(lines) // 2
    return np.array([np.mean([at(line.feature) for line in end], axis=0) for end in (lines[:half], lines[half:])])


def rig_anchor(plan: Plan, arrangement: Arrangement) -> AnchorRig:
    """The arrangement compiled.

    Raises
    ------
    Refused
        If a leg has no direction or can not reach.
    """
    lines = leg_lines(plan, arrangement)
    if arrangement.made_as.made == "line" and np.linalg.norm(np.subtract(*span_ends(lines))) < 0.1:
        path = f"{plan.path_of(arrangement)}.legs"
        raise refuse(path, "both ends of the line are in one place", "tie its ends to features apart from each other")
    scheme = arrangement.made_as
    tied = scheme.made == "front"
    span = arrangement.span
    rolls = span is not None and span.carriage == "rolls" and len(lines) == 2
    front = lines[0]
    head = kind_of(front.feature).head_n_per_m.map(lambda one: one / 1000)
    point = at(front.feature) if tied else gathered_at(arrangement)
    slides = rolls or arrangement.slides
    return AnchorRig(arrangement, lines, point, slides, front.spans_m if tied else 0.0, head)


def check_pull(plan: Plan, rig: AnchorRig, unit: Array) -> None:
    """Refuse a pull that runs away from every leg.

    Raises
    ------
    Refused
        If no leg could take any of it from where the working point is.
    """
    away = [at(line.feature) - rig.point for line in rig.lines]
    if rig.scheme.made != "point" or min(float(one @ unit) for one in away) <= 1e-9:
        return
    path = f"{plan.path_of(rig.arrangement)}.heading_rad"
    problem = "the pull runs away from all legs: every feature lies ahead of the working point"
    raise refuse(path, problem, "turn the pull, move the working point out, or take features behind it")
