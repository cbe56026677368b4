"""The operation as part of the plan: begun anywhere, put in order by its leader, with what is done instead; one rig goes through all of it."""

import itertools
import json
import random
from typing import Any

import pytest
from pydantic import ValidationError

from rigging.__main__ import main
from rigging.checks.operation import section_unmade, step_refused
from rigging.document import Plan
from rigging.document.edits import plan_edited
from rigging.lines.tension_line import along_line
from rigging.procedures.compose import composed
from rigging.procedures.course import arranged, entered
from rigging.procedures.operation import Operation, Section
from rigging.procedures.run import ProcedureGiven, StepGiven, made_of, of_kind
from rigging.procedures.temporary import temporaries
from rigging.quantities.faults import Refused
from rigging.study.whole import Study
from rigging.telling.check.sheet import check
from rigging.telling.work.operation import operation_report
from tests.engine.test_random_plans import changed_at_random
from tests.plans import ROOT, changed, demo_document, demo_plan, hanging, on_snow

BEGINS = ("ground", "hanging", "arrested", "belayed", "tension-line")
PROCEDURES = [*(one.id for one in of_kind("procedure")), "set-up", "check", "edge", "derig", "lower-on"]
CROSSING = json.loads((ROOT / "demo" / "otter-brook-crossing.json").read_text(encoding="utf-8"))


def begun(plan: Plan, begins: str, sections: list[Any] | None = None) -> Plan:
    given = [one if isinstance(one, dict) else {"procedure": one} for one in sections] if sections is not None else None
    return Plan.model_validate(plan.model_dump(mode="json") | {"operation": {"begins": begins, "sections": given}})


def order(operation: Operation) -> list[str]:
    return list(dict.fromkeys(one.procedure for one in operation.sections))


def refused(operation: Operation) -> list[str]:
    steps = [one for section in operation.sections for one in section.steps if one.step.refused]
    return [one.key for one in steps] + [section.id for section in operation.sections if section.unmade]


def section(operation: Operation, id: str) -> Section:
    return next(one for one in operation.sections if one.id == id)


BEGUN = {
    "from the ground": (demo_plan, "ground", ["set-up", "check", "lower", "secure", "change-over", "raise", "edge", "derig"]),
    "hanging": (demo_plan, "hanging", ["check", "change-over", "raise", "edge", "derig"]),
    "after an arrest": (on_snow, "arrested", ["after-arrest", "drop-haul", "drop-lip", "derig"]),
    "on a belayer's harness": (lambda: hanging(2000), "belayed", ["escape-belay", "back-into-belay"]),
    "a tension line": (lambda: Plan.model_validate(CROSSING), "tension-line", ["set-up", "check", "tension-line", "traverse", "let-off", "derig"]),
}  # fmt: skip


@pytest.mark.parametrize("name", BEGUN)
def test_an_operation_is_composed_from_wherever_it_begins_and_every_step_of_it_goes(name):
    made, begins, sections = BEGUN[name]
    operation = composed(begun(made(), begins))
    assert (operation.begins, order(operation), refused(operation)) == (begins, sections, [])


def test_a_belay_from_the_anchor_is_escaped_on_that_anchor_and_come_back_into():
    """Nothing hangs on a harness: the safety knot goes to the anchor, and no ground anchor is made; what then holds is the same."""
    document = begun(hanging(2000), "belayed").model_dump(mode="json")
    document["operation"]["belay"] = "anchor"
    above, below = composed(Plan.model_validate(document)), composed(begun(hanging(2000), "belayed"))
    assert refused(above) == [] and order(above) == ["escape-belay", "back-into-belay"]
    assert not any("belayer" in name for one in above.steps for name in one.step.after.state.at)
    gone = [
        one.step.given.do for one in below.steps if one.step.given.do not in {row.step.given.do for row in above.steps}
    ]
    assert len(gone) == 1 and gone[0].startswith("Ground anchor")
    ends = [next(one for one in rows.steps if one.step.given.do.startswith("Goes for help")) for rows in (above, below)]
    assert ends[0].step.after.on == ends[1].step.after.on
    assert ends[0].step.after.alone == ends[1].step.after.alone


@pytest.mark.parametrize(("people", "haulers", "first"), [(2, 2, "after-arrest"), (1, 0, "after-arrest-alone")])
def test_after_an_arrest_whoever_is_there_decides_how(people, haulers, first):
    document = begun(on_snow(), "arrested").model_dump(mode="json")
    document["team"] = {**document["team"], "people": document["team"]["people"][:people], "haulers": haulers}
    operation = composed(Plan.model_validate(document))
    assert order(operation)[0] == first and refused(operation) == []
    who = {role for one in operation.steps for role in one.step.given.who}
    assert ("second" in who) == (people > 1)


def test_each_section_begins_with_the_rig_that_the_one_before_left():
    """Nothing is rigged anew between them: what holds at the end of one is what the next finds, and where procedures lead to one another by
    themselves they come to the same."""
    for made, begins in ((on_snow, "arrested"), (lambda: hanging(2000), "belayed")):
        sections = [one for one in composed(begun(made(), begins)).sections if one.procedure != "derig"]
        for before, after in itertools.pairwise(sections):
            assert after.begins == before.steps[-1].step.after.state
            alone = made_of(made(), after.procedure)
            assert [one.step.after.on for one in after.steps] == [one.after.on for one in alone.steps]


def test_what_is_done_instead_begins_before_the_load_was_to_move():
    operation = composed(begun(on_snow(), "arrested"))
    haul = section(operation, "drop-haul")
    (branch,) = haul.instead
    moving = next(n for n, one in enumerate(haul.steps) if one.motions)
    assert branch.section.begins == haul.steps[moving - 1].step.after.state
    assert branch.section.begins.hauled_m == 0 < haul.steps[-1].step.after.state.hauled_m
    assert not any(one.step.refused for one in branch.section.steps)
    # 6 : 1 where 2 : 1 did not come.
    assert [
        next(one.step.hands.ideal for one in rows if one.step.hands) for rows in (haul.steps, branch.section.steps)
    ] == [2, 6]


def test_what_is_done_instead_takes_the_place_of_its_section():
    plan = begun(on_snow(), "arrested")
    operation = composed(plan)
    after, place = entered(plan, operation, "drop-haul/or:1")
    assert [one.procedure for one in after.operation.sections] == ["after-arrest", "drop-six", "drop-lip", "derig"]
    went = composed(Plan.model_validate(after.model_dump(mode="json")))
    assert went.sections[place].procedure == "drop-six" and refused(went) == []
    with pytest.raises(Refused, match="drop-haul/or:1"):
        entered(plan, operation, "raise/or:9")


def test_what_is_composed_can_be_put_in_order_and_is_the_same_until_it_is():
    for plan in (demo_plan(), begun(on_snow(), "arrested"), Plan.model_validate(CROSSING)):
        operation = composed(plan)
        rows = [one.model_dump() for one in arranged(plan, operation)]
        again = composed(begun(plan, plan.operation.begins if plan.lines else "tension-line", rows))
        assert [one.key for one in again.steps] == [one.key for one in operation.steps]


ORDER = ["set-up", "check", "lower", "secure", "change-over", "raise", "edge", "derig"]
WRONG = {
    "raised before the change-over": (["set-up", "check", "lower", "raise", "edge", "derig"], "raise"),
    "changed over with the load on the ground": (["set-up", "check", "change-over", "raise", "derig"], "change-over"),
    "a belay escaped that nobody stands at": (["set-up", "check", "lower", "escape-belay"], "escape-belay"),
    "along a tension line that is not there": (["set-up", "check", "traverse"], "traverse"),
    "a tension line where none is planned": (["set-up", "check", "tension-line"], "tension-line"),
    "over the edge from the lower": (["set-up", "lower", "edge"], "edge"),
}


@pytest.mark.parametrize("name", WRONG)
def test_an_order_that_can_not_be_is_a_stop_of_the_check_and_left_out_it_is_none(name):
    sections, wrong = WRONG[name]
    plan = begun(demo_plan(), "ground", sections)
    line = next(one for one in check(plan).lines if one.id == f"section-unmade:{wrong}")
    assert line.level == "stop" and line.open and line.mends
    mended = plan_edited(plan, line.mends[0].edits)
    assert not [one for one in check(mended).lines if one.id == f"section-unmade:{wrong}"]


@pytest.mark.parametrize(
    "sections",
    [ORDER, ["set-up", "lower", "change-over", "change-back", "lower-on", "secure", "derig"], ["check", "lower", "secure", "secure", "derig"],
     ["set-up", "check", "lower", "change-over", "raise", "change-back", "lower-on", "change-over", "raise", "edge", "derig"], ["tie-off", "derig"]],
)  # fmt: skip
def test_an_order_that_goes_is_composed_and_each_step_has_a_key_of_its_own(sections):
    operation = composed(begun(demo_plan(), "ground", sections))
    assert refused(operation) == []
    keys = [one.key for one in operation.steps]
    assert len(keys) == len(set(keys))
    assert [one.procedure for one in arranged(begun(demo_plan(), "ground", sections), operation)] == sections


def test_the_teams_own_procedure_stands_under_its_own_name_and_the_check_says_that_it_does_not_know_it():
    own = ProcedureGiven(
        id="own-look",
        name="Our look before the lip",
        steps=[StepGiven(who=["edge"], do="Everything looked at once more.")],
    )
    plan = begun(demo_plan(), "ground", ["set-up", "check", "lower", "own-look", "change-over", "raise", "derig"])
    operation = composed(plan, {own.id: own})
    found = section(operation, "own-look")
    assert found.name == own.name and refused(operation) == []
    assert found.begins == section(operation, "lower").steps[-1].step.after.state
    (line,) = [one for one in check(plan).lines if one.id.startswith("section-unmade")]
    assert line.level == "look" and not line.open and "own-look" in line.text


def test_what_fits_where_is_worked_out():
    report = operation_report(demo_plan(), composed(demo_plan()))
    after = {one.id: {choice.id for choice in one.may_follow} for one in report.sections}
    assert {"secure", "change-over", "sling-haul", "knot-pass-lowering", "derig"} <= after["lower"]
    assert not {"raise", "lower", "drop-haul", "escape-belay", "edge"} & after["lower"]
    assert {"raise", "change-back", "edge"} <= after["change-over"]
    assert after["raise:1"] == set()
    assert {one.id for one in report.may_begin} >= {"set-up-not-kept", "lower", "tie-off", "floating-anchor"} - {
        "set-up-not-kept"
    }


def test_along_a_tension_line_its_ends_bear_what_its_own_sheet_says():
    plan = Plan.model_validate(CROSSING)
    operation = composed(plan)
    step = next(one for one in operation_report(plan, operation).steps if one.key == "traverse/2")
    most = max(one.tension_n.high for one in along_line(plan, plan.tension_lines[0], 25))
    assert {one.id for one in step.holds.on} == {
        "tag:track device",
        "tag:far end",
        "tag:track-2 device",
        "tag:far end-2",
    }
    assert all(one.force_n.high == pytest.approx(most) for one in step.holds.on)
    # The load is drawn to the other bank, and nobody's hands hold it up.
    here, there = (operation.steps[n].step.after.state for n in (0, -4))
    assert step.holds.hands_off_m == pytest.approx(0, abs=1e-6)
    assert there.at["load"][0] == pytest.approx(here.at["load"][0] - section(operation, "traverse").steps[1].across_m)


@pytest.mark.parametrize(
    ("operation", "path"),
    [({"begins": "sky"}, "operation.begins"), ({"sections": [{"procedure": "Lower it"}]}, "operation.sections[0].procedure"),
     ({"sections": [{"procedure": "lower", "instead": [{"when": "", "procedure": "raise"}]}]}, "operation.sections[0].instead[0].when"),
     ({"sections": [{"procedure": "lower"}] * 25}, "operation.sections")],
)  # fmt: skip
def test_an_operation_that_is_none_is_refused_by_its_field(operation, path, tmp_path, capsys):
    file = tmp_path / "plan.json"
    file.write_text(json.dumps(changed(demo_document(), operation=operation)), encoding="utf-8")
    assert main(["operation", str(file)]) == 2
    assert path in capsys.readouterr().err


def test_the_command_line_prints_where_it_begins_and_what_is_done_instead(tmp_path, capsys):
    file = tmp_path / "plan.json"
    file.write_text(begun(on_snow(), "arrested").model_dump_json(), encoding="utf-8")
    assert main(["operation", str(file)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["begins"] == "arrested"
    (branch,) = next(one for one in told["sections"] if one["id"] == "drop-haul")["or"]
    assert branch["when"] == "it does not come" and branch["procedure"] == "drop-six" and len(branch["steps"]) == 3
    picket = next(one for one in told["sections"][0]["steps"] if one["id"] == "after-arrest/5")
    assert picket["holds"] == ["main:hitch"] and picket["forces_n"]["main:axe"]["high"] > 1000


@pytest.mark.parametrize("seed", range(4))
def test_on_random_plans_nothing_that_can_not_be_done_is_kept_quiet(seed):
    """Wherever it is begun and however it is put in order: it is composed or refused by a field, and what of it can not be done stands in the check."""
    luck = random.Random(seed)
    asked = said = 0
    while asked < 25:
        document = changed_at_random(luck)
        sections = [{"procedure": luck.choice(PROCEDURES)} for _ in range(luck.randint(1, 6))]
        document["operation"] = {"begins": luck.choice(BEGINS), "sections": luck.choice([None, sections])}
        try:
            study = Study(Plan.model_validate(document))
        except ValidationError:
            continue
        if study.operation is None:
            continue
        asked += 1
        operation_report(study.plan, study.operation)
        found = {one.id: one.level for each in (step_refused, section_unmade) for one, _ in each.find_over(study)}
        for key in refused(study.operation):
            assert found.get(f"step-refused:{key}", found.get(f"section-unmade:{key}")) == "stop"
            said += 1
    assert said


def alone_on_pickets(*rated_kn: tuple[float, float, float]) -> Plan:
    """Alone in an arrest, somebody heavy in the crevasse, with so many pickets that were looked at."""
    document = json.loads((ROOT / "demo" / "lang-corrie-crevasse.json").read_text(encoding="utf-8"))
    document["team"] = {"haulers": 1, "people": document["team"]["people"][:1]}
    document["load"]["items"] = [{"name": "Two on the rope", "mass_kg": 148, "plus_minus_kg": 0}]
    pickets = [
        {"id": f"picket-{n}", "name": f"Picket {n}", "kind": "snow-picket", "x_m": -1, "y_m": 0.3 * n, "z_m": 0.3,
         "rating_n": dict(zip(("low", "expected", "high"), (1000 * one for one in kn), strict=True)), "basis": "Tried by two"}
        for n, kn in enumerate(rated_kn, start=1)
    ]  # fmt: skip
    return Plan.model_validate({**document, "features": [*document["features"], *pickets]})


def test_what_comes_on_a_picket_is_held_against_what_it_holds():
    """One of 2.5 to 5 kN under 2.9 is asked about, two are not; one that surely goes is a stop."""
    one = alone_on_pickets((2.5, 4, 5))
    step = next(step for step in composed(one).steps if temporaries(step))
    (bears,) = temporaries(step)
    assert bears.bears_n.high == pytest.approx(2900, abs=150) and bears.asks and not bears.surely_goes
    told = {line.id: line for line in check(one).lines}["temporary-doubtful:main:picket"]
    assert told.level == "look" and "2.5 to 5.0 kN" in told.text
    assert [one.key for one in operation_report(one, composed(one)).steps if one.questions] == [step.key]
    two = alone_on_pickets((2.5, 4, 5), (2.5, 4, 5))
    (beside,) = temporaries(next(step for step in composed(two).steps if temporaries(step)))
    assert not beside.asks and beside.holds_n.low == 5000
    assert not any(line.id.startswith("temporary-doubtful") for line in check(two).lines)
    soft = alone_on_pickets((0.1, 0.2, 0.3))
    assert {line.id: line for line in check(soft).lines}["temporary-doubtful:main:picket"].level == "stop"
