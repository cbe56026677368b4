"""The run: one step is now, every act is written, and nothing moves it that may not."""

import contextlib
import io
import json
import uuid
from datetime import timedelta
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.core.management.base import CommandError
from django.utils import timezone
from operations import composed, composing, photos, runs
from operations.models import Run
from PIL import Image
from storing import writing

from rigging.procedures import run as procedures
from tests.pictures import picture
from tests.plans import changed, demo_document


@pytest.fixture(autouse=True)
def _own_folder(settings, tmp_path):
    settings.VAR = tmp_path


def act(person, plan, name, at="", text="", id=None, **data):
    text = text or ("practice" if name == "begin" else "")
    body = {"id": id or str(uuid.uuid4()), "act": name, "at": at, "text": text, "data": data}
    return person.send("POST", f"/plans/{plan.id}/run", body)


@pytest.fixture
def run(leader, plan):
    assert act(leader, plan, "begin")[0] == 200
    return plan.runs.get()


def at(leader, plan):
    return leader.get(f"/plans/{plan.id}/run")[1]["run"]["at"]


def go_to(leader, plan, key):
    """The run moved on step by step to one of its steps."""
    now = at(leader, plan)
    for _ in range(120):
        if now == key:
            return
        status, told = act(leader, plan, "done", at=now, text="as planned")
        assert status == 200, told
        now = told["at"]
    raise AssertionError(f"never came to {key}")


def entries(leader, plan, **query):
    asked = "&".join(f"{name}={value}" for name, value in query.items())
    return leader.get(f"/plans/{plan.id}/log?{asked}")[1]["entries"]


def test_before_it_is_begun_the_plan_says_what_it_would_be(leader, plan):
    told = leader.get(f"/plans/{plan.id}/run")[1]
    assert told["run"] is None
    assert [one["procedure"] for one in told["operation"]["sections"]][:3] == ["set-up", "check", "lower"]
    assert act(leader, plan, "done")[0] == 422


def test_every_step_writes_its_own_entry_with_what_then_holds(leader, plan, run):
    first = at(leader, plan)
    act(leader, plan, "done", at=first)
    written = entries(leader, plan)
    assert [one["kind"] for one in written] == ["run", "step"]
    assert written[1]["decision"] == "Done: Main anchor built" and written[1]["data"]["holds"]
    assert at(leader, plan) != first


def test_the_run_goes_from_set_up_to_struck_and_counts_what_was_hauled(leader, plan, run):
    go_to(leader, plan, "derig/2")
    counts = leader.get(f"/plans/{plan.id}/run")[1]["run"]["counts"]
    assert (counts["hauls"], counts["hauls_in_all"], counts["resets"]) == (6, 6, 6)
    # Down the whole way and up again, with the hand's breadth that takes the slack up.
    assert counts["out_m"] == pytest.approx(28.85, abs=0.01)
    assert counts["in_m"] == pytest.approx(counts["out_m"] + 0.2) and counts["to_edge_m"] == 0
    assert act(leader, plan, "end")[0] == 200
    assert Run.objects.get().status == "ended"
    call_command("verify_log", stdout=io.StringIO())


def test_an_act_sent_again_moves_nothing_twice(leader, plan, run):
    once, first = str(uuid.uuid4()), at(leader, plan)
    told = [act(leader, plan, "done", at=first, id=once)[1]["at"] for _ in range(3)]
    assert len(set(told)) == 1
    assert len(entries(leader, plan, kind="step")) == 1


def test_a_step_somebody_else_has_done_meanwhile_is_answered_with_where_the_run_is(people, leader, plan, run):
    first = at(leader, plan)
    act(people["member"], plan, "done", at=first)
    status, told = act(leader, plan, "done", at=first)
    assert status == 409 and told["moved"]
    assert told["run"]["at"] == at(leader, plan)
    assert len(entries(leader, plan, kind="step")) == 1


def test_anybody_stops_and_only_the_leader_goes_on(people, leader, plan, run):
    assert act(people["observer"], plan, "stop", text="rope over a sharp edge")[0] == 200
    stopped = leader.get(f"/plans/{plan.id}/run")[1]["run"]["stopped"]
    assert (stopped["by"], stopped["why"]) == ("observer", "rope over a sharp edge")
    status, told = act(leader, plan, "done", at=at(leader, plan))
    assert status == 422 and "observer called stop" in told["faults"][0]["problem"]
    for who in ("observer", "member"):
        assert act(people[who], plan, "go")[0] == 403
    assert act(people["observer"], plan, "why")[0] == 422
    assert act(people["observer"], plan, "why", text="somebody below")[1]["stopped"]["why"] == "somebody below"
    assert act(leader, plan, "go", text="edge padded")[0] == 200
    assert [one["kind"] for one in entries(leader, plan)][-3:] == ["stop", "stop", "go"]
    assert act(leader, plan, "why", text="late")[0] == 422
    assert act(people["outsider"], plan, "stop")[0] == 404


@pytest.mark.parametrize(
    ("who", "name"), [("observer", "done"), ("observer", "contingency"), ("observer", "reading"), ("member", "begin"), ("member", "skip"), ("member", "back"), ("member", "end"), ("member", "procedure")]
)  # fmt: skip
def test_what_is_not_theirs_is_refused_and_nothing_is_written(people, leader, plan, run, who, name):
    before = plan.log.count()
    assert act(people[who], plan, name, at=at(leader, plan), id=None)[0] == 403
    assert plan.log.count() == before


def test_a_contingency_is_entered_from_any_step_and_comes_back(people, leader, plan, run):
    go_to(leader, plan, "raise:1/3")
    body = {"id": str(uuid.uuid4()), "act": "contingency", "data": {"id": "heavy"}}
    status, told = people["member"].send("POST", f"/plans/{plan.id}/run", body)
    assert status == 200
    steps = told["contingency"]["steps"]
    assert steps[0]["edits"] == ["set ratchet"] and steps[0]["holds"]["hands_off_m"] is not None
    for _ in steps:
        status, told = act(leader, plan, "done")
        assert status == 200
    assert told["contingency"] is None and told["at"] == "raise:1/3"
    assert [one["decision"] for one in entries(leader, plan, kind="contingency")] == [
        "Suddenly heavy",
        "Suddenly heavy: done, back to the step",
    ]
    body = {"id": str(uuid.uuid4()), "act": "contingency", "data": {"id": "meteor"}}
    assert leader.send("POST", f"/plans/{plan.id}/run", body)[1]["faults"][0]["path"] == "data.id"


def test_a_step_is_skipped_only_where_what_follows_still_goes(leader, plan, run):
    go_to(leader, plan, "lower/4")
    status, told = act(leader, plan, "skip", at="lower/4")
    assert status == 422
    assert "without it" in told["faults"][0]["problem"]
    go_to(leader, plan, "secure/1")
    assert act(leader, plan, "skip", at="secure/1")[0] == 200
    assert at(leader, plan) == "secure/2"
    assert act(leader, plan, "back", at="secure/2")[1]["at"] == "secure/1"


def test_hanging_on_one_thing_is_accepted_once_with_a_reason(leader, plan):
    from plans.services import create_plan

    from rigging.document import Plan as Document
    from tests.plans import one_rope_document

    one = create_plan(plan.team, leader.user, Document.model_validate(one_rope_document()), uuid.uuid4())
    act(leader, one, "begin")
    for _ in range(60):
        now = at(leader, one)
        status, told = act(leader, one, "done", at=now)
        if status != 200:
            break
    assert told["faults"][0]["path"] == "text" and "hangs on one thing" in told["faults"][0]["problem"]
    assert act(leader, one, "done", at=now, text="one rope is what we have")[0] == 200
    assert entries(leader, one, kind="step")[-1]["reason"] == "one rope is what we have"


def test_a_plan_changed_during_the_run_makes_a_revision_and_says_what_became_impossible(leader, plan, run):
    go_to(leader, plan, "lower/9")
    document = changed(demo_document(), lines__0__haul=None)
    assert leader.save(plan, 1, document)[0] == 200
    told = leader.get(f"/plans/{plan.id}/run")[1]["run"]
    assert told["revision"] == 2 and told["at"] == "lower/9"
    assert "no longer there: Change over" in told["changed"]
    assert entries(leader, plan, kind="plan")[-1]["revision"] == 2


def test_a_plan_that_can_not_be_run_any_more_leaves_the_run_where_it_was_and_says_so(leader, plan, run):
    go_to(leader, plan, "lower/9")
    status, saved = leader.save(plan, 1, changed(demo_document(), lines=[], ropes=[]))
    assert status == 200, saved
    told = leader.get(f"/plans/{plan.id}/run")[1]["run"]
    assert (told["revision"], told["at"]) == (1, "lower/9")
    assert "revision 2: no line leads to the load" in told["changed"]


def test_a_procedure_changed_for_the_run_keeps_its_place_and_one_that_does_not_hold_is_refused(leader, plan, run):
    go_to(leader, plan, "change-over/3")
    team = plan.team_id
    given = next(one for one in leader.get(f"/teams/{team}/procedures")[1]["procedures"] if one["id"] == "change-over")
    extra = {
        "who": ["writer"],
        "do": "Photograph of the rig.",
        "look": "",
        "words": "",
        "wrong": "",
        "when": "",
        "pulls": "",
        "edits": [],
    }
    longer = {**given, "steps": [extra, *given["steps"]]}
    status, told = act(leader, plan, "procedure", given=longer)
    assert status == 200, told
    assert told["at"] == "change-over/4"
    # Device out before the ratchet is on: the engine says what would be refused.
    order = [given["steps"][n] for n in (0, 1, 7, 2, 3, 4, 5, 6, 8, 9, 10, 11)]
    status, told = act(leader, plan, "procedure", given={**given, "steps": order})
    assert status == 422 and "bears the load" in told["faults"][0]["problem"]
    told = leader.send("PUT", f"/plans/{plan.id}/procedures", longer)[1]
    assert told.get("own") == ["change-over"], told
    wrong = {**given, "steps": order}
    assert leader.send("PUT", f"/plans/{plan.id}/procedures", wrong)[0] == 422
    assert leader.get(f"/teams/{team}/procedures")[1]["own"] == ["change-over"]
    status, told = leader.send("PUT", f"/plans/{plan.id}/procedures", {**given, "steps": []})
    assert status == 422 and told["faults"][0]["path"].endswith("steps")


def test_people_come_in_with_their_roles_and_a_guard_is_relieved(people, leader, plan, run):
    act(people["member"], plan, "here", role="edge")
    act(people["member"], plan, "relieve", what="axe", to="Birch")
    told = leader.get(f"/plans/{plan.id}/run")[1]["run"]["here"]
    assert told["member"]["role"] == "edge"
    assert [one["decision"] for one in entries(leader, plan, kind="here")] == [
        "member is here: edge",
        "Birch has axe, hand over hand",
    ]


def test_a_guarded_anchor_nobody_has_looked_at_is_due(leader, plan):
    document = demo_document()
    truck = next(one for one in document["features"] if one["id"] == "truck")
    truck["guard"] = "Maple"
    document["anchors"][2]["alternatives"][0]["legs"][0]["feature"] = "truck"
    leader.save(plan, 1, document)
    act(leader, plan, "begin")
    Run.objects.update(begun_at=timezone.now() - timedelta(minutes=11))
    looks = leader.get(f"/plans/{plan.id}/run")[1]["run"]["looks"]
    assert [(one["anchor"], one["due"]) for one in looks] == [("road", True)]
    looks = act(leader, plan, "look", anchor="road")[1]["looks"]
    assert not looks[0]["due"]
    assert act(leader, plan, "look", anchor="nowhere")[0] == 422


@pytest.mark.parametrize("value", [-1, 1e9, "much", None, True])
def test_a_reading_that_is_no_force_is_refused_by_its_field(leader, plan, run, value):
    status, told = act(leader, plan, "reading", force_n=value, where="load")
    assert status == 422 and told["faults"][0]["path"] == "data.force_n"


def test_a_reading_by_hand_is_kept_with_where_and_when_the_device_says(leader, plan, run):
    body = {
        "id": str(uuid.uuid4()), "act": "reading", "data": {"force_n": 1870, "where": "working point"},
        "device_time": "2026-11-25T10:00:00Z", "device_ahead_ms": -2300,
    }  # fmt: skip
    leader.send("POST", f"/plans/{plan.id}/run", body)
    kept = entries(leader, plan, kind="reading")[0]
    assert kept["decision"] == "Reads 1.87 kN at working point"
    assert kept["device_ahead_ms"] == -2300 and kept["device_time"].startswith("2026-11-25T10:00")


# Photographs


def send(person, plan, content, name="edge.png", id=None, **more):
    file = SimpleUploadedFile("edge.png", content, content_type="image/png")
    body = {"id": id or str(uuid.uuid4()), "text": "The edge, padded", "name": name, "file": file, **more}
    answer = person.client.post(f"/api/plans/{plan.id}/photographs", body)
    return answer.status_code, answer.json()


def test_a_photograph_is_kept_sealed_and_shown_small(people, leader, plan):
    status, entry = send(people["member"], plan, picture())
    assert status == 200 and entry["data"]["width"] == 640
    small = leader.client.get(f"/api/plans/{plan.id}/photographs/{entry['id']}?small=true")
    shown = Image.open(io.BytesIO(b"".join(small.streaming_content)))
    assert max(shown.size) == 320
    call_command("verify_log", stdout=io.StringIO())
    file = photos.file_of(entry["data"])
    file.write_bytes(picture(size=(641, 480)))
    with pytest.raises(CommandError, match=r"entry 1: its photograph .* is another one"):
        call_command("verify_log", stdout=io.StringIO())
    file.unlink()
    with pytest.raises(CommandError, match="is missing"):
        call_command("verify_log", stdout=io.StringIO())


@pytest.mark.parametrize(
    ("content", "name", "said"),
    [
        (b"no picture at all", "edge.png", "can not be opened"),
        (b"GIF89a" + b"\0" * 40, "edge.gif", "can not be opened"),
        (picture()[:200], "edge.png", "can not be opened"),
        (b"\0" * (photos.LARGEST + 1), "edge.png", "too large"),
        (picture(), "../edge.png", "no name of a file"),
        (picture(), ".hidden", "no name of a file"),
    ],
    ids=["no picture", "half a gif", "half a png", "too large", "named ../", "hidden"],
)
def test_what_is_no_photograph_is_refused_and_nothing_is_kept(leader, plan, content, name, said):
    status, told = send(leader, plan, content, name)
    assert status == 422 and said in told["faults"][0]["problem"]
    assert plan.log.count() == 0 and not (photos.folder().exists() and any(photos.folder().iterdir()))


def test_an_observer_sends_no_photograph(people, plan):
    assert send(people["observer"], plan, picture())[0] == 403


# Without a connection


def late(person, plan, name, at="", **data):
    """An act done on a device without a connection, sent later."""
    body = {"id": str(uuid.uuid4()), "act": name, "at": at, "data": data, "kept": True}
    status, told = person.send("POST", f"/plans/{plan.id}/run", body)
    assert status == 200, told
    return told


def test_what_does_not_fit_is_kept_as_both_saw_it_and_only_the_leader_settles_it(leader, people, plan, run):
    go_to(leader, plan, "lower/3")
    act(leader, plan, "back", at="lower/3")
    late(people["member"], plan, "done", "lower/3")
    told = late(people["member"], plan, "done", "lower/4")
    assert told["at"] == "lower/2"
    [conflict] = told["conflicts"]
    assert [one["at"] for one in conflict["theirs"]] == ["lower/3", "lower/4"]
    assert [one["do"] for one in conflict["meanwhile"]] == ["Back to: Ties in before going near the edge"]
    assert conflict["leads_to"] == "lower/5"
    metres = told["counts"]["out_m"]
    assert act(people["member"], plan, "settle", conflict=conflict["id"], take="theirs")[0] == 403
    assert act(leader, plan, "settle", conflict=conflict["id"], take="mine")[0] == 422
    _, told = act(leader, plan, "settle", conflict=conflict["id"], take="theirs")
    assert (told["at"], told["conflicts"]) == ("lower/5", [])
    assert told["counts"]["out_m"] >= metres
    assert [one["decision"][:7] for one in entries(leader, plan, kind="conflict")] == ["Without", "Without", "Settled"]


def test_a_step_taken_after_stop_without_hearing_it_is_a_conflict_and_moves_nothing(leader, people, plan, run):
    go_to(leader, plan, "lower/5")
    act(leader, plan, "stop")
    told = late(people["member"], plan, "done", "lower/5")
    assert (told["at"], told["status"]) == ("lower/5", "stopped")
    assert "called stop" in told["conflicts"][0]["because"]


def test_the_same_step_from_two_is_said_and_is_nothing_to_settle(leader, people, plan, run):
    go_to(leader, plan, "lower/4")
    told = late(people["member"], plan, "done", "lower/3")
    assert (told["at"], told["conflicts"]) == ("lower/4", [])
    assert "and member, too" in entries(leader, plan, kind="conflict")[0]["decision"]


def test_a_step_of_a_contingency_that_is_over_moves_nothing_on(leader, people, plan, run):
    go_to(leader, plan, "lower/5")
    told = late(people["member"], plan, "done", "heavy/2")
    assert told["at"] == "lower/5" and len(told["conflicts"]) == 1


# The log


def test_the_log_comes_in_pages_and_is_searched(leader, plan):
    for number in range(230):
        leader.say(plan, f"Pad {number}", reason="sharp" if number % 10 == 0 else "worn")
    first = leader.get(f"/plans/{plan.id}/log")[1]
    assert len(first["entries"]) == 100 and first["total"] == 230 and first["entries"][-1]["sequence"] == 230
    second = leader.get(f"/plans/{plan.id}/log?place={first['place'] - 100}")[1]
    assert second["entries"][-1]["sequence"] == first["entries"][0]["sequence"] - 1
    assert leader.get(f"/plans/{plan.id}/log?place=0")[1]["entries"][0]["sequence"] == 1
    assert leader.get(f"/plans/{plan.id}/log?place=230")[1]["entries"] == []
    assert leader.get(f"/plans/{plan.id}/log?words=sharp")[1]["total"] == 23
    assert leader.get(f"/plans/{plan.id}/log?who=leader&kind=decision")[1]["total"] == 230
    assert leader.get(f"/plans/{plan.id}/log/verified")[1] == {"entries": 230, "broken": []}


# Signing in


def test_the_twentieth_wrong_password_is_told_to_wait_and_the_right_one_waits_too(people, plan, client):
    said = []
    for number in range(20):
        body = json.dumps({"username": "leader", "password": f"wrong {number}"})
        said.append(client.post("/api/session", body, content_type="application/json", headers={"host": "localhost"}))
    assert said[0].status_code == 422 and said[-1].status_code == 429
    assert "ten minutes" in said[-1].json()["faults"][0]["problem"]
    body = json.dumps({"username": "leader", "password": "a long enough one"})
    assert (
        client.post("/api/session", body, content_type="application/json", headers={"host": "localhost"}).status_code
        == 429
    )
    other = json.dumps({"username": "member", "password": "a long enough one"})
    assert (
        client.post("/api/session", other, content_type="application/json", headers={"host": "localhost"}).status_code
        == 200
    )


def test_a_changed_password_ends_every_session(leader, plan):
    leader.user.set_password("another long one")
    leader.user.save()
    assert act(leader, plan, "begin")[0] == 401
    assert plan.log.count() == 0


def test_pages_allow_no_script_but_their_own(leader):
    policy = leader.client.get("/api/caution").headers["Content-Security-Policy"]
    assert "script-src 'self'" in policy and "unsafe-inline" not in policy.partition("script-src")[2].partition(";")[0]


def test_nothing_is_composed_while_others_wait_to_write_so_that_a_stop_waits_for_no_computation(
    leader, plan, monkeypatch
):
    held: list[bool] = []
    lock: Any = writing._one
    compose = composed.compose

    def watched(*given):
        held.append(lock._is_owned())
        return compose(*given)

    composing.made.forget()
    monkeypatch.setattr(composing, "compose", watched)
    # Nor is a step tried that is left out, nor one of a contingency.
    walk = procedures.walked

    def walked(*given):
        held.append(lock._is_owned())
        return walk(*given)

    monkeypatch.setattr(runs, "walked", walked)
    monkeypatch.setattr(composing, "walked", walked)
    assert act(leader, plan, "begin")[0] == 200
    composing.made.forget()
    now = at(leader, plan)
    composing.made.forget()
    assert act(leader, plan, "done", at=now)[0] == 200
    composing.made.forget()
    count = len(held)
    act(leader, plan, "skip", at=at(leader, plan))
    entered = {"id": str(uuid.uuid4()), "act": "contingency", "data": {"id": "heavy"}}
    assert leader.send("POST", f"/plans/{plan.id}/run", entered)[0] == 200
    assert act(leader, plan, "done", at="heavy/1")[0] == 200
    assert act(leader, plan, "return")[0] == 200 and len(held) > count
    assert leader.save(plan, 1, changed(demo_document(), lines__1__slack_m=0.4))[0] == 200
    composing.made.forget()
    team = str(plan.team_id)
    given = next(one for one in leader.get(f"/teams/{team}/procedures")[1]["procedures"] if one["id"] == "change-over")
    longer = {**given, "steps": [*given["steps"], {"who": ["leader"], "do": "Look once more."}]}
    assert act(leader, plan, "procedure", given=longer)[0] == 200
    assert len(held) >= 5 and not any(held)
    # A stop asks for nothing of it.
    count = len(held)
    composing.made.forget()
    monkeypatch.setattr(composing, "compose", lambda *_: pytest.fail("a stop composed an operation"))
    with contextlib.suppress(BaseException):
        act(leader, plan, "stop")
    assert plan.runs.get().status == "stopped" and count == len(held)


def test_the_list_of_plans_says_how_far_a_run_has_come(people, plan):
    leader, member = people["leader"], people["member"]
    signed = {"id": str(uuid.uuid4()), "revision": 1}
    assert member.send("POST", f"/plans/{plan.id}/sign", signed)[0] == 200

    def stands():
        return leader.get("/plans")[1][0]["stands"]

    assert stands() == "checked"
    act(leader, plan, "begin")
    assert stands() == "going"
    act(member, plan, "here", at=at(leader, plan), role="edge")
    assert leader.get("/plans")[1][0]["here"]
    act(member, plan, "stop", at=at(leader, plan))
    assert stands() == "stopped"
    act(leader, plan, "go", at=at(leader, plan), text="heard")
    act(leader, plan, "end", at=at(leader, plan), text="done")
    assert stands() == "ended" and leader.get("/plans")[1][0]["here"] == []
