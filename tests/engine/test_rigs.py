"""The best rig out of the bags: equal to going through every rig, offered only as the check and the figures have it."""

import itertools
import random
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rigging.advice.rigs import search
from rigging.advice.rigs.asked import asked
from rigging.advice.rigs.figures import figures_of, told
from rigging.advice.rigs.front import front
from rigging.advice.rigs.parts import sizes_of
from rigging.advice.rigs.search import best_rigs
from rigging.advice.rigs.ways import Bagged, slots
from rigging.advice.rigs.worked import exactly
from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.judging.margins import share_of_rule
from rigging.quantities.faults import Refused
from rigging.study.place import WORKING
from rigging.study.whole import Study
from rigging.telling.check.sheet import check
from rigging.telling.sheet.rigs import rigs_json, rigs_report
from tests.plans import demo_plan, haul, one_rope_plan

BAGS = {
    "bends": {"ball-bearing-pulley": 2, "carabiner": 8}, "devices": {"super-munter": 1, "rack-5": 1},
    "hitches": {"prusik-8": 3, "klemheist-8": 1, "french-8": 1},
}  # fmt: skip


FEW = {
    "bends": {"ball-bearing-pulley": 2, "carabiner": 2},
    "devices": {"super-munter": 1},
    "hitches": {"prusik-8": 3, "french-8": 1},
}


def small(**paths: object) -> Plan:
    """The demo's main line alone, hauled straight back by a 3:1 on bare carabiners."""
    lines = {"lines__0__haul": haul("z-3", "carabiner"), "bags": BAGS, "team__haulers": 9}
    return one_rope_plan(**(lines | paths))


def some_bags(seed: int) -> dict[str, object]:
    """Bags with some of everything, at random."""
    chosen = random.Random(seed)

    def some(kinds: list[str], most: int) -> dict[str, int]:
        return {kind: chosen.randint(1, most) for kind in chosen.sample(kinds, chosen.randint(0, min(2, len(kinds))))}

    return {
        "bags": {
            "bends": {"carabiner": 6} | some(["ball-bearing-pulley", "bushing-pulley"], 3),
            "devices": some(["rack-5", "figure-eight", "self-locking", "munter"], 1),
            "hitches": {"prusik-8": 3} | some(["klemheist-8", "french-8"], 1),
        },
        "team__haulers": chosen.randint(2, 9),
        "lines__0__haul__system": haul(chosen.choice(["z-3", "two-on-two-4"]))["system"],
        "lines__0__haul__bends": {},
    }  # fmt: skip


def every_rig(plan: Plan, places: tuple[float, ...]) -> tuple[np.ndarray, np.ndarray]:
    """Every rig that the bags hold, each worked out: by the number of its way in each slot, and its sizes; the worst for one that can not be."""
    going = search._Search(plan, 8, map, lambda done, of: None)
    index = going._held()
    known: dict[tuple[int, int, int], tuple[float, ...]] = {}
    for number, (part, ways, grounds) in enumerate(going._places(index)):
        for way, ground in dict.fromkeys(zip(ways.tolist(), grounds.tolist(), strict=True)):
            gives = exactly(part.frame.grounds[ground], part.way(way), part.states, places, part.frame.known)
            part.sizes[way, ground] = np.maximum(part.sizes[way, ground], sizes_of(gives))
            known[number, way, ground] = ()
    going.pieces = going._pieces(index)
    return index, going._sizes(index)


@pytest.fixture
def in_two_places(monkeypatch: pytest.MonkeyPatch) -> None:
    """The way asked at its start and half-way only, and nothing put in checks: what is compared is the search."""
    monkeypatch.setattr(search, "TENTHS", 1)

    def unchecked(plan: Plan, edits: tuple) -> object:
        put = plan_edited(plan, edits)
        found = figures_of(put, Study(put))
        return search.Rig(edits, found[0], put, found[1]) if found else ()

    monkeypatch.setattr(search, "_checked", unchecked)


@pytest.mark.parametrize("seed", range(3))
@pytest.mark.usefixtures("in_two_places")
def test_the_search_finds_what_going_through_every_rig_finds(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """A front by brute force over all rigs of the bags, each worked out by itself."""
    monkeypatch.setattr("rigging.study.whole.TENTHS", 1)
    plan = small(**some_bags(seed))
    found = best_rigs(plan, most=None)
    places = search._Search(plan, 8, map, lambda done, of: None).parts[0].frame.places
    index, sizes = every_rig(plan, places)
    assert found.tried == len(index) > 20
    can = (sizes[:, 0] <= -1 + 1e-9) & (sizes[:, 1] <= plan.team.haulers)
    rows = told(sizes[can])
    better = np.array([((rows <= row).all(axis=1) & (rows < row).any(axis=1)).any() for row in rows], dtype=bool)
    best = {tuple(row) for row in rows[~better]}
    assert best and {tuple(row) for row in told(np.array([one.figures.sizes for one in found.rigs]))} == best


@pytest.fixture(scope="module")
def offered() -> tuple[Plan, dict]:
    """What is offered for the demo with little in its bags."""
    plan = demo_plan(bags=FEW)
    return plan, rigs_json(plan)


def test_what_is_offered_is_as_the_check_and_the_report_have_it(offered: tuple[Plan, dict]) -> None:
    """Each put in: no stop, no row of its check with less margin, no pull at the hands beyond the one that was told, people enough."""
    plan, given = offered
    assert given["rigs"] and given["tried"] > 100
    for rig in given["rigs"]:
        put = plan_edited(plan, [Edit(one["op"], one["path"], one["value"]) for one in rig["edits"]])
        sheet = check(put)
        assert sheet.stops == 0
        rows = [row for row in Study(put).rows if row.state in WORKING and row.weakest]
        assert rig["margin"] == pytest.approx(min(share_of_rule(row.weakest) for row in rows), abs=1e-4)
        assert rig["haulers"] <= plan.team.haulers


def test_none_of_those_offered_is_better_than_another_in_everything(offered: tuple[Plan, dict]) -> None:
    goals = ("haulers", "hand_n", "resets", "minutes", "pieces")
    rows = [(-one["margin"], *(one[goal] for goal in goals)) for one in offered[1]["rigs"]]
    for one, other in itertools.permutations(rows, 2):
        assert any(a > b for a, b in zip(one, other, strict=True))


def test_each_says_why_it_and_not_the_next(offered: tuple[Plan, dict]) -> None:
    assert all(one["why"] for one in offered[1]["rigs"])


def test_a_rigs_figures_are_the_worst_of_its_ways() -> None:
    """What lowers and what hauls, worked out by themselves, come to what the whole plan does; and figures only get worse the closer one looks."""
    plan = small()
    going = search._Search(plan, 8, map, lambda done, of: None)
    index = going._held()
    going.pieces = going._pieces(index)
    chosen = random.Random(4).sample(range(len(index)), 8)
    before = going._sizes(index)[chosen]
    for _ in range(2):
        going._deepen(index[chosen])
        after = going._sizes(index)[chosen]
        assert (after >= before - 1e-9).all()
        before = after
    seen = 0
    for row, size in zip(index[chosen], before, strict=True):
        put = plan_edited(plan, going._edits(row))
        whole = figures_of(put, Study(put))
        if whole is not None and np.isfinite(size).all() and size[1] < 1000:
            assert whole[0].sizes == pytest.approx(tuple(size), rel=1e-6)
            seen += 1
    assert seen >= 3


def test_a_way_put_in_is_its_edits_made() -> None:
    plan = demo_plan(bags=BAGS)
    for slot in slots(plan):
        for way in (slot.ways[0], *random.Random(1).sample(slot.ways, min(3, len(slot.ways)))):
            assert way.put(plan) == plan_edited(plan, way.edits)
        assert slot.ways[0].put(plan) == plan


@pytest.mark.usefixtures("in_two_places")
def test_no_rig_takes_more_than_the_bags_hold() -> None:
    found = best_rigs(small())
    assert found.rigs
    for rig in found.rigs:
        used = Bagged.of(rig.plan).counts
        assert used["bends"]["ball-bearing-pulley"] <= 2
        assert used["hitches"]["klemheist-8"] <= 1
        assert used["devices"]["rack-5"] <= 1


@pytest.mark.usefixtures("in_two_places")
def test_the_same_whoever_works_it_out() -> None:
    plan = small(**some_bags(1))
    with ThreadPoolExecutor(2) as pool:
        shared = best_rigs(plan, executor=pool)
    assert [one.figures for one in shared.rigs] == [one.figures for one in best_rigs(plan).rigs]


def test_the_same_from_a_cluster_of_two(offered: tuple[Plan, dict]) -> None:
    """The scheduler and two workers as processes of their own, behind the same executor."""
    from distributed import Client, LocalCluster

    plan, given = offered
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster, Client(cluster) as client:
        found = rigs_json(plan, executor=client.get_executor())
    assert found["rigs"] == given["rigs"]


@pytest.mark.usefixtures("in_two_places")
def test_a_bag_left_at_home_can_only_make_it_worse() -> None:
    """The pulleys are in the one bag: without it the least pull is greater, and bare carabiners are what is left."""
    loose = {**BAGS, "bends": {"carabiner": 8}}
    plan = small(
        bags={**loose, "packed": [{"name": "Red bag", "carried_by": "Ash", "bends": {"ball-bearing-pulley": 2}}]}
    )
    whole, without = rigs_report(plan), rigs_report(plan, without="Red bag")
    pull = {one.goal: one.size for one in whole.best}, {one.goal: one.size for one in without.best}
    assert without.tried < whole.tried
    assert pull[1]["hand_n"] > pull[0]["hand_n"]
    assert any(one.bag == "Red bag" and one.carried_by == "Ash" for rig in whole.rigs for one in rig.carried)
    assert not any(rig.carried for rig in without.rigs)
    with pytest.raises(Refused, match="one of Red bag"):
        asked(plan, without="Blue bag")


@pytest.mark.usefixtures("in_two_places")
def test_what_the_plan_has_in_a_bag_that_is_left_at_home_is_not_there() -> None:
    """The one device lies in a bag: without it nothing lowers, and that is what is missing; with another in the other bag that one is taken."""
    packed = [{"name": "Red bag", "devices": {"super-munter": 1}}]
    alone = small(bags={"bends": {"carabiner": 8}, "hitches": {"prusik-8": 3, "french-8": 1}, "packed": packed})
    found = rigs_json(alone, without="Red bag")
    assert found["tried"] == 0 and not found["rigs"]
    assert found["nothing"] == ["The bags hold no rig at all; the nearest wants 1 more super munter."]
    other = alone.model_copy(update={"bags": alone.bags.model_copy(update={"devices": {"rack-5": 1}})})
    there, _ = asked(other, without="Red bag")
    search_in = search._Search(there, 8, map, lambda done, of: None, other.bags)
    lowering = next(n for n, one in enumerate(search_in.slots) if one.kind == "lowering")
    held = {
        search_in.slots[lowering].ways[n].put(there).lines[0].lowering.device for n in search_in._held()[:, lowering]
    }
    assert held == {"rack-5"}


@pytest.mark.usefixtures("in_two_places")
def test_people_asked_for_are_in_what_is_offered() -> None:
    found = rigs_json(small(), people=12)
    assert found["rigs"] and all(
        rig["edits"][0] == {"op": "replace", "path": "/team/haulers", "value": 12} for rig in found["rigs"]
    )
    assert min(one["haulers"] for one in found["rigs"]) <= 12


def test_nothing_found_says_what_is_missing() -> None:
    """One hauler for two hundred and fifty kilograms on bare carabiners."""
    bare = small(
        bags={"bends": {"carabiner": 3}, "devices": {}, "hitches": {}},
        team__haulers=1,
        load__items=[{"name": "Load", "mass_kg": 250}],
    )
    found = rigs_json(bare)
    assert not found["rigs"]
    assert any("more to haul" in one or "of it, at its weakest part" in one for one in found["nothing"])


def test_what_no_rig_mends_is_named() -> None:
    """One rope alone is stopped for whatever hauls."""
    found = rigs_json(small())
    assert not found["rigs"] and any("One thing alone" in one for one in found["nothing"])


@given(st.lists(st.tuples(*[st.integers(-3, 3)] * 6), min_size=1, max_size=60))
def test_a_front_is_what_nothing_betters(rows: list[tuple[int, ...]]) -> None:
    sizes = np.array(rows, dtype=float)
    mine = {tuple(sizes[one]) for one in front(sizes, np.zeros(len(rows), dtype=int))}
    brute = {
        one
        for one in map(tuple, sizes)
        if not any(all(a <= b for a, b in zip(other, one, strict=True)) and other != one for other in map(tuple, sizes))
    }
    assert mine == brute
