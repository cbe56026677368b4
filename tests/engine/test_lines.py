"""Several lines: the belay's catch, ropes loaded alike, redirects, straight lifts, choices, and what a plan just begun is told."""

import math

import pytest

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.judging.judged import judge
from rigging.quantities.faults import Refused, faults_of
from rigging.site.load import GRAVITY
from rigging.telling.check.holding import holding
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.choices import choices
from rigging.telling.sheet.report import analyse
from tests.plans import changed, demo_document, demo_plan, hanging, haul, one_rope_plan, over_edges


def with_belay(plan: Plan, slack_m: float = 0.3, anchor: str = "belay", **belay) -> Plan:
    """The plan with a belay line on a rope of its own, at an anchor 1.5 m to the side unless another is named."""
    document = plan.model_dump(mode="json")
    single = {**document["anchors"][0]["alternatives"][0], "id": "side", "point": {"x_m": 0, "y_m": 1.5, "z_m": 0}}
    document["anchors"].append({"id": "belay", "name": "Belay anchor", "taken": "side", "alternatives": [single]})
    document["ropes"].append({"id": "belay", "kind": "low-stretch-11", "length_m": 60})
    main = document["lines"][0]
    document["lines"].append({
        "id": "belay", "role": "belay", "rope": "belay", "anchor": anchor, "load_knot": main["load_knot"],
        "load_connector": main["load_connector"], "slack_m": slack_m,
        "belay": {"holds": "hitch", "what": "tandem-prusik-8", **belay},
    })  # fmt: skip
    return Plan.model_validate(document)


def with_second(plan: Plan) -> Plan:
    document = with_belay(plan).model_dump(mode="json")
    document["lines"][1] |= {
        "id": "second",
        "role": "second",
        "belay": None,
        "slack_m": 0,
        "lowering": document["lines"][0]["lowering"],
    }
    return Plan.model_validate(document)


def test_the_demo_is_hauled_along_the_road_square_to_the_fall_line():
    """The redirect turns the haul by 90°: its anchor bears √2 of the hand's pull, as near as its pulley lets it."""
    raising = analyse(demo_plan()).state("raising")
    redirect = next(one for one in raising.crossings if one.id == "main:haul:1")
    assert math.degrees(redirect.turn_rad) == pytest.approx(90, abs=3)
    road = next(one for one in raising.anchors if one.anchor == "road")
    hand = raising.hand.expected
    before = hand * 0.9 ** (redirect.turn_rad / math.pi)
    by_hand = math.sqrt(hand**2 + before**2 - 2 * hand * before * math.cos(redirect.turn_rad))
    assert road.force.expected == pytest.approx(by_hand, rel=0.01)
    # It is judged by the anchors' own engine, in the direction of that sum.
    assert [rung.id for rung in raising.rungs if rung.id.startswith("anchor:road")] == [
        "anchor:road:working-point", "anchor:road:attachment", "anchor:road:feature",
    ]  # fmt: skip
    assert (road.direction.x_m, road.direction.y_m) == (pytest.approx(0.67, abs=0.05), pytest.approx(-0.74, abs=0.05))


def test_a_redirect_aside_costs_what_its_turn_costs():
    straight, led = one_rope_plan(), demo_plan()
    hand = analyse(straight).state("raising").hand.expected
    turned = analyse(led).state("raising")
    pulley = next(one for one in turned.crossings if one.id == "main:haul:1")
    assert turned.hand.expected == pytest.approx(hand / 0.9 ** (pulley.turn_rad / math.pi), rel=0.005)


def test_the_main_line_goes_and_the_belay_catches_after_its_slack():
    plan = with_belay(hanging(2000))
    goes = analyse(plan).state("goes:main")
    caught = goes.catch
    assert caught.by == "belay"
    # 20 m straight down from 1.5 m to the side: 0.3 m of slack lets the load down by 0.3 · 20.06 / 20.
    assert caught.drop.expected == pytest.approx(0.301, abs=0.002)
    weight, rope = 2000.0, math.dist((0.0, 1.5, 0.0), (0.01, 0, -20)) + 0.3
    peak = weight * (1 + math.sqrt(1 + 2 * caught.drop.expected * 35_000 / (weight * (rope - 0.3))))
    assert caught.peak.expected == pytest.approx(peak, rel=0.02)
    assert [rung.id for rung in goes.rungs if rung.id.startswith("main:")] == []
    assert "goes: the load drops 0.30 m onto the belay" in caught.text


def test_a_prusik_pair_caps_the_catch_and_a_knot_does_not():
    """3 m of slack near the top: with a tied rope the peak is what the formula has, on a hitch it stops where that slips.

    Round two ropes together a hitch does not slip: nothing caps it, and its cord is what may break (common practice)."""
    short = hanging(2000, site__load_at={"x_m": 0.01, "z_m": -6})
    tied = analyse(with_belay(short, 3.0, holds="tied", what="figure-eight-loop")).state("goes:main").catch
    hitched = analyse(with_belay(short, 3.0, what="prusik-8")).state("goes:main")
    both = analyse(with_belay(short, 3.0, what="prusik-8", round_ropes=2)).state("goes:main")
    assert tied.peak.high > 11_000
    assert hitched.catch.peak.high <= 8_000
    assert hitched.catch.slid.high > 0
    assert hitched.catch.clutch == "8 mm prusik"
    assert both.catch.peak.high == pytest.approx(tied.peak.high, rel=0.03)
    cord = next(one for one in both.rungs if one.id == "belay:belay:cord")
    assert (cord.gives, cord.strength.low, cord.strength.high) == ("breaks", 13_000, 20_000)
    assert cord.verdict == "below"


def test_a_belay_that_hands_alone_hold_catches_nothing_when_they_let_go():
    plan = with_belay(hanging(2000), holds="device", what="munter")
    assert "hands" in holding(plan, "goes:main").text
    assert "falls" in holding(plan, "goes:main").text


def test_two_ropes_loaded_alike_carry_35_to_65_percent_each_and_neither_is_a_single_point():
    plan = with_second(hanging(2000))
    held = analyse(plan).state("held")
    for line in ("main", "second"):
        strand = next(one for one in held.strands if one.line == line and not one.slack)
        up = math.hypot(1.5, 20) / 20 if line == "second" else 1.0
        assert strand.tension.low == pytest.approx(700, rel=0.01) or strand.tension.low == pytest.approx(
            700 / up, rel=0.02
        )
        assert strand.tension.high == pytest.approx(1300, rel=0.02)
    single = holding(plan, "held").single_points
    assert not {"main:rope", "second:rope", "anchor:main", "anchor:belay"} & set(single)
    shared = changed(plan.model_dump(mode="json"), lines__1__anchor="main")
    assert "anchor:main" in holding(Plan.model_validate(shared), "held").single_points


def test_a_straight_lift_by_block_and_tackle_pulled_down():
    """80 kg under a beam on a 4:1 pulled down, ball-bearing pulleys: P = W / (η + η² + η³ + η⁴); the beam bears W + P."""
    site = {
        "profile": [{"x_m": -4, "z_m": -6}, {"x_m": 4, "z_m": -6}], "surface": "rough-rock", "edges": [],
        "load_at": {"x_m": 0, "z_m": -6},
    }  # fmt: skip
    lift = {**haul("tackle-4-redirect"), "attached": "load"}
    plan = hanging(80 * GRAVITY, site=site, lines__0__haul=lift, team__haulers=3)
    report = analyse(plan)
    raising, weight = report.state("raising"), 80 * GRAVITY
    assert report.site.straight
    assert not [one for one in raising.crossings if one.role == "edge"]
    assert raising.hand.expected == pytest.approx(weight / (0.9 + 0.9**2 + 0.9**3 + 0.9**4))
    beam = next(one for one in raising.anchors if one.anchor == "main")
    assert beam.force.expected == pytest.approx(weight + raising.hand.expected, rel=1e-6)
    assert beam.direction.z_m == pytest.approx(-1)
    off = holding(plan, "raising")
    assert "hands off: the ratchet" in off.text
    # Two strands of the tackle go slack by the hitch's 0.05 m: the load comes down half of that.
    assert "0.02 m" in off.text or "0.03 m" in off.text
    for state in ("held", "lowering", "between-hauls", "raising-hands-off", "jammed"):
        assert report.state(state).available, state
    assert "ratchet" in holding(plan, "between-hauls").text


def test_a_ratchet_on_the_haul_strand_of_a_drop_loop_bears_half():
    """A block at the load: beside the haul strand half of it is left, the anchor of the rope's end has the other half."""

    plan = hanging(2000, lines__0__haul=haul("drop-2", attached="load", capture_on="haul"))
    line = judge(plan).states["between-hauls"].lines[0]
    cord = next(n for n, one in enumerate(line.network.ropes) if one.id == "main:ratchet cord")
    assert line.strand(cord, 0).expected == pytest.approx(1000, rel=1e-3)
    stuck = one_rope_plan(lines__0__haul__capture_on="haul")
    [found] = [one for one in check_here(stuck).lines if one.id == "no-reset:main"]
    assert found.level == "stop"
    assert [edit.value for edit in found.mends[0].edits] == ["line"]


def test_the_still_strand_of_a_drop_loop_is_gripped_by_its_lip_either_way():
    """Round 90° of an edge its anchor bears e^(−μβ) to e^(μβ) of what its block does (capstan equation, no rope running)."""
    plan = over_edges(2000, 90, lines__0__haul=haul("drop-2", attached="load"))
    line = judge(plan).states["raising"].lines[0]
    [rope] = [n for n, one in enumerate(line.network.ropes) if "load" in one.route]
    beyond, at_block = line.network.strands[rope][0].index, line.network.strands[rope][1].index
    mu = catalogue().surfaces["rough-rock"]
    lost = math.exp(mu.mu.high * math.pi / 2)
    a, b = line.strand(rope, beyond), line.strand(rope, at_block)
    assert a.high > b.high and a.low < b.low and a.expected == pytest.approx(b.expected)
    assert a.high / a.low > lost


def test_a_ratchet_nobody_minds_counts_as_open():
    minded, open_ = one_rope_plan(), one_rope_plan(lines__0__haul__capture_minder="")
    assert "hands off: the ratchet (8 mm prusik), after 0.05 m" in holding(minded, "raising").text
    assert "hands off: nothing, it falls" in holding(open_, "raising").text
    assert holding(open_, "raising", "hands").gone.further_m is None


def test_touching_a_part_says_where_the_load_would_stop():
    plan = demo_plan()
    gone = holding(plan, "between-hauls", "main:ratchet").gone
    assert gone.further_m == pytest.approx(0.3, abs=0.02)
    assert "onto the belay (two 8 mm prusiks in line)" in gone.text
    before = next(one for one in analyse(plan).state("held").nodes if one.id == "load").at
    after = next(one for one in gone.nodes if one.id == "load").at
    assert math.dist((before.x_m, before.z_m), (after.x_m, after.z_m)) == pytest.approx(gone.further_m, abs=0.01)
    assert {one.piece for one in gone.pulls} >= {"belay:rope"}
    with pytest.raises(Refused, match="no part of this state"):
        holding(plan, "held", "main:nowhere")


def test_of_two_ropes_each_part_says_whose_it_is():
    report = holding(demo_plan(), "held", every=True)
    names = {one.id: one.name for one in report.parts}
    assert names["main:rope"] == "the rope of the main line"
    assert names["belay:rope"] == "the rope of the belay"
    assert names["main:tail"].startswith("the rope behind the device")
    gone = holding(demo_plan(), "held", "main:rope").gone
    # The main line parts: the belay takes the load after its slack of 0.30 m.
    assert gone is not None and gone.further_m == pytest.approx(0.30, abs=0.02)
    assert gone.text.startswith("The rope of the main line goes: the load drops 0.30 m onto the belay")


def test_the_belay_is_judged_by_the_competence_test():
    said = [one for one in analyse(demo_plan()).state("goes:main").findings if one.id == "belay-test:belay"]
    assert "200 kg falling 1 m on 3 m of rope" in said[0].text
    # The softest rope that it can be stops it only past the metre that the test allows.
    assert said[0].level == "look" and "stops in 0.55 to 1.1 m" in said[0].text


def test_choices_come_worked_out_best_first_and_say_what_does_not_fit():
    plan = hanging(2000, rules__anchors_ratio=5)
    lowering = choices(plan, "lowering").choices
    fits = [one.id for one in lowering if not one.why_not]
    assert lowering[0].id in fits
    munter = next(one for one in lowering if one.id == "munter")
    facts = {fact.head: fact.text for fact in munter.facts}
    assert (facts["at the hand"], facts["hands"]) == ("0.17 to 0.33 kN", "more than two")
    assert len({tuple(fact.head for fact in one.facts) for one in lowering}) == 1
    assert "too much for one hand" in munter.why_not[0]
    hauls = choices(plan, "haul").choices
    assert next(one for one in hauls if one.id == "redirect-1").why_not
    assert all("of 7" in one.facts[0].text for one in hauls if not one.why_not)
    belays = choices(plan, "belay").choices
    assert belays[0].facts[0].text == "0.30 m"


def test_every_choice_is_made_by_its_edits():
    plan = demo_plan()
    for what in ("lowering", "haul", "brake", "grab", "capture"):
        for one in choices(plan, what).choices:
            assert plan_edited(plan, [Edit(e.op, e.path, e.value) for e in one.edits]).lines
    sling = next(one for one in choices(plan, "haul").choices if one.id == "sling-4")
    made = plan_edited(plan, [Edit(e.op, e.path, e.value) for e in sling.edits]).lines[0].haul
    assert made.own is not None and set(made.bends.values()) == {"slick-sling"}


def test_a_plan_just_begun_is_led_from_open_thing_to_open_thing():
    """Nothing but load, ground and a tree that nobody looked at: each step taken brings the next."""
    document = changed(one_rope_plan().model_dump(mode="json"), lines=[], ropes=[])
    document["features"][0] |= {"rating_n": None, "answers": {}, "basis": "", "verdict": None}
    report = analyse(Plan.model_validate(document))
    assert [step.id for step in report.whole.next] == ["inspect:larch", "line"]
    # Anchors come before lines: with no line yet the anchor is judged for the load held on it, or what is planned.
    from rigging.telling.anchors.report import study

    held = study(Plan.model_validate(document), report.opens_in, only="fixed").arrangements[0]
    assert held.available
    assert held.pull.expected == pytest.approx(
        analyse(one_rope_plan()).state("held").anchors[0].force.expected, rel=0.01
    )
    planned = changed(document, anchors__0__planning_n={"low": 3000, "expected": 3000, "high": 3000})
    assert study(Plan.model_validate(planned), "held", only="fixed").arrangements[0].pull.expected == 3000
    bare = one_rope_plan(lines__0__lowering=None, lines__0__haul=None)
    assert [step.id for step in analyse(bare).whole.next] == ["lowering", "haul", "belay"]
    assert analyse(demo_plan()).whole.next == []


def refused(document) -> dict[str, str]:
    from pydantic import ValidationError

    try:
        analyse(Plan.model_validate(document))
    except Refused as error:
        return {fault.path: fault.right for fault in error.faults}
    except ValidationError as error:
        return {fault.path: fault.right for fault in faults_of(error)}
    return {}


@pytest.mark.parametrize(
    ("change", "path", "mend"),
    [
        ({"lines__0__haul__redirects": [{"anchor": "main"}]}, "lines[0].haul.redirects[0].anchor", "anchor of its own"),
        ({"lines__0__redirects": [{"anchor": "main"}]}, "lines[0].redirects[0].anchor", "anchor of its own"),
        ({"lines__1__rope": "main", "lines__1__end": "other"}, "ropes[1]", "take it out of the plan"),
        ({"lines__1__anchor": "tower"}, "lines[1].anchor", "name an anchor's id"),
        ({"lines__1__slack_m": 400}, "lines[1].slack_m", "take the slack in"),
        ({"lines__1__rope": "main"}, "lines[1].end", "other end"),
        ({"lines__0__belay": {}}, "lines[0].belay", "leave it out"),
        ({"ropes__0__joins": [{"at_m": 80, "knot": "flat"}]}, "ropes[0].joins[0].knot", "figure-eight-loop"),
        ({"ropes__0__joins": [{"at_m": 80, "knot": "double-fisherman"}]}, "ropes[0].joins[0].at_m", "60 m or less"),
        ({"team__people__0__tied_to": "moon"}, "team.people[0].tied_to", "name an anchor's id"),
        ({"lines__0__haul__anchors": {"G": "road"}}, "lines[0].haul", "one of its anchors"),
    ],
)
def test_lines_that_can_not_be_are_refused_with_field_and_mend(change, path, mend):
    found = refused(changed(demo_document(), **change))
    assert mend in found.get(path, ""), found


def test_one_rope_may_serve_two_lines_by_its_two_ends():
    document = changed(demo_document(), lines__1__rope="main", lines__1__end="other")
    document["ropes"] = document["ropes"][:1]
    assert refused(document) == {}


def test_a_load_that_nothing_holds_in_any_state_is_said():
    report = analyse(one_rope_plan(lines__0__lowering=None, lines__0__haul=None))
    said = [one for one in report.state("held").findings if one.id == "nothing-holds"]
    assert said[0].level == "stop"
    assert "lowering device" in said[0].mend
    assert report.state("lowering").why_not == "no lowering device is chosen"
    lost = report.state("goes:main")
    assert lost.findings[0].id == "nothing-catches:main"
    assert "belay" in lost.findings[0].mend


def test_the_schools_are_never_mixed():
    static = analyse(demo_plan())
    limit = analyse(demo_plan(rules={"school": "force-limit", "cap_margin": 2}))
    assert static.whole.rule.text.startswith("Static ratio")
    assert limit.whole.rule.text.startswith("Force limit")
    rope = {name: next(r for r in one.state("between-hauls").rungs if r.id == "main:rope") for name, one in (("s", static), ("f", limit))}  # fmt: skip
    assert rope["s"].target == 5
    # Behind a ratchet that slips at 8 kN at the most, the rope is held against that, not against the load.
    assert rope["f"].margin.low == pytest.approx(22_000 / 8_000)


def test_snow_that_the_rope_has_bitten_into_is_one_place():
    """A rounded rim of four kinks holds the rope once, at its sharpest; firm snow at the others multiplies by e^(μβ) only."""
    plan = over_edges(2000, 8, 30, 12, 10, surface="snow-lip", site__edges=[])
    crossings = judge(plan).states["raising"].lines[0].rig.crossings.values()
    edges = [one for one in crossings if one.role == "edge"]
    assert [one.kind for one in edges].count("snow-lip") == 1
    assert max(edges, key=lambda one: one.turn_rad).kind == "snow-lip"
    assert {one.symbol for one in edges if one.kind != "snow-lip"} == {"μ"}


def test_a_line_that_hangs_slack_bears_nothing_until_it_is_drawn_in():
    """The main line half a metre slack: nothing holds the load, and the check says so; a second line so is behind the first."""
    loose = demo_plan(lines__0__slack_m=0.5)
    assert not analyse(loose).state("held").available
    assert {"hangs-slack:main"} <= {one.id for one in check_here(loose).lines if one.level == "stop"}
    document = demo_document()
    second = {
        **document["lines"][0],
        "id": "second",
        "role": "second",
        "rope": "belay",
        "anchor": "belay",
        "haul": None,
    }
    beside = Plan.model_validate(changed(document, lines=[document["lines"][0], {**second, "slack_m": 0.5}]))
    tight = Plan.model_validate(changed(document, lines=[document["lines"][0], second]))
    pulled = [{one.anchor for one in analyse(plan).state("held").anchors} for plan in (beside, tight)]
    assert pulled == [{"main"}, {"main", "belay"}]
    assert "hangs-slack:second" in {one.id for one in check_here(beside).lines if one.level == "look"}
