"""What a load cell should read, and what its readings give away."""

import itertools
import random

import pytest

from rigging.lines.whole_way import moved
from rigging.mechanics.legs import Leg, LegsProblem, solve_legs
from rigging.procedures.compose import composed
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.readings.cell import Cell, levels_of
from rigging.readings.places import Along, Predictor, place, places
from rigging.readings.watch import Watch
from rigging.telling.work.alarms import alarm_text
from tests.plans import demo_plan
from tests.rates import creeps, hauls, said, way

FEW = range(1000, 1016)


@pytest.fixture(scope="module")
def predictor():
    return Predictor(demo_plan())


def test_at_the_load_a_cell_reads_the_load_and_more_when_it_comes_up(predictor):
    where = place(predictor.plan, "load")
    still, up, down = (predictor.band(where, motion) for motion in ("still", "raising", "lowering"))
    assert up.expected > down.expected and still.low <= down.expected <= still.high
    assert predictor.at(where, "jammed").low > up.high
    assert predictor.band(place(predictor.plan, "belay"), "still") == Range(0, 0, 0)


def test_every_place_has_a_band_or_says_that_the_state_is_not_planned(predictor):
    for name in places(predictor.plan):
        where = place(predictor.plan, name)
        for motion in ("still", "raising", "lowering"):
            band = predictor.band(where, motion)
            assert band is None or 0 <= band.low <= band.expected <= band.high
    with pytest.raises(Refused, match="no place 'moon'"):
        place(predictor.plan, "moon")


def test_a_leg_that_lengthens_hands_over_to_the_others():
    """By hand: two like legs of 1 m side by side, EA 50 kN: one longer by a millimetre loses half of 50 N, the other takes it on."""
    legs = [Leg(to=(0, y, 1), rest=1.0 + longer, ea=50) for y, longer in ((0.01, 0.001), (-0.01, 0.0))]
    found = solve_legs(LegsProblem(legs=legs, load=(0, 0, -2), point=(0, 0, 0)))
    long, short = found.whole.tensions
    assert (short - long) * 1000 == pytest.approx(50, rel=0.03)


def test_the_demo_leg_loses_what_its_neighbours_take_on(predictor):
    rates = [predictor.creep_n_per_m(place(predictor.plan, f"leg:main:{leg}"), "between-hauls") for leg in range(3)]
    assert all(rate < 0 for rate in rates)
    assert predictor.creep_n_per_m(place(predictor.plan, "leg:road:0"), "raising") is None


@pytest.mark.parametrize("where", ["load", "leg:road:0"])
@pytest.mark.parametrize("event", ["jam", "snag"])
def test_a_jam_and_a_snag_are_found_within_a_second_and_hauling_says_nothing(predictor, where, event):
    """Sixteen simulated days of ten minutes; two hundred of each by `make rates`."""
    found = hauls(predictor, place(predictor.plan, where), event, FEW)
    assert (found.missed, found.within) == (0, 1.0)
    assert found.false == 0 and found.hours > 2


@pytest.mark.parametrize("where", ["load", "leg:road:0"])
def test_over_the_whole_way_up_nothing_is_said_for_nothing_and_a_jam_in_any_haul_is_found(predictor, where):
    """The pull grows by a quarter under the lip and falls to less than half over it."""
    found = way(predictor.plan, place(predictor.plan, where), "jam", FEW)
    assert (found.missed, found.within, found.false) == (0, 1.0, 0)


def test_a_leg_that_creeps_five_millimetres_a_minute_is_found_within_two_minutes(predictor):
    found = creeps(predictor, place(predictor.plan, "leg:main:2"), FEW)
    assert found.missed == 0 and max(found.delays_s) <= 120 and found.false == 0


def on_the_way(plan, runs_m):
    return Along([Predictor(moved(plan, run_m)) for run_m in runs_m])


@pytest.fixture(scope="module")
def along(predictor):
    return Along([predictor])


@pytest.mark.parametrize(("event", "words"), [("jam", "As if the load stood still"), ("joins", "more had come on")])
def test_an_alarm_says_what_it_is_like(predictor, along, event, words):
    where = place(predictor.plan, "load")
    cell = Cell(levels_of(predictor, where, random.Random(2)), 2)
    watch = Watch([predictor.band(where, "still"), predictor.band(where, "raising")])
    assert list(said(cell, watch, "still", 200)) == [] == list(said(cell, watch, "raising", 200))
    cell.happens(event)
    alarm = next(said(cell, watch, "raising", 100))
    assert words in alarm_text(along, where, "The cell", alarm)
    # Said once, and not again while it is put right and hauled on.
    assert list(said(cell, watch, "raising", 100)) == []
    cell.over()
    assert list(said(cell, watch, "still", 200)) == [] == list(said(cell, watch, "raising", 200))


@pytest.mark.parametrize(
    ("event", "words"),
    [("jam", "As if the load stood still"), ("snag", "caught at an edge"), ("joins", "more had come on")],
)
def test_on_no_day_is_one_thing_taken_for_another(predictor, along, event, words):
    """A hundred days of their own friction, weight and haste: it comes up within 0.2 to 1.6 s."""
    where = place(predictor.plan, "load")
    for seed in range(100):
        cell = Cell(levels_of(predictor, where, random.Random(seed)), seed)
        watch = Watch([predictor.band(where, "still"), predictor.band(where, "raising")])
        assert list(said(cell, watch, "still", 100)) == [] == list(said(cell, watch, "raising", 100))
        cell.happens(event)
        alarm = next(said(cell, watch, "raising", 100))
        assert words in alarm_text(along, where, "The cell", alarm), seed


def test_a_shock_that_is_over_at_once_is_said_as_one(predictor):
    where = place(predictor.plan, "load")
    cell = Cell(levels_of(predictor, where, random.Random(2)), 2)
    watch = Watch([predictor.band(where, "still")])
    assert list(said(cell, watch, "still", 200)) == []
    cell.happens("shock")
    assert next(said(cell, watch, "still", 60)).kind == "shock"


def test_a_band_left_for_good_is_said_once_and_a_jam_is_not_said_again():
    watch = Watch([Range(900, 1000, 1100)])
    alarms = [alarm for tick in range(600) if (alarm := watch.feed(tick / 20, 700.0))]
    assert [one.kind for one in alarms] == ["outside"]
    stuck = Watch([Range(900, 1000, 1100)])
    alarms = [alarm for tick in range(600) if (alarm := stuck.feed(tick / 20, 1000.0 if tick < 200 else 3000.0))]
    assert [one.kind for one in alarms] == ["rise"]


def test_what_is_predicted_is_so_for_where_the_load_is(predictor):
    """Under the lip it pulls harder than where it starts, over it less than half as much."""
    hauls = [one for one in composed(predictor.plan).steps if one.key.startswith("raise:") and one.up_m]
    at_load = [on_the_way(predictor.plan, one.runs_m).band(place(predictor.plan, "load"), "raising") for one in hauls]
    assert at_load[3].expected > 1.2 * at_load[0].expected > 2.4 * at_load[-1].expected
    for one, band in zip(hauls, at_load, strict=True):
        for run_m in one.runs_m:
            there = on_the_way(predictor.plan, [run_m]).band(place(predictor.plan, "load"), "raising")
            assert band.low <= there.low and there.high <= band.high


def test_a_pull_that_grows_on_the_way_is_ordinary_and_a_jam_there_is_not():
    """From 1.5 to 1.8 kN in a minute of hauling, a pause, and on at 1.8; then twice that."""
    watch = Watch([Range(1200, 1400, 2000)])
    grows = [1500 + 300 * tick / 1200 for tick in range(1200)]
    force = [1400.0] * 100 + [1500.0] * 100 + grows + [1650.0] * 100 + [1800.0] * 200 + [3600.0] * 40
    said = [(tick, alarm.kind) for tick, one in enumerate(force) if (alarm := watch.feed(tick / 20, one))]
    assert [kind for _, kind in said] == ["rise"] and said[0][0] >= 1700


def test_a_load_that_comes_to_another_place_of_its_way_is_read_there_before_long(predictor):
    where = place(predictor.plan, "load")
    here, there = (levels_of(one, where, random.Random(3)) for one in on_the_way(predictor.plan, [0.0, 19.9]).there)
    cell = Cell(here, 3)
    cell.comes_to(there)
    read = [cell.next("still") for _ in range(60 * 20)]
    assert there.still > 1.2 * here.still
    assert read[-1] == pytest.approx(there.still, rel=0.06)
    assert max(abs(b - a) for a, b in itertools.pairwise(one for one in read if one is not None)) < 0.05 * here.still


def test_once_it_has_come_down_a_second_jam_is_said_anew():
    watch = Watch([Range(900, 1000, 1100)])
    force = [1000.0] * 200 + [3000.0] * 60 + [1000.0] * 200 + [3000.0] * 60
    assert [one.kind for tick, each in enumerate(force) if (one := watch.feed(tick / 20, each))] == ["rise", "rise"]


# A cell that is not what it was said to be, and a team that pulls by jerks


def kinds(watch: Watch, forces: list[float], begins_s: float = 0.0) -> list[tuple[float, str]]:
    """What is said of readings at twenty a second, with the second at which it is."""
    rows = [(begins_s + tick / 20, one) for tick, one in enumerate(forces)]
    return [(at, alarm.kind) for at, one in rows if (alarm := watch.feed(at, one))]


def noisy(level_n: float, seconds: float, seed: int = 1) -> list[float]:
    chance = random.Random(seed)
    return [level_n + chance.gauss(0, 8) for _ in range(round(20 * seconds))]


def tugged(level_n: float, seconds: float) -> list[float]:
    """A tug a second, each 40 % over what it stands at."""
    return [
        one * (1.4 if tick % 20 < 5 else 1.0) for tick, one in enumerate(noisy(level_n, seconds))
    ]  # fmt: skip


def test_tugs_are_said_once_and_a_jam_among_them_at_once():
    watch = Watch([Range(1100, 1300, 1500)])
    assert kinds(watch, noisy(1300, 10)) == []
    said = kinds(watch, tugged(1300, 120), 10.0)
    assert len(said) <= 4, "two a minute"
    jam = kinds(watch, noisy(3600, 6), 130.0)
    assert jam[0][0] < 131 and jam[-1][1] == "rise"


@pytest.mark.parametrize("factor", [1 / 1000, 1 / 9.80665, 1 / 4.4482216, 1000.0])
def test_a_wrong_unit_is_said_within_ten_seconds_and_a_jam_under_it_is_found(factor):
    watch = Watch([Range(1100, 1300, 1500)])
    said = kinds(watch, [factor * one for one in noisy(1300, 20)])
    assert [kind for _, kind in said] == ["unit"] and said[0][0] <= 10
    jam = kinds(watch, [factor * one for one in noisy(3600, 5)], 20.0)
    assert [kind for _, kind in jam] == ["rise"] and jam[0][0] < 21.5


def test_a_wrong_sign_is_said_and_a_jam_under_it_is_found():
    watch = Watch([Range(1100, 1300, 1500)])
    said = kinds(watch, [-one for one in noisy(1300, 20)])
    assert [kind for _, kind in said] == ["sign"] and said[0][0] <= 10
    assert [kind for _, kind in kinds(watch, [-one for one in noisy(3600, 5)], 20.0)] == ["rise"]


def test_a_jam_is_no_unit_and_a_heavier_load_is_none():
    for times in (1.5, 2.1, 3.0):
        watch = Watch([Range(1100, 1300, 1500)])
        said = [kind for _, kind in kinds(watch, noisy(1300 * times, 20))]
        assert said[0] == "outside" and set(said) <= {"outside", "rise"}


def test_a_frozen_cell_is_said_within_a_minute_and_once():
    watch = Watch([Range(1100, 1300, 1500)])
    said = kinds(watch, [*noisy(1300, 10), *[1300.0] * 2400])
    assert [kind for _, kind in said] == ["frozen"] and said[0][0] <= 10 + 60


def test_one_reading_an_hour_ahead_does_not_make_it_deaf():
    watch = Watch([Range(1100, 1300, 1500)])
    assert kinds(watch, noisy(1300, 10)) == []
    assert watch.feed(3610.0, 1300.0) is None
    assert kinds(watch, noisy(1300, 10), 10.05) == []
    assert [kind for _, kind in kinds(watch, noisy(3600, 5), 20.1)] == ["rise"]
