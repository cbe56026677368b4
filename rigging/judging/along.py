"""The whole way judged: the weakest part at every place of it, and the places that ask most."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from rigging.document import Plan
from rigging.judging.anchors import anchor_states
from rigging.judging.margins import Part, share_of_rule, weakest_of
from rigging.judging.parts import parts_in_load_order
from rigging.lines.solve import Solved
from rigging.lines.whole_way import JOBS, Job, Pulls, WholeWay


@dataclass(frozen=True)
class Along:
    """One job along a way: at each place what it asks and its weakest part (None where the job can not be done there), and
    the number of the place where the hands bear most and of that where the margin is least."""

    job: Job
    pulls: tuple[Pulls | None, ...]
    weakest: tuple[Part | None, ...]
    hardest: int
    thinnest: int


def judged_along(plan: Plan, way: WholeWay) -> list[Along]:
    """Every job of a way, judged at every place. Anchors are asked about all places at once."""
    named: dict[tuple[int, Job], Solved] = {}
    for number, place in enumerate(way.places):
        for job, solved in place.jobs.items():
            named[number, job] = replace(solved, moment=replace(solved.moment, id=f"{job}@{number}"))
    anchors = anchor_states(plan, named.values())
    weakest = {key: weakest_of(parts_in_load_order(plan, solved, anchors)) for key, solved in named.items()}
    return [_along(way, job, weakest) for job in JOBS if any(job in place.jobs for place in way.places)]


def _along(way: WholeWay, job: Job, weakest: dict[tuple[int, Job], Part | None]) -> Along:
    pulls = tuple(place.pulls(job) for place in way.places)
    parts = tuple(weakest.get((number, job)) for number in range(len(way.places)))
    return Along(
        job, pulls, parts, _most(way, lambda n: _hand(pulls[n])), _most(way, lambda n: -share_of_rule(parts[n]))
    )


def _most(way: WholeWay, size: Callable[[int], float]) -> int:
    return max(range(len(way.places)), key=size)


def _hand(pulls: Pulls | None) -> float:
    return pulls.hand_n.high if pulls else float("-inf")
