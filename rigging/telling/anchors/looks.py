"""What the leader should hear about an arrangement: what, how much, why, what would mend it. Never a verdict of safety."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np

from rigging.anchors.chain import drum_m
from rigging.anchors.rig import AnchorRig, LegLine, at
from rigging.anchors.states import States
from rigging.anchors.wraps import (
    FULL_STRENGTH_RATIO,
    bend_round,
    friction_of,
    material_of,
    method_of,
    tension_left,
    turns_of,
)
from rigging.catalogue import catalogue
from rigging.checks.found import Level
from rigging.document import Plan, Prop
from rigging.judging.pulls import line_heading_rad
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.site.features import estimate
from rigging.telling.anchors.shapes import LegReport, NeedReport, RemovalReport, SpanReport, StageReport, TightReport
from rigging.telling.figures.shapes import Finding

WIDE_RAD, TOO_WIDE_RAD = math.radians(90), math.radians(120)
_OFF_LINE_RAD = math.radians(5)
_SHARED_M = 1.0
_TAIL_BITES = 0.02
_OFF_SET_RAD = math.radians(10)


def find_shape(rig: AnchorRig, say: Wording) -> Iterator[Finding]:
    """Features that share a connection far apart."""
    for a_line, b_line in itertools.combinations(rig.lines, 2):
        apart = float(np.linalg.norm(at(a_line.feature) - at(b_line.feature)))
        if rig.scheme.one_way and apart > _SHARED_M and _lone(a_line) and _lone(b_line):
            text = f"{a_line.feature.name} and {b_line.feature.name} are {say.length(apart)} apart on single strands."
            yield Finding(
                "doubled",
                "note",
                text,
                "Further apart than 1 m, teams double each and join them (common practice).",
                "",
            )
            return


def _lone(line: LegLine) -> bool:
    return line.leg.extension is not None and line.leg.extension_strands == 1


def find_scheme(plan: Plan, rig: AnchorRig, states: States, say: Wording) -> Iterator[Finding]:
    """What goes wrong with each scheme."""
    arrangement = rig.arrangement
    if rig.count == 1:
        yield Finding("single-point", "look", f"{rig.lines[0].feature.name} is the one thing that holds: if it goes, nothing does.",
                      "Back it up to a second feature, or accept it and say so in the log.", "leg:0")  # fmt: skip
    if rig.scheme.one_way and len(states.offsets_rad) > 1:
        yield from _goes_slack(rig, states)
    if rig.slides and rig.scheme.made == "point":
        yield _never_equal(rig, states)
    if rig.scheme.tight:
        yield from _floats(rig, states)
    off = line_heading_rad(plan, arrangement)
    if off is not None and arrangement.pull is None and abs(off) > _OFF_LINE_RAD:
        aside = "right" if arrangement.point.y_m > 0 else "left"
        text = f"The working point is {say.length(abs(arrangement.point.y_m))} to the {aside} of the fall line: the rope runs to the edge at {math.degrees(abs(off)):.0f}° to it."
        yield Finding(
            "off-line",
            "look",
            text,
            "Move the working point onto the fall line for a straight pull to the edge.",
            "point",
        )
    if (
        off is not None
        and arrangement.heading_rad is not None
        and arrangement.pull is None
        and abs(arrangement.heading_rad - off) > _OFF_LINE_RAD
    ):
        text = (
            f"It is made for a pull {math.degrees(arrangement.heading_rad - off):+.0f}° off the line's own direction."
        )
        yield Finding(
            "other-way",
            "look",
            text,
            "Turn the pull back to the line, or redirect the rope so that it does come from there.",
            "point",
        )


def _goes_slack(rig: AnchorRig, states: States) -> Iterator[Finding]:
    expected = states.swept_n
    for line in rig.lines:
        slack = np.flatnonzero(expected[:, line.index] < 1.0)
        if not len(slack):
            continue
        where = states.offsets_rad[slack[np.argmin(np.abs(states.offsets_rad[slack]))]]
        if abs(where) < 1e-9:
            text = f"The leg to {line.feature.name} hangs slack and carries nothing."
            yield Finding(
                f"slack:{line.index}",
                "look",
                text,
                "Shorten it to the length given, or leave it out.",
                f"leg:{line.index}",
            )
        else:
            text = f"A pull {math.degrees(where):+.0f}° off leaves the leg to {line.feature.name} slack: the others carry it all."
            yield Finding(
                f"slack:{line.index}",
                "look",
                text,
                "Right for one direction only: keep the pull there, or let it adjust.",
                f"leg:{line.index}",
            )


def _never_equal(rig: AnchorRig, states: States) -> Finding:
    kind = catalogue().bends[rig.arrangement.slider]
    text = f"It adjusts but never shares equally: on a {kind.name.lower()} one leg may carry {states.uneven:.1f} times another."
    better = rig.slider_eta.low < catalogue().bends["ball-bearing-pulley"].eta.low
    return Finding("never-equal", "note", text, "A pulley as slider brings them closer." if better else "", "point")


def _floats(rig: AnchorRig, states: States) -> Iterator[Finding]:
    for line in rig.lines:
        force = states.force(line.index)
        if not line.leg.pretension_n:
            yield Finding(f"loose:{line.index}", "look", f"The leg to {line.feature.name} has no pretension: the point moves until it is tight.",
                          "Pull it tight, and leave slack tail to tighten it again.", f"leg:{line.index}")  # fmt: skip
        elif force.expected < 1.0:
            text = f"Loaded, the leg to {line.feature.name} goes slack: it no longer steadies the point."
            yield Finding(
                f"slack:{line.index}",
                "look",
                text,
                "More pretension, or tighten it again once the load is on.",
                f"leg:{line.index}",
            )


def find_rigging(rig: AnchorRig, say: Wording) -> Iterator[Finding]:
    """How each leg is tied: bends, closing angles, tie-off faults."""
    for line in rig.lines:
        method, about = method_of(line.leg), f"leg:{line.index}"
        if line.radius_m is None:
            yield Finding(f"girth:{line.feature.id}", "look", f"{line.feature.name}: nobody measured how thick it is, so lengths count it as a point.",
                          "Measure it where the strap goes.", about)  # fmt: skip
        if method.path == "tie-off":
            yield from _tie_off(rig, line, say)


def _tie_off(rig: AnchorRig, line: LegLine, say: Wording) -> Iterator[Finding]:
    about, sling, drum = f"leg:{line.index}", material_of(line.leg), drum_m(line)
    if drum:
        bend = bend_round(drum, sling.thickness_m)
        if not bend.full:
            wants = say.length(FULL_STRENGTH_RATIO * sling.thickness_m)
            text = f"{line.feature.name}: {say.length(drum)} is {bend.ratio:.1f} times the {sling.name}; full strength wants {FULL_STRENGTH_RATIO:.0f} times, {wants}."
            yield Finding(f"bend:{line.index}", "look", text, "A thicker drum, or another way of tying.", about)
    left = tension_left(turns_of(line.leg), friction_of(line.leg, line.feature))
    if left.high > _TAIL_BITES:
        text = f"{line.feature.name}: {turns_of(line.leg)} turns leave up to {left.high * 100:.0f} % of the tension in the tail."
        yield Finding(f"tail:{line.index}", "look", text, "One turn more.", about)
    if line.leg.method != "drum-tie-off":
        return
    for name, level, text, mend in _drum_looks(rig, line):
        yield Finding(f"{name}:{line.index}", level, f"{line.feature.name}: {text}", mend, about)


def _drum_looks(rig: AnchorRig, line: LegLine) -> Iterator[tuple[str, Level, str, str]]:
    tie = line.leg.tie_off
    if tie is None:
        yield (
            "tie-off-unsaid",
            "look",
            "nobody said how the tie-off is finished.",
            "Say its drum, where the tail goes and what ends it.",
        )
        return
    if tie.finish == "clipped-tight":
        yield (
            "jams",
            "look",
            "clipped back tight it jams and can not be let off under load.",
            "Clip it back slack, or finish it with a releasable hitch.",
        )
    elif tie.finish == "clipped-slack" and tie.surface == "rounded-steel":
        yield (
            "slips-on",
            "look",
            "on smooth metal some tension always reaches the tail, and a slack clip will not hold it.",
            "Finish it with a hitch that holds and can be let off under load.",
        )


def find_removals(removals: list[RemovalReport]) -> Iterator[Finding]:
    """Legs whose loss the rest does not take."""
    for one in removals:
        if one.outcome in ("gives", "below"):
            yield Finding(f"goes:{one.leg}", "stop" if one.outcome == "gives" else "look", one.text,
                          "Strengthen what takes it over, add a leg, or limit how far it drops.", f"leg:{one.leg}")  # fmt: skip


def find_legs(legs: list[LegReport], target: float, say: Wording) -> Iterator[Finding]:
    """Legs below the rule, and material that is too short."""
    for leg in legs:
        about = f"leg:{leg.index}"
        if leg.verdict == "below" and leg.holds and leg.margin is not None:
            text = f"{leg.weakest} carries up to {say.force(leg.holds.low / leg.margin)} of {say.force(leg.holds.low)}: {leg.margin:.1f} : 1, below your {target:g} : 1."
            yield Finding(f"below:{leg.index}", "stop", text, "A stronger link there, or another leg to share.", about)
        for need in leg.needs:
            if need.text:
                yield Finding(f"short:{leg.index}:{need.use}", "stop", need.text, "", about)


def find_needs(needs: list[NeedReport]) -> Iterator[Finding]:
    """Material of the piece, of ties and stages that is too short."""
    for number, need in enumerate(needs):
        if need.text:
            yield Finding(f"short:{need.use}:{number}", "stop", need.text, "", "point")


def find_stages(stages: list[StageReport], target: float) -> Iterator[Finding]:
    """What sets the working point down, below the rule."""
    for number, one in enumerate(stages):
        if one.margin < target - 1e-9:
            text = f"{one.name} sets the working point down and bears all of the pull: {one.margin:.1f} : 1, below your {target:g} : 1."
            yield Finding(f"stage:{number}", "stop", text, "More strands, or what is stronger.", "point")


def find_tight(tight: TightReport | None) -> Iterator[Finding]:
    """Legs that do not stay as tight as they were pulled."""
    if tight is not None and tight.text:
        yield Finding(
            "tightened",
            "look",
            tight.text,
            "Pull opposed legs one after the other, twice round, or ask less of the others.",
            "point",
        )


def find_set_down(rig: AnchorRig, unit: Array) -> Iterator[Finding]:
    """A working point that does not lie in the pull from where its legs come together: loaded it goes there."""
    if rig.arrangement.set_down is None:
        return
    away = at(rig.arrangement.point) - rig.point
    off = math.acos(float(np.clip(away @ unit / max(float(np.linalg.norm(away)), 1e-9), -1, 1)))
    if off > _OFF_SET_RAD:
        text = f"The working point lies {math.degrees(off):.0f}° off the pull from where its legs come together: loaded it swings into it."
        yield Finding("set-aside", "look", text, "Set it down along the pull.", "point")


def find_prop(prop: Prop, bears: Range, target: float, say: Wording) -> Iterator[Finding]:
    """The pole under a floating point, judged like any other part."""
    if bears.high < 1.0:
        text = "Loaded, nothing presses on the pole: it no longer holds the point up."
        yield Finding(
            "pole-idle", "look", text, "Look whether it stands; tie it so that it can not fall away.", "point"
        )
        return
    margin = prop.holds_n.low / bears.high
    level: Level = "stop" if margin < target else "note"
    text = f"The pole bears {say.force(bears)} of {say.force(prop.holds_n)} ({prop.basis}): {margin:.1f} : 1."
    yield Finding(
        "pole", level, text, "A stouter pole, or legs that leave it less." if level == "stop" else "", "point"
    )


def find_kit(plan: Plan) -> Iterator[Finding]:
    """Whether anybody said what is in the bags."""
    if not plan.kit:
        text = "Nobody said what is in the bags: whether the material reaches is not known."
        yield Finding("kit-unsaid", "look", text, "List it under Size-up, Bags.", "point")


def find_span(rig: AnchorRig, span: SpanReport, say: Wording) -> Iterator[Finding]:
    """Tight lines: ends, pretension, slip."""
    settings = rig.arrangement.span
    assert settings is not None
    if settings.ends == "one-each" and settings.ropes > 1:
        yield Finding("one-each", "look", "One line to each anchor: an anchor that goes takes a line with it.",
                      "Gather both lines into both anchors.", "point")  # fmt: skip
    if span.slipping:
        text = f"The device slips near {say.force(span.tension.expected)}: {say.length(span.fed_m)} of line runs in and it hangs {say.length(span.sag.expected)} deep."
        yield Finding(
            "slipping", "look", text, "Lower pretension, or a deeper line; do not tie the device off.", "point"
        )
    elif span.slips_at is None:
        yield Finding("no-slip", "note", "Nothing in the line slips: whatever comes arrives at the anchors.",
                      "A device that slips near 6 kN at one end protects the line and what is behind it.", "point")  # fmt: skip
    if span.rows:
        least, most = span.rows[0], span.rows[-1]
        text = (f"Pretension {say.force(most.pretension_n)} in place of {say.force(least.pretension_n)} lifts the load by {say.length(most.gained_m)} "
                f"and takes the anchors from {say.force(least.at_anchors_n)} to {say.force(most.at_anchors_n)}.")  # fmt: skip
        yield Finding("pretension", "note", text, "Hand-tight is enough.", "point")


def find_unknown_features(rig: AnchorRig) -> Iterator[Finding]:
    for line in rig.lines:
        found = estimate(line.feature, line.rise_rad)
        if found.strength_n is None:
            yield Finding(f"unknown:{line.feature.id}", "look", f"{line.feature.name}: nobody knows what it holds. {found.why_not[0].upper()}{found.why_not[1:]}.",
                          "", f"leg:{line.index}")  # fmt: skip
