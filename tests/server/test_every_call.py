"""Every endpoint called at random, by somebody of the team and with what they have seen: no answer is an error of the server, and each is one
that the API's schema names, of the shape that it names. (15 000 calls: `python -m tests.calls`.)"""

import random

from config.api import api

from tests.calls import Calls, run
from tests.conftest import Server


def test_no_call_ends_in_an_answer_that_the_schema_does_not_name(tmp_path):
    server = Server(tmp_path)
    try:
        calls = Calls(
            server, api.get_openapi_schema(), {"username": "rowan", "password": "practice-only"}, random.Random(3)
        )
        run(calls, rounds=1, each=4)
        assert not calls.wrong, "\n\n".join(calls.wrong.values())
        assert sum(calls.told.values()) > 200
        # Not refusals alone.
        assert sum(count for (_, status), count in calls.told.items() if status == 200) > 80
    finally:
        server.kill()
