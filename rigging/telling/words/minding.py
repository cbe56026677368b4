"""Words of what the checks of `minding` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.minding.belay_unminded import BelayUnminded
from rigging.checks.minding.brake_unminded import BrakeUnminded
from rigging.checks.minding.not_there import NotThere
from rigging.checks.minding.runs_through_bend import RunsThroughBend
from rigging.checks.minding.two_jobs import TwoJobs
from rigging.checks.minding.unminded import Unminded
from rigging.document import Plan
from rigging.lines.people import JobKind
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, line_name, lower_first

_JOBS: dict[JobKind, str] = {"brake": "brake-side hitch", "belay": "belay", "ratchet": "ratchet"}


def belay_unminded(found: BelayUnminded, plan: Plan, say: Wording) -> Pair:
    return (
        f"Nobody is named who minds the {lower_first(line_name(plan, found.line))}.",
        "Name one person for it, and nothing else.",
    )


def brake_unminded(found: BrakeUnminded, plan: Plan, say: Wording) -> Pair:
    return ("Nobody is named who minds the brake-side hitch.", "Name one person for it.")


def not_there(found: NotThere, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.person} minds the {_JOBS[found.job]} but is not on the list of people.",
        "List them, or name somebody who is there.",
    )


def runs_through_bend(found: RunsThroughBend, plan: Plan, say: Wording) -> Pair:
    return (
        f"Nobody minds the ratchet ({found.hitch}), and {lower_first(found.bend)} does not keep it out: it is drawn through its bend, and counts as open.",
        "A pulley that minds it, or one person.",
    )


def two_jobs(found: TwoJobs, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.person} minds the {_JOBS[found.other_job]} and the {_JOBS[found.job]} at the same time.",
        "One person for each.",
    )


def unminded(found: Unminded, plan: Plan, say: Wording) -> Pair:
    return (
        f"Nobody minds the ratchet ({found.hitch}): it can be pulled through the bend, and counts as open.",
        "Name one person for it.",
    )
