"""When a skill is asked again, against the scheduler's own package (fsrs) and the intervals of its own tests, from memory."""

from datetime import UTC, datetime, timedelta

import pytest
from fsrs import Card, Rating, Scheduler
from hypothesis import given
from hypothesis import strategies as st

from rigging.learning.keeping import Done, kept, rating_of

BEGAN = datetime(2022, 11, 29, 12, 30, tzinfo=UTC)
# Of the package's own tests, from memory: good six times, again twice, good five times, each done on the day it was due.
RATED = [True] * 6 + [False] * 2 + [True] * 5
DAYS = [0, 2, 11, 46, 163, 498, 0, 0, 2, 4, 7, 12, 21]


def test_intervals_are_those_of_the_packages_own_tests():
    done, at, days = [], BEGAN, []
    for right in RATED:
        done.append(Done(right, 20.0, at))
        found = kept(done, at)
        days.append((found.due - at).days)
        at = found.due
    assert days == DAYS


ROWS = st.lists(st.tuples(st.booleans(), st.floats(0, 200), st.integers(60, 40 * 86_400)), min_size=1, max_size=20)


@given(ROWS, st.randoms())
def test_on_whatever_device_it_was_done_the_order_of_time_decides(rows, luck):
    """Two devices, one of them heard of a week later: what is kept is what one device would have kept."""
    at, done = BEGAN, []
    for right, took_s, later_s in rows:
        at += timedelta(seconds=later_s)
        done.append(Done(right, took_s, at))
    mixed = list(done)
    luck.shuffle(mixed)
    assert kept(mixed, at) == kept(done, at)
    scheduler, card = Scheduler(enable_fuzzing=False), Card(card_id=1)
    for one in done:
        card, _ = scheduler.review_card(card, Rating(rating_of(one)), one.at)
    found = kept(done, at)
    assert found.due == card.due
    assert found.knows == pytest.approx(scheduler.get_card_retrievability(card, at))


def test_what_was_right_at_once_is_asked_later_than_what_took_long():
    due = [kept([Done(True, took_s, BEGAN)] * 3, BEGAN).due for took_s in (4.0, 20.0, 90.0)]
    assert due == sorted(due, reverse=True) and len(set(due)) == 3


def test_it_gets_harder_after_three_right_in_a_row_and_easier_after_two_wrong():
    def level(*right: bool) -> int:
        done, at, now = [], 0, 1
        for one in right:
            done.append(Done(one, 10.0, BEGAN + timedelta(hours=at), now))
            at, now = at + 1, kept(done, BEGAN).level
        return now

    assert [level(*[True] * count) for count in (1, 2, 3, 5, 6, 9)] == [1, 1, 2, 2, 3, 3]
    assert level(*[True] * 6, False) == 3 and level(*[True] * 6, False, False) == 2
    assert level(*[True] * 2, False, *[True] * 2) == 1
    # What was answered at another level says nothing about this one.
    assert kept([Done(True, 10.0, BEGAN + timedelta(hours=n), 3) for n in range(9)], BEGAN).level == 1


def test_nothing_done_is_nothing_kept():
    assert kept([], BEGAN) is None
