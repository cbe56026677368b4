"""Orders of work against trying all of them, and paths against walking all of them."""

import itertools
import random

import pytest

from rigging.procedures.schedule import Following, Work, quickest
from rigging.quantities.faults import Refused


def made(seed: int, count: int, most: int) -> list[Work]:
    pick = random.Random(seed)
    works: list[Work] = []
    for number in range(count):
        after = tuple(one.id for one in works if pick.random() < 0.25)
        works.append(Work(f"w{number}", float(pick.randint(1, 20)), after, pick.randint(1, most)))
    return works


def longest_by_walking(works: list[Work]) -> float:
    by_id = {one.id: one for one in works}

    def until(id: str) -> float:
        one = by_id[id]
        return one.seconds + max((until(before) for before in one.after), default=0.0)

    return max(until(id) for id in by_id)


def shortest_by_trying(works: list[Work], people: int) -> int:
    """Whole seconds, second by second: every order in which each begins as soon as it can (one of them is the quickest: any text on scheduling)."""
    best = 10**9
    for order in itertools.permutations(works):
        busy, ends = [0] * 400, dict[str, int]()
        for one in order:
            if any(before not in ends for before in one.after):
                break
            at, long = max((ends[before] for before in one.after), default=0), int(one.seconds)
            while any(busy[second] + one.people > people for second in range(at, at + long)):
                at += 1
            for second in range(at, at + long):
                busy[second] += one.people
            ends[one.id] = at + long
        else:
            best = min(best, max(ends.values()))
    return best


def takes(works: list[Work], begins: dict[str, float]) -> float:
    return max(begins[one.id] + one.seconds for one in works)


def test_the_longest_path_of_two_hundred_networks_is_the_one_found_by_walking_them():
    for seed in range(200):
        works = made(seed, 14, 1)
        network = Following(works)
        assert network.takes_s == pytest.approx(longest_by_walking(works))
        path = network.longest
        assert sum(network.works[id].seconds for id in path) == pytest.approx(network.takes_s)
        assert all(before in network.works[after].after for before, after in itertools.pairwise(path))


def test_the_order_is_as_quick_as_the_quickest_of_all_that_there_are():
    for seed in range(25):
        works = made(seed, 5 + seed % 2, 2)
        for people in (2, 3):
            assert takes(works, quickest(works, people)) == shortest_by_trying(works, people), (seed, people)
    eight = made(99, 8, 2)
    assert takes(eight, quickest(eight, 3)) == shortest_by_trying(eight, 3)


def test_nobody_is_in_two_places_and_nothing_begins_before_its_time():
    for seed in range(4):
        works = made(seed, 30, 3)
        begins = quickest(works, 4)
        ends = {one.id: begins[one.id] + one.seconds for one in works}
        for one in works:
            assert all(ends[before] <= begins[one.id] + 1e-9 for before in one.after)
            there = [other for other in works if begins[other.id] <= begins[one.id] < ends[other.id]]
            assert sum(other.people for other in there) <= 4


def test_forty_pieces_of_work_and_six_people_come_near_what_nobody_could_better():
    works = made(7, 40, 2)
    least = max(longest_by_walking(works), sum(one.seconds * one.people for one in works) / 6)
    assert takes(works, quickest(works, 6)) <= 1.05 * least


def test_what_waits_for_itself_and_what_nobody_can_do_is_refused():
    ring = [Work("a", 1, ("b",)), Work("b", 1, ("a",))]
    with pytest.raises(Refused, match="wait for each other"):
        quickest(ring, 2)
    with pytest.raises(Refused, match="nobody does"):
        quickest([Work("a", 1, ("gone",))], 2)
    with pytest.raises(Refused, match="asks for 3"):
        quickest([Work("a", 1, (), 3)], 2)
