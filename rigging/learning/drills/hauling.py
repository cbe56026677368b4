"""What hauls: what a system gives, where its end is tied, where the one good pulley goes, how many it takes, what they do to a load that sticks."""

from __future__ import annotations

import itertools
import math
import random

from rigging.advice.one_pulley import one_pulley
from rigging.catalogue import catalogue
from rigging.catalogue.haul import HAND, Advantage, HaulSystem, advantage, bends
from rigging.learning.drills.drill import Again, Asked, Laid, Level, Made, Sketch, Spot, apart
from rigging.lines.people import haulers_needed
from rigging.site.load import GRAVITY

_KINDS = ("ball-bearing-pulley", "bushing-pulley", "carabiner")
_SYSTEMS: dict[Level, tuple[str, ...]] = {
    1: ("direct", "redirect-1", "drop-2", "z-3"),
    2: ("drop-2", "z-3", "z-3-redirect", "tackle-4", "two-on-two-4", "simple-5"),
    3: ("z-3-redirect", "tackle-4-redirect", "simple-5", "two-on-three-6", "three-on-two-6", "three-on-three-9", "complex-5", "complex-7"),
}  # fmt: skip
# Masses that hang on ropes: one, one with a litter, two, two and a litter.
_MASSES_KG = (80, 100, 120, 160, 200, 240, 280)
_LANE_M = 0.16


def _system(luck: random.Random, level: Level) -> HaulSystem:
    return catalogue().systems[luck.choice(_SYSTEMS[level])]


def _gives(system: HaulSystem, kind: str) -> Advantage:
    return advantage(system, {place.id: catalogue().bends[kind].eta for place in bends(system)})


def sketch_of(system: HaulSystem) -> Sketch:
    """A system unfolded: every strand a lane of its own between where its ends lie."""
    stations = {**system.stations, HAND: 1.3 if system.hand == "away" else -0.3}
    spots, laid, lane = [], [], 0
    seen: dict[str, list[float]] = {}
    for piece in system.ropes:
        for a, b in itertools.pairwise(piece):
            ends = []
            for name in (a, b):
                seen.setdefault(name, []).append(lane * _LANE_M)
                spot = f"{name} {lane}"
                spots.append(Spot(spot, "point", stations[name], lane * _LANE_M))
                ends.append(spot)
            laid.append(Laid(f"strand {lane}", (ends[0], ends[1])))
            lane += 1
    for name, lanes in seen.items():
        kind = "hands" if name == HAND else system.nodes[name]
        spots.append(Spot(name, kind, stations[name], sum(lanes) / len(lanes)))
        if len(lanes) > 1:
            laid.append(Laid(f"at {name}", tuple(f"{name} {round(one / _LANE_M)}" for one in lanes), rope=False))
    return Sketch(tuple(spots), tuple(laid))


def actual(luck: random.Random, level: Level) -> Made:
    """What a system really gives with one kind of bend throughout."""
    system, kind = _system(luck, level), luck.choice(_KINDS)
    if not bends(system):
        raise Again
    found = _gives(system, kind)
    right = round(found.actual.expected, 1)
    tried = [
        found.ideal,
        *(_gives(system, other).actual.expected for other in _KINDS),
        found.ideal - 1,
        right + 1,
        right * 1.5,
        right * 0.65,
    ]
    wrong = apart(right, (round(one, 1) for one in tried), 0.12, 0.2, 3)
    return Made(
        {"system": system.id, "kind": kind}, right, wrong, {"ideal": found.ideal, "actual": found.actual}, sketch_of(system),
        Asked(("haul", system.id, "--every", kind)),
    )  # fmt: skip


def ideal(luck: random.Random, level: Level) -> Made:
    """The ideal advantage of a system as it is drawn."""
    system = _system(luck, level)
    right = round(_gives(system, "carabiner").ideal, 2)
    tried = [*(right + step for step in luck.sample((-2.0, -1.0, 1.0, 2.0), 4)), right * 2, right + 3]
    wrong = apart(right, tried, 0.0, 0.9, 3)
    return Made({"system": system.id}, right, wrong, {}, sketch_of(system), Asked(("haul", system.id)))


def good_pulley(luck: random.Random, level: Level) -> Made:
    """Where the one good pulley buys most, every other bend a bare connector."""
    system = _system(luck, level)
    found = one_pulley(system)
    if len(found) < 2 or found[0].gives - found[1].gives < 0.03:
        raise Again
    return Made(
        {"system": system.id}, found[0].at, tuple(one.at for one in found[1:4]), {"gives": {one.at: one.gives for one in found}}, sketch_of(system),
        Asked(("haul", system.id, "--every", "carabiner", "--at", f"{found[0].at}=ball-bearing-pulley")),
    )  # fmt: skip


def haulers(luck: random.Random, level: Level) -> Made:
    """How many it takes to haul a load that hangs free, as expected."""
    system, kind, mass_kg = _system(luck, level), luck.choice(_KINDS), luck.choice(_MASSES_KG)
    found, each_n = _gives(system, kind), catalogue().people.sustained_n.expected
    hand_n = mass_kg * GRAVITY / found.actual.expected
    right = haulers_needed(hand_n, each_n)
    # An answer that a hair would change is none.
    if not 0.08 < (hand_n / each_n) % 1 < 0.97:
        raise Again
    by_count = haulers_needed(mass_kg * GRAVITY / found.ideal, each_n)
    tried = [by_count, right + 1, max(right - 1, 1), right + 2, right * 2, right + 4]
    wrong = tuple(dict.fromkeys(int(one) for one in tried if one != right))[:3]
    works = {"hand_n": hand_n, "each_n": each_n, "actual": found.actual.expected, "by_count": by_count}
    return Made(
        {"system": system.id, "kind": kind, "mass_kg": mass_kg}, right, wrong, works, sketch_of(system),
        Asked(("haul", system.id, "--every", kind)),
    )  # fmt: skip


def rope_end(luck: random.Random, level: Level) -> Made:
    """Where the end of the rope is tied: at the load in odd systems, at the anchor in even ones."""
    system = catalogue().systems[
        luck.choice(("drop-2", "z-3", "z-3-redirect", "tackle-4", "tackle-4-redirect", "simple-5", "simple-7"))
    ]
    [piece] = [one for one in system.ropes if HAND in one]
    if len(system.ropes) > 1:
        # What ends at a grab of the same rope is led on from there to the load.
        end = next(name for one in system.ropes for name in (one[0], one[-1]) if system.nodes.get(name) in ("load", "anchor"))  # fmt: skip
    else:
        end = piece[0] if piece[-1] == HAND else piece[-1]
    kind = system.nodes[end]
    if kind not in ("load", "anchor"):
        raise Again
    others = [one for one in ("load", "anchor", "hands") if one != kind]
    return Made({"ideal": round(_gives(system, "carabiner").ideal)}, kind, tuple(others), {"system": system.id}, command=Asked(("haul", system.id)))  # fmt: skip


def stuck(luck: random.Random, level: Level) -> Made:
    """What a haul team does to a load that does not move: everybody heaves."""
    system, kind, count = _system(luck, level), luck.choice(_KINDS), luck.randint(2, 3 + 2 * level)
    found, heave = _gives(system, kind), catalogue().people.heave_n
    most_n = count * heave.high * found.actual.high
    sustained = catalogue().people.sustained_n.expected
    tried = [count * sustained * found.actual.expected, count * heave.high, most_n * 2, most_n * 0.55, most_n * 3]
    right = round(most_n / 1000, 1)
    wrong = apart(right, (round(one / 1000, 1) for one in tried), 0.2, 0.3, 3)
    return Made(
        {"system": system.id, "kind": kind, "count": count}, right, wrong, {"heave_n": heave, "actual": found.actual},
        sketch_of(system), Asked(("haul", system.id, "--every", kind)),
    )  # fmt: skip


def redirect(luck: random.Random, level: Level) -> Made:
    """What a redirect's anchor bears: 2·T·cos(θ/2), θ between its strands."""
    angles = ((0, 60, 90, 120), (30, 60, 90, 120, 150), (20, 45, 75, 100, 135, 150))[level - 1]
    angle, pull_kn = luck.choice(angles), luck.choice((0.5, 0.8, 1.0, 1.5, 2.0))

    def bears(degrees: float) -> float:
        return 2 * pull_kn * math.cos(math.radians(degrees) / 2)

    right = round(bears(angle), 2)
    tried = [pull_kn, 2 * pull_kn, *(bears(other) for other in (180 - angle, angle / 2, 60, 120, 90)), pull_kn / 2]
    wrong = apart(right, (round(one, 2) for one in tried), 0.08, 0.05, 3)
    spots = (
        Spot("redirect", "anchor", 0, 0),
        Spot("load", "load", math.cos(math.radians(90 + angle / 2)), -math.sin(math.radians(90 + angle / 2))),
        Spot("hands", "hands", math.cos(math.radians(90 - angle / 2)), -math.sin(math.radians(90 - angle / 2))),
    )
    return Made({"angle_deg": angle, "pull_kn": pull_kn}, right, wrong, {}, Sketch(spots, (Laid("rope", ("load", "redirect", "hands")),), to_scale=True))  # fmt: skip
