"""Words of what the checks of `work` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.work.hand_fits import HandFits
from rigging.checks.work.hand_too_much import HandTooMuch
from rigging.checks.work.hardest_place import HardestPlace
from rigging.checks.work.heats import Heats
from rigging.checks.work.led_wrong import LedWrong
from rigging.checks.work.may_not_run import MayNotRun
from rigging.checks.work.no_reset import NoReset
from rigging.checks.work.no_slide import NoSlide
from rigging.checks.work.no_stroke import NoStroke
from rigging.checks.work.not_in_bags import NotInBags
from rigging.checks.work.people_ceiling import PeopleCeiling
from rigging.checks.work.too_few_haulers import TooFewHaulers
from rigging.checks.work.twists import Twists
from rigging.checks.work.unsaid import Unsaid
from rigging.checks.work.way_long import WayLong
from rigging.checks.work.way_short import WayShort
from rigging.checks.work.way_unsaid import WayUnsaid
from rigging.checks.work.worse_than_straight import WorseThanStraight
from rigging.document import Plan
from rigging.lines.swaps import Better
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, line_name, lower_first, sentence

_LED = {"parallel": "beside the load strand", "back": "back, away from the load"}


def _better(one: Better) -> str:
    return (
        f"a ball-bearing pulley at {one.at} gives {one.gives:.2f}"
        if one.change == "pulley"
        else f"taking the last redirect out gives {one.gives:.2f}"
    )


def hand_fits(found: HandFits, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.device}: {say.force(found.hand_n)} at the hand, within what one gloved hand holds ({say.force(found.grip_n)}).",
        "",
    )


def hand_too_much(found: HandTooMuch, plan: Plan, say: Wording) -> Pair:
    text = f"{found.device}: {say.force(found.hand_n)} at the hand, above what one gloved hand holds for long ({say.force(found.grip_n)})."
    return (
        text,
        f"{found.fits} would fit."
        if found.fits
        else "No device here fits one hand: more friction, or a second pair of hands.",
    )


def hardest_place(found: HardestPlace, plan: Plan, say: Wording) -> Pair:
    text = (
        f"The pull is not highest here: at {say.length(found.x_m)} out it is {found.ratio:.1f} times as much, "
        f"about {say.force(found.pull_n)} at the hands."
    )
    return text, "Move the load there on the section and judge that too."


def heats(found: Heats, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: {say.length(found.far_m)} of lowering heats the {lower_first(found.device)} by {found.warmer_k.low:.0f} to {found.warmer_k.high:.0f} °C: rope that stands on it melts"
        + (", and slick cord soonest." if found.slick else "."),
        "Slowly, without stopping on a hot device; one with more metal; nothing that melts against it.",
    )


def led_wrong(found: LedWrong, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.device}: with its brake strand led {_LED[found.led]} it keeps {found.keeps.low * 100:.0f} to {found.keeps.high * 100:.0f} % of its friction.",
        f"Lead the brake strand {_LED['back' if found.led == 'parallel' else 'parallel']}.",
    )


def may_not_run(found: MayNotRun, plan: Plan, say: Wording) -> Pair:
    return (
        f"Only {say.force(found.least_n)} may be left at the hand: {lower_first(found.device)} may not run by itself.",
        "Feed the rope, or take a device with less friction.",
    )


def no_reset(found: NoReset, plan: Plan, say: Wording) -> Pair:
    return (
        f"The system lifts {say.length(found.rise_m)} until its blocks meet, of {say.length(found.whole_m)}, and can not be set forward on the rope.",
        "Longer strands, or a system whose grab is set forward.",
    )


def no_slide(found: NoSlide, plan: Plan, say: Wording) -> Pair:
    return (
        "The load does not go down by itself on this slope.",
        "It has to be walked or pulled down; the rope only guards it.",
    )


def no_stroke(found: NoStroke, plan: Plan, say: Wording) -> Pair:
    return (
        f"The haul grab is set so near its stop that one haul lifts {say.length(found.rise_m)}.",
        "Set it as far forward as the edge allows.",
    )


def not_in_bags(found: NotInBags, plan: Plan, say: Wording) -> Pair:
    there = f"{found.there} in the bags" if found.there else "none in the bags"
    return (
        f"{found.name}: the plan uses {found.uses}, and there {'are' if found.there > 1 else 'is'} {there}.",
        "Another kind, or one more before you go.",
    )


def people_ceiling(found: PeopleCeiling, plan: Plan, say: Wording) -> Pair:
    return (
        f"{found.there} people × {found.ideal:g} = {found.there * found.ideal:g}, above the ceiling of {found.ceiling} teams use on this rope.",
        "Let fewer pull at once, or read the load cell.",
    )


def too_few_haulers(found: TooFewHaulers, plan: Plan, say: Wording) -> Pair:
    needed = f"{found.low}" if found.low == found.high else f"{found.low} to {found.high}"
    text = f"{needed} haulers needed at {say.force(found.each_n)} each, {found.there} there: {say.force(found.hand_n)} at the hands."
    if found.stacked is None:
        return text, "More haulers, less friction, or a bigger system."
    return (
        text,
        f"A 2:1 stacked on the haul strand would bring it to about {found.stacked}; one good pulley in place of a carabiner may do.",
    )


def twists(found: Twists, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: a munter twists the rope; over {say.length(found.far_m)} it kinks ({say.length(found.most_m)} is about its most).",
        "The doubled one, whose twists cancel; or strands kept parallel, and the tail free to turn.",
    )


def unsaid(found: Unsaid, plan: Plan, say: Wording) -> Pair:
    return (
        f"Nobody said what sits at bend {found.bend}: taken as anything from a bare carabiner to a ball-bearing pulley.",
        "Touch the bend and say what it is.",
    )


def way_long(found: WayLong, plan: Plan, say: Wording) -> Pair:
    return (f"Haulers' way {say.length(found.way_m)}; one haul takes {say.length(found.through_m)}.", "")


def way_short(found: WayShort, plan: Plan, say: Wording) -> Pair:
    return (
        f"One haul brings {say.length(found.through_m)} of rope through the hands, the haulers have {say.length(found.way_m)} to walk: "
        f"{found.hauls} goes for each.",
        "Shorter hauls, a redirect to where there is room, or hand over hand.",
    )


def way_unsaid(found: WayUnsaid, plan: Plan, say: Wording) -> Pair:
    return (
        f"How far the haulers can walk is not known: one haul brings {say.length(found.through_m)} of rope through the hands.",
        "Pace it out and enter it.",
    )


def worse_than_straight(found: WorseThanStraight, plan: Plan, say: Wording) -> Pair:
    worse = (
        "worse than pulling the rope straight"
        if found.actual.expected < 1
        else "perhaps worse than pulling the rope straight"
    )
    return f"{found.system}, as rigged, gives {Wording.ratio(found.actual)}: {worse}.", sentence(
        "; ".join(_better(b) for b in found.swaps)
    )
