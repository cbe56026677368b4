"""Words of what the checks of `release` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.release.capture_release import CaptureRelease
from rigging.checks.release.release_missing import ReleaseMissing
from rigging.checks.release.release_tied import ReleaseTied
from rigging.checks.release.releases import Releases
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, line_name, lower_first


def capture_release(found: CaptureRelease, plan: Plan, say: Wording) -> Pair:
    return (
        f"The ratchet ({found.hitch}) does not let go under load.",
        "To go down again, haul it slack first, or put a load-releasing hitch behind it.",
    )


def release_missing(found: ReleaseMissing, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: set hard, {lower_first(found.what)} can not be let off under load, and no releasing hitch is behind.",
        "A load-releasing hitch between it and its anchor.",
    )


def release_tied(found: ReleaseTied, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)} is tied at its anchor: it can not be let off under load.",
        "A device, or a releasing hitch.",
    )


def releases(found: Releases, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: {lower_first(found.what)} can be let off under load"
        + (f", by {say.length(found.by_m)} on its releasing hitch." if found.by_m else "."),
        "",
    )
