"""A team's own pull tests: what they say beside the catalogue, what a plan takes over, and what it then comes to."""

import pytest
from pydantic import ValidationError

from rigging.catalogue import catalogue
from rigging.document import Plan, Rope
from rigging.lines.tied import hitch_hold
from rigging.quantities.faults import faults_of
from rigging.shelf.pulls import LEAST, PullMade, own_ranges
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.report import analyse, working_of
from tests.plans import one_rope_document

PRUSIK = {"of": "hitch", "kind": "prusik-8", "rope": "low-stretch-11", "cord": "cord-8", "wraps": 3}


def pull(force_n, gave="slipped", **how):
    return PullMade(**(PRUSIK | how), gave=gave, force_n=force_n)


def plan_with(tested):
    document = one_rope_document()
    document["tested"] = [one.model_dump() for one in tested]
    return Plan.model_validate(document)


def taken(*forces, gave="slipped", **how):
    return [one.tested for one in own_ranges([pull(force, gave, **how) for force in forces])]


def grab_slips(plan):
    """The rung of the raising at which the grab slips."""
    raising = next(one for one in analyse(plan).states if one.id == "raising")
    return next(one for one in raising.rungs if one.id.startswith("main:grab") and one.gives == "slips")


def test_each_way_of_tying_has_its_own_range_beside_the_catalogues():
    found = own_ranges([pull(7000), pull(4000, glazed=True), pull(7200), pull(15_000, "broke", ropes=2), pull(7100)])
    assert [(one.as_pulled.glazed, one.as_pulled.ropes, one.gives, one.seen) for one in found] == [
        (False, 1, "slips", 3), (True, 1, "slips", 1), (False, 2, "breaks", 1),
    ]  # fmt: skip
    assert found[0].before_n == hitch_hold_by_catalogue()
    assert found[2].before_n.low == 13_000


def hitch_hold_by_catalogue():
    return hitch_hold(catalogue().hitches["prusik-8"], None, Rope(id="r", kind="low-stretch-11", length_m=10)).slip_n


def test_fewer_than_three_are_shown_and_not_taken():
    assert own_ranges([pull(7000)] * (LEAST - 1))[0].tested is None
    assert own_ranges([pull(7000), pull(7100), pull(6900)])[0].tested.pulls == 3


def test_a_team_whose_middle_the_catalogue_does_not_hold_is_told_so():
    assert own_ranges([pull(one) for one in (10_000, 10_400, 9900, 10_200)])[0].astray
    assert not own_ranges([pull(one) for one in (6400, 6600, 6500)])[0].astray


@pytest.mark.parametrize(
    ("how", "field"),
    [
        ({"cord": None}, "cord"), ({"wraps": None}, "wraps"), ({"kind": "no-such"}, "no-such"), ({"pulled": "loop"}, "pulled"),
        ({"of": "device", "kind": "self-locking"}, "cord"),
    ],
)  # fmt: skip
def test_a_pull_that_does_not_say_how_it_was_tied_is_refused_with_what_is_missing(how, field):
    with pytest.raises(ValidationError) as error:
        pull(7000, **how)
    assert any(field in f"{one.path} {one.problem} {one.right}" for one in faults_of(error.value))


def test_what_a_plan_takes_over_is_what_its_grab_slips_at_and_its_working_says_whose_it_is():
    own = taken(10_000, 10_400, 9900, 10_200, 10_100)
    usual, plan = plan_with([]), plan_with(own)
    before, after = grab_slips(usual), grab_slips(plan)
    assert (after.strength.low, after.strength.expected, after.strength.high) == (
        own[0].low_n,
        own[0].expected_n,
        own[0].high_n,
    )
    assert after.margin.expected / before.margin.expected == pytest.approx(own[0].expected_n / 6500, rel=1e-6)
    working = working_of(plan, after.strength.working)
    told = [one for one in working.symbols if one.source == "own-pulls"]
    assert [(one.low, one.high) for one in told] == [(own[0].low_n, own[0].high_n)]
    assert "our own, 5 pulls" in told[0].meaning


@pytest.mark.parametrize(
    "how",
    [{"cord": "cord-6"}, {"wraps": 4}, {"rope": "low-stretch-10-b"}, {"state": "wet"}, {"glazed": True}, {"ropes": 2}],
)
def test_pulls_of_another_cord_wraps_rope_or_day_say_nothing_of_this_one(how):
    forces = (2000, 2100, 1900, 2050)
    assert grab_slips(plan_with(taken(*forces, **how))) == grab_slips(plan_with([]))


def test_a_grab_that_slips_early_by_own_pulls_is_said_in_the_check():
    def stops(plan):
        return {one.id for one in check_here(plan).lines if one.level == "stop"}

    assert stops(plan_with(taken(900, 950, 920, 880, 910))) - stops(plan_with([]))
