"""Words of what the checks of `day` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.day.day_unsaid import DayUnsaid
from rigging.checks.day.freezes import Freezes
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair


def day_unsaid(found: DayUnsaid, plan: Plan, say: Wording) -> Pair:
    return (
        "Nobody has said whether it is dry, wet, icy or muddy: figures are for dry.",
        "Say what the day is like under Size-up.",
    )


def freezes(found: Freezes, plan: Plan, say: Wording) -> Pair:
    return (
        f"Wet at {found.celsius:g} °C: ropes and hitches freeze, and an icy hitch may not grip.",
        "Say icy, or keep them from freezing.",
    )
