"""What runs along a line, told: tension and way of every strand, force on and cost of everything that the rope crosses."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from functools import partial

from rigging.catalogue import catalogue
from rigging.lines.catch import Caught
from rigging.lines.parts import Crossing, passed_on
from rigging.lines.rig import LOAD, LineRig
from rigging.lines.solve import LineForces, Solved
from rigging.lines.swaps import Priced, priced
from rigging.mechanics.network import Pass, Strand
from rigging.quantities.symbols import Symbol, symbol
from rigging.site.load import GRAVITY, Resting
from rigging.telling.figures.corners import corner_words
from rigging.telling.figures.shapes import CrossingReport, Runs, StrandReport, Swap
from rigging.telling.figures.working import KNOWN, Figure, Step, Told, Trace, step

# The name of a node by its id.
Named = Callable[[str], str]


def strand_reports(solved: Solved, rig: LineRig, named: Named, trace: Trace) -> Iterable[StrandReport]:
    """Every stretch of a line's ropes, with its tension and which way it runs."""
    line = solved.line(rig.line.id)
    network = line.network if line else None
    taut = {rope.id: number for number, rope in enumerate(network.ropes)} if network else {}
    for rope in rig.ropes:
        number = taut.get(rope.id)
        for index, (start, end) in enumerate(zip(rope.route, rope.route[1:], strict=False)):
            key = f"{rope.id}.{index}"
            figure: Figure | None = None
            runs: Runs = ""
            slack = line is None or number is None
            if line is not None and number is not None and network is not None:
                figure = _tension(solved, line, network.strands[number][index], key, named, trace)
                runs = _runs(solved, line, number, index)
            yield StrandReport(key, rig.line.id, rope.id, index, start, end, rope.id in rig.main, slack, runs, figure)


def _tension(solved: Solved, line: LineForces, strand: Strand, key: str, named: Named, trace: Trace) -> Figure:
    value = line.strand(strand.rope, strand.index)

    def tell() -> Told:
        title = f"Tension from {named(strand.start)} to {named(strand.end)}"
        if LOAD in (strand.start, strand.end) and solved.moment.solving != "jammed":
            return Told(title, *load_formula(solved, line), walk(line))
        cases = corner_words(solved, value)
        if line.running is None:
            held = "T · ∏η ≤ T′ ≤ T / ∏η over what lies between" if solved.moment.solving == "held" else "T′ = T · ∏η"
            return Told(
                title, held, [symbol("T", "tension at the load", line.at_load, "N", "incline")], walk(line), cases
            )
        per_unit = line.per_hand(strand.rope, strand.index)
        return Told(title, "T = t · P", [
            symbol("t", "tension of this strand per unit of pull, walking the rope from the hand", per_unit, "", "statics"),
            symbol("P", "pull at the hand", line.running.hand, "N", "statics"),
        ], [], cases)  # fmt: skip

    return trace.figure(f"strand:{key}", value, "N", tell)


def crossing_reports(solved: Solved, line: LineForces, trace: Trace) -> Iterable[CrossingReport]:
    """What a line's rope crosses: the force on it, what it passes on, and, raising, what it costs and what would cost less."""
    prices = priced(line) if solved.moment.solving == "raising" else {}
    for rope, index, one in line.passes():
        crossing = line.rig.crossings[one.id]
        force = trace.figure(
            f"on:{one.id}",
            line.on_pass(rope, index),
            "N",
            partial(_on_crossing, solved, line, rope, index, one, crossing),
        )
        yield CrossingReport(
            id=one.id, line=line.rig.line.id, role=crossing.role, node=one.node, kind=crossing.kind, name=crossing.name,
            turn_rad=crossing.turn_rad, passes_on=_share(crossing, trace), force=force,
            cost=_cost(line, crossing, prices[one.id], trace) if prices else None,
            swaps=[Swap(s.kind, s.name, s.hand_n, s.line_advantage, s.change_n) for s in prices[one.id].swaps] if prices else [],
        )  # fmt: skip


def _cost(line: LineForces, crossing: Crossing, price: Priced, trace: Trace) -> Figure:
    assert line.running is not None
    running = line.running
    return trace.figure(f"cost:{crossing.id}", price.cost_n, "N", lambda: Told(
        f"What {_in_sentence(crossing)} costs at the hands", "P − P′",
        [symbol("P", "pull at the hands, all as expected", running.hand.expected, "N", "statics"),
         symbol("P′", "the same with this bend free of friction", price.without_n, "N", "statics")]))  # fmt: skip


def _on_crossing(solved: Solved, line: LineForces, rope: int, index: int, one: Pass, crossing: Crossing) -> Told:
    return Told(f"Force on {_in_sentence(crossing)}", "F = |T₁·u₁ + T₂·u₂|", [
        symbol("T₁", "strand before", line.strand(rope, index), "N", "statics"),
        symbol("T₂", "strand after", line.strand(rope, index + 1), "N", "statics"),
        symbol("θ", "angle the rope turns through", one.turn_rad, "rad", "geometry"),
    ], [], corner_words(solved, line.on_pass(rope, index)))  # fmt: skip


def _runs(solved: Solved, line: LineForces, rope: int, index: int) -> Runs:
    """Which way rope goes through a strand."""
    if line.running is None or solved.moment.solving not in ("lowering", "raising") or solved.moment.hands_off:
        return ""
    runs = line.running.motion.runs[rope]
    if runs:
        speed = runs[min(index, len(runs) - 1)] * (1 if line.running.rising else -1)
        return "to-end" if speed > 1e-9 else "to-start" if speed < -1e-9 else ""
    # A piece without a bend goes the way that its far end goes.
    return "to-start" if line.network.ropes[rope].route[-1] == LOAD else "to-end" if line.running.rising else "to-start"


def walk(line: LineForces) -> list[Step]:
    """Tension strand by strand along the ropes."""

    def plain(node: str) -> str:
        return node.partition(":")[2] or node

    return [
        step(f"{plain(strand.start)} – {plain(strand.end)}", line.strand(strand.rope, strand.index), "N")
        for row in line.network.strands
        for strand in row
    ]


def _in_sentence(crossing: Crossing) -> str:
    """The name inside a sentence: an edge keeps the name the leader gave it."""
    return crossing.name if crossing.role == "edge" else f"the {crossing.name[0].lower()}{crossing.name[1:]}"


def _share(crossing: Crossing, trace: Trace) -> Figure:
    def tell() -> Told:
        formula = {"η": "η^(θ/π)", "μ": "e^(−μ·θ)", "r": "1 / r", "k": "k"}[crossing.symbol]
        symbols = [symbol(crossing.symbol, crossing.name, crossing.quantity, "", crossing.source)]
        if crossing.symbol not in ("r", "k"):
            symbols.append(symbol("θ", "angle the rope turns through", crossing.turn_rad, "rad", "geometry"))
        if crossing.symbol == "μ":
            more = passed_on(crossing).map(lambda k: 1 / k)
            symbols.append(symbol("e^(μθ)", "capstan: how much more on the pulling side", more, "", "capstan"))
        return Told(f"Share that {_in_sentence(crossing)} passes on", formula, symbols, [], KNOWN)

    return trace.figure(f"share:{crossing.id}", passed_on(crossing), "", tell)


def _load_symbols(load: Resting) -> list[Symbol]:
    return [
        symbol("m", "mass on the rope", load.mass_kg, "kg", "leader"),
        symbol("g", "standard gravity", GRAVITY, "m/s²", "gravity"),
        symbol("θ", "steepness of the ground at the load", math.degrees(load.slope_rad), "°", "geometry"),
        symbol("δ", "the rope's lift above the ground", math.degrees(load.lift_rad), "°", "geometry"),
        symbol("μ", "load against the ground", load.mu, "", "contact-mu"),
    ]


def load_formula(solved: Solved, line: LineForces) -> tuple[str, list[Symbol]]:
    load = solved.resting
    shared = len(solved.moment.works) > 1 and solved.moment.solving != "goes"
    part = (
        [symbol("s", "share of the load on this rope", catalogue().people.second_share, "", "second-share")]
        if shared
        else []
    )
    times = "s · " if shared else ""
    if isinstance(solved, Caught) and solved.arrests:
        return "F = W·(1 + √(1 + 2·h·EA/(W·L))), no more than what slips", [
            symbol("F", "peak", line.at_load, "N", "statics")
        ]
    if load.hangs:
        return f"T = {times}m·g", [*_load_symbols(load)[:2], *part]
    sign = {"raising": "+", "lowering": "−"}.get(solved.moment.solving, "∓")
    return f"T = {times}m·g·(sin θ {sign} μ·cos θ) / (cos δ {sign} μ·sin δ)", [*_load_symbols(load), *part]
