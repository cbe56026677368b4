"""Words of what the checks of `anchors` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.catalogue import catalogue
from rigging.checks.anchors.across_gate import AcrossGate
from rigging.checks.anchors.axle import Axle
from rigging.checks.anchors.bare_bend import BareBend
from rigging.checks.anchors.closing import Closing
from rigging.checks.anchors.drum_unsaid import DrumUnsaid
from rigging.checks.anchors.guard import Guard
from rigging.checks.anchors.half_hitch import HalfHitch
from rigging.checks.anchors.inspection_rejects import InspectionRejects
from rigging.checks.anchors.kit_too_old import KitTooOld
from rigging.checks.anchors.limited_behind import LimitedBehind
from rigging.checks.anchors.loose_tie import LooseTie
from rigging.checks.anchors.material_short import MaterialShort
from rigging.checks.anchors.one_cut import OneCut
from rigging.checks.anchors.overridden import Overridden
from rigging.checks.anchors.place_astray import PlaceAstray
from rigging.checks.anchors.place_doubtful import PlaceDoubtful
from rigging.checks.anchors.rejected import Rejected
from rigging.checks.anchors.temporary_last import TemporaryLast
from rigging.checks.anchors.three_ways import ThreeWays
from rigging.checks.anchors.wide import Wide
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, degrees, lower_first, upper_first


def across_gate(found: AcrossGate, plan: Plan, say: Wording) -> Pair:
    keeps = f", where it keeps about {say.force(found.across_n)}" if found.across_n else ""
    return (
        f"The strap round {lower_first(found.name)} closes at {degrees(found.closing_rad)} on {lower_first(found.connector)}: "
        f"its two ends pull it across its gate{keeps}.",
        "A three-cornered link takes two ends apart.",
    )


def axle(found: Axle, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name}: the tail is {'on the same axle' if found.tail_to == 'same-axle' else 'made fast to nothing'}: the drum's one axle is the only thing holding.",
        "Lead the tail out behind and make it fast to the anchor itself.",
    )


def bare_bend(found: BareBend, plan: Plan, say: Wording) -> Pair:
    material = catalogue().slings[found.material].name
    return (
        f"{upper_first(material)} to {lower_first(found.name)} bends over {lower_first(found.surface)} with nothing between"
        + (": it cuts." if found.cuts else "."),
        "Pad it there, and tie the pad in.",
    )


def closing(found: Closing, plan: Plan, say: Wording) -> Pair:
    return (
        f"The strap round {found.name} closes at {degrees(found.closing_rad)}: its strands carry more than the pull.",
        "A longer strap, closed further from the feature.",
    )


def drum_unsaid(found: DrumUnsaid, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name}: nobody has said what the {' and the '.join(found.unsaid)} of the tie-off hold{'s' if len(found.unsaid) == 1 else ''}.",
        "Read it off the drum, or tie off on a stem that is part of the ground.",
    )


def guard(found: Guard, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name}: {found.guarded}. " + (f"Guarded by {found.who}." if found.who else "Nobody is named."),
        "" if found.who else "Name who guards it, for as long as it is loaded.",
    )


def half_hitch(found: HalfHitch, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name}: a half hitch on the standing part makes a sharp bend and defeats the full-strength tie-off.",
        "Finish it behind the drum, with something that can be let off under load.",
    )


def inspection_rejects(found: InspectionRejects, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name}: its inspection rejects it: {'; '.join(found.reasons)}.",
        "Tie to another feature; or whoever judges otherwise says so by name, with the reason.",
    )


def kit_too_old(found: KitTooOld, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.material}, {say.length(found.length_m)}, is {found.years:g} years old: textiles end at {found.most_years:g}.",
        "Take another piece.",
    )


def limited_behind(found: LimitedBehind, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name}: a full-strength tie-off in line with the {lower_first(found.device)} that should slip: the line is no longer limited.",
        "Tie off without the device, or leave the device free to slip.",
    )


def loose_tie(found: LooseTie, plan: Plan, say: Wording) -> Pair:
    return (
        f"The tie back to {found.name} is not tight: the front feature takes the pull first.",
        "Pull it tight before loading, with a 3:1 by hand, and lock it; enter its pretension.",
    )


def material_short(found: MaterialShort, plan: Plan, say: Wording) -> Pair:
    return (
        f"{lower_first(plan.anchor(found.anchor).name).capitalize()}, {lower_first(found.name)}: {say.length(found.needed_m)} of {lower_first(catalogue().slings[found.material].name)} for the {found.use}; "
        + (
            "there is none in the bags."
            if found.longest_m is None
            else f"the longest piece left is {say.length(found.longest_m)}."
            if found.longest_m < found.needed_m
            else "every piece that long is used already."
        ),
        "A longer piece, fewer turns, or two joined.",
    )


def one_cut(found: OneCut, plan: Plan, say: Wording) -> Pair:
    return (
        f"One cut, as on the leg to {lower_first(found.name)}, takes all {found.legs} legs away: they are one piece, and nothing holds it at the point.",
        "Limiting knots beside the slider, or close each leg by a knot of its own.",
    )


def overridden(found: Overridden, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name}: {'; '.join(found.reasons)}. {found.who} took it all the same: {found.because}.",
        "Look at it together with whoever judged it so.",
    )


def place_astray(found: PlaceAstray, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name} lies {say.length(found.off_m)} from the ground as it is drawn: nobody ties to anything there.",
        "Look at its height and at the elevation of the working point; or draw the ground as it is.",
    )


def place_doubtful(found: PlaceDoubtful, plan: Plan, say: Wording) -> Pair:
    way = lower_first(catalogue().placings[found.by].name)
    return (
        f"The place of {found.name} is known to within {say.length(found.off_m)} only ({way}): how long its leg is and what it bears are not.",
        "Tape it from the working point, with its bearing and its height.",
    )


def rejected(found: Rejected, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.name} was rejected: {found.reason}.",
        "Tie to another feature, or look at it again and take the rejection back.",
    )


def temporary_last(found: TemporaryLast, plan: Plan, say: Wording) -> Pair:
    return (
        "A person is the last thing holding."
        if found.person
        else f"{found.name} is temporary, and the last thing holding.",
        "Find one more feature, whatever it is.",
    )


def three_ways(found: ThreeWays, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.connector} is pulled three ways: its legs spread {degrees(found.widest_rad)}.",
        "A link, ring or plate made for it.",
    )


def wide(found: Wide, plan: Plan, say: Wording) -> Pair:
    return (
        f"{degrees(found.widest_rad)} between {found.names[0]} and {found.names[1]}: two legs that wide carry {found.each * 100:.0f} % of the pull each.",
        "Gather further from the features, or choose ones closer together in angle.",
    )
