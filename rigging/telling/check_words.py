"""The words of what the check finds, and of the changes that would mend it."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from rigging.advice.mends import Mend
from rigging.document import Plan
from rigging.judging.legs_gone import LegGone
from rigging.judging.margins import Part
from rigging.quantities.units import Wording
from rigging.telling.words import Pair, Teller, line_name, listed, lower_first, part_mend, part_name, sentence

_JOBS = {"brake": "brake-side hitch", "belay": "belay", "ratchet": "ratchet"}


def _degrees(angle: float) -> str:
    return f"{math.degrees(angle):.0f}°"


def _outside(v: dict[str, Any], s: Wording) -> str:
    if v["feet"] == 2 or v["inside_m"] < -100:
        return "beside its two feet" if v["feet"] == 2 else "nowhere between its feet"
    return f"{s.length(-v['inside_m'])} outside its feet"


def _clear(v: dict[str, Any], s: Wording) -> str:
    clear = v["clear_m"]
    return f"only {s.length(clear)} is free" if clear > 0 else f"the ground is {s.length(-clear)} too high"


_STATIONS = {"device": "the device", "ratchet": "the ratchet", "belay": "the belay"}
_PLACES = {"grab": "Haul grab", "capture": "Ratchet", "brake": "Brake-side hitch", "belay": "Belay hitch"}


def _hitch_at(v: dict[str, Any]) -> str:
    return f"{_PLACES[v['place']]}, {lower_first(v['hitch'])}"


def _mm(metres: float) -> str:
    return f"{metres * 1000:.3g} mm"


def _may_tip(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    """A frame that stands as expected, but not everywhere in the ranges of its ropes and its pull, or not wherever that swings."""
    name = p.anchor(v["anchor"]).name
    if v["swung"]:
        return (
            f"{name}: the frame stands under the pull, but comes down within the swing that is allowed for.",
            "A guy to either side, or a redirect that keeps the pull where it is.",
        )
    return (
        f"{name}: the frame stands as expected, but comes down where its ropes are softest or the pull is greatest.",
        "Stiffer guys, drawn tight, or its feet set so that the pull comes down between them.",
    )


def _below(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    part: Part = v["part"]
    assert part.strength_n is not None and part.margin is not None
    if part.gives == "slips":
        text = (
            f"{part_name(p, part)} carries up to {s.force(part.force_n.high)} and slips from {s.force(part.strength_n.low)}: "
            f"{part.margin.low:.1f} : 1, below your {part.target:g} : 1 for what slips."
        )
    else:
        text = (
            f"{part_name(p, part)} carries {s.force(part.force_n)} and breaks at {s.force(part.strength_n)}: "
            f"{part.margin.low:.1f} : 1, below your {part.target:g} : 1."
        )
    return text, sentence(part_mend(part, s, part.target))


def _under_load(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    part: Part = v["part"]
    assert part.strength_n is not None
    text = (
        f"The load is heavier than what holds it: {lower_first(part_name(p, part))} slips from {s.force(part.strength_n.low)}, "
        f"and up to {s.force(part.force_n.high)} hangs on it."
    )
    return text, "Something that holds more, or two of them in line."


def _single(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    return "If it goes, nothing holds the load.", "Back it up, or accept it with a reason."


def _shared_plate(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    lines = listed(lower_first(line_name(p, one)) for one in v["lines"])
    anchor = p.anchor(v["part"].removeprefix("anchor:"))
    return (
        f"One thing alone: the working point of {lower_first(anchor.name)} bears {lines}. If it goes, all of them go.",
        "Give one of them an anchor of its own, or accept it with a reason.",
    )


def _shared_feature(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    return (
        f"One thing alone: {lower_first(p.feature(v['feature']).name)} bears every anchor of the ropes. If it goes, all of them go.",
        "Put one of them on another feature, or accept it with a reason.",
    )


def _cap(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    part: Part = v["part"]
    return (
        f"{part_name(p, part)} slips first, at {s.force(v['cap'])}: every part behind it has to hold "
        f"{s.force(v['cap'].high * v['margin'])}.",
        "",
    )


def _defeated(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    return (
        f"The rope tied behind the {lower_first(v['part'].thing)} defeats it as a clutch: tied off at full strength, it can not slip.",
        "Let the rope run free behind it, or leave it a metre to slip.",
    )


def _short_of(v: dict[str, Any], p: Plan, s: Wording) -> str:
    return f"{s.length(v['tail_m'])}, of {s.length(v['wanted_m'])} wanted (10 rope diameters, common practice)"


def _way_short(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    return (
        f"One haul brings {s.length(v['through_m'])} of rope through the hands, the haulers have {s.length(v['way_m'])} to walk: "
        f"{v['hauls']} goes for each.",
        "Shorter hauls, a redirect to where there is room, or hand over hand.",
    )


def _across_gate(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    keeps = f", where it keeps about {s.force(v['across_n'])}" if v["across_n"] else ""
    return (
        f"The strap round {lower_first(v['name'])} closes at {_degrees(v['closing_rad'])} on {lower_first(v['connector'])}: "
        f"its two ends pull it across its gate{keeps}.",
        "A three-cornered link takes two ends apart.",
    )


def _leg_goes(v: dict[str, Any], p: Plan, s: Wording) -> Pair:
    gone: LegGone = v["leg"]
    text = f"{gone.leg.line.feature.name} goes from {lower_first(p.anchor(v['anchor']).name)}: "
    if gone.taker is None or gone.busiest_n is None:
        text += "nothing is left to hold."
    elif gone.peak and math.isinf(gone.peak.slips_m):
        text += "what slips in the line does not stop again."
    elif gone.outcome == "unknown":
        text += f"whether {lower_first(gone.taker.line.feature.name)} then holds is not known."
    else:
        text += f"{gone.taker.line.feature.name} is left with {Wording.ratio(gone.ratio or 0.0)} : 1 on the peak of up to {s.force(gone.busiest_n.high)}."
    return text, "Strengthen what takes it over, add a leg, or limit how far it drops."


_LOADED = {
    "gate-open": "loaded with its gate open",
    "across": "pulled across",
    "nose": "hooked on its nose",
    "edge": "bent over an edge",
}

TELL: dict[str, Teller] = {
    "leg-goes": _leg_goes,
    # What holds
    "below": _below,
    "slips-under-load": _under_load,
    "single": _single,
    "shared-plate": _shared_plate,
    "shared-feature": _shared_feature,
    "shares-feature": lambda v, p, s: (
        f"{p.feature(v['feature']).name} bears {listed(lower_first(p.anchor(one).name) for one in v['anchors'])}: what pulls it out weakens all of them.",
        "Put one of them on another feature."),
    "falls": lambda v, p, s: ("Nothing holds the load: it falls.", "Choose what holds it here."),
    "hands-alone": lambda v, p, s: (
        "The load hangs on hands alone: if they let go, it falls.", "A ratchet, a belay, or a device that holds by itself."),
    "belay-by-hands": lambda v, p, s: (
        f"The {lower_first(line_name(p, v['line']))} holds only while somebody holds it: hands off, it catches nothing.",
        "A device that locks by itself, or hitches."),
    "brake-unminded": lambda v, p, s: ("Nobody is named who minds the brake-side hitch.", "Name one person for it."),
    "belay-unminded": lambda v, p, s: (
        f"Nobody is named who minds the {lower_first(line_name(p, v['line']))}.", "Name one person for it, and nothing else."),
    "runs-through-bend": lambda v, p, s: (
        f"Nobody minds the ratchet ({v['hitch']}), and {lower_first(v['bend'])} does not keep it out: it is drawn through its bend, and counts as open.",
        "A pulley that minds it, or one person."),
    "two-jobs": lambda v, p, s: (
        f"{v['person']} minds the {_JOBS[v['other_job']]} and the {_JOBS[v['job']]} at the same time.", "One person for each."),
    "not-there": lambda v, p, s: (
        f"{v['person']} minds the {_JOBS[v['job']]} but is not on the list of people.", "List them, or name somebody who is there."),
    # The school
    "cap": _cap,
    "no-cap": lambda v, p, s: (
        "Nothing in these lines slips before it breaks: there is no limit to the force, and no part can be judged by it.",
        "Something that slips at a known force, or the static ratio."),
    "cap-defeated": _defeated,
    # Ropes
    "damage-in-pull": lambda v, p, s: (
        f"The {lower_first(line_name(p, v['line']))} is damaged {s.length(v['at_m'])} from the load, and the damage is in the pull.",
        "Tie it out, or take another rope."),
    "no-bend": lambda v, p, s: (
        f"The join {s.length(v['at_m'])} from the load is tied by a {lower_first(v['knot'])}, which is no bend.", "A knot made to join two ropes."),
    "tail-short": lambda v, p, s: (
        f"Tails of the join {s.length(v['at_m'])} from the load: {_short_of(v, p, s)}.", "Tie it again with longer tails."),
    "tail-unsaid": lambda v, p, s: (
        f"Tails of the join {s.length(v['at_m'])} from the load: nobody said how long.", f"Look: {s.length(v['wanted_m'])} or more."),
    "knot-inside": lambda v, p, s: (
        f"{line_name(p, v['line'])}: the join {s.length(v['at_m'])} from the load lies in {_STATIONS.get(v['to'], lower_first(v['to']))} where the load is now.",
        "Lay the rope so that it lies clear, or begin with the procedure that passes it."),
    "place-refused": lambda v, p, s: (f"{sentence(v['fault'].problem)}", sentence(v["fault"].right)),
    "join-on-way": lambda v, p, s: (
        f"{line_name(p, v['line'])}: the join {s.length(v['at_m'])} from the load comes to {_STATIONS[v['to']]} after {s.length(v['metre'])} of {v['job']}, and is passed there.",
        "Rig for it, or tie the rope so that its join never comes there."),
    "bitten": lambda v, p, s: (
        f"{v['edge']}: the rope has bitten into the lip; hauled over it, {v['passes'].low * 100:.0f} to {v['passes'].high * 100:.0f} % of the pull gets through.",
        "Pad it, or take a fresh strand: a drop loop beside it."),
    "out-of-line": lambda v, p, s: (
        f"Damage {s.length(v['at_m'])} from the load is taken out with a {lower_first(v['knot'])}: is it that? Along the line it deforms.", "A butterfly loop with a connector in it."),
    "loop-slick": lambda v, p, s: (
        f"Damage tied out {s.length(v['at_m'])} from the load in slick cord: the loop may be drawn through.", "An overhand in its loop as well."),
    "loop-open": lambda v, p, s: (
        f"The loop that takes out the damage {s.length(v['at_m'])} from the load has nothing in it: pulled along the line it can roll out.",
        "Clip a connector into it."),
    "too-old": lambda v, p, s: (
        f"The {lower_first(line_name(p, v['line']))}'s rope is {v['years']:g} years old: textiles end at {v['most']:g}.", "Another rope."),
    "worn": lambda v, p, s: (
        f"The {lower_first(line_name(p, v['line']))}'s rope is weathered and fuzzy: it keeps about half of its strength.", "Another rope."),
    # Hitches
    "cuts": lambda v, p, s: (
        f"{v['hitch']}: it cuts the sheath from {s.force(v['breaks'].low)} instead of slipping.", "A hitch of cord slips before it hurts the rope."),
    "wraps-many": lambda v, p, s: (
        f"{_hitch_at(v)}: {v['wraps']} wraps. More than six grip less, and the rope twists.", f"{v['usual']} wraps."),
    "wraps-few": lambda v, p, s: (f"{_hitch_at(v)}: {v['wraps']} wraps, {v['usual']} are usual.", f"{v['usual']} wraps."),
    "cord-thick": lambda v, p, s: (
        f"{_hitch_at(v)}: {_mm(v['cord_m'])} cord on a rope of {_mm(v['rope_m'])} grips badly; 2 to 4 mm thinner is wanted.", "Thinner cord."),
    "cord-short": lambda v, p, s: (
        f"{_hitch_at(v)}: {s.length(v['there_m'])} of cord, its wraps, reach and knot take {s.length(v['wanted_m'])}.", "A longer loop."),
    "knot-on-rope": lambda v, p, s: (
        f"{_hitch_at(v)}: the joining knot lies on the rope, where it keeps the wraps apart.",
        "Turn the loop until it is off; a clove beside it on the connector holds it there."),
    "glazed": lambda v, p, s: (f"{_hitch_at(v)}: its cord is glazed from an earlier slip and grips less.", "New cord."),
    "breaks-first": lambda v, p, s: (
        f"{_hitch_at(v)}: its cord breaks at {s.force(v['breaks'])}, about where it should slip ({s.force(v['slips'])}): it may break first.",
        "Thicker cord, or fewer wraps."),
    "crowded": lambda v, p, s: (
        f"{line_name(p, v['line'])}: the connector at the {v['at']} is crowded or loaded near its gate: it may keep only {v['keeps'].low * 100:.0f} %.",
        "A larger connector, or one more."),
    "twists": lambda v, p, s: (
        f"{line_name(p, v['line'])}: a munter twists the rope; over {s.length(v['far_m'])} it kinks ({s.length(v['most_m'])} is about its most).",
        "The doubled one, whose twists cancel; or strands kept parallel, and the tail free to turn."),
    # Let off under load
    "releases": lambda v, p, s: (
        f"{line_name(p, v['line'])}: {lower_first(v['what'])} can be let off under load"
        + (f", by {s.length(v['by_m'])} on its releasing hitch." if v["by_m"] else "."), ""),
    "release-missing": lambda v, p, s: (
        f"{line_name(p, v['line'])}: set hard, {lower_first(v['what'])} can not be let off under load, and no releasing hitch is behind.",
        "A load-releasing hitch between it and its anchor."),
    "release-tied": lambda v, p, s: (
        f"{line_name(p, v['line'])} is tied at its anchor: it can not be let off under load.", "A device, or a releasing hitch."),
    # How things lie
    "bare-edge": lambda v, p, s: (
        f"{v['edge']}: the rope bends {_degrees(v['turn_rad'])} over {lower_first(v['surface'])} with nothing between.",
        "A pad or a roller."),
    "sharp-edge": lambda v, p, s: (
        f"{v['edge']}: the rope bends {_degrees(v['turn_rad'])} over {lower_first(v['surface'])} with nothing between: it cuts.",
        "A pad or a roller before anything is loaded."),
    "sawn": lambda v, p, s: (
        f"{v['edge']}: a rope under tension moves sideways on bare {lower_first(v['surface'])}: it saws through.", "A pad or a roller, and the rope kept from moving sideways."),
    "reaches-device": lambda v, p, s: (
        f"The brake-side hitch reaches {s.length(v['reach_m'])}, its device sits at {s.length(v['out_m'])}: drawn in, it can not grip.",
        "A shorter hitch, or the device further out."),
    "grab-over-edge": lambda v, p, s: (
        f"The haul grab is set {s.length(v['reach_m'])} forward, the first edge is at {s.length(v['first_m'])}: it would go over the edge.",
        "Set it short of the edge."),
    "no-reset": lambda v, p, s: (
        f"The system lifts {s.length(v['rise_m'])} until its blocks meet, of {s.length(v['whole_m'])}, and can not be set forward on the rope.",
        "Longer strands, or a system whose grab is set forward."),
    "no-stroke": lambda v, p, s: (
        f"The haul grab is set so near its stop that one haul lifts {s.length(v['rise_m'])}.", "Set it as far forward as the edge allows."),
    "strands-touch": lambda v, p, s: (
        "Moving strands of the haul cross another rope and touch it: rope on rope is friction, and melts.", "Lead them apart."),
    "three-ways": lambda v, p, s: (
        f"{v['connector']} is pulled three ways: its legs spread {_degrees(v['widest_rad'])}.", "A link, ring or plate made for it."),
    "across-gate": _across_gate,
    "closing": lambda v, p, s: (
        f"The strap round {v['name']} closes at {_degrees(v['closing_rad'])}: its strands carry more than the pull.",
        "A longer strap, closed further from the feature."),
    "wide": lambda v, p, s: (
        f"{_degrees(v['widest_rad'])} between {v['names'][0]} and {v['names'][1]}: two legs that wide carry {v['each'] * 100:.0f} % of the pull each.",
        "Gather further from the features, or choose ones closer together in angle."),
    "span-fails": lambda v, p, s: (f"Tension line {v['line']}: {v['why']}.", "Move one of its ends."),
    "span-single": lambda v, p, s: (
        f"One thing alone: {lower_first(v['what'])}, {'an end' if v['end'] else 'the only rope'} of tension line {v['line']}. If it goes, the load falls.",
        "A second rope to an anchor of its own, or accept it." if v["end"] else "Two ropes side by side, or a belay."),
    "span-below": lambda v, p, s: (
        f"Tension line {v['line']}, load {s.length(v['run_m'])} along: {lower_first(_below(v, p, s)[0])}", _below(v, p, s)[1] or "More sag."),
    "span-low": lambda v, p, s: (
        f"Tension line {v['line']}: {_clear(v, s)} under the load {s.length(v['run_m'])} along.", "Its ends higher, less sag, or the load hung shorter."),
    "span-ground": lambda v, p, s: (f"Tension line {v['line']}: the ground under it is not entered: clearance is not known.", "Extend the profile under Size-up, Ground."),
    "span-slips": lambda v, p, s: (
        f"Tension line {v['line']}: the {lower_first(v['device'])} slips and feeds {s.length(v['fed_m'])}: it limits the line.", ""),
    "span-unlimited": lambda v, p, s: (
        f"Tension line {v['line']}: nothing in it slips before it breaks.", "A device that slips near 6 kN at one end protects the line and everything behind it."),
    "frame-tips": lambda v, p, s: (
        f"{p.anchor(v['anchor']).name}: the pull on the frame's head goes down {_outside(v, s)}, and nothing holds it there: it tips.",
        "A guy to the other side, or its feet set so that the pull comes down between them."),
    "frame-may-tip": _may_tip,
    "frame-by-guys": lambda v, p, s: (
        f"{p.anchor(v['anchor']).name}: the pull on the frame's head goes down {_outside(v, s)}: it stands by its {'guy' if v['guys'] == 1 else 'guys'} alone.",
        "Set its feet so that the pull comes down between them, or look at every guy as at an anchor."),
    "frame-stands": lambda v, p, s: (
        f"{p.anchor(v['anchor']).name}: the pull comes down {s.length(v['inside_m'])} inside its feet.", ""),
    # What anchors are tied to
    "rejected": lambda v, p, s: (
        f"{v['name']} was rejected: {v['reason']}.", "Tie to another feature, or look at it again and take the rejection back."),
    "drum-unsaid": lambda v, p, s: (
        f"{v['name']}: nobody has said what the {' and the '.join(v['unsaid'])} of the tie-off hold{'s' if len(v['unsaid']) == 1 else ''}.",
        "Read it off the drum, or tie off on a stem that is part of the ground."),
    "inspection-rejects": lambda v, p, s: (
        f"{v['name']}: its inspection rejects it: {v['reason']}.",
        "Tie to another feature; or whoever judges otherwise says so by name, with the reason."),
    "overridden": lambda v, p, s: (
        f"{v['name']}: {v['why']}. {v['who']} took it all the same: {v['reason']}.", "Look at it together with whoever judged it so."),
    "guard": lambda v, p, s: (
        f"{v['name']}: {v['guarded']}. " + (f"Guarded by {v['who']}." if v["who"] else "Nobody is named."),
        "" if v["who"] else "Name who guards it, for as long as it is loaded."),
    "temporary-last": lambda v, p, s: (
        "A person is the last thing holding." if v["person"] else f"{v['name']} is temporary, and the last thing holding.",
        "Find one more feature, whatever it is."),
    "loose-tie": lambda v, p, s: (
        f"The tie back to {v['name']} is not tight: the front feature takes the pull first.",
        "Pull it tight before loading, with a 3:1 by hand, and lock it; enter its pretension."),
    "axle": lambda v, p, s: (
        f"{v['name']}: the tail is {'on the same axle' if v['tail_to'] == 'same-axle' else 'made fast to nothing'}: the drum's one axle is the only thing holding.",
        "Lead the tail out behind and make it fast to the anchor itself."),
    "half-hitch": lambda v, p, s: (
        f"{v['name']}: a half hitch on the standing part makes a sharp bend and defeats the full-strength tie-off.",
        "Finish it behind the drum, with something that can be let off under load."),
    "limited-behind": lambda v, p, s: (
        f"{v['name']}: a full-strength tie-off in line with the {lower_first(v['device'])} that should slip: the line is no longer limited.",
        "Tie off without the device, or leave the device free to slip."),
    # The operation, and what each loss does
    "material-short": lambda v, p, s: (
        f"{lower_first(p.anchor(v['anchor']).name).capitalize()}, {lower_first(v['name'])}: {s.length(v['needed_m'])} of {lower_first(v['material'])} for the {v['use']}; "
        + ("there is none in the bags." if v["longest_m"] is None else f"the longest piece left is {s.length(v['longest_m'])}." if v["longest_m"] < v["needed_m"] else "every piece that long is used already."),
        "A longer piece, fewer turns, or two joined."),
    "prop-weak": lambda v, p, s: (
        f"{p.anchor(v['anchor']).name}: the pole bears {s.force(v['bears'])} of {s.force(v['holds'])}, below your {v['target']:g} : 1.", "A stouter pole, or legs that leave it less."),
    "no-tail": lambda v, p, s: (
        f"{line_name(p, v['line'])}: {s.length(v['tail_m'])} of rope is kept back at the station: its end may run through the device.", "Keep five metres back, with a knot in the end."),
    "way-over-lip": lambda v, p, s: (
        f"The haulers' way ends {s.length(v['ends_m'])} out, past the edge at {s.length(v['edge_m'])}: they would be led over it.", "A redirect that turns their way, or a shorter one, back from the edge."),
    "loss": lambda v, p, s: ("", "Less slack in what catches, a second anchor for it, or nothing in the way below."),
    "step-refused": lambda v, p, s: (
        f"{v['section']}: \u201c{sentence(v['do']).rstrip('.')}\u201d can not be done on this plan: {v['why']}.", "Change what it asks for, or take the step out of the operation."),
    "too-few-people": lambda v, p, s: (
        f"The operation has {v['there']} for {v['duty']} where {v['needed']} are needed, in {v['steps']} of its steps.", "More people, or a way that takes fewer."),
    # The day, age, what is loaded askew
    "day-unsaid": lambda v, p, s: (
        "Nobody has said whether it is dry, wet, icy or muddy: figures are for dry.", "Say what the day is like under Size-up."),
    "freezes": lambda v, p, s: (
        f"Wet at {v['celsius']:g} °C: ropes and hitches freeze, and an icy hitch may not grip.", "Say icy, or keep them from freezing."),
    "may-not-grip": lambda v, p, s: (
        f"{_hitch_at(v)}: {v['state'].lower()}, it may not grip at all.", "Clean it and try it with a pull before it is trusted; a knot or a device behind it."),
    "wire-knot": lambda v, p, s: (
        f"{line_name(p, v['line'])}: a {lower_first(v['knot'])} is not made in {'wire' if v['metal'] else 'rope'}.", "An eye with its thimble." if v["metal"] else "A knot."),
    "wire-grip": lambda v, p, s: (f"{_hitch_at(v)}: it does not grip wire rope.", "A clamp or winch made for that wire."),
    "shared-device": lambda v, p, s: (
        f"{listed([lower_first(line_name(p, one)) for one in v['lines']])} run through one thing, {lower_first(v['what'])}: if it goes, both go.", "A device for each, or one of them tied behind it."),
    "kit-too-old": lambda v, p, s: (
        f"{v['material']}, {s.length(v['length_m'])}, is {v['years']:g} years old: textiles end at {v['most']:g}.", "Take another piece."),
    "misloaded": lambda v, p, s: (
        f"{line_name(p, v['line'])}: the {lower_first(v['what'])} at the load is {_LOADED[v['loaded']]}, where it keeps {s.force(v['keeps'])}.",
        "Turn it so that it is pulled along, shut and locked."),
    "gate-unlocked": lambda v, p, s: (
        f"{line_name(p, v['line'])}: {lower_first(v['what'])} at the load.", "One that locks, or two with their gates opposed."),
    "stood": lambda v, p, s: (
        f"The {lower_first(line_name(p, v['line']))}'s rope has been near chemicals: what they did to it nobody can see."
        if v["stood"] == "chemicals" else f"The {lower_first(line_name(p, v['line']))}'s rope lay long in the sun: it keeps half to nearly all of its strength.",
        "Another rope."),
    "creeps": lambda v, p, s: (
        f"The {lower_first(v['knot'])} {s.length(v['at_m'])} from the load creeps: its tails shorten under load that comes and goes.", "Look at its tails before each load; a double fisherman keeps them."),
    "unlike": lambda v, p, s: (
        f"The {lower_first(v['knot'])} {s.length(v['at_m'])} from the load joins a rope of another thickness ({lower_first(v['onto'])}): it slips sooner.", "A double or triple fisherman."),
    "heats": lambda v, p, s: (
        f"{line_name(p, v['line'])}: {s.length(v['far_m'])} of lowering heats the {lower_first(v['device'])} by {v['warmer_k'].low:.0f} to {v['warmer_k'].high:.0f} °C: rope that stands on it melts"
        + (", and slick cord soonest." if v["slick"] else "."), "Slowly, without stopping on a hot device; one with more metal; nothing that melts against it."),
    # People and ground
    "edge-nobody": lambda v, p, s: ("Nobody is named who works at the edge, and what they are tied to is not known.", "List them under Size-up, Team."),
    "untied": lambda v, p, s: (f"{v['person']} works at the edge and is tied in to nothing.", "A rope or lanyard of their own, to an anchor that is not the load's."),
    "tied-to-load": lambda v, p, s: (
        f"{v['person']} is tied in to {lower_first(p.anchor(v['anchor']).name)}, which bears the load.", "An anchor that is not the load's."),
    "people-below": lambda v, p, s: (f"Below the load: {listed(v['people'])}.", "Move them out of its way, and out of the way of stones."),
    "below-unsaid": lambda v, p, s: ("Who stands where is not known: nobody can say whether somebody is below.", "Say where people stand under Size-up, Team."),
    "way-unsaid": lambda v, p, s: (
        f"How far the haulers can walk is not known: one haul brings {s.length(v['through_m'])} of rope through the hands.", "Pace it out and enter it."),
    "way-short": _way_short,
    "way-long": lambda v, p, s: (f"Haulers' way {s.length(v['way_m'])}; one haul takes {s.length(v['through_m'])}.", ""),
    "way-crossed": lambda v, p, s: (
        f"The haulers walk across the {lower_first(line_name(p, v['line']))}.", "Turn their way, or lead the haul strand by a redirect."),
}  # fmt: skip

TRADE = "Common practice, no source"
# Rules that have a value in the catalogue are told with its origin.
SOURCE_IDS: dict[str, str] = {
    "across-gate": "en-12275", "belay-test": "belay-test", "hand-too-much": "hand-grip", "hand-fits": "hand-grip", "may-not-run": "device-runs",
    "too-few-haulers": "hauler-pull", "gives-first": "hauler-pull", "people-ceiling": "people-ceiling", "bare-edge": "edge-mu",
    "bare-corner": "edge-mu", "short": "rope-tail", "caught": "peak", "leg-goes": "peak", "anchor-fails": "legs", "no-stroke": "clearance", "no-reset": "clearance",
    "way-short": "virtual-work", "way-long": "virtual-work", "way-unsaid": "virtual-work", "worse-than-straight": "bend-eta", "unsaid": "bend-eta",
    "no-slide": "incline", "hardest-place": "incline", "swing": "incline", "span-below": "cable-sag", "span-slips": "self-locking-slip", "span-unlimited": "self-locking-slip", "frame-tips": "legs", "frame-may-tip": "legs", "frame-by-guys": "legs", "frame-stands": "legs", "bitten": "snow-lip", "too-old": "rope-age", "worn": "rope-wear", "loop-slick": "slick-knots", "out-of-line": "out-of-line", "loop-open": "empty-loop", "cuts": "clamps",
    "wraps-many": "hitch-wraps", "wraps-few": "hitch-wraps", "cord-thick": "hitch-cord", "cord-short": "cord-length", "glazed": "hitch-cord",
    "breaks-first": "en-564", "crowded": "crowded", "twists": "munter-twist", "tail-short": "tails", "tail-unsaid": "tails", "closing": "wrap-geometry", "wide": "legs", "day-unsaid": "wet-grip", "freezes": "icy-grip", "may-not-grip": "icy-grip", "kit-too-old": "rope-age", "misloaded": "misloaded", "stood": "sunlight",
    "unlike": "unlike", "heats": "device-heat", "sharp-edge": "edge-keeps", "sawn": "edge-keeps",
}  # fmt: skip

Labeller = Callable[[dict[str, Any], Wording], str]
_MEND: dict[str, Labeller] = {
    "brake-hitch": lambda v, s: f"{v['what']} on the brake side",
    "device": lambda v, s: v["what"],
    "capture-on": lambda v, s: "Ratchet on the load's own strand",
    "capture": lambda v, s: f"{v['what']} as ratchet" + (f", {v['who']} minds it" if v["who"] else ""),
    "minder": lambda v, s: f"{v['who']} minds it",
    "bend": lambda v, s: f"{v['what']} at {v['at']}",
    "list-person": lambda v, s: f"List {v['who']}",
    "own-anchor": lambda v, s: f"Own anchor: {v['anchor']}",
    "belay": lambda v, s: "Add a belay" + (f" on {v['anchor']}" if v["anchor"] else ""),
    "take": lambda v, s: v["what"],
    "turns": lambda v, s: f"{v['turns']} turns",
    "feature": lambda v, s: f"Tie to {v['feature']}",
    "untie": lambda v, s: "Let it run free",
    "take-out": lambda v, s: f"{v['what']} takes it out",
    "tail": lambda v, s: f"Tails {s.length(v['length_m'])}",
    "slips": lambda v, s: v["what"],
    "pretension": lambda v, s: f"Pretension {s.force(v['force_n'])}",
    "hang": lambda v, s: f"Load hung {s.length(v['length_m'])} under the line",
    "guy": lambda v, s: f"Guy to {v['feature']}",
    "join-at": lambda v, s: f"Join {s.length(v['length_m'])} from the load",
    "in-loop": lambda v, s: v["what"],
    "wraps": lambda v, s: f"{v['wraps']} wraps",
    "cord": lambda v, s: v["what"],
    "cord-length": lambda v, s: f"Loop of {s.length(v['length_m'])} of cord",
    "knot-off": lambda v, s: "Joining knot off the rope",
    "new-cord": lambda v, s: "New cord",
    "other-rope": lambda v, s: "Another rope, looked at",
    "uncrowd": lambda v, s: f"{v['what']}, with room",
    "system": lambda v, s: v["what"],
    "haulers": lambda v, s: f"{v['count']} pull",
    "longer-rope": lambda v, s: f"Rope of {s.length(v['length_m'])}",
    "slack": lambda v, s: f"Slack {s.length(v['length_m'])}",
    "releasing": lambda v, s: f"Releasing hitch, {s.length(v['length_m'])}",
    "pad": lambda v, s: v["what"],
    "day": lambda v, s: v["what"],
    "keep-tail": lambda v, s: f"Keep {s.length(v['length_m'])} back",
    "more-kit": lambda v, s: f"There is {s.length(v['length_m'])} of {lower_first(v['what'])}",
    "cleaned": lambda v, s: "Cleaned, dried, tried with a pull",
    "out-of-bags": lambda v, s: "Out of the bags",
    "turned": lambda v, s: "Turned: along, shut and locked",
    "enter-edge": lambda v, s: f"Enter it, {lower_first(v['what'])}",
    "device-out": lambda v, s: f"Device {s.length(v['length_m'])} out",
    "reach": lambda v, s: f"Reach {s.length(v['length_m'])}" if v.get("length_m") else "Up to the edge",
    "walk": lambda v, s: "Walk the other way",
    "straight-back": lambda v, s: "Haul straight back",
    "guard": lambda v, s: f"{v['who']} guards it",
    "tight": lambda v, s: "Hand-tight, 1 kN",
    "round-turn": lambda v, s: "Round-turn tie-off",
    "tail-behind": lambda v, s: "Tail behind, to the anchor",
    "finish": lambda v, s: "Releasable hitch",
    "free-device": lambda v, s: "Without the device",
    "gather": lambda v, s: f"Gather {s.length(v['length_m'])} further out",
    "aside": lambda v, s: f"{s.length(v['length_m'])} aside",
    "tie-in": lambda v, s: f"Tie in to {v['anchor']}",
}  # fmt: skip


def mend_label(mend: Mend, say: Wording) -> str:
    """A mend as its button says it."""
    return _MEND[mend.kind](mend.values, say)
