"""A set-up done by several people at once: each does their own piece, nothing waits for what it does not need, nothing is done twice."""

import uuid

import pytest
from operations.composing import composed_of

from tests.server.test_run import act, at, entries, go_to


@pytest.fixture
def setting_up(leader, plan):
    act(leader, plan, "begin")
    return composed_of(plan, plan.latest, None)


def now(person, plan):
    return person.get(f"/plans/{plan.id}/run")[1]["run"]


def test_what_waits_for_nothing_that_is_now_is_done_beside_it(leader, people, plan, setting_up):
    told = now(leader, plan)
    assert told["at"] == "set-up/1"
    # By hand: three anchors wait for nothing; the lip for what its guard is tied to, each rope for the anchor of its device.
    free = {key for key, after in setting_up.waits.items() if not after} - {"set-up/1"}
    assert set(told["beside"]) == free and len(free) >= 2
    waiting = next(key for key, after in setting_up.waits.items() if after)
    other = next(iter(free))
    status, told = act(people["member"], plan, "done", at=other)
    assert (status, told["at"], told["done_ahead"]) == (200, "set-up/1", [other])
    assert other not in told["beside"]
    said = entries(leader, plan, kind="step")[-1]
    assert (said["step"], said["author"]) == (other, people["member"].user.get_username())
    # What waits for the one that is now is not there yet.
    if "set-up/1" in setting_up.waits[waiting]:
        assert act(people["member"], plan, "done", at=waiting)[0] == 409


def test_the_run_does_not_come_back_to_what_was_done_beside_and_counts_it_once(leader, people, plan, setting_up):
    keys = [one for one in setting_up.order if one.startswith("set-up/")]
    assert act(people["member"], plan, "done", at="set-up/2")[0] == 200
    assert act(people["member"], plan, "done", at="set-up/2")[0] == 409
    assert act(leader, plan, "done", at="set-up/1")[1]["at"] == "set-up/3"
    go_to(leader, plan, "check/1")
    done = [one["key"] for one in plan.runs.get().done]
    assert sorted(done) == sorted(keys) and now(leader, plan)["beside"] == []


def test_two_without_a_connection_do_two_pieces_and_nothing_is_to_be_settled(leader, people, plan, setting_up):
    for person, key in ((people["member"], "set-up/2"), (leader, "set-up/1")):
        body = {"id": str(uuid.uuid4()), "act": "done", "at": key, "text": "", "data": {}, "kept": True}
        assert person.send("POST", f"/plans/{plan.id}/run", body)[0] == 200
    told = now(leader, plan)
    assert (told["at"], told["conflicts"]) == ("set-up/3", [])


def test_nothing_is_done_beside_once_the_load_hangs(leader, people, plan, setting_up):
    go_to(leader, plan, "lower/2")
    assert now(leader, plan)["beside"] == []
    assert act(people["member"], plan, "done", at="lower/4")[0] == 409
    assert at(leader, plan) == "lower/2"


def test_where_the_run_is_comes_without_its_operation(leader, plan, setting_up):
    whole, short = (leader.get(f"/plans/{plan.id}/run{more}")[1] for more in ("", "/now"))
    assert short == {name: value for name, value in whole.items() if name != "operation"} | {"run": short["run"]}
    assert short["composed"] == whole["composed"] and short["run"]["at"] == "set-up/1"
