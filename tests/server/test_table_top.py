"""Table-tops: a rescue played by a clock of its own, what happens in it by its seed, what was done about it; nothing of it among what is real."""

import uuid
from datetime import datetime, timedelta
from unittest.mock import patch

import pytest
from accounts.models import Team
from django.utils import timezone
from operations.composing import current
from operations.models import LogEntry
from operations.paces import paces_of
from plans.models import Plan, TableTop
from readings import simulated

from tests.server.conftest import a_plan


@pytest.fixture
def at_table(people):
    """What a leader plays, and somebody who moves the clock on."""
    with patch.object(simulated, "start"), patch.object(simulated, "happens") as cells:
        yield people["leader"], people, a_plan(people["leader"]), cells


def begun(leader, of, **given):
    body = {"id": str(uuid.uuid4()), "plan": str(of.pk), "seed": 3, "pace": 10, "begins": "change-over/12"} | given
    return leader.send("POST", f"/teams/{Team.objects.get().pk}/table-tops", body)


def later(minutes: float):
    """The machine's own clock, so much later."""
    moment = timezone.now() + timedelta(minutes=minutes)
    return patch("django.utils.timezone.now", lambda: moment)


def act(who, plan: str, name: str, **more):
    return who.send("POST", f"/plans/{plan}/run", {"id": str(uuid.uuid4()), "act": name, **more})


def test_its_clock_goes_as_fast_as_it_was_set_and_never_back(at_table):
    leader, _, plan, _ = at_table
    _, told = begun(leader, plan)
    begins = datetime.fromisoformat(told["now"])
    path = f"/plans/{told['plan']}/table-top"
    with later(1):
        _, on = leader.get(path)
        assert 9.9 < (datetime.fromisoformat(on["now"]) - begins).total_seconds() / 60 < 10.5
        status, slower = leader.send("PUT", f"{path}/pace", {"pace": 2})
        assert status == 200 and slower["pace"] == 2
        assert act(leader, told["plan"], "look", data={"anchor": "main"})[0] == 200
        stands = datetime.fromisoformat(slower["now"])
    with later(2):
        _, on = leader.get(path)
        assert 1.9 < (datetime.fromisoformat(on["now"]) - stands).total_seconds() / 60 < 2.2
        _, run = leader.get(f"/plans/{told['plan']}/run/now")
        assert run["run"]["pace"] == 2 and run["run"]["now"] >= on["now"]
    with later(-60):
        assert datetime.fromisoformat(leader.get(path)[1]["now"]) >= stands
    times = list(LogEntry.objects.filter(plan=told["plan"]).order_by("sequence").values_list("time", flat=True))
    assert times == sorted(times)
    status, refused = leader.send("PUT", f"{path}/pace", {"pace": 7})
    assert status == 422 and refused["faults"][0]["path"].startswith("pace")


def test_what_happens_comes_at_its_step_and_time_and_what_was_done_about_it_is_told(at_table):
    leader, people, plan, cells = at_table
    _, told = begun(leader, plan)
    top = TableTop.objects.get()
    first = top.happenings[0]
    assert (first["kind"], first["step"]) == ("heavy", "change-over/12") and len(top.happenings) == 6
    with later(first["after_s"] / 10 / 60 + 0.1):
        # Whoever asks first is told of it, before what they do.
        assert act(people["member"], told["plan"], "stop")[0] == 200
        [one] = leader.get(f"/plans/{told['plan']}/table-top")[1]["happened"]
        assert "much heavier" in one["said"] and not one["missed"] and one["text"].startswith("STOP after")
        cells.assert_called_once()
        assert cells.call_args.args[1] == "jam"
        entry = LogEntry.objects.get(plan=told["plan"], kind="observation")
        run = current(Plan.objects.get(pk=told["plan"]))
        assert abs((entry.time - run.since).total_seconds() - first["after_s"]) < 0.01
        act(leader, told["plan"], "contingency", data={"id": "heavy"})
        act(leader, told["plan"], "return")
        act(leader, told["plan"], "go")
        [one] = leader.get(f"/plans/{told['plan']}/table-top")[1]["happened"]
        assert "not gone through" not in one["text"]
        assert cells.call_args.args[1] == "over"


def test_it_is_scored_by_what_held_how_long_it_took_and_what_was_missed(at_table):
    leader, _, plan, _ = at_table
    _, told = begun(leader, plan, begins="raise:6/1")
    minute = 0.0
    while True:
        minute += 1.0
        with later(minute):
            _, now = leader.get(f"/plans/{told['plan']}/run/now")
            if now["run"]["all_done"]:
                break
            status, answer = act(leader, told["plan"], "done", at=now["run"]["at"], text="looked at by two")
            assert status == 200, answer
    with later(minute):
        assert act(leader, told["plan"], "end")[0] == 200
        _, over = leader.get(f"/plans/{told['plan']}/table-top")
    score = over["score"]
    assert over["ended"] and abs(score["minutes"] - 10 * minute) < 3
    assert 0 < score["behind"] <= score["hung"] and len(score["alone"]) == score["hung"] - score["behind"]
    assert over["happened"] and all(one["missed"] for one in over["happened"]) and "missed: " in score["text"]
    assert len(over["happened"]) + len(score["not_come"]) == 6


def test_nothing_of_it_is_among_what_is_real(at_table):
    leader, _, plan, _ = at_table
    _, told = begun(leader, plan)
    played, team = told["plan"], Team.objects.get()
    act(leader, played, "stop")
    assert [one["id"] for one in leader.get("/plans")[1]] == [str(plan.pk)]
    for path in ("papers/check", "papers/run", "papers/card", "papers/section.svg", "bundle", "export", "handover", "log.csv", "log.json", "gear"):  # fmt: skip
        assert leader.get(f"/plans/{played}/{path}")[0] == 403, path
    assert leader.send("POST", f"/plans/{played}/observers", {"name": "Somebody", "days": 1})[0] == 403
    assert not plan.log.exists() and not plan.runs.exists()
    assert [one["plan"] for one in leader.get(f"/teams/{team.pk}/table-tops")[1]] == [played]
    # Its steps, sped up, say nothing of how long anything takes; those of one on real ropes do.
    for rigged in (False, True):
        _, told = begun(leader, plan, rigged=rigged, begins="raise:6/1", id=str(uuid.uuid4()))
        for minute in range(1, 6):
            with later(minute * 0.5):
                run = leader.get(f"/plans/{told['plan']}/run/now")[1]["run"]
                act(leader, told["plan"], "done", at=run["at"], text="as planned")
        with later(4):
            act(leader, told["plan"], "end")
        paces = paces_of(team)
        assert bool(paces) == rigged
    assert all(one.practised == one.count for one in paces)
    assert leader.send("PUT", f"/plans/{told['plan']}/table-top/pace", {"pace": 5})[0] == 422


def test_who_may_begin_one_and_on_what(at_table):
    leader, people, plan, _ = at_table
    assert begun(people["member"], plan)[0] == 403 and begun(people["outsider"], plan)[0] == 403
    assert begun(leader, plan, plan=str(uuid.uuid4()))[0] == 404
    status, told = begun(leader, plan, begins="knitting/1")
    assert status == 422 and told["faults"][0]["path"] == "begins" and not TableTop.objects.exists()
    # A real plan's id makes none of it a table-top.
    status, told = begun(leader, plan, id=str(plan.revisions.get().client_id))
    assert status == 422 and told["faults"][0]["path"] == "id" and not TableTop.objects.exists()
    id = str(uuid.uuid4())
    _, one = begun(leader, plan, id=id)
    _, again = begun(leader, plan, id=id)
    assert one["plan"] == again["plan"] and TableTop.objects.count() == 1
    assert people["outsider"].get(f"/plans/{one['plan']}/table-top")[0] == 404
    assert leader.get(f"/plans/{plan.pk}/table-top")[0] == 422
    status, told = begun(leader, plan, plan=one["plan"], id=str(uuid.uuid4()))
    assert status == 422 and "no plan of this team" in told["faults"][0]["problem"]
