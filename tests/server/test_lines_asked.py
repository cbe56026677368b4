"""The questions of lines in full through the API: who may ask, what comes back, what is refused and by which field."""

import pytest

from tests.plans import changed, demo_document
from tests.reference.test_tension_line import tight_document

ASKED = ["/way", "/best", "/asks", "/lead?state=raising&line=main", "/choices?what=brake", "/analyse?run_m=5"]


@pytest.mark.parametrize("path", ASKED)
def test_every_member_may_ask_and_nobody_else(people, path):
    for role in ("leader", "member", "observer"):
        assert people[role].send("POST", path, demo_document())[0] == 200
    assert people["nobody"].send("POST", path, demo_document())[0] == 401


@pytest.mark.parametrize(
    ("path", "field"),
    [
        ("/way?line=third", "line"),
        ("/way?positions=1", "positions"),
        ("/best?goal=luck", "goal"),
        ("/lead?state=raising&line=third", "line"),
        ("/lead?state=nowhere&line=main", "state"),
        ("/analyse?run_m=-1", "run_m"),
        ("/choices?what=hats", "what"),
        ("/rigs?without=Bag%209", "without"),
        ("/rigs?no_good=oak", "no_good"),
        ("/rigs?one_more=block", "one_more"),
        ("/rigs?people=101", "people"),
    ],
)
def test_a_wrong_question_is_refused_by_its_field(leader, path, field):
    status, told = leader.send("POST", path, demo_document())
    assert status == 422
    assert any(field in fault["path"] for fault in told["faults"])
    assert all(fault["problem"] and fault["right"] for fault in told["faults"])


def test_the_load_looked_at_up_its_way_is_the_load_of_that_place(leader):
    """The report with the load 10 m up is what the way says of the place there; the plan itself is as it was."""
    _, way = leader.send("POST", "/way?positions=51", demo_document())
    place = way["places"][20]
    _, report = leader.send("POST", f"/analyse?only=raising&run_m={place['run_m']}", demo_document())
    state = next(one for one in report["states"] if one["id"] == "raising")
    load = next(node for node in state["nodes"] if node["kind"] == "load")
    assert (load["at"]["x_m"], load["at"]["z_m"]) == pytest.approx((place["x_m"], place["z_m"]))
    hand = next(band for band in way["jobs"][0]["bands"] if band["id"] == "hand")["values"][20]
    assert state["hand"]["expected"] == pytest.approx(hand["expected"])


def test_a_tension_line_and_a_plan_without_lines(leader):
    status, way = leader.send("POST", "/way?line=across", tight_document())
    assert status == 200 and way["jobs"][0]["job"] == "crossing"
    status, told = leader.send("POST", "/way", changed(demo_document(), lines=[], ropes=[]))
    assert status == 422 and told["faults"][0]["path"] == "line"


def test_what_is_chosen_is_saved_as_it_was_offered(leader, plan):
    """An edit that comes with a choice, made and saved, gives the figures that the choice promised."""
    from rigging.document.edits import Edit, edited

    _, told = leader.send("POST", "/best?goal=hand&most=40", demo_document())
    pulley = next(one for one in told["changes"] if one["text"].startswith("Ball-bearing pulley in place of the bare"))
    changed_one = edited(demo_document(), [Edit(**one) for one in pulley["edits"]])
    assert leader.save(plan, 1, changed_one)[0] == 200
    _, again = leader.send("POST", "/best?goal=hand", changed_one)
    assert again["now"] == pulley["gain"].split(" → ")[1]
