"""Words of what the checks of `holding` find: the sentence, and what would mend it."""

from __future__ import annotations

import math

from rigging.catalogue import catalogue
from rigging.checks.holding.belay_by_hands import BelayByHands
from rigging.checks.holding.belay_test import BelayTest
from rigging.checks.holding.caught import Caught
from rigging.checks.holding.does_not_stop import DoesNotStop
from rigging.checks.holding.falls import Falls
from rigging.checks.holding.hands_alone import HandsAlone
from rigging.checks.holding.hands_off_lower import HandsOffLower
from rigging.checks.holding.hands_off_raise import HandsOffRaise
from rigging.checks.holding.hangs_slack import HangsSlack
from rigging.checks.holding.leg_goes import LegGoes
from rigging.checks.holding.loss import Loss
from rigging.checks.holding.nothing_catches import NothingCatches
from rigging.checks.holding.nothing_holds import NothingHolds
from rigging.checks.holding.reaches_ground import ReachesGround
from rigging.checks.holding.shared_device import SharedDevice
from rigging.checks.holding.shared_feature import SharedFeature
from rigging.checks.holding.shared_plate import SharedPlate
from rigging.checks.holding.shares_feature import SharesFeature
from rigging.checks.holding.single import Single
from rigging.document import Plan
from rigging.judging.legs_gone import LegGone
from rigging.lines.catch import TEST_PEAK_N, TEST_STOP_M
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, line_name, listed, lower_first


def caught_text(found: Caught | ReachesGround, plan: Plan, say: Wording) -> str:
    """A catch in one sentence: what goes, how far it drops, what takes it, how hard, where it stops."""
    gone, by = line_name(plan, found.line), line_name(plan, found.by).lower()
    peak = say.force(found.peak_n) if found.peak_n is not None else "not known"
    text = f"{gone} goes: the load drops {say.length(found.drop_m or 0.0)} onto the {by}, peak {peak}"
    if found.slid_m is not None and found.slid_m.high > 0.005 and found.clutch:
        text += f", {lower_first(found.clutch.name)} slipping up to {say.length(found.slid_m.high)}"
    return f"{text}; it stops {say.length_range(found.stops_in_m)} further down."


def _what_is_left(plan: Plan) -> str:
    """Besides the main line, which the hands held."""
    other = plan.line("belay") or plan.line("second")
    return f"it runs until the {lower_first(line_name(plan, other.id))} holds" if other else "nothing holds the load"


def belay_by_hands(found: BelayByHands, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(line_name(plan, found.line))} holds only while somebody holds it: hands off, it catches nothing.",
        "A device that locks by itself, or hitches.",
    )


def belay_test(found: BelayTest, plan: Plan, say: Wording) -> Pair:
    stops = "may not stop" if found.stops_in_m is None else f"stops in {say.length_range(found.stops_in_m)}"
    against = f"{say.length(TEST_STOP_M)} and {say.force(TEST_PEAK_N)}"
    text = f"{line_name(plan, found.by)} under the competence test ({found.mass_kg:g} kg falling 1 m on 3 m of rope): {stops}, peak {say.force(found.peak_n)}, against {against}. Whether the rope keeps the {catalogue().tying.test_keeps * 100:.0f} % that the test asks, only a pull of it afterwards tells."
    return text, "" if found.passes else "More grip in what catches, or a rope that gives less."


def caught(found: Caught, plan: Plan, say: Wording) -> Pair:
    return (caught_text(found, plan, say), "")


def does_not_stop(found: DoesNotStop, plan: Plan, say: Wording) -> Pair:
    """What slips under the load's own weight: surely, or where it grips least and the load is heaviest."""
    surely = "and does not stop it" if found.surely else "and may not stop it"
    text = f"{line_name(plan, found.line)} goes: {lower_first(line_name(plan, found.by))} slips under the load's own weight {surely}."
    if found.clutch is None or found.clutch.hand_n is None:
        return text, "More grip in what catches."
    held = f" {found.clutch.name} bears {say.force(found.clutch.slip_n)} before rope runs through it."
    return text + held, "A hitch that grips, a device that locks by itself, or the rope tied behind it."


def falls(found: Falls, plan: Plan, say: Wording) -> Pair:
    return ("Nothing holds the load: it falls.", "Choose what holds it here.")


def hands_alone(found: HandsAlone, plan: Plan, say: Wording) -> Pair:
    return (
        "The load hangs on hands alone: if they let go, it falls.",
        "A ratchet, a belay, or a device that holds by itself.",
    )


def hands_off_lower(found: HandsOffLower, plan: Plan, say: Wording) -> Pair:
    return (
        f"If everybody lets go, {_what_is_left(plan)}.",
        "Put a friction hitch on the brake side of the device and name who minds it.",
    )


def hands_off_raise(found: HandsOffRaise, plan: Plan, say: Wording) -> Pair:
    return (
        f"No progress capture: if everybody lets go, {_what_is_left(plan)}.",
        "Put a ratchet hitch on the tight strand at the working point.",
    )


def hangs_slack(found: HangsSlack, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)} hangs {say.length(found.slack_m)} slack: the load is not on it.",
        "Draw it in, or make it a belay.",
    )


def leg_goes(found: LegGoes, plan: Plan, say: Wording) -> Pair:
    gone: LegGone = found.leg
    text = f"{gone.leg.line.feature.name} goes from {lower_first(plan.anchor(found.anchor).name)}: "
    if gone.taker is None or gone.busiest_n is None:
        text += "nothing is left to hold."
    elif gone.peak and math.isinf(gone.peak.slips_m):
        text += "what slips in the line does not stop again."
    elif gone.outcome == "unknown":
        text += f"whether {lower_first(gone.taker.line.feature.name)} then holds is not known."
    else:
        text += f"{gone.taker.line.feature.name} is left with {Wording.ratio(gone.ratio or 0.0)} : 1 on the peak of up to {say.force(gone.busiest_n.high)}."
    return text, "Strengthen what takes it over, add a leg, or limit how far it drops."


def loss(found: Loss, plan: Plan, say: Wording) -> Pair:
    return ("", "Less slack in what catches, a second anchor for it, or nothing in the way below.")


def nothing_catches(found: NothingCatches, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)} goes: nothing else holds the load.",
        "Add a belay or a second rope on an anchor of its own, or accept one rope, part by part, with a reason.",
    )


def nothing_holds(found: NothingHolds, plan: Plan, say: Wording) -> Pair:
    return (
        "Nothing is chosen that holds the rope at the station.",
        "Choose a lowering device to lock off, or a progress capture.",
    )


def reaches_ground(found: ReachesGround, plan: Plan, say: Wording) -> Pair:
    text = f"{caught_text(found, plan, say)} Only {say.length(found.clearance_m)} is free below it."
    return text, "Take the slack in, or catch it with less give."


def shared_device(found: SharedDevice, plan: Plan, say: Wording) -> Pair:
    return (
        f"{listed([lower_first(line_name(plan, one)) for one in found.lines])} run through one thing, {lower_first(found.what)}: if it goes, both go.",
        "A device for each, or one of them tied behind it.",
    )


def shared_feature(found: SharedFeature, plan: Plan, say: Wording) -> Pair:
    return (
        f"One thing alone: {lower_first(plan.feature(found.feature).name)} bears every anchor of the ropes. If it goes, all of them go.",
        "Put one of them on another feature, or accept it with a reason.",
    )


def shared_plate(found: SharedPlate, plan: Plan, say: Wording) -> Pair:
    lines = listed(lower_first(line_name(plan, one)) for one in found.lines)
    anchor = plan.anchor(found.anchor)
    return (
        f"One thing alone: the working point of {lower_first(anchor.name)} bears {lines}. If it goes, all of them go.",
        "Give one of them an anchor of its own, or accept it with a reason.",
    )


def shares_feature(found: SharesFeature, plan: Plan, say: Wording) -> Pair:
    return (
        f"{plan.feature(found.feature).name} bears {listed(lower_first(plan.anchor(one).name) for one in found.anchors)}: what pulls it out weakens all of them.",
        "Put one of them on another feature.",
    )


def single(found: Single, plan: Plan, say: Wording) -> Pair:
    return "If it goes, nothing holds the load.", "Back it up, or accept it with a reason."
