"""Document to report: every phase solved, every part judged, every figure with its working."""

from __future__ import annotations

import math

from rigging.advice.swaps import eta_of, hand_with, swaps
from rigging.telling.anchor_findings import find_features
from rigging.anchors.pull import line_direction, start_of, way_from
from rigging.anchors.rig import AnchorRig, check_pull, rig_anchor
from rigging.anchors.states import States, all_states, offsets
from rigging.lines.build import LOAD, PHASES, Crossing, Phase, passed_on, reach_m
from rigging.judging.capacity import LegStrength, leg_strengths, parts_in_load_order, rung
from rigging.catalogue import catalogue
from rigging.judging.checks import (
    find_hold,
    find_jam,
    find_lower,
    find_raise,
    find_rope,
    find_site,
    find_unknown,
    find_weakest,
    haulers_needed,
    open_bends,
)
from rigging.document import Haul, Plan
from rigging.site.ground import RopeWay, check_site
from rigging.catalogue.haul import Advantage, advantage
from rigging.lines.lengths import haul_rope, lowering_rope_m, rise_m
from rigging.site.load import GRAVITY, Resting, load_mass
from rigging.mechanics.motion import stroke_m
from rigging.mechanics.network import Node, Strand
from rigging.lines.phases import Solved, plain_node, solve_all
from rigging.quantities.ranges import exactly
from rigging.telling.report import (
    CAUTION,
    CrossingReport,
    Finding,
    HaulReport,
    NodeReport,
    PhaseReport,
    Place,
    Report,
    RopeBudget,
    Rung,
    SiteReport,
    StageOpen,
    StrandReport,
    TurnReport,
)
from rigging.telling.units import Wording
from rigging.telling.working import KNOWN, Figure, Symbol, Trace, step, symbol

# Directions asked about in every phase: straight, and all of the swing to either side.
_SWINGS = 3


def analyse(plan: Plan, say: Wording | None = None) -> Report:
    """The report on a plan.

    Raises
    ------
    Refused
        If the plan can not be laid out: points under the ground, a load where no ground is entered.
    """
    say = say or Wording()
    check_site(plan.site, start_of(plan.arrangement))
    way = way_from(plan, plan.arrangement)
    solved = solve_all(plan, way)
    rig = rig_anchor(plan, plan.arrangement)
    states, legs = _anchor_states(plan, rig, solved), leg_strengths(rig)
    raising = solved["raise"]
    gives = (
        advantage(plan.line.haul.system, eta_of(plan.line.haul))
        if plan.line.haul and isinstance(raising, Solved)
        else None
    )
    trace = Trace("plan", "see the symbols", "see the symbols")
    workings = trace.workings
    phases: dict[Phase, PhaseReport] = {}
    for phase in PHASES:
        one = solved[phase]
        if isinstance(one, str):
            phases[phase] = _unavailable(phase, one)
            continue
        phase_trace = Trace(phase, one.cases.high_when, one.cases.low_when)
        phases[phase] = _phase(plan, one, gives, way, legs, states[phase], phase_trace, trace, say)
        workings.update(phase_trace.workings)
    haul = _haul(plan, raising, gives, way, trace) if gives and isinstance(raising, Solved) else None
    general = [
        *find_features(rig),
        *find_rope(plan, way, raising if isinstance(raising, Solved) else None, say),
        *find_site(plan, way, say),
    ]
    return Report(
        title=plan.title, caution=CAUTION, site=_site(plan, way, trace), haul=haul,
        budgets=_budgets(plan, raising, way, trace), phases=phases, findings=general,
        open=_open(legs, phases, general), workings=workings,
    )  # fmt: skip


def _anchor_states(plan: Plan, rig: AnchorRig, solved: dict[Phase, Solved | str]) -> dict[Phase, States]:
    """The anchor whole in every phase, the pull straight and swung, worked out together."""
    there = {phase: one for phase, one in solved.items() if isinstance(one, Solved)}
    unit = line_direction(plan, plan.arrangement)
    check_pull(plan, rig, unit)
    swing = offsets(plan.arrangement.swing_rad, _SWINGS)
    forces = [one.on_anchor() for one in there.values()]
    return dict(zip(there, all_states(rig, forces, unit, swing, [None]), strict=True)) if there else {}


def _unavailable(phase: Phase, why: str) -> PhaseReport:
    return PhaseReport(
        phase=phase, available=False, why_not=why, high_when="", low_when="", nodes=[], ropes=[], strands=[],
        crossings=[], hand=None, at_anchor=None, rungs=[], weakest=None, findings=[],
    )  # fmt: skip


def _phase(
    plan: Plan, solved: Solved, gives: Advantage | None, way: RopeWay, legs: list[LegStrength], states: States, trace: Trace,
    known: Trace, say: Wording,
) -> PhaseReport:  # fmt: skip
    strands = _strands(solved, trace)
    rungs = [rung(plan, part, trace, known) for part in parts_in_load_order(plan, solved, legs, states, say)]
    weakest = weakest_of(rungs)
    findings: list[Finding] = list(find_unknown(rungs))
    if solved.phase != "jam":
        findings += find_weakest(weakest, say)
    if solved.phase == "hold":
        findings += find_hold(plan)
    elif solved.phase == "lower":
        findings += find_lower(plan, solved, say)
    elif solved.phase == "raise" and gives:
        findings += find_raise(plan, solved, gives, way, say)
    elif solved.phase == "jam":
        findings += find_jam(plan, solved, rungs, say)
    return PhaseReport(
        phase=solved.phase, available=True, why_not="", high_when=solved.cases.high_when, low_when=solved.cases.low_when,
        nodes=[_node(plan, solved, node) for node in solved.network.nodes.values()],
        ropes=[list(rope.route) for rope in solved.network.ropes], strands=strands,
        crossings=_crossings(solved, trace), hand=_hand(plan, solved, trace), at_anchor=_at_anchor(solved, trace),
        rungs=rungs, weakest=weakest.id if weakest else None, findings=sorted(findings, key=_urgency),
    )  # fmt: skip


def _urgency(finding: Finding) -> int:
    return ("stop", "look", "note").index(finding.level)


def weakest_of(rungs: list[Rung]) -> Rung | None:
    """The part with the least of its target: margin over what the rule asks."""
    judged = [one for one in rungs if one.margin is not None]
    return min(judged, key=lambda one: one.margin.low / one.target if one.margin else math.inf, default=None)


def _node(plan: Plan, solved: Solved, node: Node) -> NodeReport:
    return NodeReport(
        id=node.id, kind=node.kind, name=_node_name(plan, solved, node),
        at=Place(x_m=node.at[0], z_m=node.at[1]), out_m=solved.rig.out_m(node),
    )  # fmt: skip


def _node_name(plan: Plan, solved: Solved, node: Node) -> str:
    if node.kind == "load":
        return ", ".join(item.name for item in plan.load.items)
    if node.kind == "hand":
        return (
            "held"
            if solved.phase == "hold"
            else "brake hand"
            if solved.phase == "lower"
            else f"{plan.team.haulers} haulers"
        )
    if node.kind == "edge":
        return next(c.name for c in solved.rig.crossings.values() if c.node == node.id)
    return plan.arrangement.name if node.kind == "anchor" else f"haul grab {node.id}"


def _load_symbols(load: Resting) -> list[Symbol]:
    return [
        symbol("m", "mass on the rope", load.mass_kg, "kg", "leader"),
        symbol("g", "standard gravity", GRAVITY, "m/s²", "gravity"),
        symbol("θ", "steepness of the ground at the load", math.degrees(load.slope_rad), "°", "geometry"),
        symbol("δ", "the rope's lift above the ground", math.degrees(load.lift_rad), "°", "geometry"),
        symbol("μ", "load against the ground", load.mu, "", "contact-mu"),
    ]


def _load_formula(solved: Solved) -> tuple[str, list[Symbol]]:
    if solved.phase == "jam":
        return "T = heave · tension per unit of pull", []
    if solved.resting.hangs:
        return "T = m·g", _load_symbols(solved.resting)[:2]
    sign = {"raise": "+", "lower": "−"}.get(solved.phase, "∓")
    return f"T = m·g·(sin θ {sign} μ·cos θ) / (cos δ {sign} μ·sin δ)", _load_symbols(solved.resting)


def _strands(solved: Solved, trace: Trace) -> list[StrandReport]:
    found = []
    for row in solved.network.strands:
        for strand in row:
            key = f"{strand.rope}.{strand.index}"
            found.append(
                StrandReport(
                    id=key, rope=strand.rope, index=strand.index, start=strand.start, end=strand.end,
                    main=strand.rope in solved.rig.main_ropes, tension=_tension(solved, strand, trace),
                )
            )  # fmt: skip
    return found


def _tension(solved: Solved, strand: Strand, trace: Trace) -> Figure:
    value = solved.strand(strand.rope, strand.index)
    per_unit = solved.per_unit[strand.rope][strand.index]
    formula, symbols = (
        "T = t · P",
        [
            symbol(
                "t", "tension of this strand per unit of pull, walking the rope from the hand", per_unit, "", "statics"
            ),
            symbol("P", "pull at the hand", solved.hand(), "N", "statics"),
        ],
    )
    if LOAD in (strand.start, strand.end) and solved.phase != "jam":
        formula, symbols = _load_formula(solved)
    title = f"Tension from {plain_node(strand.start)} to {plain_node(strand.end)}"
    return trace.figure(f"strand:{strand.rope}.{strand.index}", title, value, "N", formula, symbols)


def _plain_name(crossing: Crossing) -> str:
    """The name inside a sentence: an edge keeps the name the leader gave it."""
    return crossing.name if crossing.role == "edge" else f"the {crossing.name[0].lower()}{crossing.name[1:]}"


def _share(crossing: Crossing, trace: Trace) -> Figure:
    formula = {"η": "η^(θ/π)", "μ": "e^(−μ·θ)", "r": "1 / r"}[crossing.symbol]
    symbols = [symbol(crossing.symbol, crossing.name, crossing.quantity, "", crossing.source)]
    if crossing.symbol != "r":
        symbols.append(symbol("θ", "angle the rope turns through", crossing.turn_rad, "rad", "geometry"))
    if crossing.symbol == "μ":
        symbols.append(
            symbol(
                "e^(μθ)",
                "capstan: how much more on the pulling side",
                passed_on(crossing).map(lambda k: 1 / k),
                "",
                "capstan",
            )
        )
    return trace.figure(
        f"share:{crossing.id}",
        f"Share that {_plain_name(crossing)} passes on",
        passed_on(crossing),
        "",
        formula,
        symbols,
        None,
        KNOWN,
    )


def _crossings(solved: Solved, trace: Trace) -> list[CrossingReport]:
    found = []
    for rope, index, one in solved.passes():
        crossing = solved.rig.crossings[one.id]
        force = trace.figure(
            f"on:{one.id}", f"Force on {_plain_name(crossing)}", solved.on_pass(rope, index), "N", "F = |T₁·u₁ + T₂·u₂|",
            [symbol("T₁", "strand before", solved.strand(rope, index), "N", "statics"),
             symbol("T₂", "strand after", solved.strand(rope, index + 1), "N", "statics"),
             symbol("θ", "angle the rope turns through", one.turn_rad, "rad", "geometry")],
        )  # fmt: skip
        raising = solved.phase == "raise"
        found.append(
            CrossingReport(
                id=one.id, role=crossing.role, node=one.node, kind=crossing.kind, name=crossing.name,
                turn_rad=crossing.turn_rad, passes_on=_share(crossing, trace), force=force,
                cost=_cost(solved, crossing, trace) if raising else None,
                swaps=swaps(solved, crossing) if raising else [],
            )
        )  # fmt: skip
    return found


def _cost(solved: Solved, crossing: Crossing, trace: Trace) -> Figure:
    """Hand pull that the friction of this one crossing costs."""
    without = hand_with(solved, {crossing.id: 1.0})
    cost = solved.hands_n[1] - without
    return trace.figure(
        f"cost:{crossing.id}", f"What {_plain_name(crossing)} costs at the hands", exactly(cost), "N", "P − P′",
        [symbol("P", "pull at the hands, all as expected", solved.hands_n[1], "N", "statics"),
         symbol("P′", "the same with this bend free of friction", without, "N", "statics")],
    )  # fmt: skip


def _hand(plan: Plan, solved: Solved, trace: Trace) -> Figure:
    if solved.phase == "jam":
        return trace.figure(
            "hand", "The team's heave", solved.hand(), "N", "P = n · heave each",
            [symbol("n", "haulers", plan.team.haulers, "", "leader"), symbol("heave", "each, for a moment", plan.team.heave_n, "N", "hauler-pull")],
        )  # fmt: skip
    title = {"hold": "What the capture holds", "lower": "Force at the brake hand"}.get(
        solved.phase, "Pull at the hands"
    )
    return trace.figure(
        "hand", title, solved.hand(), "N", "P = T_load / a",
        [symbol("T_load", "tension at the load", solved.at_load(), "N", "incline"),
         symbol("a", "force on the load per unit of pull, bends and edges included", solved.line_advantage(), "", "statics")],
        solved.walk,
    )  # fmt: skip


def _at_anchor(solved: Solved, trace: Trace) -> Figure:
    return trace.figure(
        "anchor", "Pull on the working point", solved.on_anchor(), "N", "F = |ΣT·u| over the strands at the working point",
        [symbol("P", "pull at the hand", solved.hand(), "N", "statics")], solved.walk,
    )  # fmt: skip


def _haul(plan: Plan, solved: Solved, gives: Advantage, way: RopeWay, trace: Trace) -> HaulReport:
    haul = plan.line.haul
    assert haul is not None
    actual = trace.figure(
        "actual", f"Actual advantage of the {haul.system.name}", gives.actual, "", "a = T_load / P, each bend passing on η",
        [symbol("ideal", "haul distance over load distance", gives.ideal, "", "virtual-work"),
         *[symbol(f"η {name}", _bend_name(haul, name), eta, "", "bend-eta") for name, eta in eta_of(haul).items()]],
        [step(f"piece {p + 1}, strand {s + 1}, per unit of pull", t, "") for p, row in enumerate(gives.tensions) for s, t in enumerate(row)],
    )  # fmt: skip
    line = trace.figure(
        "line-actual", "Advantage of the whole line, edges included", solved.line_advantage(), "", "a = T_load / P",
        [symbol("a", "haul system alone", gives.actual, "", "statics")], solved.walk,
    )  # fmt: skip
    rise = trace.figure(
        "rise", "Rise to the first corner", exactly(rise_m(way)), "m", "rope from load to the first corner",
        [symbol("L", "whole line", way.length_m, "m", "geometry")],
    )  # fmt: skip
    through = trace.figure(
        "through-hands", "Rope through the hands", exactly(rise_m(way) * solved.motion.ideal), "m", "ideal · rise",
        [symbol("ideal", "haul distance over load distance", solved.motion.ideal, "", "virtual-work"), symbol("rise", "load", rise_m(way), "m", "geometry")],
    )  # fmt: skip
    stroke, runs_out = _stroke(plan, solved, way, trace)
    strokes = math.ceil(rise_m(way) / stroke.expected - 1e-9) if stroke and stroke.expected > 0 else None
    return HaulReport(
        name=haul.system.name, ideal=gives.ideal, actual=actual, line_actual=line,
        haulers_sustained=_haulers(plan.team.sustained_n, "sustained", solved, trace),
        haulers_heave=_haulers(plan.team.heave_n, "heave", solved, trace),
        stroke=stroke, runs_out=runs_out, strokes=strokes, resets=strokes - 1 if strokes else None,
        rise=rise, through_hands=through, open_bends=open_bends(haul),
    )  # fmt: skip


def _bend_name(haul: Haul, place: str) -> str:
    return catalogue().bends[haul.bends.get(place, "unknown")].name


def _haulers(each_n: float, how: str, solved: Solved, trace: Trace) -> Figure:
    hand = solved.hand()
    counts = hand.map(lambda force: float(haulers_needed(force, each_n)))
    return trace.figure(
        f"haulers-{how}", f"Haulers needed, {how}", counts, "people", "n = P / pull each, rounded up",
        [symbol("P", "pull at the hands", hand, "N", "statics"), symbol("pull each", how, each_n, "N", "hauler-pull")],
    )  # fmt: skip


def _stroke(plan: Plan, solved: Solved, way: RopeWay, trace: Trace) -> tuple[Figure | None, str]:
    clearance = catalogue().clearance_m
    rise, used_up = stroke_m(solved.network, solved.motion, clearance)
    if used_up is None:
        return None, "nothing runs out: one long pull"
    rate = -solved.motion.rates[used_up.rope][used_up.index]
    figure = trace.figure(
        "stroke", "Rise of the load in one haul", exactly(rise), "m", "(strand − clearance) / rate",
        [symbol("strand", f"{plain_node(used_up.start)} to {plain_node(used_up.end)}, grab set forward", used_up.length_m, "m", "geometry"),
         symbol("clearance", "hitch, connector and pulley between them", clearance, "m", "clearance"),
         symbol("rate", "how fast it shortens per metre the load rises", rate, "", "virtual-work"),
         symbol("reach", "how far forward the grab can be set", reach_m(plan, way), "m", "geometry")],
    )  # fmt: skip
    return figure, f"{plain_node(used_up.start)} meets {plain_node(used_up.end)}"


def _budgets(plan: Plan, raising: Solved | str, way: RopeWay, trace: Trace) -> list[RopeBudget]:
    found = []
    if plan.line.lowering:
        parts = [symbol("line", "station to edge and drop", way.length_m, "m", "geometry")]
        found.append(_budget(plan, "lower", lowering_rope_m(plan, way), 0.0, parts, trace))
    if isinstance(raising, Solved):
        rope = haul_rope(raising)
        parts = [symbol("line", "every strand of the main rope, grab set forward", rope.main_m, "m", "geometry")]
        found.append(_budget(plan, "raise", rope.main_m + plan.line.tail_m, rope.other_m, parts, trace))
    return found


def _budget(plan: Plan, job: str, needed_m: float, other_m: float, parts: list[Symbol], trace: Trace) -> RopeBudget:
    tail = symbol("tail", "kept back at the station", plan.line.tail_m, "m", "rope-tail")
    length = symbol("length", "rope there", plan.line.length_m, "m", "leader")
    return RopeBudget(
        job="lower" if job == "lower" else "raise",
        length=trace.figure(f"length:{job}", "Rope there", exactly(plan.line.length_m), "m", "length", [length]),
        needed=trace.figure(f"needed:{job}", f"Rope needed to {job}", exactly(needed_m), "m", "line + tail", [*parts, tail]),
        left=trace.figure(f"left:{job}", f"Rope left to {job}", exactly(plan.line.length_m - needed_m), "m", "length − line − tail", [length, *parts, tail]),
        other=trace.figure(f"other:{job}", "Rope from other pieces", exactly(other_m), "m", "strands not of the main rope", []),
    )  # fmt: skip


def _site(plan: Plan, way: RopeWay, trace: Trace) -> SiteReport:
    turns = [
        TurnReport(
            id=f"edge:{n}", name=turn.edge.name if turn.edge else "Ground, no edge entered",
            at=Place(x_m=turn.at[0], z_m=turn.at[1]), turn_rad=turn.turn_rad, entered=turn.edge is not None,
        )
        for n, turn in enumerate(way.turns, start=1)
    ]  # fmt: skip
    length = trace.figure(
        "line-length", "Length of the line", exactly(way.length_m), "m", "taut line over the ground",
        [symbol("corners", "where the rope bends", len(way.turns), "", "geometry")],
    )  # fmt: skip
    first = way.points[1]
    return SiteReport(
        way=[Place(x_m=x, z_m=z) for x, z in way.points], turns=turns, line_length=length,
        drop_m=first[1] - way.points[-1][1], load_mass=load_mass(plan),
    )  # fmt: skip


def _open(legs: list[LegStrength], phases: dict[Phase, PhaseReport], general: list[Finding]) -> list[StageOpen]:
    """What each stage still leaves open, for the rail."""
    open_yet = [f for f in general if f.level != "note"]
    size_up = [f.text for f in open_yet if not f.id.startswith("short-") and not f.about.startswith("leg:")]
    lines = [f.text for f in general if f.id.startswith("short-")]
    lines += [phase.why_not for phase in phases.values() if not phase.available and phase.phase != "jam"]
    lines += [f.text for phase in phases.values() for f in phase.findings if f.level == "stop"]
    anchors = [f.text for f in open_yet if f.about.startswith("leg:")]
    anchors += [f"{leg.line.feature.name}: {leg.feature.why_not}." for leg in legs if leg.feature.why_not]
    return [
        StageOpen(stage="size-up", items=size_up),
        StageOpen(stage="anchors", items=list(dict.fromkeys(anchors))),
        StageOpen(stage="lines", items=list(dict.fromkeys(lines))),
    ]
