"""Procedures as edits: what holds after each, against rigs written out by hand; wrong orders refused with the edit and the reason."""

import json
import math
from typing import Any

import pytest

from rigging.__main__ import main
from rigging.document import Plan
from rigging.lines.solve import Solver, ways_of
from rigging.lines.states import moments
from rigging.mechanics.holds import HANDS, LyingRig, lying, study
from rigging.procedures.begin import lowering_line
from rigging.procedures.edits import Edit, ask, perform
from rigging.procedures.rope import RopeState
from rigging.procedures.run import known, made_of
from rigging.quantities.faults import Refused
from tests.plans import DEMO, demo_plan, hanging, one_rope_plan

LOAD_Z, DEVICE, BRAKE, GRAB = -20.0, 0.5, 0.25, 1.1


def straight(**paths: Any) -> Plan:
    """A load hung straight under its anchor, so that a rig can be written down by hand."""
    return hanging(2000, **paths)


def hung(*pieces: dict[str, Any], hands: bool = True) -> LyingRig:
    """By hand: the line goes straight down from W; device, brake hitch and grab at their places on it."""
    nodes = {
        "W": {"at": [0, 0, 0]}, "L": {"at": [0, 0, LOAD_Z], "kind": "load"}, "D": {"at": [0, 0, -DEVICE], "kind": "block"},
        "DL": {"at": [0, 0, -DEVICE], "kind": "grab"}, "B": {"at": [0, 0, -BRAKE], "kind": "grab"}, "R": {"at": [0, 0, -GRAB], "kind": "grab"},
        "H": {"at": [0, 0, 1], "kind": "hands"},
    }  # fmt: skip
    used = {name for one in pieces for name in one["route"]} | {"L"}
    return LyingRig.model_validate(
        {
            "load": {"node": "L", "weight_kN": 2.0},
            "nodes": {n: v for n, v in nodes.items() if n in used},
            "pieces": list(pieces),
        }
    )


def rope(*route: str, slack: float = 0.0, id: str = "") -> dict[str, Any]:
    return {"id": id or "-".join(route), "rope": "main", "route": list(route), "slack_m": slack}


def cord(*route: str, slack: float = 0.0) -> dict[str, Any]:
    return {"id": f"cord {'-'.join(route)}", "route": list(route), "slack_m": slack}


# After each edit of the change-over: the rig by hand. D runs, DL is the device locked; B the brake hitch, R the ratchet; H the hand.
CHANGE_OVER = [
    ("set brake", [rope("L", "D", "B"), rope("B", "H"), cord("B", "W"), cord("D", "W")]),
    ("lock device", [rope("L", "DL"), rope("DL", "B"), rope("B", "H"), cord("B", "W"), cord("DL", "W")]),
    ("put on ratchet", [rope("L", "DL"), rope("DL", "B"), rope("B", "H"), cord("B", "W"), cord("DL", "W")]),
    ("set ratchet", [rope("L", "R"), rope("R", "DL"), rope("DL", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("DL", "W")]),
    ("take in hand", [rope("L", "R"), rope("R", "DL"), rope("DL", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("DL", "W")]),
    ("unlock device", [rope("L", "R"), rope("R", "D", "B"), rope("B", "H"), cord("R", "W", slack=0.05), cord("B", "W"), cord("D", "W")]),
    ("open brake", [rope("L", "R"), rope("R", "D", "H"), cord("R", "W", slack=0.05), cord("D", "W")]),
    ("ease device", [rope("L", "R"), rope("R", "D", "H", slack=0.05), cord("R", "W"), cord("D", "W")]),
    ("tie backup", [rope("L", "R"), rope("R", "D", "W", slack=0.35), cord("R", "W"), cord("D", "W")]),
    ("take off device", [rope("L", "R"), rope("R", "W", slack=0.35), cord("R", "W")]),
    ("take off brake", [rope("L", "R"), rope("R", "W", slack=0.35), cord("R", "W")]),
    ("let go", [rope("L", "R"), rope("R", "W", slack=0.35), cord("R", "W")]),
    ("take in hand", [rope("L", "R"), rope("R", "W", slack=0.35), cord("R", "W")]),
]  # fmt: skip


def by_parts(found) -> tuple[float | None, dict[str, float | None]]:
    """The drop, and how much further without the ratchet's cord or whatever holds first."""
    return found.drop_m, found.without


def made(plan: Plan, id: str):
    return [(f"{one.edit.verb} {one.edit.grip}".strip(), one) for step in made_of(plan, id).steps for one in step.made]


def test_it_begins_as_the_compiled_rig_does():
    for plan in (demo_plan(), straight(), one_rope_plan()):
        solver = Solver(plan, ways_of(plan))
        rig = solver.rig(next(one for one in moments(plan) if one.id == "lowering")).lying()
        begun = ask(lowering_line(plan))
        for hands_off, here in ((False, begun.holds), (True, begun.hands_off)):
            there = study(rig.without(HANDS) if hands_off else rig)
            assert here.drop_m == pytest.approx(there.drop_m, abs=1e-5)
            assert len(here.single_points) == len(there.single_points)


@pytest.mark.parametrize("number", range(len(CHANGE_OVER)))
def test_every_edit_of_the_change_over_holds_what_the_rig_by_hand_holds(number):
    edits = made(straight(), "change-over")
    name, one = edits[number]
    wanted, pieces = CHANGE_OVER[number]
    assert name == wanted
    rig = lying(hung(*pieces))
    for found, given in ((one.asked.holds, rig), (one.asked.hands_off, rig.without(HANDS))):
        there = study(given)
        assert found.drop_m == pytest.approx(there.drop_m, abs=1e-4)
        # The same parts taken away go as far: what bears first, and each cord.
        for mine, theirs in (
            ("main:ratchet cord", "cord R-W"),
            ("main:brake cord", "cord B-W"),
            ("main:rope:1", pieces[0]["id"]),
        ):
            if mine in found.without and theirs in there.without:
                assert (found.without[mine] is None) == (there.without[theirs] is None), mine
                if found.without[mine] is not None:
                    assert found.without[mine] == pytest.approx(there.without[theirs], abs=1e-4)


@pytest.mark.parametrize("id", ["lower", "secure", "change-over", "knot-pass-lowering"])
@pytest.mark.parametrize("plan", [demo_plan(), straight(), one_rope_plan()], ids=["demo", "straight", "one rope"])
def test_no_edit_of_a_procedure_leaves_nothing_or_hands_alone(id, plan):
    for name, one in made(plan, id):
        # With one rope and no belay the last knot leaves the ratchet alone: said, not refused.
        assert one.asked is not None, (name, one.refused)
        assert one.asked.holds.drop_m is not None and one.asked.hands_off.drop_m is not None


def test_stopped_it_stays_when_the_hand_lets_go_and_locked_it_is_held_twice():
    steps = made_of(straight(), "lower").steps
    stop, locked = steps[2].made[-1].asked, steps[3].made[-1].asked
    assert stop.hands_off.drop_m == pytest.approx(0, abs=1e-6)
    assert "main:brake cord" in stop.hands_off.holds
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


def at_step(id: str, count: int) -> RopeState:
    """The straight line after so many edits of a procedure."""
    state = lowering_line(straight())
    for _, one in made(straight(), id)[:count]:
        state = one.asked.state
    return state


WRONG = [
    ("ratchet off while it bears", "change-over", 8, Edit("take off", "ratchet"), "bears the load"),
    ("ratchet opened under load", "change-over", 8, Edit("open", "ratchet"), "does not let go under load"),
    ("device off while it bears", "change-over", 2, Edit("take off", "device"), "bears the load"),
    ("brake hitch off on a running device", "lower", 0, Edit("take off", "brake"), "hands alone"),
    ("brake hitch opened on a plain device", "lower", 0, Edit("open", "brake"), "hands alone"),
    ("ratchet set twice over", "change-over", 3, Edit("put on", "ratchet", {}), "on the rope already"),
    ("a grab that is not there", "lower", 0, Edit("set", "ratchet"), "there is no ratchet"),
    ("releasing hitch let out further than it is", "change-over", 8, Edit("let out", "ratchet", {"by_m": 0.5}), "releasing hitch gives 0.00 m"),
    ("rope let out of a locked device", "change-over", 2, Edit("let out", "device", {"by_m": 0.2}), "locked"),
]  # fmt: skip


@pytest.mark.parametrize(("id", "count", "edit", "reason"), [row[1:] for row in WRONG], ids=[row[0] for row in WRONG])
def test_wrong_orders_are_refused_with_the_edit_and_the_reason(id, count, edit, reason):
    with pytest.raises(Refused) as refused:
        perform(at_step(id, count), edit)
    fault = refused.value.faults[0]
    assert reason in fault.problem
    assert fault.path.startswith(edit.verb) and fault.right


PLAIN = {"lines__0__lowering__brake_hitch": None}


@pytest.mark.parametrize(
    ("edit", "reason"),
    [
        (Edit("ease", "device"), "nothing but hands"),
        (Edit("let go"), "nothing would hold"),
        (Edit("set", "brake"), "there is no brake"),
    ],
    ids=["eased with nothing behind", "hands off a plain device", "no hitch to set"],
)
def test_a_plain_device_without_a_hitch_is_refused_whatever_is_done(edit, reason):
    with pytest.raises(Refused) as refused:
        perform(lowering_line(straight(**PLAIN)), edit)
    assert reason in refused.value.faults[0].problem


def test_the_command_line_prints_every_edit_with_what_holds(capsys):
    assert main(["procedure", "change-over", str(DEMO)]) == 0
    told = json.loads(capsys.readouterr().out)
    edits = [one for step in told["steps"] for one in step["edits"]]
    assert len(edits) == 14
    for one in edits:
        assert set(one["holds"]) == {"drop_m", "holds", "without", "single_points"} == set(one["hands_off"])
        assert one["holds"]["drop_m"] is not None and math.isfinite(one["holds"]["drop_m"])
    assert told["steps"][1]["who"] == "Ash"
    assert main(["procedure", "moonwalk", str(DEMO)]) == 2
    said = capsys.readouterr().err
    assert all(id in said for id in known())
