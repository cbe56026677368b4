"""How things lie: bare edges, hitches that reach their device, grabs past the edge, ropes that cross, haulers' way."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.judging.found import Found, Level
from rigging.judging.line_parts import TURNS_RAD
from rigging.lines.rig import LineRig
from rigging.lines.solve import Solved
from rigging.lines.way import LineWay
from rigging.lines.whole_way import stations
from rigging.mechanics.vectors import Vector, length, minus, plus

# Strands nearer than this where they cross touch; nearly parallel ones lie side by side on purpose.
_TOUCH_M, _ASIDE_RAD = 0.15, math.radians(8)
# What no rope is led over bare.
_SHARP = "sharp-steel"
_HANDS_WAY_M = 6.0
# Less rope than this behind a device that lets it out, and its end may run through.
_TAIL_M = 1.0


def find_geometry(plan: Plan, ways: dict[str, LineWay], raising: Solved | None) -> Iterator[Found]:
    """Everything to be said of how the lines lie."""
    yield from _bare_edges(plan, ways)
    for line in plan.lines:
        low = line.lowering
        if low and low.brake_hitch and low.hitch_m + low.slack_m >= low.out_m - 1e-9:
            values = {"line": line.id, "reach_m": low.hitch_m + low.slack_m, "out_m": low.out_m}
            yield Found("reaches-device", "stop", f"{line.id}:brake", values, line.id)
        if line.haul and line.haul.reach_m and line.haul.attached == "grab" and ways[line.id].over.turns:
            first = ways[line.id].first_m
            if line.haul.reach_m > first + 1e-6:
                values = {"line": line.id, "reach_m": line.haul.reach_m, "first_m": first}
                yield Found("grab-over-edge", "look", f"{line.id}:haul", values, line.id)
        if line.lowering and line.tail_m < _TAIL_M:
            yield Found("no-tail", "stop", f"{line.id}:rope", {"line": line.id, "tail_m": line.tail_m}, line.id)
    yield from _bitten(plan, ways, raising)
    yield from _over_the_lip(plan)
    yield from _knots_inside(plan, ways)
    if raising is not None:
        yield from _crossing(raising)


def _bare_edges(plan: Plan, ways: dict[str, LineWay]) -> Iterator[Found]:
    """Edges that a rope bends over with nothing between."""
    for number, edge in enumerate(plan.site.edges):
        surface = catalogue().surfaces[edge.surface]
        met = [
            (line, index, turn)
            for line, way in ways.items()
            for index, turn in enumerate(way.over.turns, start=1)
            if turn.edge == edge and turn.turn_rad > TURNS_RAD
        ]
        if not met or edge.protection is not None:
            continue
        line, index, turn = met[0]
        values = {"edge": edge.name, "number": number, "surface": surface.name, "turn_rad": turn.turn_rad}
        cuts = surface.edge_keeps is not None
        level: Level = "stop" if edge.sawn or surface.id == _SHARP else "look" if cuts else "note"
        kind = "sawn" if edge.sawn else "sharp-edge" if surface.id == _SHARP else "bare-edge"
        yield Found(kind, level, f"{line}:edge:{index}", values, str(number))


def _bitten(plan: Plan, ways: dict[str, LineWay], raising: Solved | None) -> Iterator[Found]:
    """A haul over a lip that its rope has bitten into: what gets through is next to nothing."""
    if raising is None:
        return
    hauled = raising.lines[0].rig
    for crossing in hauled.crossings.values():
        if crossing.role != "edge" or catalogue().surfaces[crossing.kind].id != "snow-lip":
            continue
        number = next((n for n, edge in enumerate(plan.site.edges) if edge.name == crossing.name), None)
        values = {"line": hauled.line.id, "edge": crossing.name, "passes": crossing.quantity, "number": number}
        yield Found("bitten", "stop", crossing.id, values, crossing.name)
        return


def _over_the_lip(plan: Plan) -> Iterator[Found]:
    """Haulers whose way leads out over an edge."""
    for line in plan.lines:
        haul = line.haul
        if haul is None or haul.walk_rad is None:
            continue
        begins = plan.anchor(haul.redirects[-1].anchor if haul.redirects else line.anchor).arrangement.point.x_m
        ends = begins + math.cos(haul.walk_rad) * (haul.way_m or _HANDS_WAY_M)
        edge = min((one.x_m for one in plan.site.edges if one.x_m > begins), default=math.inf)
        if ends > edge - 1e-9:
            values = {"line": line.id, "ends_m": ends, "edge_m": edge}
            yield Found("way-over-lip", "stop", f"{line.id}:hands", values, line.id)


# A knot this near to what it must not be in is in it.
_INSIDE_M = 0.3


def _knots_inside(plan: Plan, ways: dict[str, LineWay]) -> Iterator[Found]:
    """A join that lies in a device, a redirect, a ratchet or on an edge where the load is now."""
    for line in plan.lines:
        rope, number = plan.rope(line.rope), next(n for n, one in enumerate(plan.ropes) if one.id == line.rope)
        out = ways[line.id].length_m
        for at, join in enumerate(rope.joins):
            from_load = join.at_m if line.end == "first" else rope.length_m - join.at_m
            for name, from_point in stations(plan, line, ways[line.id]):
                if name != "block" and abs(from_load + from_point - out) < _INSIDE_M:
                    values = {
                        "line": line.id,
                        "to": name,
                        "rope": number,
                        "number": at,
                        "at_m": join.at_m,
                        "first": line.end == "first",
                    }
                    yield Found("knot-inside", "stop", f"{line.id}:rope", values, f"{rope.id}:{at}")
                    break


def _strands(rig: LineRig) -> Iterator[tuple[str, str, str, Vector, Vector]]:
    """Every strand as (line, from node, to node, from, to)."""
    for rope in rig.ropes:
        if rope.id.endswith("cord"):
            continue
        for a, b in itertools.pairwise(rope.route):
            yield rig.line.id, a, b, rig.nodes[a].at, rig.nodes[b].at


def _crossing(raising: Solved) -> Iterator[Found]:
    """Moving strands that touch another where they cross, and loaded strands across the haulers' way."""
    strands = [one for rig in raising.rig.lines for one in _strands(rig)]
    hauled = raising.lines[0].rig
    moving = [one for one in strands if one[0] == hauled.line.id]
    seen: set[frozenset[str]] = set()
    for one, other in itertools.product(moving, strands):
        pair = frozenset((one[1], one[2], other[1], other[2]))
        if len(pair) == 4 and pair not in seen and _touch(one[3], one[4], other[3], other[4]):
            seen.add(pair)
    if seen:
        yield Found("strands-touch", "look", f"{hauled.line.id}:haul", {"line": hauled.line.id, "count": len(seen)})
    hands = next((node for node in hauled.nodes.values() if node.kind == "hands"), None)
    haul = hauled.line.haul
    if hands is None or haul is None:
        return
    last = next(a if b == hands.id else b for _, a, b, _, _ in strands if hands.id in (a, b))
    far = haul.way_m or _HANDS_WAY_M
    # They take hold near the last bend, and walk from there.
    first, end = (plus(hauled.nodes[last].at, hands.axis, out) for out in (0.5, far))
    across = {
        line
        for line, a, b, start, stop in strands
        if not {hands.id, last} & {a, b} and _in_plan(first, end, start, stop)
    }
    for line in sorted(across):
        values = {"line": line, "of": hauled.line.id, "way_m": far}
        yield Found("way-crossed", "look", f"{line}:rope", values, line)


def _touch(a: Vector, b: Vector, c: Vector, d: Vector) -> bool:
    """Whether two straight strands come within touch between their ends, not running side by side."""
    u, v, w = np.array(minus(b, a)), np.array(minus(d, c)), np.array(minus(a, c))
    uu, vv, uv = u @ u, v @ v, u @ v
    if uu < 1e-9 or vv < 1e-9:
        return False
    sine2 = 1 - uv * uv / (uu * vv)
    if sine2 < math.sin(_ASIDE_RAD) ** 2:
        return False
    # Nearest points of two lines (any text on computational geometry).
    bottom = uu * vv - uv * uv
    s = (uv * (v @ w) - vv * (u @ w)) / bottom
    t = (uu * (v @ w) - uv * (u @ w)) / bottom
    inside = 0.02 < s < 0.98 and 0.02 < t < 0.98
    return inside and float(np.linalg.norm(w + s * u - t * v)) < _TOUCH_M


def _in_plan(a: Vector, b: Vector, c: Vector, d: Vector) -> bool:
    """Whether two stretches cross seen from above, strictly between their ends."""

    def side(p: Vector, q: Vector, r: Vector) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    if length(minus(a, b)) < 1e-6:
        return False
    return side(a, b, c) * side(a, b, d) < -1e-9 and side(c, d, a) * side(c, d, b) < -1e-9
