"""A disk without room: each thing that is saved says so, nothing that was kept is lost, and sent again it is kept once."""

import errno
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from operations import photos

from tests.conftest import Server
from tests.pictures import picture
from tests.plans import changed, demo_document
from tests.server.test_run import act, send

Answer = tuple[int, Any]


def test_a_photograph(leader, plan, settings, tmp_path, monkeypatch):
    settings.VAR = tmp_path

    def no_room(file, content):
        raise OSError(errno.ENOSPC, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(photos, "write", no_room)
        status, told = send(leader, plan, picture())
    assert status == 507 and told["faults"][0]["path"] == "disk"
    assert not plan.log.exists()
    assert send(leader, plan, picture())[0] == 200


@pytest.mark.parametrize("what", ["readings", "entries", "acts", "revisions"])
def test_what_the_database_has_no_room_for(tmp_path, what):
    """In a process and on a database of its own: what SQLite does when it is full ends the whole transaction."""
    server = Server(tmp_path)
    server.kill()
    server.manage("shell", "-v0", "-c", f"from tests.server.test_full_disk import fills; fills('{what}')")


def fills(what: str) -> None:
    """Saved again and again until there is no room; then, with room, the last once more."""
    from django.contrib.auth import get_user_model
    from plans.models import Plan
    from sealing.seals import broken_seals

    from tests.server.conftest import Person

    person, plan = Person(get_user_model().objects.get(username="rowan")), Plan.objects.get()
    save, kept = _WAYS[what](person, plan)
    before = kept()
    with no_room():
        number = 0
        while (answer := save(number))[0] == 200:
            number += 1
        status, told = answer
        assert status == 507 and told["faults"][0]["path"] == "disk" and "make room" in told["faults"][0]["right"], (
            answer
        )
        assert kept() == before + number
    assert save(number)[0] == 200 and save(number)[0] == 200
    assert kept() == before + number + 1
    assert list(broken_seals(plan)) == []


@contextmanager
def no_room() -> Iterator[None]:
    """The database can grow no more than a little."""
    from django.db import connection

    with connection.cursor() as cursor:
        most = cursor.execute("PRAGMA max_page_count").fetchone()[0]
        pages = cursor.execute("PRAGMA page_count").fetchone()[0]
        cursor.execute(f"PRAGMA max_page_count = {pages + 20}")
        yield
        cursor.execute(f"PRAGMA max_page_count = {most}")


def _readings(person, plan) -> tuple[Callable[[int], Answer], Callable[[], int]]:
    cell, rows = str(uuid.uuid4()), 500
    assert person.send("POST", f"/plans/{plan.id}/cells", {"id": cell, "name": "one", "place": "load"})[0] == 200

    def save(number: int) -> Answer:
        first = rows * number
        times = [50.0 * (first + n) for n in range(rows)]
        values = [1.4 + (n * n % 97) / 500 for n in range(rows)]
        body = {"cell": cell, "first": first, "at": "2026-03-01T10:00:00Z", "times_ms": times, "values": values}
        return person.send("POST", f"/plans/{plan.id}/readings", body)

    return save, lambda: person.get(f"/plans/{plan.id}/readings/{cell}")[1]["count"] // rows


def _entries(person, plan) -> tuple[Callable[[int], Answer], Callable[[], int]]:
    ids = [str(uuid.uuid4()) for _ in range(2000)]
    return lambda number: person.say(plan, f"decision {number} " + "x" * 900, id=ids[number]), plan.log.count


def _acts(person, plan) -> tuple[Callable[[int], Answer], Callable[[], int]]:
    act(person, plan, "begin")
    ids = [str(uuid.uuid4()) for _ in range(2000)]

    def save(number: int) -> Answer:
        return act(person, plan, "stop" if number % 2 == 0 else "go", text="y" * 500, id=ids[number])

    return save, plan.log.filter(kind__in=("stop", "go")).count


def _revisions(person, plan) -> tuple[Callable[[int], Answer], Callable[[], int]]:
    ids, base = [str(uuid.uuid4()) for _ in range(2000)], plan.latest.number

    def save(number: int) -> Answer:
        return person.save(
            plan, base + number, changed(demo_document(), ropes__0__length_m=90 + number / 10), ids[number]
        )

    return save, lambda: plan.latest.number


_WAYS = {"readings": _readings, "entries": _entries, "acts": _acts, "revisions": _revisions}
