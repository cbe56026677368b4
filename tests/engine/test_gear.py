"""What gear went through: forces that follow what was read, shocks and age by the limits of common practice (no source)."""

import random

import pytest

from rigging.document import Plan
from rigging.document.lines import Damage
from rigging.gear.becomes import becomes, reasons
from rigging.gear.worn import Done, Read, Worked, together, worked, worn
from rigging.judging.anchors import anchor_states
from rigging.judging.parts import parts_in_load_order
from rigging.lines.tension_line import along_line
from rigging.lines.whole_way import Travel
from rigging.procedures.compose import composed
from rigging.readings.places import Place, Predictor, place
from rigging.telling.work.gear import gear_report
from tests.drawn import drawn_catalogue, drawn_plan
from tests.plans import demo_document, demo_plan, one_rope_plan
from tests.reference.test_tension_line import tight_document

LOAD = Place("load")


def went(plan, states=("between-hauls", "raising"), metres=10.0, seconds=120.0, **read):
    cells = {place(plan, name.replace("_", "-")): one for name, one in read.items()}
    return {one.id: one for one in worn(plan, [Worked(states, seconds, metres, cells)])}


def fate(plan, piece):
    return becomes(reasons(plan.rules, piece))


def why(plan, piece):
    return [one.why for one in reasons(plan.rules, piece)]


def test_without_a_cell_the_highest_load_is_the_worst_that_was_worked_out_in_the_states_worked():
    plan = one_rope_plan()
    predictor = Predictor(plan)
    most: dict[str, float] = {}
    for state in ("between-hauls", "raising"):
        for part in parts_in_load_order(plan, predictor.solved(state), {}):
            most[part.id] = max(most.get(part.id, 0.0), part.force_n.high)
    found = went(plan)
    for id in ("main:load-connector", "main:capture", "main:G", "main:A"):
        assert found[id].highest_n.high == pytest.approx(most[id])
        assert not found[id].measured
    assert found["rope:main"].highest_n.high == pytest.approx(most["main:rope"])


def test_what_a_cell_reads_at_the_load_is_what_the_load_connector_carried():
    found = went(one_rope_plan(), load=Read(3100.0))
    one = found["main:load-connector"]
    assert (one.highest_n.low, one.highest_n.high) == pytest.approx((3100.0, 3100.0))
    assert one.measured


def test_the_working_point_carried_in_each_case_what_the_load_did_times_their_ratio():
    """The worked example of the method: 4.5 · 1.07 / 1.15 to 4.5 · 1.77 / 1.65."""
    plan = demo_plan()
    at = {name: Predictor(plan).at(place(plan, name), "between-hauls") for name in ("load", "working-point")}
    assert (at["load"].low, at["load"].high) == pytest.approx((1150, 1650), abs=6)
    carried = went(plan, load=Read(4500.0))["anchor:main:working-point"].highest_n
    assert (carried.low, carried.high) == pytest.approx((4500 * 1069 / 1145, 4500 * 1771 / 1653), rel=2e-3)


@pytest.mark.parametrize("state", ["raising", "lowering"])
@pytest.mark.parametrize("at", ["load", "working-point"])
def test_whatever_the_friction_a_part_carried_lies_inside_what_the_reading_says(state, at):
    """The demo with every input drawn inside its range; told of it is only what a cell reads then."""
    plan, luck, outside, asked = demo_plan(), random.Random(18), [], 0
    for _ in range(8):
        with drawn_catalogue(luck):
            true = Predictor(drawn_plan(luck, plan))
            solved, read = true.solved(state), true.at(place(plan, at), state)
            parts = parts_in_load_order(true.plan, solved, anchor_states(true.plan, [solved]))
        said = went(plan, (state,), **{at.replace("-", "_"): Read(read.high)})
        for part in parts:
            if part.id in said and said[part.id].measured:
                told, asked = said[part.id].highest_n, asked + 1
                if not told.low * 0.999 <= part.force_n.high <= told.high * 1.001:
                    outside.append((part.id, told, part.force_n))
    assert outside == [] and asked >= 24


def test_twice_the_reading_is_twice_the_force_on_every_part_of_the_line():
    plan = one_rope_plan()
    once, twice = went(plan, load=Read(2500.0)), went(plan, load=Read(5000.0))
    for id, one in once.items():
        if one.measured:
            assert twice[id].highest_n.high == pytest.approx(2 * one.highest_n.high), id
    assert sum(one.measured for one in once.values()) > 10


def test_a_cell_that_read_only_part_of_the_step_makes_nothing_smaller():
    plan = one_rope_plan()
    part, none = went(plan, load=Read(900.0, throughout=False)), went(plan)
    assert part["rope:main"].highest_n == none["rope:main"].highest_n
    whole = went(plan, load=Read(900.0))
    assert whole["rope:main"].highest_n.high < none["rope:main"].highest_n.high


def test_a_cell_in_a_leg_says_nothing_of_the_other_legs():
    plan = demo_plan()
    name = "leg:main:1"
    found = {
        one.id: one
        for one in worn(plan, [Worked(("between-hauls", "raising"), 60, 5, {place(plan, name): Read(2000.0)})])
    }
    assert found["anchor:main:leg:1:extension"].measured
    assert not found["anchor:main:leg:0:extension"].measured
    assert not found["rope:main"].measured


def test_the_belay_hung_ready_and_bore_nothing_until_it_caught():
    plan = demo_plan()
    ready = went(plan)["rope:belay"]
    assert ready.highest_n.high == 0 and ready.loaded_s == 0
    assert [one.metres for one in ready.ran] == [10.0] * len(plan.site.edges)
    caught = went(plan, belay=Read(6000.0, shock=True))
    assert caught["belay:load-connector"].shock_n.high == pytest.approx(6000.0)
    assert caught["rope:belay"].shock_n.high >= 6000.0
    assert caught["rope:main"].shock_n is None


def test_a_tension_line_is_on_the_list_with_what_it_bears_at_its_hardest_place():
    plan = Plan.model_validate(tight_document())
    line = plan.tension_lines[0]
    found = went(plan)
    most = max(one.tension_n.high for one in along_line(plan, line, 21))
    assert found[f"rope:{line.rope}"].highest_n.high == pytest.approx(most)
    assert any(id.startswith(f"anchor:{line.far}:leg:0") for id in found)
    assert {one.id for one in plan.ropes} <= {one.rope.id for one in found.values() if one.rope}


def test_a_part_bears_for_as_long_as_the_steps_that_load_it_take():
    plan = demo_plan()
    operation = composed(plan)
    done = [Done(one.key, 60.0) for one in operation.steps]
    steps = list(worked(operation, done))
    found = {one.id: one for one in worn(plan, steps)}
    assert found["rope:main"].loaded_s == 60.0 * len(steps) < 60.0 * len(done)
    assert found["main:G"].loaded_s == 60.0 * sum("raising" in one.states for one in steps)
    # Down the whole way, and up again haul by haul until the load is at the edge.
    down = sum(one.metres for one in steps if "lowering" in one.states)
    up = sum(one.metres for one in steps if "raising" in one.states)
    assert down == pytest.approx(Travel(plan, plan.lines[0]).far_m, rel=0.02) and up >= down
    assert all(one.metres == pytest.approx(down + up) for one in found["rope:main"].ran)


def test_a_load_said_to_be_stuck_puts_the_jam_on_the_gear():
    plan = demo_plan()
    operation = composed(plan)
    key = next(one.key for one in operation.steps if "raising" in one.motions)
    free, stuck = (
        {one.id: one for one in worn(plan, worked(operation, [Done(key, 60.0, stuck=said)]))} for said in (False, True)
    )
    jammed = Predictor(plan).at(LOAD, "jammed")
    assert stuck["main:load-connector"].highest_n.high == pytest.approx(jammed.high)
    assert free["main:load-connector"].highest_n.high < jammed.high


@pytest.mark.parametrize(("age", "expected"), [(9.9, "bag"), (10, "retire"), (14, "retire")])
def test_rope_of_ten_years_is_retired(age, expected):
    plan = one_rope_plan(ropes__0__age_years=age)
    assert fate(plan, went(plan, metres=0.0)["rope:main"]) == expected


def test_an_age_that_nobody_said_is_said_to_be_missing():
    plan = one_rope_plan(ropes__0__age_years=None)
    rope = next(one for one in gear_report(plan, went(plan).values()).pieces if one.kind == "rope")
    assert rope.unsaid == ["age"]


@pytest.mark.parametrize(("peak_n", "expected"), [(3000, "rest"), (6500, "rest"), (8000, "retire")])
def test_rope_is_retired_after_a_shock_of_more_than_a_third_of_what_it_holds(peak_n, expected):
    plan = one_rope_plan()
    low = went(plan)["rope:main"].strength_n.low
    assert 7000 < low / 3 < 8000
    assert fate(plan, went(plan, metres=0.0, load=Read(peak_n, shock=True))["rope:main"]) == expected


def test_a_sling_that_took_a_lesser_shock_is_looked_over():
    plan = demo_plan()
    sling = went(plan, load=Read(3000.0, shock=True))["anchor:main:leg:0:attachment"]
    assert why(plan, sling) == ["shock"] and fate(plan, sling) == "inspect"


def test_metal_is_looked_at_after_a_shock_and_retired_above_half_of_its_strength():
    plan = one_rope_plan()
    assert fate(plan, went(plan, load=Read(5000.0, shock=True))["main:load-connector"]) == "inspect"
    assert fate(plan, went(plan, load=Read(21_000.0, shock=True))["main:load-connector"]) == "retire"


def test_a_hitch_that_carried_more_than_it_slips_at_is_looked_over_for_glazing():
    plan = one_rope_plan()
    piece = went(plan, load=Read(4800.0))["main:capture"]
    assert piece.slips_n.low < piece.highest_n.high < piece.slips_n.high
    assert why(plan, piece)[0] == "may-have-slipped"
    assert "slipped" in why(plan, went(plan, load=Read(9500.0))["main:capture"])


def test_rope_run_over_bare_rock_is_looked_over_there_and_over_a_pad_it_is_not():
    bare = demo_document()["site"]["edges"][0] | {"surface": "rough-rock", "protection": None}
    plan = one_rope_plan(site__edges__0=bare)
    assert why(plan, went(plan)["rope:main"]) == ["bare-edge"]
    padded = one_rope_plan(site__edges__0=bare | {"protection": "canvas-pad"})
    assert why(padded, went(padded)["rope:main"]) == []
    earth = one_rope_plan(site__edges__0=bare | {"surface": "soil-grass"})
    assert why(earth, went(earth)["rope:main"]) == ["earth"]


def test_damage_is_cut_out_or_the_rope_retired_and_an_hour_under_load_wants_a_rest():
    hurt = Damage(at_m=20, taken_out="butterfly-loop").model_dump()
    plan = one_rope_plan(ropes__0__damage=[hurt])
    assert fate(plan, went(plan)["rope:main"]) == "retire"
    whole = one_rope_plan()
    assert fate(whole, went(whole, seconds=3500)["rope:main"]) == "bag"
    assert fate(whole, went(whole, seconds=3700)["rope:main"]) == "rest"


def test_two_stretches_of_work_add_their_minutes_and_keep_the_harder_of_the_two():
    plan = one_rope_plan()
    soft, hard = went(plan)["rope:main"], went(plan, load=Read(6000.0, shock=True))["rope:main"]
    for both in (together(soft, hard), together(hard, soft)):
        assert both.loaded_s == 240.0 and both.highest_n == hard.highest_n and both.shock_n == hard.shock_n
        assert [one.metres for one in both.ran] == [20.0] * len(soft.ran)


def test_the_list_begins_with_what_is_gravest_and_counts_each_fate():
    plan = demo_plan()
    told = gear_report(plan, went(plan, load=Read(9000.0, shock=True)).values())
    fates = [one.becomes for one in told.pieces]
    assert fates == sorted(fates, key=["retire", "rest", "inspect", "bag"].index)
    assert {one: fates.count(one) for one in told.counts} == told.counts
    assert len({one.name for one in told.pieces}) == len(told.pieces)
    for one in told.pieces:
        assert bool(one.why) == (one.becomes != "bag")
