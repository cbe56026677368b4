"""What somebody keeps of what they practised: when each skill is asked again, by the FSRS scheduler (package fsrs, its parameters as it ships), and how hard."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TYPE_CHECKING

from rigging.learning.drills.drill import Level

if TYPE_CHECKING:
    from fsrs import Scheduler

# So many right in a row make it harder, so many wrong easier.
_HARDER, _EASIER = 3, 2
# What took longer was hard, what came at once easy.
_HARD_S, _EASY_S = 60.0, 8.0


@dataclass(frozen=True)
class Done:
    """A drill answered, or a knot tied: whether it was right, how long it took, when, how hard it was."""

    right: bool
    took_s: float
    at: datetime
    level: Level = 1


@dataclass(frozen=True)
class Kept:
    """A skill of somebody: when it is due, the level that it is asked at, how often it was done and right, when last, and the share that will
    still know it now, as the scheduler has it."""

    due: datetime
    level: Level
    done: int
    right: int
    last: datetime
    knows: float


def _scheduler() -> Scheduler:
    from fsrs import Scheduler

    return Scheduler(enable_fuzzing=False)


def kept(done: Iterable[Done], now: datetime) -> Kept | None:
    """What is kept of one skill, from everything that was done of it on whatever device, in the order of time; None where nothing was.

    Times are in UTC. Of two at one time the order is the one they are given in.
    """
    from fsrs import Card, Rating

    rows = sorted(done, key=lambda one: one.at)
    if not rows:
        return None
    scheduler, card, level = _scheduler(), Card(card_id=0, due=rows[0].at.astimezone(UTC)), Ladder()
    for one in rows:
        card, _ = scheduler.review_card(card, Rating(rating_of(one)), one.at.astimezone(UTC))
        level.after(one)
    knows = scheduler.get_card_retrievability(card, now.astimezone(UTC))
    return Kept(card.due, level.level, len(rows), sum(one.right for one in rows), rows[-1].at, float(knows))


def rating_of(one: Done) -> int:
    """1 again, 2 hard, 3 good, 4 easy."""
    return 1 if not one.right else 2 if one.took_s > _HARD_S else 4 if one.took_s < _EASY_S else 3


class Ladder:
    """How hard somebody is asked: up after some right in a row, down after some wrong."""

    def __init__(self) -> None:
        self.level: Level = 1
        self._row = 0

    def after(self, one: Done) -> None:
        """One more done; what was done at another level than they stand at does not count."""
        if one.level != self.level:
            return
        self._row = self._row + 1 if one.right and self._row >= 0 else 1 if one.right else min(self._row, 0) - 1
        if self._row >= _HARDER and self.level < 3:
            self.level, self._row = (2 if self.level == 1 else 3), 0
        elif self._row <= -_EASIER and self.level > 1:
            self.level, self._row = (2 if self.level == 3 else 1), 0
