"""The team's own times: what each kind of work took in its runs, beside what the catalogue expects of it."""

import json
from typing import Any

import numpy as np
from accounts.models import Team
from django.db.models import Q
from storing import clock

from operations.models import LogEntry, Run
from rigging.document import Pace
from rigging.procedures.operation import Planned

# Fewer times say nothing of the spread; of many the slowest and the quickest tenth are left out.
_LEAST, _MANY, _TENTH = 3, 10, 0.1
# What took so much more or less than expected was something else: a break, or a step ticked off afterwards.
_SENSIBLE = (0.1, 5.0)


def took(run: Run, planned: Planned) -> dict[str, Any]:
    """What a step that is done now took, and what the catalogue expects of it; nothing where somebody called stop meanwhile."""
    if planned.by_catalogue_s <= 0 or run.counts.get("stopped_at", "") > run.since.isoformat():
        return {}
    seconds = (clock.now() - run.since).total_seconds()
    return {"takes": planned.takes, "took_s": round(seconds, 1), "by_catalogue_s": round(planned.by_catalogue_s, 1)}


def paces_of(team: Team) -> list[Pace]:
    """Of every kind of work that the team has done often enough, in runs that it has ended; of table-tops only where it was rigged on real ropes."""
    going = dict(Run.objects.filter(plan__team=team).exclude(status=Run.Status.ENDED).values_list("plan", "begun_at"))
    counts = Q(plan__table_top=None) | Q(plan__table_top__rigged=True)
    entries = LogEntry.objects.filter(counts, plan__team=team, kind=LogEntry.Kind.STEP, data__contains='"took_s"')
    shares: dict[str, list[tuple[float, bool]]] = {}
    for plan, practised, time, data in entries.values_list("plan", "plan__table_top__rigged", "time", "data"):
        if plan in going and time >= going[plan]:
            continue
        said = json.loads(data)
        share = said["took_s"] / said["by_catalogue_s"]
        if _SENSIBLE[0] <= share <= _SENSIBLE[1]:
            shares.setdefault(said["takes"], []).append((share, bool(practised)))
    return [_pace(takes, rows) for takes, rows in sorted(shares.items()) if len(rows) >= _LEAST]


def _pace(takes: str, rows: list[tuple[float, bool]]) -> Pace:
    cut = _TENTH if len(rows) >= _MANY else 0.0
    shares = [share for share, _ in rows]
    low, middle, high = (round(float(one), 3) for one in np.quantile(shares, (cut, 0.5, 1 - cut)))
    practised = sum(practised for _, practised in rows)
    return Pace(takes=takes, low=low, expected=middle, high=high, count=len(rows), practised=practised)
