"""A run gone through again: each step as it stood when it was done."""

import pytest

from tests.plans import changed, demo_document
from tests.server.test_readings import batch, cell, send  # noqa: F401
from tests.server.test_run import act, go_to


@pytest.fixture(autouse=True)
def _own_folder(settings, tmp_path):
    settings.VAR = tmp_path


def test_a_step_begun_before_the_plan_was_changed_is_shown_as_it_was(leader, plan, cell):  # noqa: F811
    """Two hauls begun on a bare carabiner at the grab, the third on a pulley, and with a heavier casualty."""
    act(leader, plan, "begin")
    go_to(leader, plan, "raise:1/1")
    assert send(leader, plan, batch(cell))[0] == 200
    go_to(leader, plan, "raise:2/1")
    before = leader.get(f"/plans/{plan.id}/debrief")[1]
    better = changed(demo_document(), lines__0__haul__bends__G="ball-bearing-pulley", load__items__0__mass_kg=110)
    assert leader.save(plan, 1, better)[0] == 200
    act(leader, plan, "done", at="raise:2/1")
    after = leader.get(f"/plans/{plan.id}/debrief")[1]

    def hand_n(told, key):
        return next(one for one in told["operation"]["steps"] if one["key"] == key)["hands"]["hand_n"]

    for key in ("raise:1/1", "raise:2/1"):
        assert hand_n(after, key) == hand_n(before, key)
    assert hand_n(after, "raise:3/1") != hand_n(before, "raise:3/1")
    bands = [told["cells"][0]["bands"] for told in (before, after)]
    assert bands[0]["raise:2/1"] == bands[1]["raise:2/1"]
    assert bands[1]["raise:3/1"]["high"] > bands[0]["raise:3/1"]["high"]
