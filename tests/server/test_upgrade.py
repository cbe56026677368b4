"""Data of earlier states of the project, made by those themselves, opens in this one: every seal fits and nothing of it is lost."""

import gzip

import pytest

from tests.conftest import Server, environment, manage
from tests.plans import ROOT
from tests.server.test_durability import Caller


@pytest.mark.parametrize(
    ("state", "revisions", "entries", "run"), [("ec7c543", 2, 2, None), ("7de3d84", 2, 11, "stopped")]
)
def test_data_of_an_earlier_state_is_opened_with_every_seal_fitting_and_written_on(
    tmp_path, state, revisions, entries, run
):
    kept = gzip.decompress((ROOT / "tests" / "documents" / f"data-of-{state}.db.gz").read_bytes())
    (tmp_path / "outrigger.sqlite3").write_bytes(kept)
    env = environment(tmp_path)
    manage(env, "migrate", "-v0")
    assert "every hash fits" in manage(env, "verify_log").stdout
    server = Server(tmp_path)
    try:
        leader = Caller(server)
        plan = leader.send("GET", "/plans")[0]["id"]
        latest = leader.send("GET", f"/plans/{plan}")["latest"]
        assert latest["number"] == revisions and latest["document"]["load"]["items"][0]["mass_kg"] == 90
        log = leader.send("GET", f"/plans/{plan}/log")
        assert log["total"] == entries
        assert any(one["decision"] == "Stones loose under the lip" for one in log["entries"])
        now = leader.send("GET", f"/plans/{plan}/run")["run"]
        assert (now and now["status"]) == run
        if now:
            assert leader.send("GET", f"/plans/{plan}/cells")["cells"][0]["readings"] == 200
            assert leader.send("GET", f"/plans/{plan}/signed")
        # And it goes on from there.
        said = {
            "id": "3b1f4d2e-0000-4000-8000-000000000001",
            "kind": "decision",
            "decision": "On from here",
            "reason": "opened anew",
        }
        leader.send("POST", f"/plans/{plan}/log", said | {"revision": revisions})
    finally:
        server.kill()
    assert "every hash fits" in manage(env, "verify_log").stdout
