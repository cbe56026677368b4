"""Every endpoint called at random, with state: what answers show of ids, tokens and names is what later calls are made of."""

import argparse
import json
import random
import re
import tempfile
import uuid
from collections import Counter, defaultdict, deque
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import requests
import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from schemathesis.checks import load_all_checks, not_a_server_error
from schemathesis.core.failures import FailureGroup
from schemathesis.core.transport import Response
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from rigging.catalogue import catalogue
from tests.conftest import Server, manage
from tests.engine.test_random_plans import changed_at_random

CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
# Whoever calls these is somebody else, or nobody, afterwards: they are called in a session of their own.
ENDS_THE_SESSION = {
    ("delete", "/api/session"),
    ("post", "/api/session"),
    ("post", "/api/session/password"),
    ("post", "/api/look/{token}"),
    ("post", "/api/join/{token}"),
}
# What a path asks for, by the name under which answers show it; what is asked for in words that stand nowhere else.
_HERE = {"plan_id": "plan", "team_id": "team", "cell_id": "cell", "entry_id": "entry", "link_id": "link"}
_SHOWS = {"/api/plans": "plan", "/cells": "cell", "/log": "entry", "/photographs": "entry", "/observers": "link"}
ACTS = ["begin", "done", "back", "skip", "stop", "why", "go", "contingency", "return", "here", "look", "end", "settle"]
KNOWN = {
    "state": ["held", "lowering", "raising", "jammed", "goes:belay"], "line": ["main", "belay"], "act": ACTS, "figure": ["hand", "haulers", "line:main:load"],
    "unit": ["kN", "kgf", "lbf"], "time_unit": ["s", "ms"],
}  # fmt: skip
# What takes long is called less often.
SLOW = re.compile(r"/(backup|bundle|papers/\w+|best|check|choices|asks|verified)$")
_OWN = ("User-Agent", "X-CSRFToken", "Origin", "Referer")
# What is seen in answers and asked for again, by the name it has there.
SEEN = re.compile(r"(^|_)(id|token|number|sequence|revision|name|line|step|part|place|key|figure|username|at)$")
_A_DOCUMENT = {"type": "object", "properties": {"title": {"type": "string"}, "site": {"type": "object"}, "load": {"type": "object"}}, "required": ["site", "load"]}  # fmt: skip


def with_short_documents(schema: dict[str, Any]) -> dict[str, Any]:
    """The API's schema with a plan's document, where it is sent, as a mark in whose place a whole one is put."""
    schema = json.loads(json.dumps(schema))
    parts = schema["components"]["schemas"]

    def sent(value: Any) -> Any:
        if isinstance(value, dict):
            name = str(value.get("$ref", "")).rpartition("/")[2]
            if name == "Plan":
                return {"$ref": "#/components/schemas/APlan"}
            if name and f"Sent{name}" not in parts:
                parts[f"Sent{name}"] = {}
                parts[f"Sent{name}"] = sent(parts[name])
            return (
                {"$ref": f"#/components/schemas/Sent{name}"} if name else {key: sent(one) for key, one in value.items()}
            )
        return [sent(one) for one in value] if isinstance(value, list) else value

    parts["APlan"] = _A_DOCUMENT
    for operations in schema["paths"].values():
        for operation in operations.values():
            if "requestBody" in operation:
                operation["requestBody"] = sent(operation["requestBody"])
    return schema


class Calls:
    """Somebody of the team who calls whatever there is, with what they have seen."""

    def __init__(self, server: Server, schema: dict[str, Any], sign_in: dict[str, str], luck: random.Random):
        load_all_checks()
        self.url, self.sign_in, self.luck = server.url, sign_in, luck
        self.schema = schemathesis.openapi.from_dict(with_short_documents(schema))
        self.operations = [one.ok() for one in self.schema.get_all_operations()]
        self.seen: defaultdict[str, deque[Any]] = defaultdict(lambda: deque(maxlen=40))
        self.wrong: dict[tuple[str, int, str], str] = {}
        self.told: Counter[tuple[str, int]] = Counter()
        self.session = self._in()

    def _in(self) -> requests.Session:
        session = self._nobodys()
        said = session.post(f"{self.url}/api/session", json=self.sign_in)
        assert said.status_code == 200, said.text
        session.headers["X-CSRFToken"] = said.json()["csrf_token"]
        return session

    def _nobodys(self) -> requests.Session:
        session = requests.Session()
        token = session.get(f"{self.url}/api/session").json()["csrf_token"]
        session.headers.update({"X-CSRFToken": token, "Origin": self.url, "Referer": f"{self.url}/"})
        return session

    def _anew(self) -> requests.Session:
        """A session of its own, nobody's at first: whoever signs in too often is kept out for a while."""
        session = self._nobodys()
        if self.luck.random() < 0.1:
            said = session.post(f"{self.url}/api/session", json=self.sign_in).json()
            session.headers["X-CSRFToken"] = said.get("csrf_token", session.headers["X-CSRFToken"])
        return session

    def begin(self) -> None:
        """Looks round, and begins a run with a cell: there is something to ask of then."""
        for path in ("/api/session", "/api/plans"):
            self._noted(path, self.session.get(f"{self.url}{path}").json())
        for end in ("/run", "/cells", "/log"):
            body = self.likely[end]() | ({"act": "begin", "at": ""} if end == "/run" else {})
            path = f"/api/plans/{self.seen['plan'][0]}{end}"
            self._noted(path, self.session.post(f"{self.url}{path}", json=body).json())

    def look(self, value: Any, name: str = "") -> None:
        """Keeps what can be asked for again."""
        if isinstance(value, dict):
            for key, one in value.items():
                self.look(one, key)
        elif isinstance(value, list):
            for one in value[:40]:
                self.look(one, name)
        elif isinstance(value, str) and (link := re.fullmatch(r"/(?:look|join)/(.+)", value)):
            self.seen["token"].append(link[1])
        elif isinstance(value, str | int) and not isinstance(value, bool) and (SEEN.search(name) or is_uuid(value)):
            for kept in {name, "id"} if is_uuid(value) else {name}:
                if value not in self.seen[kept]:
                    self.seen[kept].append(value)

    def a_uuid(self) -> str:
        return str(uuid.UUID(int=self.luck.getrandbits(128)))

    def of(self, name: str) -> Any:
        """Something seen under a name, where there is any."""
        return self.luck.choice(self.seen[name]) if self.seen[name] else self.a_uuid()

    @property
    def likely(self) -> dict[str, Callable[[], dict[str, Any]]]:
        """By the end of a path, what a device that means well would send there."""
        luck = self.luck
        now = datetime.now(UTC).isoformat()
        count = luck.randrange(1, 60)
        readings = {
            "cell": self.of("cell"), "first": luck.choice([0, count, 2**31 - 70]), "at": now, "times_ms": [100.0 * n for n in range(count)],
            "values": [luck.uniform(-5, 5000) for _ in range(count)],
        }  # fmt: skip
        return {
            "/cells": lambda: {"id": self.a_uuid(), "name": "Cell", "place": luck.choice(["load", "anchor:main", "anchor:belay"]), "unit": "kN"},
            "/readings": lambda: readings,
            "/run": lambda: {"id": self.a_uuid(), "act": luck.choice(ACTS), "at": self.of("at"), "text": "as it was", "data": {}},
            "/sign": lambda: {"id": self.a_uuid(), "revision": luck.choice([1, self.of("number")])},
            "/log": lambda: {"id": self.a_uuid(), "kind": "decision", "decision": "on we go", "reason": "=1+1", "revision": 1, "corrects": luck.choice([None, self.of("entry")])},
            "/import": lambda: {"team": self.of("team"), "id": self.a_uuid(), "content": changed_at_random(luck)},
            "/api/plans": lambda: {"team": self.of("team"), "id": self.a_uuid(), "document": changed_at_random(luck)},
        }  # fmt: skip

    def _noted(self, path: str, told: Any) -> None:
        """What an answer is about, by what it is."""
        name = next((name for end, name in _SHOWS.items() if path.endswith(end)), None)
        rows = (
            told
            if isinstance(told, list)
            else [told, *(one for part in told.values() if isinstance(part, list) for one in part)]
            if isinstance(told, dict)
            else []
        )
        for one in rows:
            if name and isinstance(one, dict) and "id" in one:
                self.seen[name].append(one["id"])
            if path == "/api/session" and isinstance(one, dict) and "role" in one:
                self.seen["team"].append(one["id"])
            if isinstance(one, dict) and isinstance(one.get("team"), dict):
                self.seen["team"].append(one["team"]["id"])
            run = one.get("run", one) if isinstance(one, dict) else None
            if isinstance(run, dict) and "status" in run and "at" in run:
                self.seen["at"].append(run["at"])

    def known(self, name: str, instead: Any) -> Any:
        """Something seen that bears this name, mostly; now and then what was drawn, or what stands under another name."""
        short = name.rpartition("_")[2]
        places = self.seen[name] or self.seen[short]
        dice = self.luck.random()
        if dice < 0.1 or not (places or isinstance(instead, str)):
            return instead
        if dice < 0.2 and self.seen["id"]:
            return self.luck.choice(self.seen["id"])
        return self.luck.choice(places) if places else instead

    def fitted(self, value: Any, name: str = "") -> Any:
        """What was drawn, with whole documents, and with what was seen in the place of ids and names."""
        if isinstance(value, dict):
            if "site" in value and "load" in value:
                return value if self.luck.random() < 0.05 else changed_at_random(self.luck)
            if "ropes" in value and "nodes" in value and self.luck.random() < 0.8:
                return self.luck.choice(list(catalogue().systems.values())).model_dump()
            return {key: self.fitted(one, key) for key, one in value.items()}
        if isinstance(value, list):
            return [self.fitted(one, name) for one in value]
        if name == "id" and is_uuid(value) and self.luck.random() < 0.8:
            return self.a_uuid()
        if name in KNOWN and self.luck.random() < 0.8:
            return self.luck.choice(KNOWN[name])
        return self.known(name, value) if SEEN.search(name) else value

    def call(self, case: Any) -> None:
        """Sends one case, and looks whether the answer is one that the schema names."""
        if case.method.lower() == "put" and case.path.endswith("/members/{username}"):
            # Who calls stays a leader.
            case.path_parameters = {**case.path_parameters, "username": self.luck.choice(["ash", "guest", "nobody"])}
        case.path_parameters = {
            name: self.known(_HERE.get(name, name), value) for name, value in case.path_parameters.items()
        }
        case.query = {name: self.fitted(value, name) for name, value in case.query.items()}
        if case.media_type == "application/json" and isinstance(case.body, dict | list):
            likely = next((body for end, body in self.likely.items() if case.path.endswith(end)), None)
            case.body = likely() if likely and self.luck.random() < 0.5 else self.fitted(case.body)
        given = case.as_transport_kwargs(base_url=self.url)
        ends = (case.method.lower(), case.path) in ENDS_THE_SESSION
        session = self._anew() if ends else self.session
        given["headers"] = {key: value for key, value in given["headers"].items() if key not in _OWN} | {
            key: value for key, value in session.headers.items() if key in _OWN
        }
        given.pop("cookies", None)
        try:
            answer = session.request(**given, stream=True, timeout=120)
        except requests.Timeout:
            self.wrong.setdefault((case.operation.label, 0, "no answer within two minutes"), str(given)[:20_000])
            return
        if answer.headers.get("Content-Type", "").startswith("text/event-stream"):
            answer.raw.close()
            answer._content = b""
        response = Response.from_requests(answer, verify=False)
        self.told[case.operation.label, answer.status_code] += 1
        if answer.headers.get("Content-Type", "").startswith("application/json") and len(answer.content) < 2_000_000:
            told = answer.json()
            self.look(told)
            self._noted(case.path, told)
        try:
            case.validate_response(response, checks=CHECKS)
        except FailureGroup as found:
            for fault in found.exceptions:
                self.wrong.setdefault(
                    (case.operation.label, answer.status_code, type(fault).__name__),
                    f"{fault}\n{given}\n{answer.text[:2000]}",
                )


def is_uuid(value: Any) -> bool:
    return isinstance(value, str) and bool(re.fullmatch(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}", value))


def run(calls: Calls, rounds: int, each: int) -> None:
    """Round after round of every endpoint in a mixed order, each called a few times."""
    calls.begin()
    for _ in range(rounds):
        for operation in calls.luck.sample(calls.operations, len(calls.operations)):
            if SLOW.search(operation.path) and calls.luck.random() < 0.7:
                continue

            @seed(calls.luck.getrandbits(32))
            @settings(
                max_examples=each,
                phases=[Phase.generate],
                deadline=None,
                database=None,
                suppress_health_check=list(HealthCheck),
            )
            @given(operation.as_strategy())
            def called(case: Any) -> None:
                calls.call(case)

            called()


def main() -> None:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--rounds", type=int, default=15)
    given.add_argument("--each", type=int, default=14)
    given.add_argument("--seed", type=int, default=1)
    asked = given.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        try:
            written = manage(server.env, "export_openapi_schema", "--api", "config.api.api").stdout
            people = {"username": "rowan", "password": "practice-only"}
            calls = Calls(server, json.loads(written), people, random.Random(asked.seed))
            run(calls, asked.rounds, asked.each)
        finally:
            server.kill()
    for name in sorted({name for name, _ in calls.told}):
        print(name, {status: count for (one, status), count in sorted(calls.told.items()) if one == name})
    print(sum(calls.told.values()), "calls;", len(calls.wrong), "answers that the schema does not name")
    print("\n\n".join(calls.wrong.values()))


if __name__ == "__main__":
    main()
