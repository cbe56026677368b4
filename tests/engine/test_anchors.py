"""Arrangements of legs: what each leg sees, what the swing does, what happens when one goes, and what is said about it."""

import json
import math

import pytest
from pydantic import ValidationError

from rigging.__main__ import main
from rigging.document import Plan
from rigging.telling.anchors.report import study
from rigging.telling.sheet.report import analyse
from tests.anchors import hung, leg, plan_of, said, tree, tried
from tests.plans import DEMO, ROOT, changed, one_rope_document, one_rope_plan

THREE = [tree("left", -4, -1.5), tree("mid", -4.4, 0), tree("right", -4, 1.5)]
LEGS = [leg(one["id"]) for one in THREE]


def fixed(**more):
    return plan_of(THREE, "fixed", LEGS, **{"pull": hung(3000), **more})


@pytest.mark.parametrize(("angle", "share"), [(0.01, 50), (30, 52), (60, 58), (90, 71), (120, 100), (150, 193)])
def test_two_legs_share_as_the_trade_has_it_and_give_when_wide(angle, share):
    """50, 52, 58, 71, 100, 193 % each, common practice; elastic webbing gives, which helps where the angle is wide."""
    half = math.radians(angle / 2)
    ends = [tree(id, -8 * math.cos(half), side * 8 * math.sin(half)) for id, side in (("left", -1), ("right", 1))]
    report = tried(plan_of(ends, "two-loop-y", [leg("left"), leg("right")], pull=hung(200)))
    for one in report.legs:
        assert one.share.expected <= share + 0.6
        assert one.share.expected == pytest.approx(share, rel=0.02 if angle < 140 else 0.15)


def test_a_swing_moves_the_load_from_leg_to_leg():
    report = tried(fixed())
    left, mid, right = report.sweep.forces_n
    assert report.sweep.offsets_rad[0] == pytest.approx(math.radians(-15))
    assert len(left) == 61
    # The pull swung to the right looking out (positive) is taken by the left leg, by mirror the other way about.
    assert left[-1] > 1.4 * left[30] > 2 * left[0]
    assert right[0] == pytest.approx(left[-1], rel=1e-3)
    assert max(mid) == pytest.approx(mid[30], rel=0.05)
    assert report.sweep.worst_leg in (0, 2)
    assert abs(report.sweep.worst_rad) == pytest.approx(math.radians(15))
    # Legs lie off the pull by atan(1.5/4) and nothing.
    assert math.degrees(report.legs[0].off_pull_rad) == pytest.approx(20.6, abs=0.5)
    assert math.degrees(report.legs[1].off_pull_rad) == pytest.approx(0, abs=0.5)
    # Margins are judged at the worst of the swing and of luck.
    assert report.legs[0].margin == pytest.approx(report.legs[0].holds.low / report.sweep.worst.high, rel=0.01)


def test_luck_of_stiffness_is_a_range_on_every_leg():
    mid = tried(fixed()).legs[1].force
    assert mid.low < 0.8 * mid.expected < mid.expected < 0.8 * mid.high


def test_forces_balance_within_a_newton_for_every_direction_and_removal():
    import numpy as np

    from rigging.anchors.pull import Asked
    from rigging.anchors.rig import at, rig_anchor
    from rigging.anchors.states import Swing, all_states
    from rigging.quantities.ranges import Range

    plan = fixed()
    rig = rig_anchor(plan, plan.anchors[0].alternatives[1])
    force = Range(low=2500, expected=3000, high=3600)
    to = np.array([at(line.feature) for line in rig.lines])
    for heading in np.linspace(-0.26, 0.26, 9):
        unit = np.array([0.97 * math.cos(heading), 0.97 * math.sin(heading), -0.243])
        states = all_states(rig, Asked.straight(force, unit), Swing(0.26))
        away = states.points[:, None, :] - to
        pulls = (states.expected_n[..., None] * away / np.linalg.norm(away, axis=-1)[..., None]).sum(axis=-2)
        assert np.abs(pulls - 3000 * unit).max() < 1


def test_each_leg_gone_is_taken_by_the_others():
    report = tried(fixed())
    for gone in report.removals:
        assert gone.outcome == "holds"
        assert gone.forces[gone.leg].expected == 0
        assert gone.moved.expected > 0
        assert 3000 <= gone.peak.expected < 6100
    middle = report.removals[1]
    # The two outer legs share what the middle one leaves, by mirror.
    assert middle.forces[0].expected == pytest.approx(middle.forces[2].expected, rel=1e-3)
    assert "what remains holds it" in middle.text


SCHEMES = {
    "single": plan_of(THREE, "single", LEGS[1:2], pull=hung(3000)),
    "two-loop-y": plan_of(THREE, "two-loop-y", [LEGS[0], LEGS[2]], pull=hung(3000)),
    "fixed": fixed(),
    "self-adjusting": plan_of(THREE, "self-adjusting", LEGS, pull=hung(3000)),
    "back-tied": plan_of([tree("front", -0.6, 0), tree("back", -5, 0)], "back-tied", [leg("front"), leg("back", pretension_n=1500)], pull=hung(3000)),
    "floating": plan_of([*THREE, tree("ahead", 3, -2), tree("beside", 3, 2)], "floating", [leg("left", pretension_n=1000), leg("right", pretension_n=1000), leg("ahead", pretension_n=800), leg("beside", pretension_n=800)], pull=hung(3000)),
    "span": plan_of([tree("west", 0, -4), tree("east", 0, 4)], "span", [leg("west"), leg("east")], span={}, pull=hung(1500)),
}  # fmt: skip


@pytest.mark.parametrize("scheme", SCHEMES)
def test_a_pull_that_may_be_nothing_at_all_has_its_answer(scheme):
    import numpy as np

    from rigging.anchors.pull import Asked
    from rigging.anchors.rig import rig_anchor
    from rigging.anchors.states import Swing, all_states
    from rigging.quantities.ranges import Range

    plan = SCHEMES[scheme]
    rig = rig_anchor(plan, plan.anchors[0].alternatives[1])
    asked = Asked.straight(Range(low=0, expected=800, high=2000), np.array([0.97, 0.0, -0.243]))
    states = all_states(rig, asked, Swing(0.26))
    for forces in (states.low_n, states.expected_n, states.high_n):
        assert np.all(np.isfinite(forces)), forces
    assert np.all(states.low_n <= states.expected_n + 1e-6)
    assert states.low_n[0].sum() < 20 or scheme in ("floating", "back-tied"), states.low_n


@pytest.mark.parametrize("scheme", SCHEMES)
def test_every_scheme_answers_who_takes_it_how_far_it_moves_and_the_peak(scheme):
    report = tried(SCHEMES[scheme])
    assert report.available, report.why_not
    assert len(report.removals) == len(report.legs)
    for gone in report.removals:
        if scheme == "single":
            assert gone.outcome == "nothing"
            continue
        # The peak on what is left is no less than the pull itself, and somebody takes it.
        assert gone.peak.expected >= report.pull.expected * 0.999
        assert max(force.expected for force in gone.forces) > 0
        assert report.cost.minutes.expected > 0


def test_a_floating_point_moves_less_than_the_same_legs_without_the_forward_ones():
    floats = tried(SCHEMES["floating"])
    hangs = tried(plan_of(THREE, "fixed", [leg("left"), leg("right")], pull=hung(3000)))
    assert floats.movement.expected < 0.7 * hangs.movement.expected
    # The forward legs add to the rear ones' tension.
    assert floats.legs[0].force.expected > 1.03 * hangs.legs[0].force.expected


def test_a_pole_under_the_point_is_judged_too():
    """By hand: a kilonewton straight down on a point between level legs, snug and no more, stands on the pole all but alone."""
    features = [*THREE, tree("ahead", 3, 0)]
    legs = [leg(one["id"], length_m=math.hypot(one["x_m"], one["y_m"])) for one in features]
    pole = {
        "foot": {"x_m": 0, "y_m": 0, "z_m": -1},
        "holds_n": {"low": 2000, "expected": 3000, "high": 4000},
        "basis": "ash, 60 mm",
    }
    report = tried(plan_of(features, "floating", legs, prop=pole, pull=hung(1000, dip=math.pi / 2)))
    assert report.prop.expected == pytest.approx(1000, rel=0.01)
    assert "2.0 : 1" in said(report, "pole")
    assert "ash, 60 mm" in said(report, "pole")


def test_a_tie_back_helps_only_if_it_is_tight():
    """By hand, front head k_f and tie k_b side by side: R = F·k_f/(k_f + k_b) − P. Tightening by P takes P off the front."""
    ends = [tree("front", -0.6, 0), tree("back", -5, 0)]

    def front(pretension):
        legs = [leg("front"), leg("back", pretension_n=pretension)]
        return tried(plan_of(ends, "back-tied", legs, pull=hung(3000)))

    loose, tight = front(0), front(1500)
    assert loose.legs[0].force.expected - tight.legs[0].force.expected == pytest.approx(1500, rel=0.02)
    assert tight.legs[1].force.expected > 1500
    assert "not tight" in said(loose, "loose-tie")
    assert not said(tight, "loose-tie")
    # With the tie gone the front takes it all.
    assert tight.removals[1].forces[0].expected == pytest.approx(3000, rel=0.01)


def test_lengths_to_gather_at_bring_an_even_share_and_say_how_touchy_they_are():
    plan = fixed()
    gather = tried(plan).gather
    tied = [leg(one["id"], length_m=length.expected) for one, length in zip(THREE, gather.lengths, strict=True)]
    again = tried(plan_of(THREE, "fixed", tied, pull=hung(3000)))
    forces = [one.force.expected for one in again.legs]
    assert forces == pytest.approx([one.expected for one in gather.forces], rel=0.02)
    assert max(forces) < 1.1 * min(forces)
    assert abs(again.loaded_at.y_m) < 0.005
    # A centimetre more in the middle leg moves its own pull by what was said, at most.
    longer = [*tied[:1], {**tied[1], "length_m": tied[1]["length_m"] + 0.01}, *tied[2:]]
    moved = forces[1] - tried(plan_of(THREE, "fixed", longer, pull=hung(3000))).legs[1].force.expected
    assert 0.5 * gather.per_cm.expected < moved <= 1.05 * gather.per_cm.expected


def test_a_pull_that_no_lengths_balance_is_said_and_given_no_figures():
    """Two trees side by side and a pull along neither: no tensions in their legs add up to it."""
    gather = tried(plan_of(THREE[:2], "fixed", LEGS[:2], pull=hung(3000, heading=math.pi / 2))).gather
    assert "No lengths bring the loaded point there" in gather.text
    assert (gather.lengths, gather.forces, gather.per_cm) == ([], [], None)


def test_a_wide_angle_a_far_working_point_and_a_turned_pull_are_said():
    wide = [tree("left", -1, -4), tree("right", -1, 4)]
    report = tried(plan_of(wide, "two-loop-y", [leg("left"), leg("right")], pull=hung(1000)))
    assert "152°" in said(report, "wide")
    aside = plan_of(THREE, "fixed", LEGS, point={"x_m": 0, "y_m": 3.5})
    assert "to the right of the fall line" in said(tried(aside), "off-line")
    assert "off the line's own direction" in said(tried(plan_of(THREE, "fixed", LEGS, heading_rad=0.4)), "other-way")


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"point": {"x_m": -4, "y_m": -1.5}}, "at the working point itself"),
        ({"legs": [{**LEGS[0], "length_m": 1.0}, LEGS[1]]}, "can not reach"),
        ({"pull": hung(3000, heading=math.pi)}, "runs away from all legs"),
    ],
)
def test_an_anchor_that_can_not_be_is_told_why_and_the_rest_stays(change, words):
    plan = plan_of(
        THREE, "fixed", change.get("legs", LEGS), **{key: value for key, value in change.items() if key != "legs"}
    )
    whole = study(plan, "raising")
    assert words in whole.arrangements[1].why_not
    assert whole.arrangements[0].available
    assert len(whole.features) == 3


def test_a_line_with_both_ends_in_one_place_is_told():
    plan = plan_of(THREE, "span", [leg("left"), leg("left")], span={"carriage": "rolls"}, pull=hung(500, dip=1.5))
    assert "both ends of the line are in one place" in tried(plan).why_not


def test_rejected_guarded_and_unknown_features_are_named_while_they_are_loaded():
    axe = {"snow": "firm", "lean_deg": 20, "sling": "yes"}
    features = [
        tree("left", -4, -1.5, verdict="reject", reason="heart rot"),
        {"id": "axe", "name": "Axe", "kind": "ice-axe", "x_m": -4, "y_m": 1.5, "answers": axe},
        {"id": "oak", "name": "Oak", "kind": "tree", "x_m": -4.4},
    ]
    report = tried(plan_of(features, "fixed", [leg(one["id"]) for one in features], pull=hung(500)))
    assert "heart rot" in said(report, "rejected")
    assert "Nobody is named" in said(report, "guard:axe")
    assert "nobody knows what it holds" in said(report, "unknown:oak")
    features[1]["guard"] = "Ash"
    guarded = tried(plan_of(features, "fixed", [leg(one["id"]) for one in features], pull=hung(500)))
    assert "Guarded by Ash" in said(guarded, "guard:axe")
    # The guard is asked for in every state of the line that hangs on it, for as long as it is loaded.
    whole = analyse(plan_of(features[1:2], "single", [leg("axe")], pull=hung(500)))
    assert "Guarded by Ash" in " ".join(one.text for one in whole.findings)
    features[1]["guard"] = ""
    alone = analyse(plan_of(features[1:2], "single", [leg("axe")], pull=hung(500)))
    anchors = next(stage.items for stage in alone.whole.open if stage.stage == "anchors")
    assert any("Nobody is named" in item for item in anchors)
    held = [{"id": "sam", "name": "Sam", "kind": "person", "x_m": -2, "answers": {"mass_kg": 80, "footing": "braced"}}]
    assert "last thing holding" in said(tried(plan_of(held, "single", [leg("sam")], pull=hung(200))), "temporary-last")


@pytest.mark.parametrize(
    ("tie", "fault", "words"),
    [
        ({"tail_to": "same-axle"}, "axle", "one axle is the only thing holding"),
        ({"tail_to": "nothing"}, "axle", "made fast to nothing"),
        ({"finish": "half-hitch"}, "half-hitch", "sharp bend"),
        ({"finish": "clipped-tight"}, "jams", "can not be let off under load"),
        ({"drum_m": 0.06}, "bend", "5.5 times"),
        ({}, "limited-behind", "no longer limited"),
    ],
)
def test_the_faults_of_a_full_strength_tie_off_are_named(tie, fault, words):
    drum = {"drum_m": 0.2, "tail_to": "anchor-behind", "finish": "releasable-hitch", **tie}
    post = {"id": "post", "name": "Post", "kind": "structure", "x_m": -0.2, "y_m": -6, "answers": {"diameter_m": 0.2}}
    legs = [
        {"feature": "post", "method": "drum-tie-off", "material": "rope-11", "turns": 4, "tie_off": drum},
        leg("east", extension="rope-11"),
    ]
    span = {"slips": "self-locking"}
    report = tried(plan_of([post, tree("east", -0.2, 6)], "span", legs, span=span, pull=hung(1000)))
    assert words in said(report, fault)
    sound = plan_of(
        [post, tree("east", -0.2, 6)],
        "span",
        [
            {**legs[0], "tie_off": {**drum, "drum_m": 0.2, "tail_to": "anchor-behind", "finish": "releasable-hitch"}},
            legs[1],
        ],
        span={},
        pull=hung(1000),
    )
    assert not said(tried(sound), fault)


def test_one_line_to_each_anchor_takes_a_line_with_it_gathered_keeps_both():
    ends = [tree("a", -0.2, -8), tree("b", -1.2, -8), tree("c", -0.2, 8), tree("d", -1.2, 8)]
    legs = [leg(one["id"], extension="rope-11", pretension_n=300) for one in ends]

    def two_lines(how):
        return tried(plan_of(ends, "span", legs, point={"x_m": -0.7}, span={"ropes": 2, "ends": how}, pull=hung(1500)))

    gathered, each = two_lines("gathered"), two_lines("one-each")

    def spare(report):
        return report.legs[1].holds.low / report.removals[0].forces[1].expected

    # Gathered, the neighbour takes both lines over; one to each, its one line is left with the whole pull.
    assert gathered.removals[0].forces[1].expected > gathered.legs[1].force.expected
    assert spare(each) < 0.8 * spare(gathered)
    assert "takes a line with it" in said(each, "one-each")


def test_with_nothing_said_of_the_bags_the_reach_is_unknown_and_said_once():
    report = tried(fixed())
    assert "Nobody said what is in the bags" in said(report, "kit-unsaid")
    assert all(need.text == "" for one in report.legs for need in one.needs)


def test_the_mirror_image_of_an_anchor_answers_in_mirror():
    uneven = [tree("a", -4, -1.0, 0.3), tree("b", -3.5, 0.6), tree("c", -4.6, 1.9, 0.2)]
    mirror = [{**one, "y_m": -one["y_m"]} for one in uneven]
    legs = [leg(one["id"]) for one in uneven]
    here = tried(plan_of(uneven, "fixed", legs, pull=hung(3000, heading=0.1)))
    there = tried(plan_of(mirror, "fixed", legs, pull=hung(3000, heading=-0.1)))
    for one, other in zip(here.legs, there.legs, strict=True):
        assert other.force.expected == pytest.approx(one.force.expected, rel=1e-3)
    for gone, mirrored in zip(here.removals, there.removals, strict=True):
        assert mirrored.peak.expected == pytest.approx(gone.peak.expected, rel=1e-3)
        assert mirrored.point.y_m == pytest.approx(-gone.point.y_m, abs=1e-3)


def test_material_the_team_does_not_have_long_enough_is_said_in_metres():
    kit = [{"material": "tubular-25", "length_m": 4, "count": 2}]
    document = changed(one_rope_document(), kit=kit, anchors__0__alternatives__0__legs__0__turns=4)
    legs = study(Plan.model_validate(document), "raising", only="fixed").arrangements[0].legs
    assert "the 4.0 m 25 mm tubular webbing is" in legs[0].needs[0].text
    assert "short for 4 turns; 3 turns do with 4.0 m, or join a second" in legs[0].needs[0].text
    assert "there is none in the kit" in legs[0].needs[1].text
    assert legs[1].needs[0].text == ""


def test_the_load_path_runs_through_every_leg_to_its_feature():
    raising = analyse(one_rope_plan()).state("raising")
    ids = [rung.id for rung in raising.rungs]
    assert ids[-7:] == [
        "anchor:main:working-point",
        *[f"anchor:main:{part}:{n}" for n in (1, 2, 3) for part in ("attachment", "feature")],
    ]
    report = study(one_rope_plan(), "raising", only="fixed").arrangements[0]
    for one in report.legs:
        rung = next(rung for rung in raising.rungs if rung.id == f"anchor:main:attachment:{one.index + 1}")
        # One anchor, one answer: the ladder and the Anchors stage say the same force and margin.
        assert rung.force.expected == pytest.approx(one.force.expected, rel=1e-4)
        feature = next(rung for rung in raising.rungs if rung.id == f"anchor:main:feature:{one.index + 1}")
        assert min(rung.margin.low, feature.margin.low) == pytest.approx(one.margin, rel=0.02)


def test_a_working_point_moved_forward_shortens_the_line():
    here, ahead = one_rope_plan(), one_rope_plan(anchors__0__alternatives__0__point={"x_m": 3, "y_m": 0, "z_m": -0.5})
    assert analyse(ahead).lines[0].length.expected < analyse(here).lines[0].length.expected - 2.5
    assert analyse(ahead).lines[0].way[0].x_m == 3


def test_a_clutch_in_the_line_caps_the_peak_as_a_leg_goes():
    """Held on a prusik the rope slips at 5 to 8 kN; a tension that would pass that is cut there and slips instead."""
    load = {"items": [{"name": "Load", "mass_kg": 250}], "contact": "hangs"}
    heavy = changed(
        one_rope_document(), load=load, anchors__0__taken="sliding", anchors__0__alternatives__1__limit_m=None
    )
    report = study(Plan.model_validate(heavy), "between-hauls", only="sliding").arrangements[0]
    assert max(one.peak.high for one in report.removals) <= 8000 + 1
    assert any(one.slips_m for one in report.removals)
    # A load heavier than the prusik's grip does not stop slipping at all: that is said, and it does not hold.
    heavy["load"]["items"][0]["mass_kg"] = 700
    endless = study(Plan.model_validate(heavy), "between-hauls", only="sliding").arrangements[0].removals[0]
    assert (endless.slips_m, endless.outcome) == (None, "gives")
    assert "does not stop" in endless.text


@pytest.mark.parametrize("version", [1, 2])
def test_plans_of_earlier_versions_open_as_they_were_meant(version):
    """Documents that this repository has kept: their one line and their anchors are the main line and its anchor."""
    old = json.loads((ROOT / "tests" / "documents" / f"version-{version}.json").read_text(encoding="utf-8"))
    assert old["schema_version"] == version
    plan = Plan.model_validate(old)
    assert (plan.schema_version, [line.id for line in plan.lines], plan.anchors[0].id) == (4, ["main"], "main")
    assert plan.ropes[0].length_m == old["line"]["length_m"]
    assert plan.lines[0].haul.system.id == old["line"]["haul"]["system"]["id"]
    assert analyse(plan).state("raising").rungs[-1].strength is not None
    del old["line"]
    with pytest.raises(ValidationError):
        Plan.model_validate(old)


def test_the_command_line_studies_the_anchors_of_a_plan(capsys):
    assert main(["anchors", str(DEMO), "--state", "jammed"]) == 0
    report = json.loads(capsys.readouterr().out)
    assert report["state"] == "jammed"
    assert [one["id"] for one in report["arrangements"]] == [
        "fixed",
        "sliding",
        "floating",
        "line",
        "belay-fir",
        "belay-piece",
        "road-larch",
    ]
