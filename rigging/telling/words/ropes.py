"""Words of what the checks of `ropes` find: the sentence, and what would mend it."""

from __future__ import annotations

from rigging.checks.ropes.creeps import Creeps
from rigging.checks.ropes.damage_in_pull import DamageInPull
from rigging.checks.ropes.join_on_way import JoinOnWay
from rigging.checks.ropes.knot_inside import KnotInside
from rigging.checks.ropes.loop_open import LoopOpen
from rigging.checks.ropes.loop_slick import LoopSlick
from rigging.checks.ropes.no_bend import NoBend
from rigging.checks.ropes.no_tail import NoTail
from rigging.checks.ropes.out_of_line import OutOfLine
from rigging.checks.ropes.runs_out import RunsOut
from rigging.checks.ropes.short import Short
from rigging.checks.ropes.stood import Stood
from rigging.checks.ropes.strands_unsaid import StrandsUnsaid
from rigging.checks.ropes.tail_short import TailShort
from rigging.checks.ropes.tail_unsaid import TailUnsaid
from rigging.checks.ropes.too_old import TooOld
from rigging.checks.ropes.unlike import Unlike
from rigging.checks.ropes.worn import Worn
from rigging.document import Plan
from rigging.lines.lengths import BudgetJob
from rigging.quantities.units import Wording
from rigging.telling.words.names import Pair, line_name, lower_first, rope_name, sentence

_STATIONS = {"device": "the device", "ratchet": "the ratchet", "belay": "the belay"}
_JOBS: dict[BudgetJob, str] = {
    "lower": "to lower", "raise": "to haul", "catch": "for the belay", "span": "for the tension line",
    "strands": "for the haul's other strands",
}  # fmt: skip


def _short_of(found: TailShort, say: Wording) -> str:
    return f"{say.length(found.tail_m)}, of {say.length(found.wanted_m)} wanted (10 rope diameters, common practice)"


def creeps(found: Creeps, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(found.knot)} {say.length(found.at_m)} from the load creeps: its tails shorten under load that comes and goes.",
        "Look at its tails before each load; a double fisherman keeps them.",
    )


def damage_in_pull(found: DamageInPull, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(line_name(plan, found.line))} is damaged {say.length(found.at_m)} from the load, and the damage is in the pull.",
        "Tie it out, or take another rope.",
    )


def join_on_way(found: JoinOnWay, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: the join {say.length(found.at_m)} from the load comes to {_STATIONS[found.to]} after {say.length(found.metre)} of {found.job}, and is passed there.",
        "Rig for it, or tie the rope so that its join never comes there.",
    )


def knot_inside(found: KnotInside, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: the join {say.length(found.at_m)} from the load lies in {_STATIONS.get(found.to, lower_first(found.to))} where the load is now.",
        "Lay the rope so that it lies clear, or begin with the procedure that passes it.",
    )


def loop_open(found: LoopOpen, plan: Plan, say: Wording) -> Pair:
    return (
        f"The loop that takes out the damage {say.length(found.at_m)} from the load has nothing in it: pulled along the line it can roll out.",
        "Clip a connector into it.",
    )


def loop_slick(found: LoopSlick, plan: Plan, say: Wording) -> Pair:
    return (
        f"Damage tied out {say.length(found.at_m)} from the load in slick cord: the loop may be drawn through.",
        "An overhand in its loop as well.",
    )


def no_bend(found: NoBend, plan: Plan, say: Wording) -> Pair:
    return (
        f"The join {say.length(found.at_m)} from the load is tied by a {lower_first(found.knot)}, which is no bend.",
        "A knot made to join two ropes.",
    )


def no_tail(found: NoTail, plan: Plan, say: Wording) -> Pair:
    return (
        f"{line_name(plan, found.line)}: {say.length(found.tail_m)} of rope is kept back at the station: its end may run through the device.",
        "Keep five metres back, with a knot in the end.",
    )


def out_of_line(found: OutOfLine, plan: Plan, say: Wording) -> Pair:
    return (
        f"Damage {say.length(found.at_m)} from the load is taken out with a {lower_first(found.knot)}: is it that? Along the line it deforms.",
        "A butterfly loop with a connector in it.",
    )


def runs_out(found: RunsOut, plan: Plan, say: Wording) -> Pair:
    many = (
        "both of its strands" if len(found.strands) == 2 else "its strands" if len(found.strands) > 1 else "what lies"
    )
    besides = f", {say.length(found.besides_m)} for what else it does" if found.besides_m else ""
    return (
        f"{rope_name(plan, found.rope)} runs out at \u201c{sentence(found.do).rstrip('.')}\u201d: {say.length(found.missing_m)} short. "
        f"{say.length(found.there_m)} there, {say.length(found.laid_m)} for {many} with their knots{besides}.",
        f"A longer rope, a second one, or a working point {say.length(found.missing_m)} nearer.",
    )


def strands_unsaid(found: StrandsUnsaid, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(line_name(plan, found.line))}'s haul takes {say.length(found.other_m)} of rope that is not its own: which rope that is nobody has said.",
        "Say which, so that it is counted once.",
    )


def short(found: Short, plan: Plan, say: Wording) -> Pair:
    job = _JOBS[found.job]
    missing = say.length(found.missing_m)
    text = f"The rope is {missing} short {job}: {say.length(found.needed_m)} needed, {say.length(found.there_m)} there."
    if found.beside_m:
        text += f" Of that, {say.length(found.beside_m)} for what else is on it."
    return text, f"A longer rope, a second joined on, or a station {missing} nearer."


def stood(found: Stood, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(line_name(plan, found.line))}'s rope has been near chemicals: what they did to it nobody can see."
        if found.stood == "chemicals"
        else f"The {lower_first(line_name(plan, found.line))}'s rope lay long in the sun: it keeps half to nearly all of its strength.",
        "Another rope.",
    )


def tail_short(found: TailShort, plan: Plan, say: Wording) -> Pair:
    return (
        f"Tails of the join {say.length(found.at_m)} from the load: {_short_of(found, say)}.",
        "Tie it again with longer tails.",
    )


def tail_unsaid(found: TailUnsaid, plan: Plan, say: Wording) -> Pair:
    return (
        f"Tails of the join {say.length(found.at_m)} from the load: nobody said how long.",
        f"Look: {say.length(found.wanted_m)} or more.",
    )


def too_old(found: TooOld, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(line_name(plan, found.line))}'s rope is {found.years:g} years old: textiles end at {found.most_years:g}.",
        "Another rope.",
    )


def unlike(found: Unlike, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(found.knot)} {say.length(found.at_m)} from the load joins a rope of another thickness ({lower_first(found.onto)}): it slips sooner.",
        "A double or triple fisherman.",
    )


def worn(found: Worn, plan: Plan, say: Wording) -> Pair:
    return (
        f"The {lower_first(line_name(plan, found.line))}'s rope is weathered and fuzzy: it keeps about half of its strength.",
        "Another rope.",
    )
