"""Practice: rounds of what is due, answers of several devices merged, knots tied before somebody, what leaders see; nothing of it anywhere else."""

import uuid
from datetime import UTC, datetime, timedelta

import pytest
from accounts.models import Membership, Team
from operations.acts import Act
from operations.runs import act_on
from plans.models import Plan
from practice.models import Answered, Tied
from storing import clock

from rigging.learning.drills.skills import drill
from tests.server.conftest import a_plan, a_team

NOW = datetime.now(UTC)


@pytest.fixture
def team(db):
    return a_team()


def given(skill: str, seed: int, right: bool = True, at: datetime = NOW, number: int = 0, level: int = 1, **more):
    one = drill(skill, seed, level)
    answer = list(one.right) if right else [one.right[0] - 1 if one.right[0] else 1]
    return {
        "id": str(uuid.uuid4()), "number": number, "skill": skill, "seed": seed, "level": level, "given": answer, "took_s": 15, "at": at.isoformat(),
    } | more  # fmt: skip


def send(person, *answers, device: str = "phone"):
    return person.send("POST", "/practice/answers", {"device": device, "answers": list(answers)})


def of(told, skill: str):
    return next(one for one in told["skills"] if one["skill"] == skill)


def team_id() -> int:
    return Team.objects.get(name="Team").id


def test_a_round_is_of_what_is_due_then_of_what_was_never_done(team):
    send(team["member"], given("clove", 3, right=False, at=NOW - timedelta(days=2)))
    send(team["member"], given("ideal", 3, at=NOW))
    status, told = team["member"].get("/practice/round?count=5&seed=7")
    skills = [one["skill"] for one in told["drills"]]
    assert status == 200 and skills[0] == "clove" and "ideal" not in skills and len(set(skills)) == 5
    assert team["member"].get("/practice/round?count=5&seed=7")[1] == told
    status, told = team["member"].get("/practice/round?count=3&skill=ideal")
    assert [one["skill"] for one in told["drills"]] == ["ideal"] * 3
    status, told = team["member"].get("/practice/round?skill=knitting")
    assert status == 422 and told["faults"][0]["path"] == "skill"


def test_answers_are_marked_here_and_kept_once(team):
    good, bad = given("actual", 5), given("actual", 6, right=False, number=1)
    _, told = send(team["member"], good, bad)
    assert (of(told, "actual")["done"], of(told, "actual")["right"]) == (2, 1)
    _, again = send(team["member"], good, bad)
    assert of(again, "actual") == of(told, "actual") and Answered.objects.count() == 2


def test_two_devices_one_of_them_heard_of_a_week_later_come_to_what_one_would_have(team):
    days = [given("alone", seed, right=seed % 3 != 0, at=NOW - timedelta(days=20 - 2 * seed), number=seed) for seed in range(8)]  # fmt: skip
    send(team["member"], *days[::2], device="tablet")
    _, merged = send(team["member"], *days[1::2], device="phone")
    _, one = send(team["leader"], *[{**each, "id": str(uuid.uuid4())} for each in days])
    assert of(merged, "alone") == of(one, "alone")


def test_a_clock_that_was_set_back_keeps_the_order_of_its_device(team):
    first, then = given("strip", 1, at=NOW), given("strip", 2, right=False, at=NOW - timedelta(days=400), number=1)
    _, told = send(team["member"], first, then)
    assert datetime.fromisoformat(of(told, "strip")["last"]) >= NOW.replace(microsecond=0)
    status, told = send(team["member"], given("strip", 3, at=NOW + timedelta(days=2), number=2))
    assert status == 422
    [fault] = told["faults"]
    assert fault["path"] == "answers[0].at" and "set the device's clock" in fault["right"]


def test_what_is_no_answer_is_refused_with_its_field_and_nothing_of_it_is_kept(team):
    wrong = given("ideal", 2) | {"given": [17]}
    status, told = send(team["member"], given("ideal", 1), wrong)
    assert status == 422 and told["faults"][0]["path"] == "answers[1].given" and not Answered.objects.exists()
    status, told = send(team["member"], given("ideal", 1) | {"skill": "knitting"})
    assert status == 422 and told["faults"][0]["path"] == "answers[0].skill"
    status, told = send(team["member"], given("ideal", 1) | {"at": "2026-01-01T10:00:00"})
    assert status == 422 and told["faults"][0]["path"] == "answers[0].at"
    mine = given("ideal", 1)
    send(team["member"], mine)
    status, told = send(team["leader"], mine)
    assert status == 422 and told["faults"][0]["path"] == "answers[0].id"


def test_a_knot_is_tied_before_somebody_else(team):
    tied = {"id": str(uuid.uuid4()), "who": "member", "knot": "clove", "hand": "left", "stages": [True, True, True], "took_s": 11.5}  # fmt: skip
    path = f"/teams/{team_id()}/tied"
    assert team["observer"].send("POST", path, tied)[0] == 200
    assert team["observer"].send("POST", path, tied)[0] == 200 and Tied.objects.count() == 1
    clove = next(one for one in team["member"].get("/practice")[1]["tying"] if one["knot"] == "clove")
    assert (clove["done"], clove["right"], clove["quickest_s"]) == (1, 1, 11.5)
    for wrong, path_of in (
        ({"who": "observer"}, "who"), ({"who": "nobody"}, "who"), ({"knot": "granny"}, "knot"), ({"stages": [True]}, "stages"),
    ):  # fmt: skip
        status, told = team["observer"].send("POST", path, tied | {"id": str(uuid.uuid4())} | wrong)
        assert status == 422 and told["faults"][0]["path"] == path_of
    assert team["leader"].send("POST", path, tied)[0] == 422
    assert team["outsider"].send("POST", path, tied | {"id": str(uuid.uuid4())})[0] == 403


def test_leaders_see_their_team_and_others_their_own(team):
    send(team["member"], given("clove", 1))
    status, told = team["leader"].get(f"/teams/{team_id()}/practice")
    assert status == 200
    people = {one["name"]: one for one in told["people"]}
    assert list(people) == ["leader", "member", "observer"] and of(people["member"], "clove")["done"] == 1
    assert told["evening"][0]["who"] == ["leader", "member", "observer"]
    for one in ("member", "observer", "outsider"):
        assert team[one].get(f"/teams/{team_id()}/practice")[0] == 403
    assert team["nobody"].get("/practice")[0] == 401
    assert of(team["outsider"].get("/practice")[1], "clove")["done"] == 0


def test_it_is_gone_when_its_owner_says_so_and_only_then(team):
    send(team["member"], given("clove", 1))
    send(team["leader"], given("clove", 1))
    Membership.objects.filter(user=team["member"].user).delete()
    assert of(team["member"].get("/practice")[1], "clove")["done"] == 1
    _, told = team["member"].send("DELETE", "/practice")
    assert of(told, "clove")["done"] == 0 and Answered.objects.count() == 1


def test_practice_touches_no_plan_and_no_log(team):
    send(team["member"], given("missing", 4), given("order", 4, number=1))
    assert not Plan.objects.exists()
    models = {field.related_model.__name__ for model in (Answered, Tied) for field in model._meta.get_fields() if field.is_relation}  # fmt: skip
    # The plan that a drill was about is read, and never written to.
    assert models == {"User", "Revision"}


def test_drills_about_a_plan_of_the_teams_are_asked_and_marked_on_the_plan_as_it_was(team):
    plan = a_plan(team["leader"])
    _, told = team["member"].get(f"/practice/round?count=5&seed=4&plan={plan.pk}")
    drills = told["drills"]
    assert len(drills) == 5 and {one["revision"] for one in drills} == {1}
    about = {"plan": str(plan.pk), "revision": 1}
    rows = [
        {"id": str(uuid.uuid4()), "number": n, "skill": one["skill"], "seed": one["seed"], "level": one["level"], "given": one["right"], "took_s": 9, "at": NOW.isoformat(), "about": about}
        for n, one in enumerate(drills)
    ]  # fmt: skip
    # One of a general skill between them: each is marked on what it is about.
    status, kept = send(team["member"], *rows[:2], given("clove", 3, right=False, number=9), *rows[2:])
    assert status == 200 and sum(one["right"] for one in kept["skills"]) == 5 and of(kept, "clove")["right"] == 0
    assert set(Answered.objects.exclude(about=None).values_list("about__plan", flat=True)) == {plan.pk}
    assert team["outsider"].get(f"/practice/round?plan={plan.pk}")[0] == 404
    assert send(team["outsider"], rows[0] | {"id": str(uuid.uuid4())})[0] == 404
    status, told = send(team["member"], rows[0] | {"id": str(uuid.uuid4()), "skill": "clove"})
    assert status == 422 and told["faults"][0]["path"] == "answers[0].skill"
    status, told = send(team["member"], rows[0] | {"id": str(uuid.uuid4()), "about": about | {"revision": 7}})
    assert status == 422 and told["faults"][0]["path"] == "revision"
    assert not plan.log.exists()


def test_what_a_run_needed_that_nobody_had_practised_is_on_the_teams_sheet(team):
    plan = a_plan(team["leader"])
    with clock.told_at(NOW):
        for act in ("begin", "done", "done"):
            act_on(plan, team["leader"].user, Act(uuid.uuid4(), act, text="as planned"))
    _, told = team["leader"].get(f"/teams/{team_id()}/practice")
    [run] = told["needed"]
    assert run["plan"] == str(plan.pk) and {"What holds now", "Which leg sees most"} <= set(run["skills"])
    assert {"Figure-eight loop", "Two 8 mm prusiks in line", "Prusik"} & set(run["knots"]) and "Stop or go" not in run[
        "skills"
    ]
    # What somebody had practised before it is not told; what they practise afterwards is too late for it.
    send(
        team["member"],
        given("alone", 3, at=NOW - timedelta(days=3)),
        given("leg-swing", 3, at=NOW + timedelta(minutes=1), number=1),
    )
    [run] = team["leader"].get(f"/teams/{team_id()}/practice")[1]["needed"]
    assert "The one thing alone" not in run["skills"] and "Which leg sees most" in run["skills"]
