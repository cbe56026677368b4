"""The demo's operations: every document with its story, played through what a team's own acts go through."""

import json
import uuid
from datetime import UTC, datetime

import pytest
from django.core.management import call_command
from operations.composing import composed_of
from operations.models import LogEntry
from plans.models import Plan


@pytest.fixture
def demo(db):
    call_command("load_demo")
    return {f"{one.title.partition(',')[0]}, {one.runs.count()}": one for one in Plan.objects.all()}


def test_the_demo_has_a_run_gone_through_with_a_jam_a_stop_photographs_readings_and_gear_to_retire(demo):
    assert len(demo) == Plan.objects.count() == 6
    year = demo["Alder Gill, 1"]
    run, kinds = year.runs.get(), [one.kind for one in year.log.all()]
    assert run.status == "ended" and run.ended_at.year == 2025
    for kind in ("alarm", "stop", "go", "contingency", "photo", "decision", "observation", "signed"):
        assert kind in kinds, kind
    assert [json.loads(one.data)["alarm"] for one in year.log.filter(kind=LogEntry.Kind.ALARM)] == ["rise"]
    # Written in order, when it was, and what was learnt stands in the plan.
    times = list(year.log.values_list("time", flat=True))
    assert times == sorted(times) and times[-1] < datetime(2025, 10, 19, tzinfo=UTC)
    assert year.revisions.count() == 2 and json.loads(year.latest.document)["found"]
    gear = year.log.filter(kind=LogEntry.Kind.SIGNED).last().signature
    assert json.loads(gear.lines)["rope:main"]["answer"] == "retire"
    call_command("verify_log")
    # Told again, nothing is told twice.
    entries = LogEntry.objects.count()
    call_command("load_demo")
    assert LogEntry.objects.count() == entries


@pytest.mark.parametrize(
    ("name", "said"),
    [("Lang Corrie, 1", "instead of: Haul on the drop loop"), ("Scar Nab, 1", "Out of the belay"), ("Otter Brook, 1", "STOP called by ash")],
)  # fmt: skip
def test_what_begins_elsewhere_is_run_to_its_end_and_its_gear_signed(demo, name, said):
    plan = demo[name]
    run, entries = plan.runs.get(), [one.decision for one in plan.log.all()]
    made = composed_of(plan, run.revision, run)
    assert run.status == "ended" and run.at == made.order[-1]
    assert not [one.do for one in made.report.steps if one.refused]
    assert (
        any(said in one for one in entries)
        and plan.log.filter(kind=LogEntry.Kind.SIGNED, data__contains="gear").exists()
    )


def test_whoever_starts_with_nothing_may_open_any_of_them(leader):
    status, examples = leader.get("/examples")
    assert status == 200 and len(examples) == 6
    for one in examples:
        body = {
            "team": leader.get("/session")[1]["teams"][0]["id"],
            "id": str(uuid.uuid4()),
            "document": one["document"],
        }
        assert leader.send("POST", "/plans", body)[0] == 200, one["id"]
