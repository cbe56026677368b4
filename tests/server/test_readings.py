"""Readings of load cells: kept once and in order, refused by the field, watched, and read back without losing a peak."""

import http.client
import json
import os
import sqlite3
import threading
import time
import urllib.error
import uuid
from datetime import UTC, datetime
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, connection
from operations import live
from readings import watching
from readings.models import ReadingBlock, packed, unpacked
from storing.writing import writing

from tests.conftest import Server
from tests.plans import changed, demo_document
from tests.server.test_durability import Caller

BEGAN = datetime(2026, 3, 1, 10, tzinfo=UTC)


@pytest.fixture
def cell(leader, plan):
    id = str(uuid.uuid4())
    assert leader.send("POST", f"/plans/{plan.id}/cells", {"id": id, "name": "one", "place": "load"})[0] == 200
    yield id
    watching._watched.clear()


def batch(cell, first=0, values=(1.0, 1.1, 1.2), **more):
    rows = list(values)
    times = [50.0 * (first + n) for n in range(len(rows))]
    return {"cell": cell, "first": first, "at": BEGAN.isoformat(), "times_ms": times, "values": rows, **more}


def send(person, plan, body):
    return person.send("POST", f"/plans/{plan.id}/readings", body)


def read(person, plan, cell, query=""):
    return person.get(f"/plans/{plan.id}/readings/{cell}{query}")[1]


def test_readings_come_back_as_they_were_in_newtons(leader, plan, cell):
    assert send(leader, plan, batch(cell)) == (200, {"next": 3})
    told = read(leader, plan, cell)
    assert told["forces_n"] == [1000.0, 1100.0, 1200.0]
    assert told["times_ms"] == [round(BEGAN.timestamp() * 1000) + 50 * n for n in range(3)]
    assert (told["count"], told["peak_n"]) == (3, 1200.0)


def test_a_batch_sent_again_and_one_that_overlaps_are_kept_once(leader, plan, cell):
    body = batch(cell)
    assert send(leader, plan, body) == send(leader, plan, body) == (200, {"next": 3})
    assert send(leader, plan, batch(cell, values=(1.0, 1.1, 1.2, 1.3, 1.4))) == (200, {"next": 5})
    assert read(leader, plan, cell)["forces_n"] == [1000.0, 1100.0, 1200.0, 1300.0, 1400.0]


WRONG = [
    ("text", {"values": [1.0, "heavy", 1.2]}, "values"),
    ("no number", {"values": [1.0, None, 1.2]}, "values"),
    ("more than a rope bears", {"values": [1.0, 999.0, 1.2]}, "values[1]"),
    ("time backwards", {"times_ms": [0, 100, 50]}, "times_ms[2]"),
    ("one time twice", {"times_ms": [0, 50, 50]}, "times_ms[2]"),
    ("too few times", {"times_ms": [0, 50]}, "times_ms"),
    ("nothing", {"times_ms": [], "values": []}, "values"),
    ("ten thousand at once", {"times_ms": [50 * n for n in range(10_000)], "values": [1.0] * 10_000}, "values"),
    ("a cell nobody named", {"cell": str(uuid.uuid4())}, "cell"),
    ("a clock that is none", {"at": "noon"}, "at"),
]  # fmt: skip


@pytest.mark.parametrize(("change", "field"), [row[1:] for row in WRONG], ids=[row[0] for row in WRONG])
def test_bad_readings_are_refused_by_their_field_and_nothing_is_lost(leader, plan, cell, change, field):
    send(leader, plan, batch(cell))
    status, told = send(leader, plan, batch(cell, first=3) | change)
    assert status == 422 and told["faults"][0]["path"].startswith(field), told
    assert told["faults"][0]["right"]
    assert send(leader, plan, batch(cell, first=3)) == (200, {"next": 6})


def test_nan_is_no_reading(leader, plan, cell):
    text = json.dumps(batch(cell)).replace("1.1", "NaN")
    answer = leader.client.post(f"/api/plans/{plan.id}/readings", text, content_type="application/json")
    assert answer.status_code == 400 and "NaN" in answer.content.decode()
    assert read(leader, plan, cell)["count"] == 0


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"unit": "stone"}, "unit"),
        ({"place": "moon"}, "place"),
        ({"place": "leg:main:9"}, "place"),
        ({"name": ""}, "name"),
    ],
)
def test_a_cell_says_where_it_hangs_and_what_it_reads_in(leader, plan, change, field):
    body = {"id": str(uuid.uuid4()), "name": "two", "place": "load", "unit": "kN"} | change
    status, told = leader.send("POST", f"/plans/{plan.id}/cells", body)
    assert status == 422 and told["faults"][0]["path"] == field
    assert told["faults"][0]["right"]


def test_an_observer_sends_no_reading(people, plan, cell):
    assert send(people["observer"], plan, batch(cell))[0] == 403
    assert people["observer"].get(f"/plans/{plan.id}/readings/{cell}")[0] == 200


def test_a_thinned_stretch_keeps_every_peak(leader, plan, cell):
    """An hour at 20 Hz with ten single readings that stand out: all ten are among the 2 400 that are shown."""
    chance = np.random.default_rng(3)
    forces = 1400 + chance.normal(0, 10, 72_000)
    peaks = chance.choice(72_000, 10, replace=False)
    forces[peaks] = 2500 + np.arange(10)
    times = round(BEGAN.timestamp() * 1000) + 50 * np.arange(72_000)
    before = b""
    with writing():
        for first in range(0, 72_000, 2000):
            part = slice(first, first + 2000)
            block = ReadingBlock(
                cell_id=uuid.UUID(cell), first=first, count=2000, from_ms=int(times[first]), to_ms=int(times[part][-1]),
                data=packed(times[part], forces[part]),
            )  # fmt: skip
            block.hash = before = block.content_hash(before)
            block.save()
    told = read(leader, plan, cell)
    assert len(told["forces_n"]) <= 2400 and told["count"] == 72_000
    assert sorted(one for one in told["forces_n"] if one > 2400) == [2500 + n for n in range(10)]
    assert leader.get(f"/plans/{plan.id}/log/verified")[1]["broken"] == []


def test_a_reading_that_was_changed_is_found_and_the_database_refuses_it(leader, plan, cell):
    send(leader, plan, batch(cell))
    send(leader, plan, batch(cell, first=3))
    with pytest.raises(DatabaseError, match="append-only"):
        ReadingBlock.objects.filter(first=3).update(count=2)


def test_a_change_made_around_the_database_is_named(leader, plan, cell):
    send(leader, plan, batch(cell))
    send(leader, plan, batch(cell, first=3))
    with connection.cursor() as cursor:
        cursor.execute("DROP TRIGGER readings_readingblock_no_update")
        row = ReadingBlock.objects.get(first=3)
        data = packed(unpacked(ReadingBlock.objects.filter(pk=row.pk))[0], np.array([1000.0, 1000.0, 1000.0]))
        cursor.execute("UPDATE readings_readingblock SET data = %s WHERE first = 3", [data])
    broken = leader.get(f"/plans/{plan.id}/log/verified")[1]["broken"]
    assert broken == [f"plan {plan.id}, readings of one from number 3: do not fit their hash"]


def test_what_is_predicted_follows_the_step_of_the_run(leader, plan, cell):
    from tests.server.test_run import act, go_to

    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    [told] = leader.get(f"/plans/{plan.id}/cells")[1]["cells"]
    assert told["step"] == "raise:1/1" and told["place_text"] == "at the load"
    assert told["band"]["low"] < told["band"]["expected"] < told["band"]["high"] < told["stuck"]["low"]
    # Up its way the same load pulls harder, and the last haul is over the lip.
    for step, least, most in (("raise:4/1", 1.2, 1.4), ("raise:6/1", 0.3, 0.6)):
        go_to(leader, plan, step)
        [later] = leader.get(f"/plans/{plan.id}/cells")[1]["cells"]
        assert least < later["band"]["expected"] / told["band"]["expected"] < most, step


def test_nothing_is_predicted_while_the_load_lies_on_the_ground(leader, plan, cell):
    """Before it is lifted off, a cell that reads next to nothing is right; as it comes on, anything up to what it then weighs."""
    from tests.server.test_run import act, go_to

    act(leader, plan, "begin")
    [told] = leader.get(f"/plans/{plan.id}/cells")[1]["cells"]
    assert told["band"] is None
    # Half a minute of nothing raises no alarm.
    for number in range(0, 600, 50):
        nothing = [0.002 + 0.001 * (n % 2) for n in range(50)]
        assert send(leader, plan, batch(cell, number, nothing))[0] == 200
    log = leader.get(f"/plans/{plan.id}/log")[1]["entries"]
    assert [one for one in log if one["kind"] == "alarm"] == []
    steps = leader.get(f"/plans/{plan.id}/run")[1]["operation"]["steps"]
    on = next(a["key"] for b, a in pairwise(steps) if b["holds"]["grounded"] and not a["holds"]["grounded"])
    go_to(leader, plan, on)
    [told] = leader.get(f"/plans/{plan.id}/cells")[1]["cells"]
    assert told["band"]["low"] == 0 < told["band"]["expected"] < told["band"]["high"]


def test_a_jam_in_the_readings_is_written_with_what_it_is_like(leader, plan, cell, monkeypatch):
    """Held at 1.4 kN, hauled at 1.45, then up to 4 kN within half a second."""
    from tests.server.test_run import act, go_to

    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    forces = [1.4] * 100 + [1.45] * 100 + [1.45 + 0.25 * n for n in range(1, 11)] + [4.0] * 20
    told: list[str] = []
    monkeypatch.setattr(live, "say", lambda _plan, event, *_more, **_all: told.append(event))
    for first in range(0, len(forces), 10):
        assert send(leader, plan, batch(cell, first=first, values=forces[first : first + 10]))[0] == 200
    found = [one for one in leader.get(f"/plans/{plan.id}/log?kind=alarm")[1]["entries"]]
    assert len(found) == 1 and "As if the load stood still" in found[0]["decision"]
    assert found[0]["step"] == "raise:1/1" and found[0]["data"]["alarm"] == "rise"
    assert told == ["readings"] * (len(forces) // 10)


def test_what_was_read_in_a_haul_is_learnt_from_and_taken_over_moves_the_run_on_to_the_new_plan(leader, plan, cell):
    """Ten seconds hanging, ten hauling, twice: read while the step is to haul."""
    from tests.server.test_run import act, go_to

    status, told = leader.get(f"/plans/{plan.id}/learnt")
    assert status == 422 and told["faults"][0]["path"] == "run"
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    assert leader.get(f"/plans/{plan.id}/learnt")[1]["faults"][0]["path"] == "readings"
    chance = np.random.default_rng(2)
    quiet, moving = (lambda: 1.40 + chance.normal(0, 0.006, 200)), (lambda: 1.46 + chance.normal(0, 0.04, 200))
    values = np.round(np.concatenate([quiet(), moving(), quiet(), moving()]), 3).tolist()
    soon = datetime.fromtimestamp(time.time() + 60, UTC).isoformat()
    assert send(leader, plan, batch(cell, values=values, at=soon))[0] == 200
    status, lesson = leader.get(f"/plans/{plan.id}/learnt")
    assert status == 200 and lesson["stretches"] >= 3
    weight = next(one for one in lesson["values"] if one["symbol"] == "m")
    assert (
        weight["sharper"] > 1.4
        and weight["before"]["low"] < weight["after"]["low"] < weight["after"]["high"] < weight["before"]["high"]
    )
    document = json.loads(plan.latest.document) | {"found": lesson["found"]}
    assert leader.save(plan, 1, document)[0] == 200
    assert leader.get(f"/plans/{plan.id}/run")[1]["run"]["revision"] == 2
    # Asked again, the same readings are not counted twice.
    again = leader.get(f"/plans/{plan.id}/learnt")[1]
    after = next(one for one in again["values"] if one["symbol"] == "m")["after"]
    assert after == {end: pytest.approx(value, rel=1e-4) for end, value in weight["after"].items()}


def test_what_is_read_while_the_load_is_stuck_teaches_nothing(leader, plan, cell):
    """Hauled, then 4 kN for half a minute until somebody says that it goes on: no stretch of it counts."""
    from tests.server.test_run import act, go_to

    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    chance = np.random.default_rng(2)
    hauls = np.concatenate([1.40 + chance.normal(0, 0.006, 200), 1.46 + chance.normal(0, 0.04, 200)])
    jam = np.concatenate([np.linspace(1.5, 4.0, 10), 4.0 + chance.normal(0, 0.15, 500)])
    soon = datetime.fromtimestamp(time.time() + 5, UTC).isoformat()
    values = np.round(np.concatenate([hauls, jam]), 3).tolist()
    for first in range(0, len(values), 50):
        part = batch(cell, first=first, values=values[first : first + 50], at=soon)
        assert send(leader, plan, part)[0] == 200
    alarms = leader.get(f"/plans/{plan.id}/log?kind=alarm")[1]["entries"]
    assert [one["data"]["alarm"] for one in alarms][:1] == ["rise"]
    lesson = leader.get(f"/plans/{plan.id}/learnt")[1]
    assert lesson["stretches"] == 2 and lesson["found"]


def table(person, plan, cell, text, take=True, run=None, **said):
    file = SimpleUploadedFile("logger.csv", text.encode())
    body = {"settings": json.dumps(said), "file": file} | ({"run": run} if run else {})
    where = f"cells/{cell}/table" if take else "table"
    answer = person.client.post(f"/api/plans/{plan.id}/{where}", body)
    return answer.status_code, json.loads(answer.content)


def test_a_table_of_another_cell_is_read_in_and_what_it_does_not_say_is_asked(leader, plan, cell):
    text = "Time;Load\n2026-03-01T10:00:00;140,2\n2026-03-01T10:00:01;141\n"
    status, told = table(leader, plan, cell, text)
    assert status == 200 and [one["setting"] for one in told["asks"]] == ["force_unit", "zone"] and told["kept"] is None
    told = table(leader, plan, cell, text, force_unit="kgf", zone="UTC", take=False)[1]
    assert (told["count"], told["kept"], read(leader, plan, cell)["count"]) == (2, None, 0)
    assert table(leader, plan, cell, text, force_unit="kgf", zone="UTC")[1]["kept"] == 2
    assert read(leader, plan, cell)["forces_n"] == [
        pytest.approx(140.2 * 9.80665, abs=0.06),
        pytest.approx(141 * 9.80665, abs=0.06),
    ]
    told = table(leader, plan, cell, text, force_unit="kgf", zone="UTC")[1]
    assert "before some that are here" in told["faults"][0]["problem"]
    lines = leader.client.get(f"/api/plans/{plan.id}/readings.csv").getvalue().decode().splitlines()
    assert lines[0] == "cell,place,time_utc,force_N" and lines[1].startswith(
        "one,load,2026-03-01T10:00:00.000+00:00,1374.9"
    )
    # What sends by itself sends to a cell of its own.
    assert send(leader, plan, batch(cell, first=2))[1]["faults"][0]["path"] == "cell"


def test_of_a_table_all_is_taken_or_nothing(leader, plan, cell):
    rows = [f"{n / 20},1.{n % 90 + 10}" for n in range(2000)]
    text = "time (s),force (kN)\n" + "\n".join([*rows, "100,heavy"])
    began = {"begins": "2026-03-01 10:00:00", "zone": "UTC"}
    status, told = table(leader, plan, cell, text, **began)
    assert (status, told["faults"][0]["path"]) == (200, "row 2002") and told["rows"][-1]["row"] == 2002
    assert read(leader, plan, cell)["count"] == 0
    assert table(leader, plan, cell, text.replace("heavy", "1.2"), **began)[1]["kept"] == 2001
    assert read(leader, plan, cell)["count"] == 2001


def test_a_table_alarms_nobody_and_is_of_the_run_that_somebody_says(leader, plan, cell):
    """Last month's table of a load that stuck raised an alarm on the run that is going."""
    from tests.server.test_run import act, go_to

    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    values = [1.4 + 0.001 * (n % 7) for n in range(200)] + [4.0] * 200
    text = "time (s),force (kN)\n" + "\n".join(f"{n / 20},{value:.3f}" for n, value in enumerate(values))
    began = {"begins": "2026-02-01 10:00:00", "zone": "UTC"}
    told = table(leader, plan, cell, text, **began)[1]
    assert [one["setting"] for one in told["asks"]] == ["run"]
    run = told["asks"][0]["offers"][0]["value"]
    assert "before that run began" in table(leader, plan, cell, text, run=run, **began)[1]["faults"][0]["problem"]
    assert table(leader, plan, cell, text, run="none", **began)[1]["kept"] == 400
    assert leader.get(f"/plans/{plan.id}/log?kind=alarm")[1]["entries"] == []
    assert not watching._watched
    assert leader.get(f"/plans/{plan.id}/cells")[1]["cells"][0]["from_file"] == "logger.csv"


def test_a_table_larger_than_memory_is_given_is_read_from_the_disk(leader, plan, cell):
    """Three megabytes and more: a hundred thousand readings at 1000 Hz."""
    text = "time (s),force (kN)\n" + "\n".join(f"{n / 1000:.3f},{1 + n % 997 / 1000:.12f}" for n in range(150_000))
    assert len(text) > 3 * 1024**2
    told = table(leader, plan, cell, text, begins="2026-03-01 10:00:00", zone="UTC")[1]
    assert told["kept"] == 150_000 and read(leader, plan, cell)["count"] == 150_000
    assert told["last_ms"] - told["first_ms"] == 149_999


def test_this_tools_own_table_is_read_in_again_as_it_was(leader, plan, cell):
    send(leader, plan, batch(cell))
    text = leader.client.get(f"/api/plans/{plan.id}/readings.csv").getvalue().decode()
    id = str(uuid.uuid4())
    leader.send("POST", f"/plans/{plan.id}/cells", {"id": id, "name": "again", "place": "load"})
    assert table(leader, plan, id, text)[1]["kept"] == 3
    assert read(leader, plan, id)["forces_n"] == read(leader, plan, cell)["forces_n"]
    assert read(leader, plan, id)["times_ms"] == read(leader, plan, cell)["times_ms"]


def test_four_cells_at_twenty_hertz_and_a_server_killed_three_times(tmp_path):
    """Ten simulated minutes, sent faster than the clock (all of it by OUTRIGGER_CELL_S=600): nothing acknowledged lost, nothing twice, and
    few bytes a reading."""
    seconds, kills = int(os.environ.get("OUTRIGGER_CELL_S", "90")), 3
    server = Server(tmp_path)
    try:
        caller = Caller(server)
        plan = caller.send("GET", "/plans")[0]["id"]
        ids = [str(uuid.uuid4()) for _ in range(4)]
        for number, id in enumerate(ids):
            caller.send("POST", f"/plans/{plan}/cells", {"id": id, "name": f"cell {number}", "place": "load"})
        empty = sizes(tmp_path)
        senders = [threading.Thread(target=stream, args=(server, plan, id, seconds), daemon=True) for id in ids]
        for one in senders:
            one.start()
        for number in range(kills):
            while kept(tmp_path) < 4 * 20 * seconds * (number + 1) / (kills + 1):
                time.sleep(0.05)
            server.kill()
            time.sleep(0.3)
            server.start()
        for one in senders:
            one.join(timeout=300)
        caller = Caller(server)
        for id in ids:
            told = caller.send("GET", f"/plans/{plan}/readings/{id}")
            assert told["count"] == 20 * seconds
        assert "every hash fits" in server.manage("verify_log").stdout
        with sqlite3.connect(tmp_path / "outrigger.sqlite3") as database:
            database.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        grown = (sizes(tmp_path) - empty) / (4 * 20 * seconds)
        assert grown <= 40, f"{grown:.1f} bytes a reading"
    finally:
        server.kill()


def test_a_cell_that_is_a_process_of_its_own_follows_the_run(tmp_path):
    """Over the lip the demo's load pulls less than half of what it does where it starts: that is what is read there."""
    server = Server(tmp_path)
    try:
        caller = Caller(server)
        plan = caller.send("GET", "/plans")[0]["id"]
        step, bands, read = "", [], []
        for to in ("raise:1/1", "raise:6/1"):
            while step != to:
                body: dict[str, Any] = {
                    "id": str(uuid.uuid4()),
                    "act": "done" if step else "begin",
                    "at": step,
                    "text": "as planned",
                    "data": {},
                }
                step = caller.send("POST", f"/plans/{plan}/run", body)["at"]
            server.manage("cell", "--url", server.url, "--plan", plan, "--seconds", "40", "--faster", "8")
            cell = caller.send("GET", f"/plans/{plan}/cells")["cells"][-1]
            bands.append(cell["band"])
            # Every reading once the load has come there.
            read.append(caller.send("GET", f"/plans/{plan}/readings/{cell['id']}")["forces_n"][-200:])
        for band, forces in zip(bands, read, strict=True):
            assert band["low"] < np.median(forces) < band["high"]
        assert max(read[1]) < bands[0]["low"]
    finally:
        server.kill()


def stream(server: Server, plan: str, cell: str, seconds: int) -> None:
    """A bridge: a second of readings at a time, each sent again until it is acknowledged."""
    chance, caller, first = np.random.default_rng(5), None, 0
    while first < 20 * seconds:
        body = batch(cell, first=first, values=[round(float(one), 3) for one in chance.normal(1.4, 0.01, 20)])
        try:
            caller = caller or Caller(server)
            first = caller.send("POST", f"/plans/{plan}/readings", body)["next"]
        except urllib.error.HTTPError as error:
            raise AssertionError(error.read()) from error
        except (OSError, http.client.HTTPException, ValueError):
            # Killed before, while or after it answered.
            caller = None
            time.sleep(0.2)


def test_a_plan_is_saved_on_a_run_while_cells_send_and_nobody_waits_in_a_ring(tmp_path):
    """Who takes the writers' turn first and the database second never meets who does it the other way round: each is answered."""
    server = Server(tmp_path)
    try:
        caller = Caller(server)
        plan = caller.send("GET", "/plans")[0]["id"]
        caller.send(
            "POST",
            f"/plans/{plan}/run",
            {"id": str(uuid.uuid4()), "act": "begin", "at": "", "text": "practice", "data": {}},
        )
        ids = [str(uuid.uuid4()) for _ in range(3)]
        for id in ids:
            caller.send("POST", f"/plans/{plan}/cells", {"id": id, "name": id[:8], "place": "load"})
        senders = [threading.Thread(target=stream, args=(server, plan, id, 60), daemon=True) for id in ids]
        for one in senders:
            one.start()
        number = caller.send("GET", f"/plans/{plan}")["latest"]["number"]
        for step in range(12):
            document = changed(demo_document(), ropes__0__length_m=80 + step)
            number = caller.send(
                "PUT", f"/plans/{plan}", {"base": number, "id": str(uuid.uuid4()), "document": document}
            )["number"]
        for one in senders:
            one.join(60)
        assert [caller.send("GET", f"/plans/{plan}/readings/{id}")["count"] for id in ids] == [1200] * 3
    finally:
        server.kill()


def kept(var) -> int:
    with sqlite3.connect(var / "outrigger.sqlite3") as database:
        return database.execute("SELECT coalesce(sum(count), 0) FROM readings_readingblock").fetchone()[0]


def sizes(var) -> int:
    return (var / "outrigger.sqlite3").stat().st_size
