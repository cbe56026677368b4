"""Rope and distance: what the job takes, what is left, how far one haul goes."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.judging.judged import judge
from rigging.lines.lengths import budgets, sinks_m, stretch_m
from rigging.lines.way import place_of
from rigging.lines.whole_way import whole_way
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.report import analyse, working_of
from tests.plans import changed, demo_document, hanging, haul, one_rope_document, one_rope_plan, over_edges
from tests.reference.test_tension_line import tight_document


def budget(report, job: str):
    return next(one for one in report.budgets if one.job == job)


def test_lowering_takes_station_to_edge_drop_and_tail():
    """3-4-5: 5 m to the edge, then 10 m straight down, 5 m of tail, 0.6 m of an eight: 20.6 m."""
    report = analyse(over_edges(1000, 90, ropes__0__length_m=60))
    assert budget(report, "lower").needed.expected == pytest.approx(5 + 10 + 5 + 0.6)
    assert budget(report, "lower").left.expected == pytest.approx(39.4)


def test_a_haul_system_takes_its_strands_on_top():
    """3:1 with the grab 1/10 back from the edge: two strands of 4.5 m beside the one to the load."""
    report = analyse(over_edges(1000, 90, lines__0__haul=haul("z-3")))
    grab_to_load = 15 - 4.5
    assert budget(report, "raise").needed.expected == pytest.approx(grab_to_load + 2 * 4.5 + 5 + 0.6)
    assert budget(report, "raise").other.expected == 0


def test_a_separate_haul_rope_is_not_taken_from_the_main_rope():
    report = analyse(over_edges(1000, 90, lines__0__haul=haul("drop-2")))
    # The main rope goes on behind the grab, back to the ratchet 0.4 m in front of the working point.
    assert budget(report, "raise").needed.expected == pytest.approx(15 - 0.4 + 5 + 0.6)
    assert budget(report, "raise").other.expected == pytest.approx(5 - 0.25)


def test_a_short_rope_is_said_with_the_missing_metres():
    report = analyse(over_edges(1000, 90, ropes__0__length_m=17.5, lines__0__haul=None))
    said = next(one for one in report.findings if one.id == "short:lower")
    assert said.level == "stop"
    assert "3.1 m short to lower: 21 m needed" in said.text
    assert "short" in next(one for one in report.whole.open if one.stage == "lines").items[0]


def test_stroke_resets_and_rope_through_the_hands():
    """5 m to the edge, grab at 4.5 m, the ratchet 0.4 m in front of the anchor, 0.4 m taken up by gear: 3.7 m a haul; 10 m of rise: three."""
    found = analyse(over_edges(1000, 90, lines__0__haul=haul("z-3"))).haul
    assert found.stroke.expected == pytest.approx(5 - 0.5 - 0.4 - 0.4)
    assert (found.strokes, found.resets) == (3, 2)
    assert found.rise.expected == pytest.approx(10)
    # Three metres for each of rise, and of what the rope gives first.
    assert found.through_hands.expected == pytest.approx(3 * (10 + found.stretch.expected))
    assert 0.2 < found.stretch.expected < 0.6


def test_reach_entered_shortens_the_stroke():
    found = analyse(over_edges(1000, 90, lines__0__haul={**haul("z-3"), "reach_m": 3})).haul
    assert found.stroke.expected == pytest.approx(2.7 - 0.4 - 0.4)


def test_a_straight_pull_never_runs_out():
    found = analyse(hanging(500, lines__0__haul=haul("direct"))).haul
    assert found.stroke is None
    assert found.resets is None
    assert found.actual.expected == 1


@settings(max_examples=30)
@given(st.floats(12, 33), st.floats(0.1, 1.0))
def test_a_longer_way_never_needs_less_rope(x, step):
    """The load further down the same ground."""

    def needed(at: float) -> float:
        from rigging.document import Site
        from rigging.site.ground import height_at

        z = height_at(Site.model_validate(one_rope_document()["site"]), at)
        plan = Plan.model_validate(changed(one_rope_document(), site__load_at={"x_m": at, "z_m": z}))
        return budget(analyse(plan), "lower").needed.expected

    assert needed(min(x + step, 34)) >= needed(x) - 1e-9


def test_the_rope_turns_by_the_angle_between_its_stretches():
    turns = {turn.name: turn for turn in analyse(one_rope_plan()).lines[0].turns}
    first, second = math.atan2(1.0, 3.5), math.atan2(23.875 - 2.5, 25 - 11)
    assert turns["Ravine lip"].turn_rad == pytest.approx(second - first)


def test_a_corner_nobody_entered_is_found_and_said():
    report = analyse(one_rope_plan(site__edges=[]))
    assert [turn.entered for turn in report.lines[0].turns] == [False] * len(report.lines[0].turns)
    assert any(one.id.startswith("bare-corner") and "no edge is entered" in one.text for one in report.findings)


def test_the_rope_gives_before_anything_lifts():
    """37 m of 11 mm low-stretch rope (EA 20 to 60 kN, 33 expected) at 1.5 kN: 1.5·37/33 = 1.68 m, 0.93 to 2.83, by hand."""
    plan = hanging(1500, site__load_at={"x_m": 0.01, "z_m": -29}, lines__0__haul__reach_m=1.5)
    line = judge(plan).hauling
    long = line.rig.way.length_m
    given = stretch_m(plan, line)
    shares = [1500 * long / ea for ea in (60_000, 33_000, 19_600)]
    # What lies in the system gives too, a little.
    assert given.expected == pytest.approx(shares[1], rel=0.12)
    assert given.low >= shares[0] * 0.9 and given.high <= shares[2] * 1.25
    haul = analyse(plan).haul
    assert haul.stretch.expected == pytest.approx(given.expected)
    assert haul.through_hands.expected == pytest.approx((haul.rise.expected + given.expected) * haul.ideal)


def test_what_each_setting_of_the_ratchet_gives_back_is_hauled_again():
    """3:1 reaching 1.5 m: between the grab and the ratchet about a metre of rope comes on, with the ratchet's slack before it."""
    plan = hanging(1500, site__load_at={"x_m": 0.01, "z_m": -29}, lines__0__haul__reach_m=1.5)
    line, haul = judge(plan).hauling, analyse(plan).haul
    sinks = sinks_m(plan, line)
    assert plan.lines[0].haul.capture_slack_m < sinks.low < sinks.expected < sinks.high < 0.05 + 1500 * 1.5 / 20_000
    rise, stroke = haul.rise.expected + haul.stretch.expected, haul.stroke.expected
    assert haul.resets == math.ceil((rise - stroke) / (stroke - sinks.expected))
    events = [one for one in whole_way(plan, plan.lines[0]).events if one.kind == "reset"]
    # The way ends a hand short of the corner.
    assert haul.resets - 1 <= len(events) <= haul.resets


def test_a_tension_line_takes_its_rope_and_shares_it():
    """As long as it spans, for every rope side by side, with a knot at either end; what another line has of it is not there."""
    document = tight_document()
    plan = Plan.model_validate(document)
    [span] = [one for one in budgets(plan, judge(plan).solver.ways, None) if one.job == "span"]
    tight = plan.tension_lines[0]
    far = math.dist(place_of(plan, tight.anchor), place_of(plan, tight.far))
    assert span.laid_m == pytest.approx(tight.ropes * far) and span.knots_m == pytest.approx(2 * 0.6 * tight.ropes)
    at = next(n for n, one in enumerate(plan.ropes) if one.id == tight.rope)
    short = Plan.model_validate(changed(document, **{f"ropes__{at}__length_m": far}))
    found = {line.id: line for line in check_here(short).lines}[f"short:span:{tight.id}"]
    assert found.level == "stop"
    mended = plan_edited(short, [Edit(one.op, one.path, one.value) for one in found.mends[0].edits])
    assert f"short:span:{tight.id}" not in {line.id for line in check_here(mended).lines}


def test_a_block_and_tackle_is_not_reset():
    """Reeved to the load it lifts until its blocks meet; nothing of it can be set forward."""
    plan = hanging(1000, lines__0__haul=haul("tackle-4", attached="load", reach_m=3.0))
    found = {line.id.partition(":")[0]: line for line in check_here(plan).lines}
    assert analyse(plan).haul.resets == 0
    assert found["no-reset"].level == "stop" and "set forward" in found["no-reset"].text


def test_one_rope_that_serves_two_lines_is_counted_once_for_both_together():
    """Belay on the other end of the main rope: what both take, out of one length; each alone would find it enough."""
    one = demo_document()
    main, belay = (next(line for line in one["lines"] if line["role"] == role) for role in ("main", "belay"))
    apart = analyse(Plan.model_validate(one))
    belay["rope"], belay["end"] = main["rope"], "other"
    one["ropes"] = [rope for rope in one["ropes"] if rope["id"] in {line["rope"] for line in one["lines"]}]
    rope = next(rope for rope in one["ropes"] if rope["id"] == main["rope"])
    lower, catch = (budget(apart, job).needed.expected for job in ("lower", "catch"))
    rope["length_m"] = lower + catch - 1
    together = analyse(Plan.model_validate(one))
    assert budget(together, "lower").needed.expected == pytest.approx(lower + catch)
    said = next(found for found in together.findings if found.id == "short:lower")
    assert "1.0 m short to lower" in said.text and "for what else is on it" in said.text
    assert (
        working_of(Plan.model_validate(one), budget(together, "lower").left.working).formula
        == "length − line − tail − knots − beside"
    )
    # The haul's strands come on top of what the belay takes.
    assert budget(together, "raise").left.expected == pytest.approx(
        rope["length_m"] - budget(apart, "raise").needed.expected - catch
    )
