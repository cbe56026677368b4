"""The check over the whole of a plan: nothing that is worse further up the way, or at a step, is left unsaid."""

import json
import random

import pytest
from pydantic import ValidationError

from rigging.__main__ import main
from rigging.checks.gathered import at_place, everywhere
from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.judging.along import judged_along
from rigging.judging.judged import judge
from rigging.judging.margins import share_of_rule
from rigging.lines.whole_way import Travel, at_work, whole_way
from rigging.procedures.compose import composed
from rigging.quantities.faults import Refused
from rigging.study.place import AtPlace
from rigging.study.whole import Study
from rigging.telling.check.sheet import check, check_here
from tests.engine.test_random_plans import changed_at_random
from tests.plans import changed, demo_document, demo_plan, one_rope_plan
from tests.reference.test_tension_line import tight_document
from tests.sound import tight_alone

LARCH = demo_document()["features"][0]
FRONT = {**LARCH, "id": "front", "name": "Tree in front", "x_m": 4, "y_m": 0.3, "z_m": -1}
LEGS = demo_document()["anchors"][0]["alternatives"][0]["legs"]
FRONT_TIE = {**LEGS[0], "feature": "front"}
AT_THE_LOAD = {"id": "two", "name": "2:1", "nodes": {"A": "anchor", "L": "load"}, "ropes": [["A", "L", "hand"]]}


def on_thinner_straps() -> Plan:
    """The demo as it was before its straps were made thicker: sound where the load starts, not under the lip."""
    return Plan.model_validate(json.loads(json.dumps(demo_document()).replace('"rope-12.7"', '"rope-11"')))


def test_what_is_below_the_rule_only_up_the_way_is_a_stop_with_its_place_and_its_mend_mends_it():
    plan = on_thinner_straps()
    assert check_here(plan).stops == 0
    found = check(plan)
    line = next(one for one in found.lines if one.id == "below:anchor:main:attachment:1")
    assert line.level == "stop" and isinstance(line.where, float) and 10 < line.where < 25
    assert line.text.startswith(f"{line.where:.0f} m up: ")
    held = next(one for one in found.rows if one.state == "held")
    assert held.up_m is not None and "m up" in held.weakest
    mended = plan_edited(plan, [Edit(e.op, e.path, e.value) for e in line.mends[0].edits])
    assert line.id not in {one.id for one in check(mended).lines}
    assert check(demo_plan()).stops == 0


@pytest.mark.parametrize("seed", range(3))
def test_every_row_is_the_worst_that_any_place_of_the_way_has(seed):
    """Against the whole way worked out by itself, at places of its own, and each tenth asked afresh."""
    luck, plans = random.Random(7000 + seed), 0
    while plans < 4:
        try:
            plan = Plan.model_validate(changed_at_random(luck))
            study = Study(plan)
            rows = {row.state: row for row in study.rows}
            told = {line.found.id: line for line in everywhere(study)}
        except (ValidationError, Refused):
            continue
        if not plan.lines:
            continue
        plans += 1
        travel = Travel(plan, at_work(plan))
        for tenth in range(11):
            try:
                there = AtPlace(judge(travel.moved(travel.far_m * tenth / 10)))
            except Refused:
                continue
            for row in there.rows:
                if row.state in rows:
                    assert share_of_rule(rows[row.state].weakest) <= share_of_rule(row.weakest) + 1e-9
            for line in at_place(there):
                if (
                    line.found.kind in ("below", "slips-under-load", "falls", "single", "loss")
                    and line.found.level == "stop"
                ):
                    assert told[line.found.id].found.level == "stop", line.found.id
        for along in judged_along(plan, whole_way(plan, at_work(plan), 11)):
            row = rows.get(along.job)
            for part in along.weakest:
                if row is not None and row.weakest is not None and part is not None:
                    # The way asks the line at work alone: never less than what the state as a whole is asked.
                    assert share_of_rule(row.weakest) <= share_of_rule(part) * (1 + 1e-6)


def test_what_the_operation_refuses_is_said_in_the_check():
    plan = demo_plan(
        ropes__0__joins=[{"at_m": 20, "knot": "double-fisherman", "tail_m": 0.3}], lines__1__belay__releasing_m=None
    )
    refused = {one.key for section in composed(plan).sections for one in section.steps if one.step.refused}
    said = {line.where for line in check(plan).lines if line.id.startswith("step-refused")}
    assert refused <= said


def test_a_belay_with_metres_of_slack_is_said_by_what_its_loss_does():
    lines = {
        slack: {one.id: one for one in check_here(demo_plan(lines__1__slack_m=slack)).lines}
        for slack in (0.3, 2.0, 6.0)
    }
    assert "loss:main:rope" not in lines[0.3]
    assert lines[2.0]["loss:main:rope"].level == "look" and "drops 2" in lines[2.0]["loss:main:rope"].text
    assert lines[6.0]["loss:main:rope"].level == "stop"


def test_hands_do_not_hold_what_the_device_held_for_them():
    """One line alone: its anchor or its device gone, gloved hands behind it hold nothing of two kilonewtons."""
    plan = demo_plan()
    alone = plan.model_copy(update={"lines": [plan.lines[0]], "ropes": [plan.ropes[0]]})
    study = AtPlace(judge(alone))
    standing = study.standings["lowering"]
    assert standing.found.drop_m is not None
    assert standing.gone("anchor:main").further_m is None


def test_a_plan_with_nothing_but_a_tension_line_is_checked():
    document = tight_document(slips="self-locking", ropes=1)
    only = changed(document, lines=[], ropes=[one for one in document["ropes"] if one["id"] == "tight"])
    found = {one.id: one for one in check(Plan.model_validate(only)).lines}
    assert {"span-single:across:across:rope", "span-single:across:span-near"} & found.keys() or any(
        id.startswith("span-single") for id in found
    )
    assert not any("planning" in id for id in found)


def kinds(plan: Plan) -> set[str]:
    return {one.id.partition(":")[0] for one in check(plan).lines}


def test_a_join_that_comes_to_the_device_on_the_way_is_said_and_one_past_the_way_is_not():
    def joined(at_m: float) -> Plan:
        return demo_plan(ropes__0__joins=[{"at_m": at_m, "knot": "double-fisherman", "tail_m": 0.3}])

    line = next(one for one in check(joined(30)).lines if one.id == "join-on-way:main:0")
    assert "comes to the device after 23 m of lowering" in line.text and isinstance(line.where, float)
    assert "join-on-way" not in kinds(joined(59))


def test_slack_that_the_load_would_be_down_before_is_said_where_the_way_is_shortest_and_drawn_in():
    plan = demo_plan(lines__1__slack_m=2)
    line = next(one for one in check(plan).lines if one.id.startswith("place-refused"))
    assert line.where == pytest.approx(29.3, abs=0.1) and "2 m of slack" in line.text
    mended = plan_edited(plan, [Edit(e.op, e.path, e.value) for e in line.mends[0].edits])
    assert "place-refused" not in kinds(mended)
    crossing = demo_plan(lines__1__slack_m=6, team__people__4__at={"x_m": 12.5, "y_m": 1.0, "z_m": -7.4})
    assert any(one.id == "people-below" for one in check(crossing).lines)


def test_what_pulls_out_two_anchors_at_once_is_looked_at():
    shared = demo_plan(anchors__1__alternatives__0__legs__0__feature="larch")
    assert "shares-feature" in kinds(shared)
    assert "shares-feature" not in kinds(demo_plan())


def test_two_tension_lines_on_features_of_their_own_are_nothing_alone():
    both = tight_alone(2000)
    assert "span-single" not in kinds(Plan.model_validate(both))
    one = changed(both, tension_lines=both["tension_lines"][:1], ropes=both["ropes"][:1])
    assert "span-single" in kinds(Plan.model_validate(one))


def test_with_the_only_anchor_gone_nothing_lies_against_an_edge_and_is_held_by_that():
    here = AtPlace(judge(one_rope_plan()))
    for state in ("held", "lowering", "raising", "between-hauls", "jammed"):
        assert here.standings[state].further("anchor:main") is None, state
    found = next(one for one in here.alone if one.part == "anchor:main")
    assert "raising" in found.states


def test_a_plan_that_is_a_tension_line_and_nothing_else_is_told_by_every_command(tmp_path, capsys):
    file = tmp_path / "plan.json"
    file.write_text(json.dumps(changed(tight_alone(2000), load__contact="hangs")))
    for command in ("analyse", "check", "way", "anchors"):
        assert main([command, str(file)]) == 0, command
        told = json.loads(capsys.readouterr().out)
        if command == "analyse":
            # Nothing is lowered or raised by it, and no main line is missed.
            assert not told["whole"]["next"] and not any(one["available"] for one in told["states"])
        if command == "check":
            assert "swing" not in {one["id"] for one in told["lines"]}


def test_every_part_of_a_tension_line_below_the_rule_is_said_not_only_the_weakest():
    document = changed(tight_alone(2000), rules__others_ratio=20, rules__slip_ratio=9)
    found = {
        one.about: one.level for one in check(Plan.model_validate(document)).lines if one.id.startswith("span-below")
    }
    # What slips is by far the weakest; that the rope is below the rule, too, is a stop beside it.
    assert found["across:device"] == "look" and found["across:rope"] == "stop"


@pytest.mark.parametrize(
    ("kind", "change"),
    [
        # A leg in front keeps the point where it is; an autoblock of four wraps is usual; a cord that nothing grabs with.
        ("wide", {"features": [*demo_document()["features"], FRONT], "anchors__0__alternatives__0__legs": [*LEGS, FRONT_TIE]}),
        ("wraps-few", {"lines__0__lowering__hitch_made": {"wraps": 4}}),
        ("cord-short", {"lines__0__haul__attached": "load", "lines__0__haul__system": AT_THE_LOAD, "lines__0__haul__bends": {}, "lines__0__haul__grab_made": {"cord_length_m": 0.3}}),
    ],
)  # fmt: skip
def test_nobody_cries_wolf_over(kind, change):
    assert kind not in kinds(demo_plan(**change))


@pytest.mark.parametrize(
    ("kind", "change"),
    [
        ("no-tail", {"lines__0__tail_m": 0}),
        ("way-over-lip", {"lines__0__haul__walk_rad": 0.0, "lines__0__haul__redirects": []}),
        ("material-short", {"kit": [{"material": "rope-12.7", "length_m": 1, "count": 1}]}),
    ],
)
def test_what_was_missed_once_is_found_and_its_mend_mends_it(kind, change):
    plan = demo_plan(**change)
    line = next(one for one in check_here(plan).lines if one.id.startswith(kind))
    assert line.level == "stop"
    mended = plan_edited(plan, [Edit(e.op, e.path, e.value) for e in line.mends[0].edits])
    assert line.id not in {one.id for one in check_here(mended).lines}


def test_the_command_line_says_where(tmp_path, capsys):
    file = tmp_path / "plan.json"
    file.write_text(on_thinner_straps().model_dump_json(), encoding="utf-8")
    assert main(["check", str(file)]) == 0
    lines = json.loads(capsys.readouterr().out)["lines"]
    assert any(isinstance(one["where"], float) and one["level"] == "stop" for one in lines)


def test_an_acceptance_given_by_its_words_holds_and_one_lapses_when_what_it_accepts_is_otherwise():
    plan = demo_plan(lines__1__anchor="main")
    line = next(one for one in check_here(plan).lines if one.id == "shared-plate:anchor:main")
    for answer in (line.words, line.answer):
        taken = {"check": line.id, "answer": answer, "by": "Rowan", "reason": "one plate, rated, looked at twice"}
        accepted = demo_plan(lines__1__anchor="main", accepted=[taken])
        assert not next(one for one in check_here(accepted).lines if one.id == line.id).open
    three = demo_plan(lines__1__anchor="main", accepted=[{**taken, "answer": "0" * 16}])
    assert next(one for one in check_here(three).lines if one.id == line.id).lapsed
