"""The report on a plan: compile → solve → judge, then told. The one place where a plan's values become figures and words."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from rigging.catalogue import catalogue
from rigging.checks.anchors.made import Made
from rigging.checks.found import Found
from rigging.checks.gathered import in_state, tied_to
from rigging.checks.holding.caught import Caught as CaughtFound
from rigging.checks.holding.reaches_ground import ReachesGround
from rigging.checks.lying import bare_corner, swing
from rigging.checks.ropes import short
from rigging.document import Plan
from rigging.judging.judged import Judged, judge
from rigging.judging.margins import Part, weakest_of
from rigging.judging.pulls import lines_on
from rigging.lines.catch import Caught
from rigging.lines.hauling import reach_m
from rigging.lines.lengths import Budget, clearance_of, resets_of, sinks_m, stretch_m, stroke_of
from rigging.lines.parts import eta_of, open_bends
from rigging.lines.people import haulers_range
from rigging.lines.rig import LineRig, anchor_node
from rigging.lines.solve import LineForces, Missing, Solved, Unasked
from rigging.lines.tied import rope_ea_n
from rigging.mechanics.bounds import Cloud
from rigging.mechanics.network import Node
from rigging.mechanics.vectors import Vector
from rigging.quantities.ranges import Range, exactly
from rigging.quantities.symbols import symbol
from rigging.quantities.units import Wording
from rigging.site.conditions import heave_n, sustained_n
from rigging.site.load import load_mass
from rigging.study.place import AtPlace
from rigging.telling.figures.corners import corner_words
from rigging.telling.figures.shapes import (
    CAUTION,
    AnchorPull,
    CatchReport,
    Finding,
    HaulReport,
    LineReport,
    NodeReport,
    Report,
    RopeBudget,
    Rung,
    SiteReport,
    Spot,
    StateGroup,
    StateReport,
    TurnReport,
    WholeReport,
)  # fmt: skip
from rigging.telling.figures.working import JUDGED, KNOWN, Asked, Figure, Told, Trace, Working, step
from rigging.telling.learning.drawn import drawn_as
from rigging.telling.sheet.openness import next_steps, open_items
from rigging.telling.sheet.rule import rule_report
from rigging.telling.sheet.strands import Named, crossing_reports, strand_reports, walk
from rigging.telling.words import finding_of
from rigging.telling.words.holding import caught_text
from rigging.telling.words.names import ON_TENSION_LINE, line_name, part_mend, part_name, state_name, why_missing

_CASES: dict[str, tuple[str, str]] = {
    "held": ("friction holds tension in the rope against the load, as just after a haul, and the load is at its heaviest",
             "edges and ground grip and carry part of the load, and it is at its lightest"),
    "lowering": ("edges and device are slick, the load is at its heaviest", "edges and device grip well, the load is at its lightest"),
    "raising": ("every bend and edge drags, the load is at its heaviest", "every bend and edge runs well, the load is at its lightest"),
    "jammed": ("bends and edges run well, so the whole heave arrives", "bends and edges drag and eat part of the heave"),
    "goes": ("the rope is stiff, what slips holds on, the load is at its heaviest", "the rope is soft, what slips gives early, the load is at its lightest"),
}  # fmt: skip
_GROUPS: dict[str, StateGroup] = {
    "held": "held", "lowering": "lower", "lowering-hands-off": "lower", "raising": "raise", "between-hauls": "raise",
    "raising-hands-off": "raise", "jammed": "raise",
}  # fmt: skip


def analyse(plan: Plan, say: Wording | None = None, only: str | None = None) -> Report:
    """The report on a plan. `only`: the one state that is told, as a finger wants it, without what takes every state.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    return _Telling(judge(plan, only), say or Wording(), Asked(), only).report()


def working_of(plan: Plan, figure: str, say: Wording | None = None) -> Working | None:
    """The working of one figure of the plan's report, by its id; None where there is no such figure."""
    asked = Asked(figure)
    only = figure.partition("/")[0]
    _Telling(judge(plan, only), say or Wording(), asked, only).report()
    return asked.working


class _Telling:
    """Tells one judged plan."""

    def __init__(self, judged: Judged, say: Wording, asked: Asked, only: str | None = None):
        self.only = only
        self.judged, self.say, self.asked = judged, say, asked
        self.here = AtPlace(judged)
        self.plan = self.here.plan
        self.trace = Trace("plan", "see the symbols", "see the symbols", asked)

    def report(self) -> Report:
        judged, plan = self.judged, self.plan
        states = [self._state(id, one) for id, one in judged.states.items()]
        general = [self._finding(one) for one in self._general()]
        return Report(
            caution=CAUTION, site=self._site(), lines=[self._line(line.id) for line in plan.lines],
            haul=self._haul(), budgets=[self._budget(one) for one in judged.budgets if plan.lines or not plan.tension_lines], states=states,
            opens_in=next((one.id for one in states if one.id == "raising" and one.available), None)
            or next((one.id for one in states if one.available), states[0].id),
            findings=general, whole=None if self.only is not None else WholeReport(
                rule_report(plan, judged, self.say), open_items(plan, states, general, self.here, self.say),
                next_steps(self.here)),
        )  # fmt: skip

    def _general(self) -> Iterator[Found]:
        """What is to be heard whatever the state: what the anchors in use are tied to, rope, how the load and its rope lie."""
        pulled = {anchor for _, anchor in self.judged.anchors}
        for anchor in self.plan.anchors:
            if anchor.id in pulled or lines_on(self.plan, anchor.id):
                yield from tied_to(Made(self.plan, anchor.arrangement, f"{anchor_node(anchor.id)}:"))
        for check in (short, bare_corner, swing):
            yield from check.find(self.here)

    def _finding(self, found: Found) -> Finding:
        return finding_of(found, self.plan, self.say)

    # States

    def _state(self, id: str, one: Solved | Missing | Unasked) -> StateReport:
        name, group = state_name(self.plan, id), _GROUPS.get(id, "goes")
        if id not in self.here.states or not isinstance(one, Solved) or (self.only is not None and id != self.only):
            faults = one.faults if isinstance(one, Missing) else ()
            missing = why_missing(one.moment, faults) if id in self.here.states else ON_TENSION_LINE
            return StateReport(
                id=id, name=name, group=group, available=not missing, why_not=missing, high_when="", low_when="", nodes=[],
                ropes=[], strands=[], crossings=[], hand=None, hand_line="", anchors=[], rungs=[], weakest=None, findings=[],
                catch=None,
            )  # fmt: skip
        high_when, low_when = _CASES[one.moment.solving]
        trace = Trace(id, high_when, low_when, self.asked)
        parts = self.judged.parts[id]
        weakest = weakest_of(parts)
        hand = next((line for line in one.lines if self._hand_force(one, line) is not None), None)
        return StateReport(
            id=id, name=name, group=group, available=True, why_not="", high_when=high_when, low_when=low_when,
            nodes=[self._node(one, rig, node) for rig in one.rig.lines for node in rig.nodes.values() if _first(one, rig, node)],
            ropes=[list(rope.route) for rig in one.rig.lines for rope in rig.ropes],
            strands=[row for rig in one.rig.lines for row in strand_reports(one, rig, self._named(one, rig), trace)],
            crossings=[row for line in one.lines for row in crossing_reports(one, line, trace)],
            hand=self._hand(one, hand, trace) if hand else None, hand_line=hand.rig.line.id if hand else "",
            anchors=[self._anchor(one, id, pulls, trace) for id, pulls in one.on_anchors.items()],
            rungs=[self._rung(one, part, trace) for part in parts], weakest=weakest.id if weakest else None,
            findings=[self._finding(found) for found in in_state(self.here, one)], catch=self._catch(one, trace),
        )  # fmt: skip

    def _node(self, solved: Solved, rig: LineRig, node: Node) -> NodeReport:
        return NodeReport(
            node.id, node.kind, self._node_name(solved, rig, node), _spot(node.at), node.on, rig.out_m(node)
        )

    def _node_name(self, solved: Solved, rig: LineRig, node: Node) -> str:
        place = node.id.partition(":")[2]
        if node.kind == "load":
            return ", ".join(item.name for item in self.plan.load.items)
        if node.kind == "anchor":
            return self.plan.anchor(place).name
        if node.kind == "hands":
            return (
                "brake hand"
                if rig.mode == "running"
                else "belayer"
                if rig.line.belay
                else f"{self.plan.team.haulers} haulers"
            )
        crossing = next((one for one in rig.crossings.values() if one.node == node.id), None)
        if node.kind == "edge" and crossing:
            return crossing.name
        named = {"device": "lowering device", "brake": "brake-side hitch", "ratchet": "ratchet", "belay": "belay"}
        return named.get(place) or (f"haul grab {place}" if node.kind == "grab" else place)

    def _named(self, solved: Solved, rig: LineRig) -> Named:
        return lambda node: self._node_name(solved, rig, rig.nodes[node])

    def _hand_force(self, solved: Solved, line: LineForces) -> Range | None:
        if line.running is not None:
            return line.running.hand
        return None if isinstance(solved, Caught) else _end_force(line)

    def _hand(self, solved: Solved, line: LineForces, trace: Trace) -> Figure:
        force = self._hand_force(solved, line)
        assert force is not None

        def tell() -> Told:
            return replace(about(), cases=corner_words(solved, force))

        def about() -> Told:
            if solved.moment.solving == "jammed":
                team = self.plan.team
                return Told("The team's heave", "P = n · heave each", [
                    symbol("n", "haulers", team.haulers, "", "leader"),
                    symbol("heave", "each, for a moment", heave_n(self.plan), "N", "hauler-pull")])  # fmt: skip
            title = {"held": "What holds the rope's end", "lowering": "Force at the brake hand"}.get(
                solved.moment.solving, "Pull at the hands"
            )
            if solved.moment.hands_off:
                title = "What the hitch holds"
            load = symbol("T_load", "tension at the load", line.at_load, "N", "incline")
            if line.running is None:
                return Told(title, "T · ∏η ≤ P ≤ T / ∏η", [load], walk(line))
            share = symbol(
                "a",
                "force on the load per unit of pull, bends and edges included",
                line.running.line_advantage,
                "",
                "statics",
            )
            return Told(title, "P = T_load / a", [load, share], walk(line))

        return trace.figure("hand", force, "N", tell)

    def _anchor(self, solved: Solved, anchor: str, pulls: Cloud, trace: Trace) -> AnchorPull:
        force, along = pulls.size, pulls.along
        name = self.plan.anchor(anchor).name
        figure = trace.figure(f"anchor:{anchor}", force, "N", lambda: Told(
            f"Pull on {name}", "F = |ΣT·u| over the strands that end or turn there",
            [symbol(f"F_{axis}", "expected", part, "N", "statics") for axis, part in zip("xyz", pulls.expected, strict=True)], [], corner_words(solved, force)))  # fmt: skip
        return AnchorPull(anchor, figure, Spot(*along.tolist()))

    def _rung(self, solved: Solved, part: Part, trace: Trace) -> Rung:
        plan = self.plan
        name = part_name(plan, part)
        force = trace.figure(f"force:{part.id}", part.force_n, "N", lambda: Told(
            f"Force on {name}", "sum of the strands that meet there",
            [symbol("F", "equilibrium at the part", part.force_n, "N", "statics")], [], corner_words(solved, part.force_n)))  # fmt: skip
        strength = margin = None
        if part.strength_n is not None:
            held = part.strength_n
            strength = trace.figure(f"strength:{part.id}", held, "N", lambda: Told(
                f"Strength of {name}", f"S = {part.rule}", list(part.symbols), [], KNOWN))  # fmt: skip
            if part.margin is not None:
                value = part.margin
                source = part.symbols[0].source if part.symbols else "leader"
                margin = trace.figure(f"margin:{part.id}", value, "", lambda: Told(
                    f"Margin of {name}", "m = S / F, judged at S_low / F_high",
                    [symbol("S", "strength", held, "N", source), symbol("F", "force", part.force_n, "N", "statics")],
                    [step("judged: lowest strength over highest force", exactly(value.low), ":1")], JUDGED))  # fmt: skip
        doubtful = part.verdict in ("below", "unknown")
        return Rung(
            id=part.id, name=name, group="slips" if part.gives == "slips" else "anchors" if part.anchor else "others",
            about=part.about, takes=part.takes, force=force, strength=strength, gives=part.gives, margin=margin,
            target=part.target, verdict=part.verdict,
            mend=part_mend(part, self.say, part.target) if doubtful or part.kind == "edge" else "", drawn=drawn_as(part.thing),
        )  # fmt: skip

    def _catch(self, solved: Solved, trace: Trace) -> CatchReport | None:
        if not isinstance(solved, Caught):
            return None
        gone, by = solved.gone, solved.by
        if by is None or solved.arrests is None:
            text = f"{line_name(self.plan, gone)} goes: " + (
                "nothing else holds the load." if by is None else "it bore nothing; the rest holds as before."
            )
            drop = (
                trace.figure("drop", exactly(0.0), "m", lambda: Told("Drop", "the load is held as before"))
                if by
                else None
            )
            return CatchReport(gone, by, drop, None, None, None, "", text)
        far, peak, clutch = solved.drop_m or 0.0, solved.peak, solved.clutch
        assert peak is not None
        rope = self.plan.rope(solved.rig.line(by).line.rope)
        kind = catalogue().ropes[rope.kind]
        drop = trace.figure("drop", exactly(far), "m", lambda: Told(
            "Free drop before anything is tight", "furthest that every piece's length allows, less where it hung before",
            [symbol("slack", "left in the line that catches", solved.rig.line(by).line.slack_m, "m", "leader")]))  # fmt: skip
        on_peak = trace.figure("peak", peak, "N", lambda: Told(
            "Peak at the load", "F = W·(1 + √(1 + 2·h·EA/(W·L))), no more than what slips",
            [symbol("h", "free drop", far, "m", "geometry"), symbol("L", "rope in service", solved.rope_m, "m", "geometry"),
             symbol("EA", kind.name, rope_ea_n(rope, catching=True), "N", kind.origin("catch_ea_n")),
             *([symbol("slip", clutch.name, clutch.slip_n, "N", "hitch-slip")] if clutch else [])]))  # fmt: skip
        slid = solved.slid and trace.figure("slid", solved.slid, "m", lambda: Told(
            "Rope that slips through", "y = (W·(h + x) − S·x/2) / (S − W)", [symbol("W", "load's pull", solved.lines[0].at_load, "N", "incline")]))  # fmt: skip
        stops = solved.stops_in and trace.figure(
            "stops", solved.stops_in, "m", lambda: Told("Stops after", "stretch + slip")
        )
        heard = in_state(self.here, solved)
        caught = next((one for one in heard if isinstance(one, CaughtFound | ReachesGround)), None)
        text = (
            caught_text(caught, self.plan, self.say) if caught else next((self._finding(one).text for one in heard), "")
        )
        return CatchReport(gone, by, drop, on_peak, slid or None, stops or None, clutch.name if clutch else "", text)

    # The haul, ropes and the ground

    def _haul(self) -> HaulReport | None:
        line, gives = self.judged.hauling, self.judged.gives
        haul = line.rig.line.haul if line else None
        if line is None or haul is None or gives is None or line.running is None:
            return None
        running, way, trace = line.running, line.rig.way, self.trace
        rise = way.rise_m
        actual = trace.figure("actual", gives.actual, "", lambda: Told(
            f"Actual advantage of the {haul.system.name}", "a = T_load / P, each bend passing on η",
            [symbol("ideal", "haul distance over load distance", gives.ideal, "", "virtual-work"),
             *[symbol(f"η {name}", catalogue().bends[haul.bends.get(name, "unknown")].name, eta, "", "bend-eta") for name, eta in eta_of(self.plan, haul).items()]],
            [step(f"piece {p + 1}, strand {s + 1}, per unit of pull", t, "") for p, row in enumerate(gives.tensions) for s, t in enumerate(row)]))  # fmt: skip
        on_line = trace.figure("line-actual", running.line_advantage, "", lambda: Told(
            "Advantage of the whole line, edges included", "a = T_load / P",
            [symbol("a", "haul system alone", gives.actual, "", "statics")], walk(line)))  # fmt: skip
        risen = trace.figure("rise", exactly(rise), "m", lambda: Told(
            "Rise to the first corner", "rope from load to the first corner", [symbol("L", "whole line", way.length_m, "m", "geometry")]))  # fmt: skip
        gives_m = stretch_m(self.plan, line)
        rope = self.plan.rope(line.rig.line.rope)
        origin = catalogue().ropes[rope.kind].origin("ea_n")
        ea = symbol("EA", "stiffness of the rope", rope_ea_n(rope), "N", origin)
        stretched = trace.figure("stretch", gives_m, "m", lambda: Told(
            "What the rope gives as the load comes on", "Σ T·L / EA over its strands",
            [ea], walk(line)))  # fmt: skip
        sinks = trace.figure("sinks", sinks_m(self.plan, line), "m", lambda: Told(
            "What the load sinks each time it is set on the ratchet", "slack + ΔT·L / EA of the rope behind",
            [symbol("slack", "what the minded ratchet gives", haul.capture_slack_m, "m", "leader"), symbol("T", "at the load", line.at_load, "N", "statics"), ea]))  # fmt: skip
        through = trace.figure("through-hands", gives_m.map(lambda more: (rise + more) * running.motion.ideal), "m", lambda: Told(
            "Rope through the hands", "ideal · (rise + stretch)",
            [symbol("ideal", "haul distance over load distance", running.motion.ideal, "", "virtual-work"), symbol("rise", "load", rise, "m", "geometry"),
             symbol("stretch", "taken up before anything lifts", gives_m, "m", "textile-ea")]))  # fmt: skip
        stroke, runs_out = self._stroke(line)
        resets = resets_of(self.plan, line) if stroke else None
        return HaulReport(
            line=line.rig.line.id, name=haul.system.name, ideal=gives.ideal, actual=actual, line_actual=on_line,
            haulers_sustained=self._haulers("sustained", sustained_n(self.plan), running.hand),
            haulers_heave=self._haulers("heave", heave_n(self.plan), running.hand), stroke=stroke, runs_out=runs_out,
            strokes=None if resets is None else resets + 1, resets=resets, rise=risen, stretch=stretched, sinks=sinks, through_hands=through, open_bends=open_bends(haul),
        )  # fmt: skip

    def _haulers(self, how: str, each_n: Range, hand: Range) -> Figure:
        counts = haulers_range(hand, each_n)
        return self.trace.figure(f"haulers-{how}", counts, "people", lambda: Told(
            f"Haulers needed, {how}", "n = P / pull each, rounded up",
            [symbol("P", "pull at the hands", hand, "N", "statics"), symbol("pull each", how, each_n, "N", "hauler-pull")]))  # fmt: skip

    def _stroke(self, line: LineForces) -> tuple[Figure | None, str]:
        clearance, haul = clearance_of(line.rig.line), line.rig.line.haul
        found = stroke_of(line)
        if found is None or haul is None:
            return None, "nothing runs out: one long pull"
        a, b = (node.partition(":")[2] or node for node in found.meets)
        figure = self.trace.figure("stroke", exactly(found.rise_m), "m", lambda: Told(
            "Rise of the load in one haul", "(strand − clearance) / rate",
            [symbol("strand", f"{a} to {b}, grab set forward", found.length_m, "m", "geometry"),
             symbol("clearance", "hitch, connector and pulley between them", clearance, "m", "clearance"),
             symbol("rate", "how fast it shortens per metre the load rises", found.rate, "", "virtual-work"),
             symbol("reach", "how far forward the grab can be set", reach_m(haul, line.rig.way), "m", "geometry")]))  # fmt: skip
        return figure, f"{a} meets {b}"

    def _budget(self, one: Budget) -> RopeBudget:
        key = one.job if one.line == "main" else f"{one.job}:{one.line}"
        there = symbol("length", "rope there", one.there_m, "m", "leader")
        laid = symbol("line", "every strand of the rope, as laid", one.laid_m, "m", "geometry")
        tail = symbol("tail", "kept back at the station", one.tail_m, "m", "rope-tail")
        taken = [laid]
        if one.tail_m:
            taken.append(tail)
        if one.knots_m:
            taken.append(symbol("knots", "what its knots take", one.knots_m, "m", "build-length"))
        if one.beside_m:
            taken.append(symbol("beside", "what other lines take of the same rope", one.beside_m, "m", "geometry"))
        if one.used_m:
            taken.append(
                symbol(
                    "used", "anchors tied with it, what is kept of it, damage knotted out", one.used_m, "m", "leader"
                )
            )
        less, figure, job = [each.symbol for each in taken], self.trace.figure, one.job
        return RopeBudget(
            job=job, line=one.line,
            length=figure(f"length:{key}", exactly(one.there_m), "m", lambda: Told("Rope there", "length", [there])),
            needed=figure(f"needed:{key}", exactly(one.needed_m), "m", lambda: Told(f"Rope needed to {job}", " + ".join(less), taken)),
            left=figure(f"left:{key}", exactly(one.left_m), "m", lambda: Told(f"Rope left to {job}", " − ".join(["length", *less]), [there, *taken])),
            other=figure(f"other:{key}", exactly(one.other_m), "m", lambda: Told("Rope from other pieces", "strands not of the line's own rope")),
        )  # fmt: skip

    def _line(self, id: str) -> LineReport:
        line, way = next(one for one in self.plan.lines if one.id == id), self.judged.solver.ways[id]
        turns = [
            TurnReport(f"{id}:edge:{n}", turn.edge.name if turn.edge else "Ground, no edge entered", _spot(turn.at), turn.turn_rad, turn.edge is not None)
            for n, turn in enumerate(way.over.turns, start=1)
        ]  # fmt: skip
        long = self.trace.figure(f"line-length:{id}", exactly(way.length_m), "m", lambda: Told(
            "Length of the line", "taut line over the ground", [symbol("corners", "where the rope bends", len(way.points) - 2, "", "geometry")]))  # fmt: skip
        return LineReport(id, line_name(self.plan, id), line.role, [_spot(at) for at in way.points], turns, long)

    def _site(self) -> SiteReport:
        ways = self.here.ways
        main = ways.get("main") or next(iter(ways.values()), None)
        drop = main.over.points[1][2] - main.over.points[-1][2] if main and main.over.turns else 0.0
        straight = main is not None and len(main.points) == 2 and abs(main.points[0][0] - main.points[-1][0]) < 0.5
        if straight and main is not None:
            drop = main.points[0][2] - main.points[-1][2]
        return SiteReport(drop_m=drop, load_mass=load_mass(self.plan), straight=straight)


def _spot(at: Vector) -> Spot:
    return Spot(float(at[0]), float(at[1]), float(at[2]))


def _first(solved: Solved, rig: LineRig, node: Node) -> bool:
    """Whether this rig is the first to name the node: anchors and the load are shared."""
    return next(one for one in solved.rig.lines if node.id in one.nodes) is rig


def _end_force(line: LineForces) -> Range:
    """Tension of the strand that what holds the rope's end bears."""
    holder = line.rig.holder
    for number, rope in enumerate(line.network.ropes):
        if holder in (rope.route[0], rope.route[-1]):
            return line.strand(number, 0 if rope.route[0] == holder else len(rope.route) - 2)
    return line.strand(0, len(line.network.ropes[0].route) - 2)
