"""Anchors: which leg sees most when the pull swings, how long the piece has to be, what is the least that does."""

from __future__ import annotations

import math
import random

import numpy as np

from rigging.anchors.wraps import attachment_m
from rigging.document import Feature, Leg
from rigging.learning.drills.drill import Again, Asked, Laid, Level, Made, Sketch, Spot, apart
from rigging.mechanics.legs import Leg as Elastic
from rigging.mechanics.legs import LegsProblem, solve_legs
from rigging.site.features import estimate
from rigging.site.load import GRAVITY

_NAMES = ("left", "middle", "right")


def leg_swing(luck: random.Random, level: Level) -> Made:
    """Which leg bears most with the pull swung to one side."""
    count = 2 if level == 1 else 3
    spread = math.radians(luck.choice((30, 45, 60, 75)))
    swing = math.radians(luck.choice((0, 10, 15, 20))) * luck.choice((-1, 1))
    names = ("left", "right") if count == 2 else _NAMES
    angles = np.linspace(spread / 2, -spread / 2, count)
    legs = []
    for angle in angles:
        far = luck.choice((2.0, 3.0, 4.0, 5.0)) if level == 3 else 3.0
        ea = luck.choice((20.0, 30.0)) if level == 3 else 25.0
        # Behind the working point, to either side of the way back from the pull; the left one lies at y < 0.
        to = (-far * math.cos(angle), -far * math.sin(angle), 0.0)
        legs.append(Elastic(to=to, ea=ea, rest=far))
    load = (2.0 * math.cos(swing), 2.0 * math.sin(swing), 0.0)
    problem = LegsProblem(legs=legs, load=load, point=(0.0, 0.0, 0.0))
    tensions = solve_legs(problem).whole.tensions
    ranked = np.argsort(-tensions)
    if tensions[ranked[0]] < 1.12 * tensions[ranked[1]]:
        raise Again
    right = names[int(ranked[0])]
    spots = [Spot("pull", "load", 1.4 * math.cos(swing), -1.4 * math.sin(swing)), Spot("point", "point", 0.0, 0.0)]
    spots += [Spot(name, "leg", leg.to[0], -leg.to[1]) for name, leg in zip(names, legs, strict=True)]
    laid = [Laid(f"leg {name}", (name, "point")) for name in names]
    return Made(
        {"swing_deg": round(math.degrees(swing)), "spread_deg": round(math.degrees(spread))}, right, tuple(one for one in names if one != right),
        {"tensions_kn": dict(zip(names, (float(one) for one in tensions), strict=True))}, Sketch(tuple(spots), (*laid, Laid("pull", ("point", "pull"))), to_scale=True),
        Asked(("legs", "FILE"), problem),
    )  # fmt: skip


_BUILDS: dict[Level, tuple[str, ...]] = {
    1: ("bowline-round", "round-turn"), 2: ("bowline-round", "round-turn", "wrap-pull"), 3: ("wrap-pull", "round-turn", "figure-eight-round", "basket-tape"),
}  # fmt: skip


def piece_length(luck: random.Random, level: Level) -> Made:
    """How much of a rope or tape a leg takes: round the trunk, to the working point, knots and tails."""
    method, girth_m = luck.choice(_BUILDS[level]), luck.choice((0.6, 0.8, 1.0, 1.2, 1.5, 2.0))
    reach_m, turns = luck.choice((1.0, 1.5, 2.0, 3.0)), {"wrap-pull": 3, "round-turn": 3}.get(method, 1)
    material = "tubular-25" if method in ("wrap-pull", "basket-tape") else "rope-12.7"
    leg = Leg(feature="tree", method=method, material=material, turns=turns)
    radius = girth_m / (2 * math.pi)
    exact = attachment_m(leg, radius, reach_m)
    right = round(exact, 1)
    once, way = girth_m, reach_m
    tried = [exact - way, exact + 2 * once, once + way, 2 * exact, exact - once, exact * 0.6, exact * 1.4]
    wrong = apart(right, (round(one, 1) for one in tried), 0.1, 0.3, 3)
    return Made({"method": method, "girth_m": girth_m, "reach_m": reach_m, "turns": turns, "material": material}, right, wrong, {"exact_m": exact})  # fmt: skip


def least_anchor(luck: random.Random, level: Level) -> Made:
    """Of several trees the least that still does at the team's ratio, the strap as high as it is said, what it holds at its least."""
    mass_kg, ratio = luck.choice((100, 120, 200, 240)), luck.choice((5, 7, 10))
    needed_n = ratio * mass_kg * GRAVITY
    trees = []
    for number in range(4):
        diameter = luck.choice((0.13, 0.16, 0.18, 0.2, 0.22, 0.24, 0.28, 0.31, 0.36, 0.4, 0.46, 0.55, 0.65))
        answers = {
            "alive": "yes", "rooted": luck.choice(("deep", "deep", "shallow")) if level > 1 else "deep", "ground": "firm", "slope_deg": 0.0,
            "diameter_m": diameter, "strap_height_m": luck.choice((0.2, 0.3, 0.6, 1.0)) if level == 3 else 0.3,
        }  # fmt: skip
        trees.append(Feature.model_validate({"id": f"tree-{number}", "name": "tree", "kind": "tree", "x_m": -3, "answers": answers}))  # fmt: skip
    held = []
    for tree in trees:
        strength = estimate(tree).strength_n
        if strength is None:
            raise Again
        held.append(strength.low)
    does = [number for number, one in enumerate(held) if one >= needed_n]
    close = any(abs(one / needed_n - 1) < 0.08 for one in held)
    least = sorted((held[number], number) for number in does)
    if not 1 <= len(does) <= 3 or close or (len(least) > 1 and least[1][0] < 1.1 * least[0][0]):
        raise Again
    options = [tuple(sorted((name, one.answers[name]) for name in ("diameter_m", "rooted", "strap_height_m"))) for one in trees]  # fmt: skip
    if len(set(options)) < 4:
        raise Again
    right = options[least[0][1]]
    return Made(
        {"mass_kg": mass_kg, "ratio": ratio}, right, tuple(one for one in options if one != right),
        {"needed_n": needed_n, "held_n": dict(zip(options, held, strict=True))},
    )  # fmt: skip
