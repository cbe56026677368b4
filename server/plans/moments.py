"""What time it is in a plan: now, but in a table-top by its own clock."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta

from django.utils import timezone
from storing import clock

from plans.models import Plan, TableTop
from plans.selectors import is_played


def now_of(plan: Plan) -> datetime:
    if is_played(plan):
        return played(plan.table_top)
    return clock.now()


def played(top: TableTop) -> datetime:
    """What time it is in a table-top; never before what stands in its log, though the machine's clock be set back."""
    real, then, pace = top.clock[-1]
    gone = timezone.now() - datetime.fromisoformat(real)
    now: datetime = datetime.fromisoformat(then) + max(gone, timedelta()) * pace
    last: datetime | None = top.plan.log.order_by("-sequence").values_list("time", flat=True).first()
    return max(now, last) if last else now


def pace_of(plan: Plan) -> float | None:
    """How many times as fast the clock of a table-top goes; None where a plan is none."""
    return float(plan.table_top.clock[-1][2]) if is_played(plan) else None


def paced(top: TableTop, pace: float) -> None:
    """The clock goes on from here, so many times as fast."""
    top.clock = [*top.clock, [timezone.now().isoformat(), played(top).isoformat(), pace]]


@contextmanager
def by_its_clock(plan: Plan) -> Iterator[None]:
    """Within it, what is written of a plan is written at the plan's own time."""
    if not is_played(plan):
        yield
        return
    with clock.told_at(played(plan.table_top)):
        yield
