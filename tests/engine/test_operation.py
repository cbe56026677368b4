"""A plan's operation: joins passed where they fall, nobody in two places, and what the people there can not do."""

import itertools

import pytest

from rigging.document import Plan
from rigging.lines.whole_way import whole_way
from rigging.procedures.compose import composed
from rigging.procedures.run import made_of
from rigging.telling.sheet.report import analyse
from rigging.telling.work.operation import operation_report
from tests.engine.test_procedures import carabiners_only, straight
from tests.plans import demo_plan, on_snow, one_rope_plan
from tests.reference.test_tension_line import tight_document
from tests.sound import sound_document

SEVEN = [("Rowan", "leader"), ("Birch", "main"), ("Linden", "belay"), ("Ash", "ratchet"), ("Hazel", "edge"), ("Maple", "haul"), ("Alder", "haul")]  # fmt: skip


def with_people(rows: list[tuple[str, str]], haulers: int, **paths) -> Plan:
    """The demo with these people and nobody else; `haulers` of them can pull."""
    people = [{"name": name, "role": role, **({"tied_to": "belay"} if role == "edge" else {})} for name, role in rows]
    return demo_plan(team__people=people, team__haulers=haulers, **paths)


def test_the_demo_runs_from_set_up_to_struck():
    operation = composed(demo_plan())
    order = [section.procedure for section in operation.sections]
    assert order == ["set-up", "check", "lower", "secure", "change-over", *["raise"] * 6, "edge", "derig"]
    hauls = [section for section in operation.sections if section.procedure == "raise"]
    # 29 m to the edge in hauls of 6.1 m: the first less what the rope gives, each other less what the ratchet gives back.
    assert [haul.number for haul in hauls] == [1, 2, 3, 4, 5, 6] and {haul.count for haul in hauls} == {6}
    haul = analyse(demo_plan()).haul
    assert hauls[1].at_m == pytest.approx(haul.stroke.expected - haul.stretch.expected, abs=0.01)
    each = haul.stroke.expected - haul.sinks.expected
    assert all(b.at_m - a.at_m == pytest.approx(each, abs=0.01) for a, b in itertools.pairwise(hauls[1:]))
    assert haul.resets + 1 == len(hauls)
    assert not any(one.step.refused for one in operation.steps)
    assert len({one.key for one in operation.steps}) == len(operation.steps)


def test_a_join_is_passed_where_the_rope_has_it():
    """20 m from the load's end, with the load coming up from 36 m: once on the way down, once on the way up, in its own haul."""
    operation = composed(demo_plan(ropes__0__joins=[{"at_m": 20, "knot": "double-fisherman", "tail_m": 0.2}]))
    order = [section.procedure for section in operation.sections]
    assert order.count("knot-pass-lowering") == order.count("knot-pass-raising") == 1
    assert order.index("lower") < order.index("knot-pass-lowering") < order.index("change-over")
    # Down to the join, past it, and on: no metre of the way is left out, none is gone twice; the same up.
    way = whole_way(demo_plan(), demo_plan().lines[0], 12).places
    way_m = way[0].line_m - way[-1].line_m
    down = [(one.key, one.down_m) for one in operation.steps if one.down_m]
    assert [key.partition("/")[0] for key, _ in down] == ["lower", "lower-on:1"]
    # By hand: the device has the join when 20 m and the half metre to the device are out.
    assert down[1][1] == pytest.approx(way[0].line_m - 20.5, abs=0.01)
    assert sum(metres for _, metres in down) == pytest.approx(way_m)
    assert sum(
        one.up_m for section in operation.sections if section.job == "raising" for one in section.steps
    ) == pytest.approx(way_m)
    up = operation.sections[order.index("knot-pass-raising")]
    before = operation.sections[order.index("knot-pass-raising") - 1]
    assert (
        before.procedure == "raise"
        and before.at_m <= up.at_m < operation.sections[order.index("knot-pass-raising") + 1].at_m
    )


def test_every_haul_asks_for_the_people_of_its_own_hardest_place():
    """On this ground the pull grows as the load comes under the lip and falls over it: the same as the whole way has at its places."""
    plan = demo_plan()
    hauls = [one for one in composed(plan).sections if one.procedure == "raise"]
    places = whole_way(plan, plan.lines[0], 60).places
    bottom_m = places[0].line_m
    for haul in hauls:
        ends_m = haul.at_m + haul.steps[0].up_m
        there = [one for one in places if haul.at_m <= bottom_m - one.line_m <= ends_m]
        if not there:
            continue  # A last haul shorter than the places stand apart.
        hardest_n = max(one.pulls("raising").hand_n.expected for one in there)
        assert haul.steps[0].step.hands.hand_n == pytest.approx(hardest_n, rel=0.05)
    # The load lies where the haul begins.
    lies = [one.there.site.load_at.z_m for one in hauls]
    assert lies == sorted(lies) and lies[0] == plan.site.load_at.z_m
    assert max(one.steps[0].step.hands.haulers for one in hauls) > hauls[0].steps[0].step.hands.haulers


def busy(planned) -> list[str]:
    named = [who for who in planned.asks.duties.values() if who and who != "one of the haulers"]
    return [*named, *planned.asks.haul] if planned.asks.haul_needed else named


def test_with_seven_people_nobody_is_in_two_places():
    plan = with_people(SEVEN, 2, lines__0__haul__capture_minder="Ash")
    operation = composed(plan)
    for one in operation.steps:
        assert len(busy(one)) == len(set(busy(one))), (one.key, one.asks)
        assert "Rowan" not in one.asks.haul
    # Belay, ratchet and edge stay at their places while three others pull.
    haul = next(one for one in operation.steps if one.key == "raise:1/1")
    assert haul.asks.duties == {"ratchet": "Ash", "belay": "Linden", "edge": "Hazel"}
    assert set(haul.asks.haul) == {"Birch", "Maple", "Alder"}


def test_with_four_it_says_what_can_not_be_done_and_what_would_make_it_possible():
    plan = with_people(SEVEN[:4], 0)
    operation = composed(plan)
    lacks = {one.duty: one for one in operation.lacks}
    assert lacks["haul"].needed > lacks["haul"].there
    report = operation_report(plan, operation)
    told = {one.duty: one for one in report.lacks}
    assert "have to pull" in told["haul team"].text
    assert told["haul team"].would
    for one in operation.steps:
        assert len(busy(one)) == len(set(busy(one)))


def test_what_would_make_the_haul_possible_is_worked_out():
    """Two are free to pull where five are needed at the hardest haul: systems of the catalogue that two could haul."""
    plan = with_people(SEVEN[:6], 1, team__sustained_n=220)
    lacking = {one.duty: one for one in composed(plan).lacks}["haul"]
    assert lacking.needed == 5 and lacking.there == 2
    assert lacking.would and all(people <= 2 for _, people in lacking.would)


@pytest.mark.parametrize("plan", [on_snow, straight, carabiners_only, one_rope_plan], ids=lambda one: one.__name__)
def test_plans_of_other_kinds_compose_and_every_step_says_what_holds(plan):
    made = plan()
    report = operation_report(made, composed(made))
    assert report.steps
    for step in report.steps:
        assert step.holds.on_text and step.holds.behind_text and step.holds.hands_off_text
        if step.key.partition("/")[0] not in ("set-up", "check", "lower", "derig"):
            assert step.holds.hands_off_m is not None, step.key
        if step.holds.behind_m is None and step.holds.hands_off_m is not None:
            assert step.holds.alone, step.key


def test_on_a_tension_line_the_track_holds_and_slips_before_it_breaks():
    plan = Plan.model_validate(tight_document())
    loaded = made_of(plan, "tension-line").steps[-1].after
    assert loaded.hands_off.drop_m is not None
    assert any("track" in one for one in loaded.on)


def test_words_are_the_trades_and_no_step_is_a_verdict():
    report = operation_report(demo_plan(), composed(demo_plan()))
    text = " ".join(f"{one.do} {one.look} {one.holds.on_text} {one.holds.behind_text}" for one in report.steps)
    assert "safe" not in text.lower().split()
    let_go = next(one for one in report.steps if one.key == "raise:1/3")
    assert (let_go.holds.on_text, let_go.holds.behind_text, let_go.holds.hands_off_text) == (
        "Ratchet",
        "Belay, after 0.31 m",
        "It stays",
    )
    # What the sheet says of the anchor between hauls, the load where the first haul has brought it.
    assert let_go.holds.on[0].force_n is not None
    assert let_go.holds.on[0].force_n.expected == pytest.approx(1403, rel=0.005)


def test_a_device_that_locks_by_itself_is_eased_off_and_taken_out():
    """Held open until the ratchet bears: no step of the change over is refused."""
    document = sound_document(lines__0__lowering={"device": "self-locking"})
    operation = composed(Plan.model_validate(document))
    steps = [one for section in operation.sections for one in section.steps]
    assert any("Device out" in one.step.given.do for one in steps)
    assert not [one.key for one in steps if one.step.refused]
