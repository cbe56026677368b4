"""Each phase of the work on whole plans: what strands, hands, anchors and parts carry, and what is said about it."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import BaseModel

from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.figures.shapes import Report, StateReport
from rigging.telling.figures.working import Figure
from rigging.telling.sheet.report import analyse, working_of
from tests.plans import (
    ROOT,
    changed,
    demo_plan,
    hanging,
    haul,
    on_one_feature,
    one_rope_document,
    one_rope_plan,
    over_edges,
)


def finding(phase: StateReport | Report, name: str):
    return next((one for one in phase.findings if one.id == name), None)


def test_plain_munter_under_two_kilonewtons_is_too_much_for_one_hand():
    lower = analyse(hanging(2000, lines__0__lowering={"device": "munter", "brake_hitch": "french-8"})).state("lowering")
    assert (lower.hand.low, lower.hand.high) == (pytest.approx(2000 / 12), pytest.approx(2000 / 6))
    said = finding(lower, "hand-too-much")
    assert said.level == "stop"
    assert "0.17 to 0.33 kN" in said.text
    assert "0.15 to 0.25 kN" in said.text
    assert said.mend == "Super munter would fit."


def test_doubled_munter_under_two_kilonewtons_fits():
    lower = analyse(hanging(2000, lines__0__lowering={"device": "super-munter", "brake_hitch": "french-8"})).state(
        "lowering"
    )
    assert "0.06 to 0.13 kN" in finding(lower, "hand-fits").text
    assert finding(lower, "hand-too-much") is None
    assert finding(lower, "may-not-run") is None


def test_doubled_munter_may_not_run_under_one_person():
    lower = analyse(hanging(900, lines__0__lowering={"device": "super-munter", "brake_hitch": "french-8"})).state(
        "lowering"
    )
    assert finding(lower, "may-not-run").level == "look"


def test_without_a_brake_hitch_or_capture_letting_go_is_said():
    report = analyse(one_rope_plan(lines__0__lowering__brake_hitch=None, lines__0__haul__capture=None))
    assert finding(report.state("lowering"), "hands-off-lower").level == "stop"
    assert finding(report.state("raising"), "hands-off-raise").level == "stop"
    locking = analyse(one_rope_plan(lines__0__lowering={"device": "self-locking", "brake_hitch": None}))
    assert finding(locking.state("lowering"), "hands-off-lower") is None


def outer_over_inner(phase: StateReport) -> list[float]:
    """Tension on the anchor side over tension at the load, for the low, expected and high case's own strands."""
    main = [strand for strand in phase.strands if strand.main]
    near = next(
        s for s in main if "load" not in (s.start, s.end) and not {s.start, s.end} <= {"main:edge:1", "main:edge:2"}
    )
    far = next(s for s in main if "load" in (s.start, s.end))
    return [near.tension.expected / far.tension.expected]


@pytest.mark.parametrize(("turns", "factor"), [((90,), 0.4 * math.pi / 2), ((40, 50), 0.4 * math.pi / 2)])
def test_an_edge_multiplies_when_raising_and_divides_when_lowering(turns, factor, monkeypatch):
    """90° over μ = 0.4: 1.874 times the pull to raise. Two edges of the same turn in all multiply to the same."""
    from rigging.catalogue import catalogue
    from rigging.quantities.ranges import exactly

    rock = catalogue().surfaces["rough-rock"].model_copy(update={"mu": exactly(0.4)})
    monkeypatch.setitem(catalogue().surfaces, "rough-rock", rock)
    report = analyse(over_edges(1000, *turns))
    assert math.exp(factor) == pytest.approx(1.874, abs=0.001)
    assert outer_over_inner(report.state("raising")) == [pytest.approx(math.exp(factor))]
    assert outer_over_inner(report.state("lowering")) == [pytest.approx(math.exp(-factor))]
    hold = report.state("held").hand
    assert (hold.low, hold.high) == (pytest.approx(1000 / 1.874, rel=1e-3), pytest.approx(1874, rel=1e-3))


def test_three_to_one_with_redirect_on_bare_carabiners_is_worse_than_a_straight_pull():
    report = analyse(one_rope_plan(lines__0__haul=haul("z-3-redirect", "carabiner")))
    said = finding(report.state("raising"), "worse-than-straight")
    assert said.level == "stop"
    assert "0.88 (0.74 to 1.4): worse than pulling the rope straight" in said.text
    assert "Taking the last redirect out gives 1.75" in said.mend
    assert finding(analyse(one_rope_plan()).state("raising"), "worse-than-straight") is None


def test_eight_haulers_jam_a_three_to_one():
    """8 × 0.35, 0.5 and 0.8 kN through ball-bearing pulleys: the redirect at the anchor bears η + η² of the heave, by hand."""
    report = analyse(one_rope_plan(lines__0__haul=haul("z-3"), team__haulers=8))
    jam = report.state("jammed")
    low, heave, most = 8 * 350, 8 * 500, 8 * 800
    assert (jam.hand.low, jam.hand.expected, jam.hand.high) == (low, heave, most)
    redirect = next(rung for rung in jam.rungs if rung.id == "main:A")
    assert redirect.force.expected == pytest.approx(heave * (0.9 + 0.81), rel=1e-3)
    assert redirect.force.high == pytest.approx(most * (0.95 + 0.95**2), rel=1e-3)
    assert redirect.margin.low == pytest.approx(15000 / redirect.force.high)
    first = min((rung for rung in jam.rungs if rung.margin), key=lambda rung: rung.margin.low)
    said = finding(jam, "gives-first")
    assert first.name in said.text
    assert said.mend == "If it suddenly goes heavy, stop and look."


def test_the_grab_holds_what_the_two_sides_of_the_rope_differ_by():
    """On a 3:1 the rope runs on under the grab: of 2.71 P, 0.81 P passes by and the grab carries 1.9 P."""
    raising = analyse(hanging(1000, lines__0__haul=haul("z-3"))).state("raising")
    grab = next(rung for rung in raising.rungs if rung.id == "main:grab:G")
    assert grab.force.expected == pytest.approx(1000 * 1.9 / 2.71)
    # A separate haul rope on the grab leaves nothing to pass by: the grab carries it all.
    alone = analyse(hanging(1000, lines__0__haul=haul("drop-2"))).state("raising")
    assert next(r for r in alone.rungs if r.id == "main:grab:L").force.expected == pytest.approx(1000)


def test_rungs_follow_the_load_to_the_ground():
    ids = [rung.id for rung in analyse(on_one_feature()).state("raising").rungs]
    assert ids[:2] == ["main:load-connector", "main:load-knot"]
    assert (
        ids.index("main:edge:2")
        < ids.index("main:edge:1")
        < ids.index("main:grab:G")
        < ids.index("main:G")
        < ids.index("main:A")
    )
    assert ids[-3:] == ["anchor:main:working-point", "anchor:main:attachment", "anchor:main:feature"]


def test_margins_are_lowest_strength_over_highest_force_against_the_teams_rule():
    for phase in analyse(one_rope_plan()).states:
        for rung in phase.rungs:
            if rung.margin:
                assert rung.margin.low == pytest.approx(rung.strength.low / rung.force.high)
                assert (rung.verdict == "below") == (rung.margin.low < rung.target)
    strict = analyse(on_one_feature(rules={"anchors_ratio": 40, "others_ratio": 5})).state("lowering")
    feature = next(rung for rung in strict.rungs if rung.id == "anchor:main:feature")
    assert (feature.target, feature.verdict) == (40, "below")
    assert "find one that holds" in feature.mend


def test_strands_of_a_wrap_are_counted_and_more_are_asked_for():
    weak = on_one_feature(anchors__0__alternatives__0__legs__0__turns=2, rules={"anchors_ratio": 22, "others_ratio": 5})
    rung = next(one for one in analyse(weak).state("lowering").rungs if one.id == "anchor:main:attachment")
    assert rung.strength.low == pytest.approx(2 * 15000 * 0.8, rel=0.001)
    assert rung.verdict == "below"
    assert rung.mend == "1 more strand would do"


def test_an_unrated_feature_is_unknown_not_zero_and_not_fine():
    report = analyse(on_one_feature(features__0__rating_n=None, features__0__answers={}))
    rung = next(one for one in report.state("held").rungs if one.id == "anchor:main:feature")
    assert (rung.verdict, rung.margin) == ("unknown", None)
    assert finding(report.state("held"), "unknown:anchor:main:feature")


def test_a_bend_nobody_spoke_of_is_a_wide_range_and_is_said():
    report = analyse(one_rope_plan(lines__0__haul__bends={"A": "ball-bearing-pulley"}))
    assert report.haul.open_bends == ["G"]
    assert finding(report.state("raising"), "unsaid:G")
    assert report.haul.actual.low == pytest.approx(1 + 0.45 + 0.45 * 0.85)
    assert report.haul.actual.high == pytest.approx(1 + 0.95 + 0.95 * 0.95)


def test_cost_of_a_bend_is_what_the_hands_save_without_its_friction():
    """3:1 by hand: T/(1+η_G+η_G·η_A), once with η_G = 0.5 and once with 1."""
    plan = hanging(1000, lines__0__haul={**haul("z-3"), "bends": {"A": "ball-bearing-pulley", "G": "carabiner"}})
    crossing = next(c for c in analyse(plan).state("raising").crossings if c.id == "main:G")
    assert crossing.cost.expected == pytest.approx(1000 / 1.95 - 1000 / 2.9)
    pulley = next(swap for swap in crossing.swaps if swap.kind == "ball-bearing-pulley")
    assert pulley.hand_n == pytest.approx(1000 / 2.71)
    assert pulley.change_n == pytest.approx(1000 / 2.71 - 1000 / 1.95)


def test_a_drop_loop_at_the_load_takes_both_strands_over_the_edge():
    """Raising 1 kN by a 2:1 over 90° at μ: the anchor-side strand is slowed by the edge, the hand side too."""
    plan = over_edges(1000, 90, lines__0__haul={**haul("drop-2"), "attached": "load"})
    raising = analyse(plan).state("raising")
    edge = math.exp(-0.5 * math.pi / 2)
    # From the hand P: over the edge P·e, round the block P·e·η; no rope runs in the tied strand.
    assert raising.hand.expected == pytest.approx(1000 / (edge * (1 + 0.9)))
    assert len([c for c in raising.crossings if c.role == "edge"]) == 2
    # No rope end is tied at the load, so there is no knot to judge.
    assert "main:load-knot" not in [rung.id for rung in raising.rungs]


def test_lowering_and_raising_on_a_slope_differ_by_twice_the_friction():
    report = analyse(one_rope_plan())
    up = next(s for s in report.state("raising").strands if "load" in (s.start, s.end)).tension
    down = next(s for s in report.state("lowering").strands if "load" in (s.start, s.end)).tension
    hold = next(s for s in report.state("held").strands if "load" in (s.start, s.end)).tension
    assert down.expected < up.expected
    assert hold.low == pytest.approx(down.low)
    assert hold.high == pytest.approx(up.high)


@settings(max_examples=25)
@given(st.floats(100, 3000), st.sampled_from(["carabiner", "bushing-pulley", "ball-bearing-pulley"]))
def test_every_figure_is_a_range_in_order_and_has_a_working(load_n, kind):
    report = analyse(over_edges(load_n, 30, 40, lines__0__haul=haul("z-3-redirect", kind)))
    figures = [s.tension for p in report.states for s in p.strands if s.tension]
    figures += [f for p in report.states for r in p.rungs for f in (r.force, r.strength, r.margin) if f]
    figures += [report.haul.actual, report.haul.rise, report.haul.stroke, report.lines[0].length]
    for figure in figures:
        assert 0 <= figure.low <= figure.expected <= figure.high
    for figure in figures[:: max(1, len(figures) // 4)]:
        plan = over_edges(load_n, 30, 40, lines__0__haul=haul("z-3-redirect", kind))
        assert working_of(plan, figure.working).result == figure


def figures_of(value):
    """Every figure anywhere in a report."""
    if isinstance(value, Figure):
        yield value
    elif isinstance(value, dict | list | tuple):
        for part in value.values() if isinstance(value, dict) else value:
            yield from figures_of(part)
    elif isinstance(value, BaseModel) or hasattr(value, "__slots__"):
        names = type(value).model_fields if isinstance(value, BaseModel) else value.__slots__
        for name in names:
            yield from figures_of(getattr(value, name))


def test_every_figure_of_the_demo_tells_its_working_with_known_sources_when_asked():
    from rigging.judging.judged import judge
    from rigging.telling.figures.working import Asked
    from rigging.telling.sheet.report import _Telling

    plan = demo_plan()
    judged, figures = judge(plan), {one.working for one in figures_of(analyse(plan))}
    assert len(figures) > 150
    for figure in figures:
        asked = Asked(figure)
        _Telling(judged, Wording(), asked).report()
        assert asked.working is not None, figure
        assert asked.working.formula
        cited = {id for symbol in asked.working.symbols for id in symbol.source.split()}
        assert cited == {one.id for one in asked.working.sources}, figure
    assert working_of(plan, "raising/nowhere") is None


def test_the_working_of_the_hand_pull_gives_the_hand_pull():
    working = working_of(one_rope_plan(), "raising/hand")
    values = {symbol.symbol: symbol.expected for symbol in working.symbols}
    assert values["T_load"] / values["a"] == pytest.approx(working.result.expected)


def test_a_phase_without_its_gear_says_what_is_missing():
    report = analyse(one_rope_plan(lines__0__lowering=None, lines__0__haul=None))
    assert report.state("lowering").why_not == "no lowering device is chosen"
    assert report.state("raising").why_not == "no haul system is chosen"
    assert finding(report.state("held"), "nothing-holds").level == "stop"
    assert finding(analyse(one_rope_plan()).state("held"), "nothing-holds") is None
    assert analyse(one_rope_plan(team__haulers=0)).state("jammed").why_not == "nobody is there to pull"


def test_units_of_the_sentences_follow_the_reader():
    lower = analyse(hanging(2000, lines__0__lowering={"device": "munter", "brake_hitch": None}), Wording("lbf", "ft"))
    # 2000 N / 6 = 333 N = 74.9 lbf
    assert "37 to 75 lbf" in finding(lower.state("lowering"), "hand-too-much").text


def test_the_report_never_says_safe():
    for plan in (one_rope_plan(), hanging(500), over_edges(2000, 60)):
        text = analyse(plan).model_dump_json().lower()
        assert "safe" not in text.replace("safely", "safe")


def test_haulers_needed_are_pull_over_what_each_gives():
    raising = analyse(hanging(3000, lines__0__haul=haul("z-3"), team__haulers=3))
    hand = raising.state("raising").hand
    assert raising.haul.haulers_sustained.low == math.ceil(hand.low / 300)
    assert raising.haul.haulers_sustained.high == math.ceil(hand.high / 150)
    assert raising.haul.haulers_heave.expected == math.ceil(3000 / 2.71 / 500)
    said = finding(raising.state("raising"), "too-few-haulers")
    assert said.level == "stop"
    assert "2:1 stacked" in said.mend


def test_people_times_advantage_is_held_against_the_ceiling_for_the_rope():
    assert finding(analyse(one_rope_plan(team__haulers=4)).state("raising"), "people-ceiling") is None
    assert (
        "5 people × 3 = 15" in finding(analyse(one_rope_plan(team__haulers=5)).state("raising"), "people-ceiling").text
    )


def test_the_hardest_place_on_the_way_up_is_named():
    """The steep stretch under the lip asks more than the slope the load lies on."""
    said = finding(analyse(one_rope_plan()).state("raising"), "hardest-place")
    assert said.level == "note"
    there = changed(one_rope_document(), site__load_at={"x_m": 13, "z_m": -8.92})
    hand = analyse(Plan.model_validate(there)).state("raising").hand
    assert hand.expected > analyse(one_rope_plan()).state("raising").hand.expected * 1.1


def test_the_page_that_follows_one_figure_follows_the_demos_own():
    page = (ROOT / "docs" / "one-figure.md").read_text(encoding="utf-8")
    state = next(one for one in analyse(demo_plan()).states if one.id == "raising")
    assert state.hand is not None
    pull = working_of(demo_plan(), state.hand.working)
    assert pull is not None
    load, per_unit = (symbol.expected for symbol in pull.symbols)
    for said in (
        f"{load:.0f} / {per_unit:.4f}",
        f"{state.hand.expected:.0f} N",
        f"{state.hand.low:.0f} N",
        f"{state.hand.high:.0f} N",
    ):
        assert said in page
    for crossing in state.crossings:
        assert f"{crossing.turn_rad:.4f}" in page
        assert crossing.passes_on is None or f"{crossing.passes_on.expected:.4f}".rstrip("0") in page
