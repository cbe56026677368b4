"""How the rope is led, as hands see it: every strand once, from the load to the hands, whatever the system."""

import pytest

from rigging.catalogue import catalogue
from rigging.lines.rig import LOAD
from rigging.lines.solve import Solver, ways_of
from rigging.lines.states import moments
from rigging.quantities.faults import Refused
from rigging.telling.sheet.leading import lead
from tests.plans import demo_plan, haul, one_rope_plan

SYSTEMS = sorted(catalogue().systems)


def rig_of(plan, state: str, line: str):
    return Solver(plan, ways_of(plan)).rig(next(one for one in moments(plan) if one.id == state)).line(line)


@pytest.mark.parametrize("attached", ["grab", "load"])
@pytest.mark.parametrize("system", SYSTEMS)
def test_every_strand_of_every_system_is_led_exactly_once(system, attached):
    plan = demo_plan(lines__0__haul=haul(system, attached=attached))
    rig = rig_of(plan, "raising", "main")
    wanted = {
        f"{rope.id}.{n}" for rope in rig.ropes if not rope.id.endswith("cord") for n in range(len(rope.route) - 1)
    }
    led = [strand for step in lead(plan, "raising", "main").steps for strand in step.strands]
    assert sorted(led) == sorted(wanted)


@pytest.mark.parametrize("system", SYSTEMS)
def test_it_begins_at_an_end_and_ends_in_the_hands(system):
    plan = demo_plan(lines__0__haul=haul(system))
    steps = lead(plan, "raising", "main").steps
    assert steps[0].node == LOAD or "made fast" in steps[0].do
    assert "On to the haulers" in steps[-1].do or any("On to the haulers" in one.do for one in steps)


def test_what_is_looked_at_stands_with_the_step_that_ties_it():
    steps = {one.do.split(",")[0]: one.look for one in lead(demo_plan(), "lowering", "main").steps}
    assert steps["Into the super munter at main anchor."] == catalogue().devices["super-munter"].look
    assert any("French hitch on the brake side" in do and look for do, look in steps.items())
    assert steps["Over Road kerb log"] == "Nothing sharp; it will rub."


def test_a_minder_and_the_cord_of_a_hitch_are_named_where_it_is_put_on():
    said = [one.do for one in lead(demo_plan(), "raising", "main").steps]
    ratchet = next(one for one in said if "as ratchet" in one)
    assert "a loop of 1.3 m of cord" in ratchet and "Ash minds it" in ratchet


def test_the_belay_and_the_locked_device_are_led_too():
    belay = [one.do for one in lead(demo_plan(), "held", "belay").steps]
    assert any("on the belay rope" in one for one in belay)
    held = [one.do for one in lead(demo_plan(), "held", "main").steps]
    assert any(one.startswith("Locked off in the super munter") for one in held)


@pytest.mark.parametrize(
    ("state", "line", "field"), [("raising", "third", "line"), ("raising", "main", "state"), ("moon", "main", "state")]
)
def test_what_can_not_be_led_is_refused_by_its_field(state, line, field):
    plan = one_rope_plan(lines__0__haul=None)
    with pytest.raises(Refused) as refused:
        lead(plan, state, line)
    assert refused.value.faults[0].path == field
