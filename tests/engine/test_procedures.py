"""Procedures as edits: what holds after each, against rigs written out by hand; wrong orders refused with the edit and the reason."""

import json
import math
from typing import Any

import pytest

from rigging.__main__ import main
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.mechanics.holds import HANDS, LyingRig, lying, study
from rigging.procedures.asked import ask
from rigging.procedures.begin import MOMENTS, Ground
from rigging.procedures.edits import perform
from rigging.procedures.edits.edit import Edit
from rigging.procedures.run import ASKED, Bound, gives_of, known, made_of, of_kind, walked
from rigging.procedures.state import State
from rigging.quantities.faults import Refused
from tests.plans import (
    DEMO,
    demo_plan,
    hanging,
    haul,
    on_one_feature,
    on_snow,
    one_rope_plan,
    over_edges,
)

LOAD_Z, DEVICE, BRAKE, GRAB = -20.0, 0.5, 0.25, 1.1
PROCEDURES = [one.id for one in of_kind("procedure")]


def straight(**paths: Any) -> Plan:
    """A load hung straight under its anchor, so that a rig can be written down by hand."""
    return hanging(2000, **paths)


def carabiners_only() -> Plan:
    """The demo with nothing but carabiners and hitches: a munter lowers, carabiners turn the rope."""
    return demo_plan(
        lines__0__lowering__device="munter",
        lines__0__haul={**haul("z-3", kind="carabiner"), "capture_releasing_m": 1.0},
    )


KINDS = {"demo": demo_plan, "snow": on_snow, "straight lift": straight, "carabiners only": carabiners_only}


def hung(*pieces: dict[str, Any], at: dict[str, float] | None = None) -> LyingRig:
    """By hand: the line goes straight down from W; device, hitches, redirect and haul grab at their places on it, metres down."""
    down = {"D": DEVICE, "DL": DEVICE, "B": BRAKE, "R": GRAB, "L": -LOAD_Z, "H": -1.0, "W": 0.0, **(at or {})}
    kinds = {"W": "anchor", "L": "load", "D": "block", "M": "block", "H": "hands", "P": "anchor"}
    used = {name for one in pieces for name in one["route"]} | {"L"}
    nodes = {name: {"at": [0, 0, -down[name]], "kind": kinds.get(name, "grab")} for name in used}
    return LyingRig.model_validate({"load": {"node": "L", "weight_kN": 2.0}, "nodes": nodes, "pieces": list(pieces)})


def rope(*route: str, slack: float = 0.0, id: str = "") -> dict[str, Any]:
    return {"id": id or "-".join(route), "rope": "main", "route": list(route), "slack_m": slack}


def cord(*route: str, slack: float = 0.0) -> dict[str, Any]:
    return {"id": f"cord {'-'.join(route)}", "route": list(route), "slack_m": slack}


# After each edit: the rig by hand. D runs, DL is the device locked; B the brake hitch, R the ratchet or the grab; H the hand.
CHANGE_OVER = [
    ("set brake", [rope("L", "D", "B"), rope("B", "H"), cord("B", "W"), cord("D", "W")]),
    ("lock device", [rope("L", "DL"), rope("DL", "B"), rope("B", "H"), cord("B", "W"), cord("DL", "W")]),
    ("put on ratchet", [rope("L", "DL"), rope("DL", "B"), rope("B", "H"), cord("B", "W"), cord("DL", "W")]),
    ("set ratchet", [rope("L", "R"), rope("R", "DL"), rope("DL", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("DL", "W")]),
    ("take in hand hands", [rope("L", "R"), rope("R", "DL"), rope("DL", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("DL", "W")]),
    ("unlock device", [rope("L", "R"), rope("R", "D", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("D", "W")]),
    ("open brake", [rope("L", "R"), rope("R", "D", "H"), cord("R", "W", slack=0.05), cord("D", "W")]),
    ("ease device", [rope("L", "R"), rope("R", "D", "H", slack=0.05), cord("R", "W"), cord("D", "W")]),
    ("tie backup", [rope("L", "R"), rope("R", "D", "W", slack=0.35), rope("W", "H"), cord("R", "W"), cord("D", "W")]),
    ("let go hands", [rope("L", "R"), rope("R", "D", "W", slack=0.35), cord("R", "W"), cord("D", "W")]),
    ("take out device", [rope("L", "R"), rope("R", "W", slack=0.35), cord("R", "W")]),
    ("take off brake", [rope("L", "R"), rope("R", "W", slack=0.35), cord("R", "W")]),
]  # fmt: skip

# The join an arm short of the device, drawn through, and the load let down onto the device again.
KNOT_PASS = [
    ("set brake", [rope("L", "D", "B"), rope("B", "H"), cord("B", "W"), cord("D", "W")]),
    ("lock device", [rope("L", "DL"), rope("DL", "B"), rope("B", "H"), cord("B", "W"), cord("DL", "W")]),
    ("put on grab", [rope("L", "DL"), rope("DL", "B"), rope("B", "H"), cord("B", "W"), cord("DL", "W")]),
    ("set grab", [rope("L", "R"), rope("R", "DL"), rope("DL", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("DL", "W")]),
    ("take in hand hands", [rope("L", "R"), rope("R", "DL"), rope("DL", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("DL", "W")]),
    ("unlock device", [rope("L", "R"), rope("R", "D", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("D", "W")]),
    ("open brake", [rope("L", "R"), rope("R", "D", "H"), cord("R", "W", slack=0.05), cord("D", "W")]),
    ("ease device", [rope("L", "R"), rope("R", "D", "H", slack=0.05), cord("R", "W"), cord("D", "W")]),
    ("tie backup", [rope("L", "R"), rope("R", "D", "W", slack=0.45), rope("W", "H"), cord("R", "W"), cord("D", "W")]),
    ("take out device", [rope("L", "R"), rope("R", "W", slack=0.45), rope("W", "H"), cord("R", "W")]),
    ("pass join", [rope("L", "R"), rope("R", "W", slack=0.45), rope("W", "H"), cord("R", "W")]),
    ("rig device", [rope("L", "R"), rope("R", "D", "W", slack=0.85), rope("W", "H"), cord("R", "W"), cord("D", "W")]),
    ("lock device", [rope("L", "R"), rope("R", "DL", slack=0.4), rope("DL", "W", slack=0.45), rope("W", "H"), cord("R", "W"), cord("DL", "W")]),
]  # fmt: skip

# The climber's rope from the belayer (P, 0.3 m down) onto the anchor.
BELAYER = {"P": 0.3, "M": 0.1, "ML": 0.1, "R": 1.1}
ESCAPE = [
    ("lock device", [rope("L", "DL"), rope("DL", "H"), cord("DL", "P")]),
    ("tie safety", [rope("L", "DL"), rope("DL", "P", slack=2.0), rope("P", "H"), cord("DL", "P")]),
    ("let go hands", [rope("L", "DL"), rope("DL", "P", slack=2.0), cord("DL", "P")]),
    ("put on hitch", [rope("L", "DL"), rope("DL", "P", slack=2.0), cord("DL", "P")]),
    ("set hitch", [rope("L", "R"), rope("R", "DL"), rope("DL", "P", slack=2.0), cord("DL", "P"), cord("R", "W", slack=0.05)]),
    ("take in hand hands", [rope("L", "R"), rope("R", "DL"), rope("DL", "P", slack=2.0), rope("P", "H"), cord("DL", "P"), cord("R", "W", slack=0.05)]),
    ("ease device", [rope("L", "R"), rope("R", "D", "P", slack=2.05), rope("P", "H"), cord("D", "P"), cord("R", "W")]),
    ("rig munter", [rope("L", "R"), rope("R", "D", "M", "P", slack=2.15), rope("P", "H"), cord("D", "P"), cord("M", "W"), cord("R", "W")]),
    ("lock munter", [rope("L", "R"), rope("R", "D", "ML", slack=0.15), rope("ML", "P", slack=2.0), rope("P", "H"), cord("D", "P"), cord("ML", "W"), cord("R", "W")]),
]  # fmt: skip


def made(plan: Plan, id: str):
    return [(one.edit.words, one) for step in made_of(plan, id).steps for one in step.made]


def same(found, by_hand: LyingRig, hands_off: bool) -> None:
    """The same drop, the same number of things without which it falls, the same drop onto what is behind the first strand."""
    rig = lying(by_hand)
    there = study(rig.without(HANDS) if hands_off else rig)
    here = found.hands_off if hands_off else found.holds
    assert here.drop_m == pytest.approx(there.drop_m, abs=1e-4)
    without = [sorted(round(far, 3) for far in one.without.values() if far is not None) for one in (here, there)]
    assert without[0] == pytest.approx(without[1], abs=1e-3)
    assert len(here.single_points) == len(there.single_points)


@pytest.mark.parametrize("number", range(len(CHANGE_OVER)))
def test_every_edit_of_the_change_over_holds_what_the_rig_by_hand_holds(number):
    name, one = made(straight(), "change-over")[number]
    wanted, pieces = CHANGE_OVER[number]
    assert name == wanted
    same(one.asked, hung(*pieces), False)
    same(one.asked, hung(*pieces), True)


@pytest.mark.parametrize("number", range(len(KNOT_PASS)))
def test_every_edit_of_a_knot_pass_holds_what_the_rig_by_hand_holds(number):
    name, one = made(straight(), "knot-pass-lowering")[number]
    wanted, pieces = KNOT_PASS[number]
    assert name == wanted
    same(one.asked, hung(*pieces), False)
    same(one.asked, hung(*pieces), True)


@pytest.mark.parametrize("number", range(len(ESCAPE)))
def test_every_edit_of_an_escape_holds_what_the_rig_by_hand_holds(number):
    name, one = made(straight(), "escape-belay")[number]
    wanted, pieces = ESCAPE[number]
    assert name == wanted
    same(one.asked, hung(*pieces, at=BELAYER), False)
    if number:
        same(one.asked, hung(*pieces, at=BELAYER), True)


def every_system() -> list[Plan]:
    found = [demo_plan(), straight(), one_rope_plan(), over_edges(2000, 40, 30), on_snow(), carabiners_only()]
    for system in catalogue().systems:
        for attached in ("grab", "load"):
            found.append(one_rope_plan(lines__0__haul=haul(system, attached=attached)))
    return found


def test_a_procedure_finds_every_moment_as_the_compiled_rig_lies():
    asked = 0
    for plan in every_system():
        ground = Ground(plan)
        for id in MOMENTS:
            if ground.moments[id].missing:
                continue
            rig, mine = ground.solver.rig(ground.moments[id]).lying(), ground.state(id).lying()
            for off in (False, True):
                there, here = (study(one.without(HANDS) if off else one) for one in (rig, mine))
                assert (there.drop_m is None) == (here.drop_m is None)
                if there.drop_m is not None:
                    assert here.drop_m == pytest.approx(there.drop_m, abs=1e-4)
                assert len(here.single_points) == len(there.single_points)
                asked += 1
    assert asked > 250


NOT_THERE = {("snow", one) for one in ("lower", "secure", "change-over", "knot-pass-lowering")}


@pytest.mark.parametrize("id", PROCEDURES)
@pytest.mark.parametrize("kind", KINDS)
def test_no_edit_of_a_procedure_leaves_nothing_and_none_is_worse_than_hands(kind, id):
    """On plans of four kinds: every edit goes and is asked; one that leaves the load on hands alone began on them."""
    try:
        found = made_of(KINDS[kind](), id)
    except Refused as refused:
        assert (kind, id) in NOT_THERE or id in ("tension-line", "traverse", "let-off"), refused
        return
    alone = found.start.hands_off.drop_m is None
    for step in found.steps:
        for one in step.made:
            assert one.asked is not None, (one.edit.words, one.refused)
            assert one.asked.holds.drop_m is not None
            assert one.asked.hands_off.drop_m is not None or alone
            alone = one.asked.hands_off.drop_m is None
    assert not alone


def test_stopped_it_stays_when_the_hand_lets_go_and_locked_it_is_held_twice():
    edits = dict(made(straight(), "lower"))
    stop, locked = edits["let go hands"].asked, edits["lock device"].asked
    assert stop.hands_off.drop_m == pytest.approx(0, abs=1e-6)
    assert stop.on == ("main:brake",)
    assert stop.hands_off.without["main:brake cord"] is None
    assert locked.hands_off.without["tie of main:device"] == pytest.approx(0, abs=1e-6)


def test_a_knot_passes_and_the_releasing_hitch_gives_back_what_was_drawn_through():
    """0.4 m drawn through: a releasing hitch of 1 m lets the device carry again; one of 0.3 m is refused, with the missing 0.1 m."""
    last = made_of(straight(lines__0__haul__capture_releasing_m=1.0), "knot-pass-lowering").steps[-1].made[-1].asked
    assert last.holds.drop_m == pytest.approx(0, abs=1e-6)
    assert last.hands_off.holds and "main:brake cord" in last.hands_off.holds
    short = [
        one for _, one in made(straight(lines__0__haul__capture_releasing_m=0.3), "knot-pass-lowering") if one.refused
    ]
    assert short[0].edit.verb == "ease"
    assert "0.30 m" in short[0].refused[0].problem and "0.10 m" in short[0].refused[0].right


def test_on_three_to_one_the_join_at_the_redirect_leaves_two_to_one_and_asks_for_half_as_many_again():
    """Without friction 3 : 1 becomes 2 : 1 and the pull is half as much again; with it, by motion of what is left."""
    steps = made_of(demo_plan(), "knot-pass-raising").steps
    join = next(one.hands for one in steps if one.given.pulls == "join")
    whole = steps[-1].hands
    assert (whole.ideal, join.ideal) == (3, 2)
    # By hand: what runs round the pulley A (η 0.90) and the carabiner G (η 0.66); with the join standing, round G alone.
    eta_a, eta_g = (catalogue().bends[one].eta.expected for one in ("ball-bearing-pulley", "carabiner"))
    assert join.hand_n / whole.hand_n == pytest.approx((1 + eta_g + eta_g * eta_a) / (1 + eta_g), rel=1e-6)
    assert join.haulers >= whole.haulers


def test_a_climber_whose_device_lets_go_falls_two_metres_onto_the_safety_knot():
    tied = dict(made(straight(), "escape-belay"))["tie safety"].asked
    assert tied.behind.onto == ("main:safety",)
    assert tied.behind.far_m == pytest.approx(2.0, abs=0.02)
    gone = made_of(straight(), "escape-belay").steps[-1].after
    assert gone.behind.far_m is None
    assert {"anchor:main", "main:munter"} & set(gone.alone)


def test_the_ratchet_alone_holds_between_hauls_and_the_belay_is_behind_it():
    let_go = next(one for words, one in made(demo_plan(), "raise") if words == "let go hands").asked
    assert let_go.on == ("main:ratchet",)
    assert let_go.behind.onto == ("belay:belay",)
    assert let_go.behind.far_m == pytest.approx(0.3, abs=0.01)


def test_after_an_arrest_each_promise_is_kept():
    """Field practice: arrester / axe; axe / arrester; buried anchor / axe; hitch / knot; ratchet and tied end / old rope."""
    edits = dict(made(on_snow(), "after-arrest"))
    assert edits["put on hitch"].asked.on == (HANDS,) and edits["put on hitch"].asked.behind.onto == ("main:hitch",)
    assert edits["ease arrester"].asked.on == ("main:hitch",) and edits["ease arrester"].asked.behind.onto == (HANDS,)
    assert edits["take off arrester"].asked.behind.far_m == pytest.approx(0.3, abs=0.1)
    hauled = [one for words, one in made(on_snow(), "drop-six") if words == "let go drop hands"][-1].asked
    assert set(hauled.on) == {"main:drop ratchet", "main:drop end"}
    assert hauled.behind.onto == ("main:hitch",)


def test_a_drop_loop_says_how_many_it_takes_and_how_many_without_a_block():
    """By hand: a moving block gives 1 + η of the pull, and a 3 : 1 on carabiners on its haul strand 1 + η + η² of that again."""
    plan = on_snow()
    two, six = (next(one.hands for one in made_of(plan, id).steps if one.hands) for id in ("drop-haul", "drop-six"))
    haul_now = plan.lines[0].haul
    load_n = Ground(plan).hand_n * gives_of(haul_now.system, haul_now.bends).actual.expected
    eta, block = (catalogue().bends[one].eta.expected for one in ("carabiner", "ball-bearing-pulley"))
    assert (two.ideal, six.ideal, two.there) == (2, 6, 2)
    assert two.hand_n == pytest.approx(load_n / (1 + block), rel=1e-9)
    assert six.hand_n == pytest.approx(load_n / (1 + block) / (1 + eta + eta**2), rel=1e-9)
    assert two.bare == math.ceil(load_n / (1 + eta) / catalogue().people.sustained_n.expected) > two.haulers


def test_alone_the_load_goes_from_the_arrest_to_the_picket_to_the_buried_anchor():
    edits = dict(made(on_snow(), "after-arrest-alone"))
    assert edits["ease arrester"].asked.on == ("main:hitch",) and edits["ease arrester"].asked.behind.onto == (HANDS,)
    # The picket is behind the buried anchor until it is left.
    assert edits["take off arrester"].asked.hands_off.without["anchor:main"] == pytest.approx(0.1, abs=0.05)
    assert edits["leave guard picket"].asked.hands_off.without["anchor:main"] is None


# Wrong orders


def at_step(id: str, count: int, plan: Plan | None = None) -> State:
    """The line after so many edits of a procedure."""
    plan = plan or straight()
    state = made_of(plan, id).start.state
    for _, one in made(plan, id)[:count]:
        state = one.asked.state
    return state


def edit(verb: str, part: str = "", **values: Any) -> Edit:
    return Edit(verb=verb, part=part, values=values)


def after(id: str, words: str, plan: Plan | None = None) -> int:
    """How many edits of a procedure up to the last of these words."""
    return max(n for n, (one, _) in enumerate(made(plan or straight(), id), start=1) if one == words)


WRONG = [
    ("ratchet off while it bears", "change-over", "take off brake", edit("take off", "ratchet"), "bears the load"),
    ("ratchet opened under load", "change-over", "take off brake", edit("open", "ratchet"), "does not let go under load"),
    ("device off while it bears", "change-over", "lock device", edit("take out", "device"), "bears the load"),
    ("system built with the device still on", "change-over", "ease device", edit("build", "system"), "device is still on"),
    ("hauled against the knot behind", "change-over", "build system", edit("haul", by_m=0.2), "no hand is on a strand that runs"),
    ("brake hitch off on a running device", "lower", "load", edit("take off", "brake"), "hands alone"),
    ("brake hitch opened on a plain device", "lower", "load", edit("open", "brake"), "hands alone"),
    ("lowered on a locked device", "lower", "lock device", edit("lower", by_m=1), "holds the load"),
    ("ratchet set twice over", "change-over", "put on ratchet", edit("put on", "ratchet"), "on the rope already"),
    ("a grab that is not there", "lower", "load", edit("set", "ratchet"), "there is no ratchet"),
    ("releasing hitch let out further than it is", "change-over", "ease device", edit("let out", "ratchet", by_m=0.5), "releasing hitch gives 0.00 m"),
    ("releasing hitch taken out early", "knot-pass-lowering", "ease device", edit("take off", "grab"), "bears the load"),
    ("releasing hitch let out before anything is behind it", "knot-pass-lowering", "take out device", edit("let out", "grab", by_m=1.5), "releasing hitch gives"),
    ("rope let out of a locked device", "change-over", "lock device", edit("let out", "device", by_m=0.2), "locked"),
    ("grab opened with nothing behind", "raise", "let go hands", edit("take off", "ratchet"), "bears the load"),
    ("grab slid forward under load", "raise", "haul", edit("reset", "main:G"), "bears the load"),
    ("hauled past the stop of the blocks", "raise", "haul", edit("haul", by_m=15), "after"),
    ("second ratchet clipped before it reaches", "knot-pass-raising", "put on ratchet-2", edit("clip", "ratchet-2"), "does not reach"),
    ("second ratchet set before it is clipped", "knot-pass-raising", "put on ratchet-2", edit("set", "ratchet-2"), "not clipped"),
    ("first ratchet off on the wrong side of the knot", "knot-pass-raising", "put on ratchet-2", edit("take off", "ratchet"), "bears the load"),
    ("redirect opened while its strand pulls", "knot-pass-raising", "haul", edit("take off", "main:A"), "pulls"),
    ("guard leaves the axe", "after-arrest", "ease arrester", edit("leave guard", "axe"), "the load hangs on the axe"),
    ("arrester out of the rope before the knot is in", "after-arrest", "guard axe", edit("take off", "arrester"), "bears the load|nothing would hold"),
    ("axe left while the hitch hangs on it alone", "after-arrest", "ease arrester", edit("leave", "hitch", **{"from": "axe"}), "on that anchor alone"),
    ("picket left while the load is on it alone", "after-arrest-alone", "ease arrester", edit("leave guard", "picket"), "the load hangs on the picket"),
    ("untied at the lip", "after-arrest", "string drop", edit("untie person", "second"), "at the lip"),
    ("to the lip on nothing", "after-arrest", "guard axe", edit("go to lip", "somebody"), "tied in to nothing"),
    ("munter off with nothing else", "escape-belay", "take off hitch", edit("take out", "munter"), "bears the load"),
    ("device off the belayer while it bears", "escape-belay", "tie safety", edit("take out", "device"), "bears the load"),
    ("hands off a lift with the hitch open", "straight-lift", "load", edit("open", "ratchet"), "hands alone"),
]  # fmt: skip


@pytest.mark.parametrize(("id", "words", "wrong", "reason"), [row[1:] for row in WRONG], ids=[row[0] for row in WRONG])
def test_wrong_orders_are_refused_with_the_edit_and_the_reason(id, words, wrong, reason):
    with pytest.raises(Refused) as refused:
        perform(at_step(id, after(id, words)), wrong)
    fault = refused.value.faults[0]
    assert any(one in fault.problem for one in reason.split("|")), fault.problem
    assert fault.path.startswith(wrong.verb) and fault.right


def test_hands_alone_is_accepted_with_a_reason_and_nothing_never_is():
    """Brake hitch off a running device: with a reason it goes, and says so; letting go then never does."""
    state = at_step("lower", after("lower", "load"))
    asked = perform(state, Edit(verb="take off", part="brake", because="half a metre left, two on the rope"))
    assert asked.on == (HANDS,) and asked.hands_off.drop_m is None
    with pytest.raises(Refused, match="nothing would hold"):
        perform(asked.state, Edit(verb="let go", part="hands", because="whatever is said"))


PLAIN = {"lines__0__lowering__brake_hitch": None}


@pytest.mark.parametrize(
    ("wrong", "reason"),
    [
        (edit("ease", "device"), "nothing but hands"),
        (edit("let go", "hands"), "nothing would hold"),
        (edit("set", "brake"), "there is no brake"),
    ],
    ids=["eased with nothing behind", "hands off a plain device", "no hitch to set"],
)
def test_a_plain_device_without_a_hitch_is_refused_whatever_is_done(wrong, reason):
    with pytest.raises(Refused) as refused:
        perform(Ground(straight(**PLAIN)).state("lowering"), wrong)
    assert reason in refused.value.faults[0].problem


def test_a_bare_haul_rests_on_hands_and_every_pause_is_refused():
    """Without belay and ratchet every pause hangs on hands."""
    bare = one_rope_plan(lines__0__haul=haul("drop-2", attached="load", capture=None, capture_minder=""))
    pause = [one for _, one in made(bare, "raise") if one.refused]
    assert pause and pause[0].edit.verb == "let go"


@pytest.mark.parametrize("id", [one.id for one in of_kind("contingency")])
def test_a_contingency_can_be_entered_from_any_step_and_leaves_something_holding(id):
    ground = Ground(demo_plan())
    for procedure in ("lower", "change-over", "raise"):
        for step in made_of(demo_plan(), procedure).steps:
            found = walked(ground, known()[id], step.after.state)
            for each in (one for row in found.steps for one in row.made):
                if each.asked is not None:
                    assert ask(each.asked.state).hands_off.drop_m is not None
                else:
                    # Only what is there already is refused.
                    assert "already" in each.refused[0].problem


def test_the_command_line_prints_every_edit_with_what_holds(capsys):
    assert main(["procedure", "change-over", str(DEMO)]) == 0
    told = json.loads(capsys.readouterr().out)
    edits = [one for step in told["steps"] for one in step["edits"]]
    assert len(edits) >= 15
    for one in edits:
        assert set(one["holds"]) == {"drop_m", "holds", "without", "single_points"} == set(one["hands_off"])
        assert one["holds"]["drop_m"] is not None and math.isfinite(one["holds"]["drop_m"])
    assert told["steps"][2]["who"] == "Ash"
    assert main(["procedure", "moonwalk", str(DEMO)]) == 2
    said = capsys.readouterr().err
    assert all(id in said for id in known())


def test_a_floating_anchor_holds_with_any_one_leg_gone():
    """Each leg of the ring taken away leaves the load on the others."""
    loaded = made_of(demo_plan(), "floating-anchor").steps[-1].after
    cords = [part for part in loaded.hands_off.without if part.startswith("main:ring cord")]
    assert len(cords) >= 2
    assert all(loaded.hands_off.without[part] is not None for part in cords)
    alone = made_of(on_one_feature(), "floating-anchor").steps[-1].after
    assert alone.hands_off.without["main:ring cord"] is None


def test_what_an_edit_says_nothing_of_is_unsaid():
    """A team's own step with an empty field is the step without it: no refusal, and nothing that breaks."""
    state = Ground(demo_plan()).state("lowering")
    said = {"cord_m": None, "out_m": None, "engaged": None}
    bare, empty = (Edit(verb="put on", part="spare", values={"to": "main", **more}) for more in ({}, said))
    assert empty == bare and perform(state, empty).state == perform(state, bare).state


def test_every_word_that_a_procedure_may_ask_is_answered_by_every_plan():
    ground = Ground(demo_plan())
    bound = Bound(ground, "held")
    assert all(isinstance(bound.so(word, ground.state("ground")), bool) for word in ASKED)
