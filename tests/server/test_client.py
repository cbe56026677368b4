"""A client that another maker's generator writes from the published description: every endpoint of it, and the demo from plan to debrief by it alone."""

import importlib
import json
import subprocess
import sys
import uuid
from pathlib import Path

import pytest
from config.openapi import published

# What the generator knows no type of is bytes to it.
FILES = ("application/zip", "application/pdf", "image/*", "image/svg+xml")


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    folder = tmp_path_factory.mktemp("client")
    (folder / "openapi.json").write_text(json.dumps(published()))
    overrides = "".join(f'  "{one}": application/octet-stream\n' for one in FILES)
    (folder / "config.yaml").write_text(f"content_type_overrides:\n{overrides}post_hooks: []\n")
    said = subprocess.run(
        [str(Path(sys.executable).parent / "openapi-python-client"), "generate", "--path", "openapi.json", "--config", "config.yaml", "--meta", "none", "--output-path", "outrigger_client", "--fail-on-warning"],
        cwd=folder, capture_output=True, text=True,
    )  # fmt: skip
    assert said.returncode == 0, said.stdout[-3000:]
    sys.path.insert(0, str(folder))
    yield importlib.import_module("outrigger_client")
    sys.path.remove(str(folder))


def test_every_endpoint_is_in_the_client(client):
    operations = [one["operationId"] for path in published()["paths"].values() for one in path.values()]
    assert len(operations) == len(set(operations)) >= 100
    for name in operations:
        importlib.import_module(f"outrigger_client.api.default.{name}")


def test_the_description_is_for_whoever_is_signed_in(leader):
    assert leader.get("/openapi.json")[0] == 200
    leader.client.logout()
    assert leader.get("/openapi.json")[0] == 401


def test_the_demo_goes_from_plan_to_debrief_by_the_client_alone(client, server):
    calls = importlib.import_module("outrigger_client.api.default")
    models = importlib.import_module("outrigger_client.models")

    def call(name, **more):
        module = importlib.import_module(f"{calls.__name__}.{name}")
        answer = module.sync_detailed(client=here, **more)
        assert answer.status_code == 200, (name, answer.content[:500])
        return answer.parsed

    here = client.Client(base_url=server.url, verify_ssl=False, timeout=60)
    # One connection with its cookies; a page of the same address asks.
    headers = here.get_httpx_client().headers
    headers.update({"X-CSRFToken": call("session").csrf_token, "Referer": f"{server.url}/"})
    signed = call("sign_in", body=models.SignIn(username="rowan", password="practice-only"))
    headers["X-CSRFToken"] = signed.csrf_token
    row = next(one for one in call("plans") if "Alder" in one.title)
    base = call("plan", plan_id=row.id)
    mine = call("create_plan", body=models.NewPlan(team=base.team.id, id=uuid.uuid4(), document=base.latest.document))
    report = call("analyse", body=mine.latest.document)
    assert report.states and call("check", body=mine.latest.document).rows
    run = act(models, call, mine.id, "begin")
    for _ in range(120):
        if run.at == "":
            break
        done = act(models, call, mine.id, "done", run.at)
        if done.at == run.at:
            break
        run = done
    assert act(models, call, mine.id, "end").status == "ended"
    debrief = call("debrief", plan_id=mine.id)
    assert len(debrief.done) > 50 and debrief.run.status == "ended"
    text = call("log_csv", plan_id=mine.id)
    assert text.startswith("sequence,time_utc") and "Run ended" in text


def act(models, call, plan, name, at=""):
    body = models.RunAct(id=uuid.uuid4(), act=models.RunActAct(name), at=at, text="practice")
    return call("act_on_run", plan_id=plan, body=body)
