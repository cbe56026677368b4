"""Drills about a plan of the team's own: one right answer each, equal to what the command line prints of its operation; refused where there is nothing to ask."""

import contextlib
import io
import json

import pytest

from rigging.__main__ import main
from rigging.document import Plan
from rigging.learning.drills.drill import LEVELS
from rigging.learning.drills.own import OWN, Ground, Read, own_drill, own_round
from rigging.procedures.compose import composed
from rigging.procedures.operation import Operation
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.learning.own_drills import About, own_marked_report, own_round_report
from tests.plans import ROOT, demo_plan

DEMO = ROOT / "demo"


@pytest.fixture(scope="module", params=["alder-gill", "lang-corrie-crevasse"])
def ground(request):
    plan = Plan.model_validate_json((DEMO / f"{request.param}.json").read_bytes())
    return Ground(plan, composed(plan, {}, []))


def printed(ground, tmp_path) -> dict:
    """The plan's operation as the command line has it: its steps by key."""
    file = tmp_path / "plan.json"
    file.write_text(ground.plan.model_dump_json(), encoding="utf-8")
    told = io.StringIO()
    with contextlib.redirect_stdout(told):
        assert main(["operation", str(file)]) == 0
    return {step["id"]: step for section in json.loads(told.getvalue())["sections"] for step in section["steps"]}


def test_what_is_right_is_what_the_command_line_prints_of_the_step(ground, tmp_path):
    steps, seen = printed(ground, tmp_path), set()
    for skill in OWN:
        for level in LEVELS:
            for seed in range(15):
                one = own_drill(ground, skill, seed, level)
                if one is None:
                    continue
                assert one == own_drill(ground, skill, seed, level)
                seen.add(skill)
                if skill == "order":
                    keys = [one.options[number] for number in one.right]
                    assert keys == [key for key in steps if key in keys]
                    continue
                step, right = steps[one.asks["step"]], one.options[one.right[0]]
                if skill == "holds-now":
                    assert sorted(right) == sorted(step["holds"])
                    assert all(sorted(other) != sorted(step["holds"]) for other in one.options if other != right)
                elif skill == "if-it-goes":
                    assert right == (None if step["behind_m"] is None else round(step["behind_m"], 1))
                elif skill == "hands-off":
                    assert right == (None if step["hands_off_m"] is None else round(step["hands_off_m"], 1))
    assert seen >= {"holds-now", "if-it-goes", "hands-off", "haulers", "order"}


def test_a_round_is_told_and_marked_alike_and_no_question_comes_twice(ground):
    about: About = (ground.plan.model_dump_json(), {}, ())
    for say in (Wording(), Wording("lbf", "ft")):
        told = own_round_report(about, 10, {}, 5, 3, say).drills
        assert len({(one.question, tuple(one.facts), tuple(sorted(one.options))) for one in told}) == len(told) >= 8
        assert all(len(set(one.options)) == len(one.options) >= 2 and one.revision == 3 for one in told)
    rows = [(one.skill, one.seed, tuple(one.right)) for one in told]
    assert own_marked_report(about, [(skill, seed, 1, right) for skill, seed, right in rows]).right == [True] * len(told)  # fmt: skip
    assert own_marked_report(about, [(skill, seed, 1, (7,)) for skill, seed, _ in rows]).right == [None] * len(told)


def test_a_stretch_of_a_run_is_stop_or_go_as_the_watch_has_it(ground):
    def rows(force):
        return tuple((10.0 + n / 10, force(n / 10)) for n in range(400))

    band = Range(900, 1000, 1200)
    calm, heavy = Read(rows(lambda at: 1000.0), band), Read(rows(lambda at: 1000.0 if at < 20 else 2600.0), band)
    for read, right in ((calm, "go"), (heavy, "rise")):
        found = [own_drill(Ground(ground.plan, ground.operation, [read]), "strip", seed) for seed in range(12)]
        assert right in {one.options[one.right[0]] for one in found if one}
    assert own_drill(ground, "strip", 1) is None


def test_a_plan_that_gives_nothing_to_ask_is_refused_by_name():
    plan = demo_plan()
    bare = Operation(sections=())
    with pytest.raises(Refused) as refused:
        own_round(Ground(plan, bare), 10, 1, lambda skill: 1)
    assert refused.value.faults[0].path == "plan"
    with pytest.raises(Refused, match="no line leads to the load"):
        composed(plan.model_copy(update={"lines": []}), {}, [])
    with pytest.raises(Refused, match="asked of no plan"):
        own_drill(Ground(plan, bare), "clove", 1)
    told = io.StringIO()
    with contextlib.redirect_stderr(told):
        assert main(["drill", "clove", "--plan", str(DEMO / "alder-gill.json")]) == 2
    assert told.getvalue().startswith("skill: ")
