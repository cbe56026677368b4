"""The report on a plan's anchors: every candidate judged, every arrangement worked out in one state of the work."""

from __future__ import annotations

import math

import numpy as np

from rigging.anchors.chain import Link, leg_chain
from rigging.anchors.failure import Peak, peaks
from rigging.anchors.gather import gather, gathered_n
from rigging.anchors.pull import Pulling
from rigging.anchors.rig import AnchorRig, LegLine, at, check_pull, rig_anchor
from rigging.anchors.states import SWEEP, States, Swing, all_states, prop_force
from rigging.anchors.wraps import friction_of, method_of, strands_of, tension_left, turns_of
from rigging.catalogue import catalogue
from rigging.checks.anchors.made import Made
from rigging.checks.anchors.wide import widest_rad
from rigging.checks.found import URGENCY
from rigging.checks.gathered import of_made
from rigging.document import Anchor, Arrangement, Plan
from rigging.judging.anchors import LegStrength, leg_strengths
from rigging.judging.legs_gone import Outcome, leg_gone
from rigging.judging.pulls import pulling
from rigging.lines.every_state import solve
from rigging.lines.solve import Missing, Solved, Solver, ways_of
from rigging.lines.states import moments
from rigging.mechanics.vectors import Array
from rigging.quantities.faults import Refused, refuse
from rigging.quantities.ranges import Range, exactly
from rigging.quantities.symbols import symbol
from rigging.quantities.units import Wording
from rigging.site.features import estimate
from rigging.telling.anchors.candidates import candidates
from rigging.telling.anchors.looks import (
    find_kit,
    find_legs,
    find_needs,
    find_prop,
    find_removals,
    find_rigging,
    find_scheme,
    find_set_down,
    find_shape,
    find_span,
    find_stages,
    find_tight,
    find_unknown_features,
)
from rigging.telling.anchors.needs import cost_of, needs_of
from rigging.telling.anchors.piece import piece_report, stage_reports, tight_report
from rigging.telling.anchors.shapes import (
    AnchorsReport,
    ArrangementReport,
    GatherReport,
    LegReport,
    LinkReport,
    NeedReport,
    RemovalReport,
    SweepReport,
)
from rigging.telling.anchors.span import span_report
from rigging.telling.figures.shapes import CAUTION, Finding, Spot
from rigging.telling.figures.working import KNOWN, Asked, Figure, Told, Trace, Working, step
from rigging.telling.words import finding_of
from rigging.telling.words.names import state_name, why_missing

# No rule of the team covers an anchor that has lost a leg: strength over peak below this is said.
HIGH = "this leg is the stiffest, the others give, and the pull is at its most"
LOW = "this leg gives the most, the others are stiff, and the pull is at its least"


def study(
    plan: Plan,
    state: str,
    say: Wording | None = None,
    only: str | None = None,
    directions: int = SWEEP,
    asked: Asked | None = None,
) -> AnchorsReport:
    """The anchors report in a state; `only` limits it to one arrangement (by id), `directions` is how many the swing is
    asked in, `asked` the working that is asked for.

    Raises
    ------
    Refused
        If the site can not be laid out, or there is no such state. An arrangement that can not says so in its own report.
    """
    say, asked = say or Wording(), asked or Asked()
    solver = Solver(plan, ways_of(plan))
    moment = next((one for one in moments(plan) if one.id == state), None)
    if moment is None:
        raise refuse(
            "state", f"this plan has no state {state!r}", f"one of {', '.join(one.id for one in moments(plan))}"
        )
    solved = solve(solver, moment)
    reports, pulls = [], {}
    for _, anchor, arrangement in plan.arrangements():
        if only is not None and arrangement.id != only:
            continue
        own = Trace(arrangement.id, HIGH, LOW, asked)
        try:
            rig = rig_anchor(plan, arrangement)
            pull, pulled_in = _pulled(solver, anchor, arrangement, solved)
        except Refused as refused:
            reports.append(_not_there(arrangement, _why(refused)))
            continue
        pulls[anchor.id] = pull
        report = _arrangement(plan, rig, solved, pull, directions, own, say)
        report.pulled_in = state_name(plan, pulled_in) if pulled_in else ""
        reports.append(report)
    focus = next((anchor for _, anchor, one in plan.arrangements() if only is None or one.id == only), plan.anchors[0])
    needed = plan.rules.anchors_ratio * _busiest(solver, focus)
    features = candidates(plan, focus, pulls.get(focus.id), needed, Trace("features", *KNOWN, asked), say)
    return AnchorsReport(state=state, caution=CAUTION, features=features, arrangements=reports)


def _pulled(
    solver: Solver, anchor: Anchor, arrangement: Arrangement, solved: Solved | Missing
) -> tuple[Pulling | None, str]:
    """The pull on an arrangement, and the state it is from: this one, or where nothing pulls on it here, the first that
    does, as a belay's anchor is pulled when the main line goes."""
    plan, here = solver.plan, solved.moment.id
    pull = pulling(plan, anchor, arrangement, solved)
    if pull is not None or isinstance(solved, Missing):
        return pull, here
    for moment in moments(plan):
        other = solve(solver, moment) if moment.id != here else solved
        if isinstance(other, Solved) and anchor.id in other.on_anchors:
            return pulling(plan, anchor, arrangement, other), moment.id
    return None, ""


def _busiest(solver: Solver, anchor: Anchor) -> float:
    """Highest pull on an anchor in newtons while the load is held, lowered or raised."""
    states = [solve(solver, moment) for moment in moments(solver.plan) if moment.solving not in ("jammed", "goes")]
    pulls = [
        one.on_anchors[anchor.id].size.high for one in states if isinstance(one, Solved) and anchor.id in one.on_anchors
    ]
    return max(pulls, default=0.0)


def _why(refused: Refused) -> str:
    return "; ".join(f"{one.problem}: {one.right}" for one in refused.faults)


def anchor_working(plan: Plan, state: str, figure: str, say: Wording | None = None) -> Working | None:
    """The working of one figure of the anchors report, by its id; None where there is no such figure."""
    asked = Asked(figure)
    only = figure.partition("/")[0]
    known = any(one.id == only for _, _, one in plan.arrangements())
    study(plan, state, say, only if known else None, asked=asked)
    return asked.working


def spot(point: Array) -> Spot:
    return Spot(float(point[0]), float(point[1]), float(point[2]))


def _arrangement(
    plan: Plan, rig: AnchorRig, solved: Solved | Missing, pull: Pulling | None, directions: int,
    trace: Trace, say: Wording,
) -> ArrangementReport:  # fmt: skip
    arrangement = rig.arrangement
    if pull is None:
        why = (
            why_missing(solved.moment, solved.faults)
            if isinstance(solved, Missing)
            else state_name(plan, solved.id).lower()
        )
        return _not_there(arrangement, f"{why}: nothing pulls on it")
    try:
        check_pull(plan, rig, pull.unit)
        states = all_states(rig, pull.asked, Swing(arrangement.swing_rad, directions))
        peak = peaks(rig, pull) if rig.removable else {}
    except Refused as refused:
        return _not_there(arrangement, _why(refused))
    force = trace.figure("pull", pull.force_n, "N", lambda: Told("Pull on the working point", "the state's pull, the one planned for, or the arrangement's own", [symbol("F", "equilibrium of the line", pull.force_n, "N", "statics")]))  # fmt: skip
    needs = needs_of(plan, rig, trace, say)
    legs = [_leg(plan, rig, line, states, pull, needs.legs[line.index], trace) for line in rig.lines]
    strengths = leg_strengths(rig)
    lone = rig.count == 1
    gone = [
        _removal(strengths, line, states, peak.get(line.index), trace, say)
        for line in rig.lines
        if lone or line.index in rig.removable
    ]
    moved = trace.figure("movement", states.moved[0], "m", lambda: Told("Movement as the load comes on", "|p_loaded − p_unloaded|", [symbol("p", "equilibrium of the legs", float(np.linalg.norm(states.points[0])), "m", "legs")]))  # fmt: skip
    span = span_report(rig, pull, trace) if rig.scheme.made == "line" else None
    prop = prop_force(rig, pull.asked) if arrangement.prop else None
    on_prop = trace.figure("prop", prop, "N", lambda: Told("On the pole", "EA·(r − L)/r", [])) if prop else None
    cost = cost_of(rig, needs, trace)
    stages, tight = stage_reports(plan, rig, pull, trace), tight_report(rig, pull, say)
    known = [(leg.margin, leg.weakest) for leg in legs if leg.margin is not None]
    weakest = (
        min([*known, *((one.margin, one.name) for one in stages)], default=None) if len(known) == len(legs) else None
    )
    findings = [
        *(finding_of(one, plan, say) for one in of_made(Made(plan, arrangement))), *find_legs(legs, plan.rules.anchors_ratio, say), *find_needs([*needs.others, *([needs.piece] if needs.piece else [])]), *find_stages(stages, plan.rules.anchors_ratio), *find_tight(tight), *find_set_down(rig, pull.unit), *find_removals(gone),
        *find_rigging(rig, say), *find_scheme(plan, rig, states, say), *find_shape(rig, say),
        *(find_span(rig, span, say) if span else []), *find_unknown_features(rig), *find_kit(plan),
        *(find_prop(arrangement.prop, prop, plan.rules.others_ratio, say) if arrangement.prop and prop else []),
    ]  # fmt: skip
    return ArrangementReport(
        id=arrangement.id, name=arrangement.name, scheme=arrangement.made_as.name, available=True, why_not="", pulled_in="", pull=force,
        heading_rad=pull.heading_rad, direction=spot(pull.unit), loaded_at=spot(states.points[0]), movement=moved, prop=on_prop, widest_rad=widest_rad(rig)[0], legs=legs,
        sweep=_sweep(rig, states, trace), removals=gone, gather=_gather(rig, pull, float(states.points[0, 2]), trace), piece=piece_report(rig, needs.piece),
        others=needs.others, stages=stages, tight=tight, span=span, cost=cost,
        weakest_margin=weakest[0] if weakest else None, weakest=weakest[1] if weakest else "unknown",
        moves_most=max((one.moved for one in gone if one.moved), key=lambda one: one.expected, default=None),
        findings=sorted(findings, key=lambda one: URGENCY.index(one.level)),
    )  # fmt: skip


def _not_there(arrangement: Arrangement, why: str) -> ArrangementReport:
    nowhere = Spot(arrangement.point.x_m, arrangement.point.y_m, arrangement.point.z_m)
    finding = Finding("not-there", "stop", f"{arrangement.name}: {why}.", "", "point")
    return ArrangementReport(
        id=arrangement.id, name=arrangement.name, scheme=arrangement.made_as.name, available=False, why_not=why, pulled_in="", pull=None,
        heading_rad=arrangement.heading_rad or 0.0, direction=Spot(1, 0, 0), loaded_at=nowhere,
        movement=None, prop=None, widest_rad=0.0, legs=[], sweep=None, removals=[], gather=None, piece=None, others=[], stages=[], tight=None, span=None, cost=None,
        weakest_margin=None, weakest="", moves_most=None, findings=[finding],
    )  # fmt: skip


def _leg(
    plan: Plan,
    rig: AnchorRig,
    line: LegLine,
    states: States,
    pull: Pulling,
    needs: list[NeedReport],
    trace: Trace,
) -> LegReport:
    number, name = line.index + 1, line.feature.name
    on_leg, force = states.force(line.index), pull.force_n
    ea, rest = line.ea_kn.map(lambda one: one * 1000), line.rest_m(line.ea_kn.expected)
    slid = "T = k · T_slider" + ("; on its knot EA·(L − r)/r" if rig.arrangement.limit_m else "")
    how = slid if rig.slides else "T = EA·(L − r)/r"
    symbols = [
        symbol("EA", "stiffness of the leg", ea, "N", "textile-ea"),
        symbol("r", "its length unloaded", rest, "m", "geometry"),
    ]
    if rig.slides:
        eta = rig.slider_eta
        symbols = [symbol("η", f"slider, half turn: {catalogue().bends[rig.arrangement.slider].name}", eta, "", "bend-eta"),
                   symbol("cord", "shared by the legs", rig.cord_m(), "m", "geometry")]  # fmt: skip
    shown = trace.figure(f"leg:{number}", on_leg, "N", lambda: Told(f"Pull on leg {number}, {name}", how, symbols, [step("balance of forces at the working point, all luck of stiffness and pull", on_leg, "N")]))  # fmt: skip
    share_of = Range(*(100 * float(one) for one in np.sort(states.shares[:, line.index])))
    share = trace.figure(f"share:{number}", share_of, "%", lambda: Told(f"Share of leg {number}", "T / F", [symbol("T", "pull on the leg", on_leg, "N", "legs"), symbol("F", "pull, expected", force.expected, "N", "statics")]))  # fmt: skip
    links = leg_chain(rig.arrangement, line)
    rated = estimate(line.feature, line.rise_rad)
    whole = (
        [*links, Link("feature", name, rated.strength_n, rated.formula, rated.symbols)] if rated.strength_n else links
    )
    reports = [LinkReport(link.name, _link_figure(link, number, trace)) for link in whole]
    worst, weakest = _margin(rig, line, whole, states, pull)
    known = rated.strength_n is not None
    low = plan.rules.anchors_ratio
    start = at(rig.arrangement.point) if rig.bears_all(line) else rig.point
    away = at(line.feature) - states.points[0]
    turned = math.acos(float(np.clip(-(away @ pull.unit) / max(float(np.linalg.norm(away)), 1e-9), -1, 1)))
    length = trace.figure(
        f"length:{number}",
        exactly(line.spans_m),
        "m",
        lambda: Told(f"Leg {number}, working point to {name}", "distance", []),
    )
    tail = None
    if method_of(line.leg).path == "tie-off":
        mu = friction_of(line.leg, line.feature)
        left = tension_left(turns_of(line.leg), mu).map(lambda one: 100 * one)
        tail = trace.figure(f"tail:{number}", left, "%", lambda: Told(f"Tension left in the tail, {turns_of(line.leg)} turns", "100·e^(−2πnμ)", [symbol("n", "turns", turns_of(line.leg), "", "leader"), symbol("μ", "rope on the feature", mu, "", "edge-mu")], [step(f"after {n} turns", tension_left(n, mu).map(lambda one: 100 * one), "%") for n in range(1, turns_of(line.leg) + 1)], KNOWN))  # fmt: skip
    return LegReport(
        index=line.index, feature=line.feature.id, name=name, start=spot(start), end=spot(at(line.feature)), length=length,
        force=shown, share=share, off_pull_rad=turned, slack=on_leg.expected < 1.0, links=reports,
        holds=_link_figure(weakest, number, trace) if known else None, weakest=f"{name}: {weakest.id}" if known else "unknown",
        margin=worst if known else None, verdict=("below" if worst < low - 1e-9 else "meets") if known else "unknown",
        behind=rig.scheme.made == "front" and line.index > 0, strands=strands_of(line.leg), needs=needs, limits=method_of(line.leg).limits, tail=tail,
    )  # fmt: skip


def _link_figure(link: Link, number: int, trace: Trace) -> Figure:
    return trace.figure(
        f"link:{number}:{link.id}",
        link.strength_n,
        "N",
        lambda: Told(f"{link.name} holds", f"S = {link.rule}", list(link.symbols), [], KNOWN),
    )


def _margin(rig: AnchorRig, line: LegLine, links: list[Link], states: States, pull: Pulling) -> tuple[float, Link]:
    """Least margin of the chain over all luck and the whole swing, and the link that has it.

    A front leg that is tied back carries the whole pull up to its feature."""
    on_leg = max(states.swung(line.index).high, 1.0)
    front = rig.bears_all(line)
    judged = [
        (link.strength_n.low / (max(pull.force_n.high, 1.0) if front and link.id != "feature" else on_leg), link)
        for link in links
    ]
    return min(judged, key=lambda pair: pair[0])


def _sweep(rig: AnchorRig, states: States, trace: Trace) -> SweepReport:
    leg = max(range(rig.count), key=lambda one: states.swung(one).high)
    every = [states.swung(one) for one in range(rig.count)]
    value, where = (
        Range(min(one.low for one in every), every[leg].expected, every[leg].high),
        float(states.worst_rad[leg]),
    )
    name = rig.lines[leg].feature.name
    worst = trace.figure("worst", value, "N", lambda: Told(f"Most that any leg sees within the swing: {name}", "largest T over the directions asked", [symbol("swing", "to either side", math.degrees(states.offsets_rad[-1]), "°", "swing"),
                          symbol("at", "off the pull", math.degrees(where), "°", "legs")]))  # fmt: skip
    return SweepReport(
        offsets_rad=states.offsets_rad.tolist(), forces_n=states.swept_n.T.tolist(), worst_leg=leg,
        worst_rad=where, worst=worst,
    )  # fmt: skip


def _removal(
    legs: list[LegStrength], line: LegLine, states: States, peak: Peak | None, trace: Trace, say: Wording
) -> RemovalReport:
    number, name = line.index + 1, line.feature.name
    own = next(one for one in legs if one.line is line)
    found = leg_gone(legs, own, peak)
    if peak is None or found.busiest is None or found.busiest_n is None or found.taker is None:
        here, text = spot(states.points[0]), f"{name} goes: nothing is left to hold."
        return RemovalReport(line.index, name, here, None, [], None, None, 0.0, "nothing", text)
    moved = states.moved[1 + line.index]
    figure = trace.figure(f"gone:{number}:moved", moved, "m", lambda: Told(f"{name} goes: the point moves", "|p_after − p_before|", [symbol("p", "equilibrium without this leg", moved, "m", "legs")]))  # fmt: skip
    forces = [
        trace.figure(f"gone:{number}:leg:{other.index + 1}", states.force(other.index, 1 + line.index), "N", lambda: Told(f"{name} goes: pull on {other.feature.name}", "T = EA·(L − r)/r", []))
        for other in (one.line for one in legs)
    ]  # fmt: skip
    point = spot(states.points[1 + line.index])
    shown = trace.figure(f"gone:{number}:peak", peak.force_n, "N", lambda: Told(f"{name} goes: peak pull on what is left", "∫(F(x) − W)dx = 0", [symbol("h", "free drop before anything is taut", peak.drop_m, "m", "legs")]))  # fmt: skip
    takes, most = found.busiest.line, found.busiest_n
    words = _OUTCOMES[found.outcome]
    text = f"{name} goes: the point moves {say.length(moved.expected)}, {takes.feature.name} takes {say.force(most)} at the peak"
    if math.isinf(peak.slips_m):
        words = "what slips in the line does not stop again"
    elif peak.slips_m:
        text += f" ({say.length(peak.slips_m)} slip through)"
    text += f"; {words.format(name=found.taker.line.feature.name, ratio=found.ratio or 0.0)}."
    slips = None if math.isinf(peak.slips_m) else peak.slips_m
    at_peak = trace.figure(f"gone:{number}:taker", most, "N", lambda: Told(f"{name} goes: peak on {takes.feature.name}", "T at the peak of what is left", [symbol("peak", "on what is left", peak.force_n, "N", "peak")]))  # fmt: skip
    return RemovalReport(line.index, name, point, figure, forces, shown, at_peak, slips, found.outcome, text)


_OUTCOMES: dict[Outcome, str] = {
    "gives": "{name} gives", "unknown": "whether it holds is not known: a feature is not judged",
    "below": "{name} is left with {ratio:.1f} : 1 on the peak",
    "holds": "what remains holds it, {ratio:.1f} : 1 on the peak at the least",
}  # fmt: skip


# Of the pull: where no lengths balance more of it, nothing about them is in balance, so no figure of theirs is told.
_MISSES = 0.02


def _gather(rig: AnchorRig, pull: Pulling, rests_m: float, trace: Trace) -> GatherReport | None:
    """Leg lengths for the wanted point, for schemes that are gathered to length."""
    if rig.count < 2 or rig.slides or not rig.scheme.one_way:
        return None
    to = np.array([at(line.feature) for line in rig.lines])
    found = gather(to, rig.whole.ea_kn[1, : rig.count], pull.force_n.expected / 1000 * pull.unit, rig.point, rests_m)
    if found.misses > _MISSES:
        text = f"No lengths bring the loaded point there: the legs can balance all but {found.misses * 100:.0f} % of the pull. Move the point into their plane, or the pull."
        return GatherReport(spot(found.point), [], [], None, text)
    on_legs = gathered_n(rig, found, pull.asked)
    corners = [
        gather(to, rig.whole.ea_kn[level, : rig.count], end / 1000, rig.point, rests_m)
        for level in (0, 2)
        for end in pull.asked.ends
    ]
    every = np.array([found.rest_m, *(one.rest_m for one in corners)])
    rests = [Range(float(row.min()), float(row[0]), float(row.max())) for row in every.T]
    lengths = [
        trace.figure(f"gather:{line.index + 1}", rest, "m", lambda: Told(f"Tie the leg to {line.feature.name}", "r = L / (1 + T/EA)", [symbol("L", "feature to where the loaded point rests", float(np.linalg.norm(found.point - at(line.feature))), "m", "geometry"), symbol("T", "as even as it goes", float(tension) * 1000, "N", "legs")]))
        for line, rest, tension in zip(rig.lines, rests, found.tensions_kn, strict=True)
    ]  # fmt: skip
    forces = [trace.figure(f"gather:{line.index + 1}:force", bears, "N", lambda: Told(f"Then on {line.feature.name}", "Σ T·u = F, T as even as it goes; low and high with the legs soft or stiff", []))
              for line, bears in zip(rig.lines, on_legs, strict=True)]  # fmt: skip
    most, *others = (float(np.max(np.abs(one.per_metre_kn))) * 10 for one in (found, *corners))
    per_cm = trace.figure(
        "gather:sensitivity",
        Range(min(most, *others), most, max(most, *others)),
        "N",
        lambda: Told("A centimetre in one leg moves a leg's pull by up to", "∂T_i/∂r_j at equilibrium · 0.01 m", []),
    )
    return GatherReport(spot(found.point), lengths, forces, per_cm, "")
