"""What bears how much after a step: as the plan's own states have it, and by hand where they have nothing to say."""

import random
from collections.abc import Iterator

import pytest

from rigging.document import Plan
from rigging.lines.solve import Solved
from rigging.procedures.asked import ask
from rigging.procedures.begin import Ground
from rigging.procedures.compose import composed
from rigging.procedures.forces import forces_n
from rigging.procedures.run import Step, made_of
from rigging.quantities.ranges import Range
from rigging.telling.work.operation import operation_report
from tests.drawn import drawn_plan
from tests.plans import demo_document, demo_plan

LOWERING = demo_document()["lines"][0]["lowering"]


def within(one: float, bounds: Range) -> bool:
    return bounds.low * (1 - 1e-9) - 1e-6 <= one <= bounds.high * (1 + 1e-9) + 1e-6


def after(plan: Plan, procedure: str, words: str) -> tuple[Step, dict[str, Range]]:
    step = next(one for one in made_of(plan, procedure).steps if words in one.given.do)
    return step, forces_n(Ground(plan), step.after)


def solved_alone(seed: int, count: int, *ids: str) -> Iterator[tuple[Solved, dict[str, Range]]]:
    """States of the demo and of so many drawn from it in which one line bears, as the sheet solves them and as a step that ends there is asked."""
    luck = random.Random(seed)
    for plan in [demo_plan(), *(drawn_plan(luck, demo_plan()) for _ in range(count))]:
        ground = Ground(plan)
        for id in ids:
            solved = ground.solver.solve(ground.moments[id])
            if isinstance(solved, Solved) and len(solved.lines) == 1:
                yield solved, forces_n(ground, ask(ground.state(id)))


def test_a_state_at_rest_bears_what_the_sheet_says_of_it():
    asked = 0
    for solved, found in solved_alone(4, 12, "held", "between-hauls"):
        for anchor, pulls in solved.on_anchors.items():
            told = found[f"anchor:{anchor}"]
            assert (told.low, told.expected, told.high) == pytest.approx(
                (pulls.size.low, pulls.size.expected, pulls.size.high), rel=1e-6
            )
            asked += 1
    assert asked >= 20


def test_what_runs_stays_within_what_it_may_be_at_rest():
    for solved, found in solved_alone(5, 8, "lowering", "raising"):
        running = solved.lines[0].running
        assert running is not None
        assert within(running.hand.low, found["hands"]) and within(running.hand.high, found["hands"])


def test_behind_a_device_a_hitch_keeps_what_the_device_leaves():
    """Super munter 15/25/35: of what is at the device a thirty-fifth to a fifteenth is left behind it, and the anchor bears the load's strand."""
    step, found = after(demo_plan(), "lower", "the brake hitch set, the hand let go")
    front = found["anchor:main"]
    assert set(step.after.on) == {"main:brake"}
    assert found["main:brake"].low == pytest.approx(front.low / 35, rel=1e-6)
    assert found["main:brake"].high == pytest.approx(front.high / 15, rel=1e-6)


def test_once_it_was_lowered_it_bears_what_it_bears_at_the_bottom():
    """The load goes from the lip down to where it is steeper: the hitch that is set there bears what is asked there, not what was at the lip."""
    steps = {one.key: one for one in operation_report(demo_plan(), composed(demo_plan())).steps}
    lip, bottom = (steps[key].holds.on[0].force_n for key in ("lower/6", "lower/8"))
    assert lip is not None and bottom is not None and bottom.high > 1.5 * lip.high
    _, found = after(demo_plan(), "change-over", "Eased until the ratchet")
    assert bottom.high == pytest.approx(found["main:ratchet"].high / 15, rel=1e-6)


def test_a_quick_anchor_bears_all_of_it_until_the_strong_one_does():
    _, axe = after(demo_plan(), "after-arrest", "Arrester eases up")
    assert axe["main:axe"].high == pytest.approx(axe["main:hitch"].high)
    _, strong = after(demo_plan(), "after-arrest", "Digs the strong anchor")
    assert "main:axe" not in strong and strong["anchor:main"].high == pytest.approx(axe["main:axe"].high)


def test_on_a_block_at_the_load_hands_and_tied_end_share_it():
    """2 : 1 at rest, without friction half each; a carabiner in its stead passes on .45 at the least, whichever way it helps."""
    _, found = after(demo_plan(), "drop-haul", "Haul 2 : 1")
    hands, end = found["hands"], found["main:drop end"]
    assert hands.expected == pytest.approx(end.expected)
    _, six = after(demo_plan(), "drop-six", "6 : 1")
    assert six["hands"].expected == pytest.approx(hands.expected / 3)
    assert hands.low < hands.expected < hands.high


def test_one_sling_alone_is_four_to_one():
    _, held = after(demo_plan(), "sling-haul", "Extend; repeat")
    _, found = after(demo_plan(), "sling-haul", "Haul.")
    assert found["hands"].expected == pytest.approx(held["main:device"].expected / 4)
    # Carabiners leave less to the hands, or ask more of them, than 4 : 1 would.
    assert found["hands"].high > 2 * found["hands"].expected


@pytest.mark.parametrize(("device", "refused"), [("super-munter", False), ("munter", True)])
def test_a_hitch_that_hardly_bears_is_slid_off_by_hand_and_one_that_does_is_not(device: str, refused: bool):
    """A prusik behind a super munter has at most 118 N on it, behind a munter (6 to 12) up to 295: a gloved hand holds 150."""
    plan = demo_plan(lines__0__lowering={**LOWERING, "device": device, "brake_hitch": "prusik-8"})
    step = next(one for one in made_of(plan, "change-over").steps if "brake hitch minded" in one.given.do)
    assert step.refused is refused
    if refused:
        problem = next(fault.problem for made in step.made for fault in made.refused)
        assert "0.00 to 0.30 kN on it" in problem and "does not let go under load" in problem


def test_on_the_ground_nothing_bears():
    plan = demo_plan()
    ground = Ground(plan)
    assert forces_n(ground, ask(ground.state("ground"))) == {}
