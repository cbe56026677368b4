"""How soon what goes wrong is found in a load cell's readings, and how often it is said for nothing: `make rates`, into docs/rates.md."""

import math
import random
import statistics
import sys
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from rigging.document import Plan
from rigging.lines.whole_way import moved
from rigging.procedures.compose import composed
from rigging.quantities.ranges import Range
from rigging.readings.cell import HERTZ, Cell, Event, Levels, hauling, levels_of
from rigging.readings.learn import _SCALE, _SLOPE_RAD, Learner, Lesson, Observed, learn
from rigging.readings.places import Along, Place, Predictor, place
from rigging.readings.steady import observed, stretches
from rigging.readings.watch import Alarm, Watch
from tests.plans import ROOT, demo_plan

SEEDS, HAULING_S = 200, 600.0
_BEFORE_S, _CREEP_S = (240.0, 420.0), 180.0
# At a cell between rope and load, and in the leg that the haul hangs on, hauling reads more than hanging.
PLACES = ("load", "leg:road:0")
THREE = ("load", "working-point", "leg:road:0")
CREEPS = ("leg:main:0", "leg:main:1", "leg:main:2")


@dataclass
class Rates:
    """`delays_s` of what was found, how many were not, what was said for nothing in how many hours."""

    delays_s: list[float] = field(default_factory=list)
    missed: int = 0
    false: int = 0
    hours: float = 0.0

    def tell(self, alarm: Alarm | None, began_s: float) -> None:
        """What was found of something that began then, if anything."""
        if alarm is None:
            self.missed += 1
        else:
            self.delays_s.append(alarm.at_s - began_s)

    @property
    def within(self) -> float:
        """Share of all that was found within a second."""
        return sum(one <= 1.0 for one in self.delays_s) / max(1, len(self.delays_s) + self.missed)


def hauls(predictor: Predictor, where: Place, event: Event, seeds: range, seconds: float = HAULING_S) -> Rates:
    """So many simulated days of hauling with stick-slip, with the event in the last haul of each."""
    found = Rates()
    bands = [band for motion in ("still", "raising") if (band := predictor.band(where, motion)) is not None]
    for seed in seeds:
        chance = random.Random(seed)
        cell, watch = Cell(levels_of(predictor, where, chance), seed), Watch(bands)
        phases = list(hauling(chance, seconds))
        last = max(number for number, phase in enumerate(phases) if phase.motion == "raising")
        for phase in phases[:last]:
            found.false += sum(1 for _ in said(cell, watch, phase.motion, round(phase.seconds * HERTZ)))
        # A second and a half into the haul at the earliest: it has begun.
        ticks = round(phases[last].seconds * HERTZ)
        begins = chance.randrange(30, ticks - 45)
        found.false += sum(1 for _ in said(cell, watch, "raising", begins))
        found.hours += cell.at_s / 3600
        cell.happens(event)
        began = cell.at_s
        alarm = next((one for one in said(cell, watch, "raising", ticks - begins) if one.kind == "rise"), None)
        found.tell(alarm, began)
    return found


def way(plan: Plan, where: Place, event: Event, seeds: range) -> Rates:
    """So many simulated days of the whole way up, haul by haul with its resets, every step watched as the run watches it; the event in the third
    pull of one of the hauls."""
    found = Rates()
    steps = [one for one in composed(plan).steps if one.key.startswith("raise:")]
    there = {run_m: Predictor(moved(plan, run_m)) for one in steps for run_m in one.runs_m}
    on_the_way = [Along([there[run_m] for run_m in one.runs_m]) for one in steps]
    for seed in seeds:
        truth = [levels_of(stretch.halfway, where, random.Random(seed)) for stretch in on_the_way]
        cell, watch = Cell(truth[0], seed), Watch()
        wrong = random.Random(seed).choice([number for number, one in enumerate(steps) if one.motions])
        for step, stretch, levels in zip(steps[: wrong + 1], on_the_way, truth, strict=False):
            watch.expect(stretch.bands(where, step.motions), None, stretch.halfway.band(where, "raising"))
            cell.comes_to(levels)
            for _ in range(2 if step.motions else 0):
                found.false += sum(1 for _ in said(cell, watch, "still", 4 * HERTZ))
                found.false += sum(1 for _ in said(cell, watch, "raising", 9 * HERTZ))
            found.false += sum(1 for _ in said(cell, watch, "still", 6 * HERTZ))
        found.false += sum(1 for _ in said(cell, watch, "raising", 3 * HERTZ))
        found.hours += cell.at_s / 3600
        cell.happens(event)
        began = cell.at_s
        alarm = next((one for one in said(cell, watch, "raising", 6 * HERTZ) if one.kind == "rise"), None)
        found.tell(alarm, began)
    return found


def creeps(predictor: Predictor, where: Place, seeds: range) -> Rates:
    """A leg that lengthens by 5 mm a minute while the load hangs."""
    found = Rates()
    band, rate = predictor.band(where, "still"), predictor.creep_n_per_m(where, "between-hauls")
    assert band is not None and rate is not None
    for seed in seeds:
        chance = random.Random(seed)
        cell, watch = Cell(levels_of(predictor, where, chance), seed), Watch([band], abs(rate) * 0.0025)
        found.false += sum(1 for _ in said(cell, watch, "still", round(chance.uniform(*_BEFORE_S) * HERTZ)))
        found.hours += cell.at_s / 3600
        cell.happens("creep")
        began = cell.at_s
        alarm = next((one for one in said(cell, watch, "still", round(_CREEP_S * HERTZ)) if one.kind == "creep"), None)
        found.tell(alarm, began)
    return found


@dataclass
class Known:
    """Of a value learnt in so many simulated days: how often the truth lay inside the range, and how much narrower that was."""

    inside: list[bool] = field(default_factory=list)
    sharper: list[float] = field(default_factory=list)


def learnt(
    plan: Plan,
    names: Iterable[str],
    seeds: range,
    hauls: int = 3,
    off: Mapping[str, float] | None = None,
    runs_m: tuple[float, ...] = (0.0,),
) -> tuple[dict[str, Known], list[Lesson]]:
    """Days whose friction, weight, slope and cells are drawn anew, cells read at some places over so many hauls and lowers, and what is
    learnt of it. `runs_m`: the pieces of the way that were read, by how far up. `off`: a world wider than the learner's own: `scale` of every cell, `slope_deg` and `contact` given outright."""
    off = off or {}
    learner, lessons = Learner(plan), []
    found: dict[str, Any] = {}
    for seed in seeds:
        chance = random.Random(seed)
        truth = {one.id: chance.triangular(one.given.low, one.given.high, one.given.expected) for one in learner.unsure}
        if "slope_deg" in off and "slope" in truth:
            truth["slope"] = math.radians(off["slope_deg"]) / _SLOPE_RAD
        if "contact" in off and "contact" in truth:
            truth["contact"] = chance.uniform(-off["contact"], off["contact"])
        scales = {name: off.get("scale", math.exp(chance.gauss(0, _SCALE))) for name in names}
        rows = [
            row for run_m in runs_m for name in names
            for row in _day(learner.there(run_m), place(plan, name), truth, chance, hauls, scales[name], run_m)
        ]  # fmt: skip
        lessons.append(learn(plan, rows))
        for one in lessons[-1].values:
            known = found.setdefault(one.value.id, Known())
            known.inside.append(one.after.low <= truth[one.value.id] <= one.after.high)
            known.sharper.append(one.sharper)
    return found, lessons


def _day(
    learner: Learner,
    where: Place,
    truth: dict[str, float],
    chance: random.Random,
    hauls: int,
    scale: float,
    run_m: float,
) -> Iterator[Observed]:
    up, down = (learner.force(where, motion, truth) or 0.0 for motion in ("raising", "lowering"))
    middle = learner.force(where, "still", truth)
    # Hanging, friction leaves it somewhere between going down and coming up.
    still = middle * math.exp(chance.uniform(-0.5, 0.5) * abs(math.log(up / down))) if middle else 0.0
    for motion, level in (("raising", up), ("lowering", down)):
        if not level:
            continue
        cell = Cell(Levels(still, level, level, 3 * level, 0.06 * level, 0.0, 1900.0), chance.randrange(2**31))
        read = []
        for _ in range(hauls):
            for moves, seconds in (("still", 8), (motion, 10)):
                for _ in range(seconds * HERTZ):
                    force = cell.next(moves)
                    if force is not None:
                        read.append((cell.at_s, scale * force))
        at_s, forces = np.array(read).T
        yield from observed(where, motion, stretches(at_s, forces), (run_m, run_m))


def said(cell: Cell, watch: Watch, motion: str, ticks: int) -> Iterator[Alarm]:
    for _ in range(ticks):
        force = cell.next(motion)
        if force is not None and (alarm := watch.feed(cell.at_s, force)):
            yield alarm


def _row(where: str, what: str, rates: Rates) -> str:
    middle, worst = statistics.median(rates.delays_s), max(rates.delays_s)
    cells = (
        where,
        what,
        len(rates.delays_s) + rates.missed,
        rates.missed,
        f"{middle:.2f}",
        f"{worst:.2f}",
        rates.false,
        f"{rates.hours:.1f}",
    )
    return "| " + " | ".join(map(str, cells)) + " |"


# Worlds wider than the learner's own, each held for all of its days; the cells' scale is else drawn anew for each cell.
WIDER: dict[str, dict[str, float]] = {
    "every cell reads 2 % low": {"scale": 0.98},
    "every cell reads 2 % high": {"scale": 1.02},
    "slope 2° flatter than measured": {"slope_deg": -2.0},
    "slope 2° steeper than measured": {"slope_deg": 2.0},
    "ground's friction anywhere in its range": {"contact": 1.6},
}


def _wider(plan: Plan, world: str) -> str:
    known, _ = learnt(plan, THREE, range(SEEDS), off=WIDER[world])
    inside = [one for each in known.values() for one in each.inside]
    least = min(sum(each.inside) / len(each.inside) for each in known.values())
    return f"| {world} | {sum(inside) / len(inside):.0%} | {least:.0%} |"


def _narrower(forces: tuple[Range, Range]) -> float:
    before, after = (math.log(one.high / one.low) for one in forces)
    return before / after


def main() -> None:
    predictor = Predictor(demo_plan())
    rows = []
    for name in PLACES:
        events: tuple[Event, ...] = ("jam", "snag")
        rows += [
            _row(name, event, hauls(predictor, place(predictor.plan, name), event, range(SEEDS))) for event in events
        ]
    rows += [
        _row(f"{name}, the whole way up", event, way(predictor.plan, place(predictor.plan, name), event, range(SEEDS)))
        for name in PLACES
        for event in events
    ]
    rows += [_row(name, "creep", creeps(predictor, place(predictor.plan, name), range(SEEDS))) for name in CREEPS]
    known, lessons = learnt(predictor.plan, THREE, range(SEEDS))
    values = [
        f"| {id} | {sum(one.inside) / len(one.inside):.0%} | {statistics.median(one.sharper):.1f} |"
        for id, one in known.items()
    ]
    forces = [
        f"| {name} | | {statistics.median(_narrower(one.forces[name]) for one in lessons):.1f} |"
        for name in lessons[0].forces
    ]
    text = f"""# What a load cell's readings give away, and how often for nothing

Made by `make rates`: {SEEDS} seeded simulations for each row, on the demo's plan. The readings are simulated (20 Hz, noise of 8 N, drift,
drop-outs, stick-slip, haulers' surges): a real cell on a real rope will do worse somewhere. A jam comes up to its force within 0.3 to 0.8 s,
a snag within 0.2 to 0.6 s to 1.28 to 1.6 times what was read, a creep is 5 mm a minute. A delay counts from the first moment that it shows.

| cell at | what | times | not found | median, s | worst, s | said for nothing | in hours |
|---|---|---|---|---|---|---|---|
{chr(10).join(rows)}

A snag is found where hauling reads more than hanging: at the load, or in the anchor that the haul hangs on. At a working point that reads less
while hauling than while hanging, as in this plan, a snag that stays below what hangs there is not told from the load being set down on the
ratchet. *The whole way up* is haul by haul with its resets, two pulls and a third in each, the pull growing as the load comes under the lip and
falling by half over it: the first pulls at a new place have only the predicted band to go by, and a snag inside that band passes. Creep is looked for while nothing moves, and in a leg that shares the load with others: a single leg that lengthens reads the same.

## Friction learnt

{SEEDS} days, the demo's friction and weight, the ground's friction and slope and the scale of each cell drawn anew within their ranges for each;
cells at the load, at the working point and in the leg that the haul hangs on, three hauls and three lowers. The stated range is to hold nine in ten.

| value or force | truth inside the stated range | range narrower, times (median) |
|---|---|---|
{chr(10).join(values + forces)}

The same in worlds that are off to one side every day, which the learner is not told:

| world | truth inside the stated range, all values | the worst value |
|---|---|---|
{chr(10).join(_wider(predictor.plan, world) for world in WIDER)}

What hardly moves a reading stays as wide as it was: an edge whose friction is well known, a pulley in a strand that a carabiner in the same strand
hides.
"""
    (ROOT / "docs" / "rates.md").write_text(text, encoding="utf-8")
    sys.stdout.write(text)


if __name__ == "__main__":
    main()
