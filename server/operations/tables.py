"""The log as a table for people to read."""

import csv
import io
from collections.abc import Iterator

from answering.plain import plain
from plans.models import Plan

_HEAD = (
    "sequence", "time_utc", "author", "kind", "decision", "reason", "considered", "step", "revision", "corrects", "device_time_utc",
    "device_ahead_ms", "hash",
)  # fmt: skip


def log_table(plan: Plan) -> Iterator[str]:
    """Every entry of a plan's log as CSV, in its order."""
    yield _row(_HEAD)
    entries = plan.log.select_related("author", "revision", "corrects").defer("revision__document").order_by("sequence")
    for one in entries.iterator():
        yield _row(
            (
                one.sequence, one.time.isoformat(), one.author.get_username(), one.kind, one.decision, one.reason, one.considered, one.step,
                one.revision.number, one.corrects.sequence if one.corrects else "", one.device_time.isoformat() if one.device_time else "",
                one.device_ahead_ms if one.device_ahead_ms is not None else "", one.hash,
            )
        )  # fmt: skip


def _row(cells: tuple[object, ...]) -> str:
    out = io.StringIO()
    csv.writer(out).writerow([plain(one) for one in cells])
    return out.getvalue()
