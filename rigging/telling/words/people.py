"""Words of what the checks of `people` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.people.below_unsaid import BelowUnsaid
from rigging.checks.people.edge_nobody import EdgeNobody
from rigging.checks.people.people_below import PeopleBelow
from rigging.checks.people.tied_to_load import TiedToLoad
from rigging.checks.people.untied import Untied
from rigging.checks.people.way_crossed import WayCrossed
from rigging.checks.people.way_over_lip import WayOverLip
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, line_name, listed, lower_first


def below_unsaid(found: BelowUnsaid, plan: Plan, say: Wording) -> Pair:
    return (
        "Who stands where is not known: nobody can say whether somebody is below.",
        "Say where people stand under Size-up, Team.",
    )


def edge_nobody(found: EdgeNobody, plan: Plan, say: Wording) -> Pair:
    return (
        "Nobody is named who works at the edge, and what they are tied to is not known.",
        "List them under Size-up, Team.",
    )


def people_below(found: PeopleBelow, plan: Plan, say: Wording) -> Pair:
    return (f"Below the load: {listed(found.people)}.", "Move them out of its way, and out of the way of stones.")


def tied_to_load(found: TiedToLoad, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.person} is tied in to {lower_first(plan.anchor(found.anchor).name)}, which bears the load.",
        "An anchor that is not the load's.",
    )


def untied(found: Untied, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.person} works at the edge and is tied in to nothing.",
        "A rope or lanyard of their own, to an anchor that is not the load's.",
    )


def way_crossed(found: WayCrossed, plan: Plan, say: Wording) -> Pair:
    return (
        f"The haulers walk across the {lower_first(line_name(plan, found.line))}.",
        "Turn their way, or lead the haul strand by a redirect.",
    )


def way_over_lip(found: WayOverLip, plan: Plan, say: Wording) -> Pair:
    return (
        f"The haulers' way ends {say.length(found.ends_m)} out, past the edge at {say.length(found.edge_m)}: they would be led over it.",
        "A redirect that turns their way, or a shorter one, back from the edge.",
    )
