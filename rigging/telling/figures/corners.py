"""Which corner of its inputs a figure was at, in words: high when the lip drags and the pulleys run."""

from __future__ import annotations

import numpy as np

from rigging.lines.parts import Crossing
from rigging.lines.solve import LineForces, Solved
from rigging.mechanics.tension import still_passes
from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range
from rigging.telling.words.names import listed, lower_first

# What moves a figure by less than this share of its own width is not named.
_NAMED, _MOST = 0.04, 5


def corner_words(solved: Solved, force: Range) -> tuple[str, str] | None:
    """What makes a force of a state high, and what low; None where it is no figure of one line."""
    for line in solved.lines:
        values = line.behind(force)
        if values is not None and len(values) > 2 and not line.boxed:
            return _when(solved, line, values, high=True), _when(solved, line, values, high=False)
    return None


def _when(solved: Solved, line: LineForces, values: Array, high: bool) -> str:
    row = line.levels[int(values.argmax() if high else values.argmin())]
    moved = _moves(line.levels, values)
    order = [n for n in np.argsort(-moved) if moved[n] > _NAMED][:_MOST]
    said: dict[str, list[str]] = {}
    still = still_passes(line.running.motion) if line.running else [False] * len(line.network.passes)
    for number in order:
        one = line.network.passes[number]
        crossing = line.rig.crossings[one.id]
        does = _does(solved, crossing, row[number] > 0, bool(still[number]))
        said.setdefault(does, []).append(_name(crossing))
    words = [f"{listed(sorted(set(names)))} {does}" for does, names in said.items()]
    if line.scale.high > line.scale.low:
        words.append("the load asking most" if high else "the load asking least")
    return ", ".join(words)


def _moves(levels: Array, values: Array) -> Array:
    """How far each input by itself moves a figure, as a share of its width (k,)."""
    width = float(values.max() - values.min()) or 1.0
    found = []
    for column in levels.T:
        up, down = values[column > 0], values[column < 0]
        found.append(abs(float(up.mean() - down.mean())) / width if len(up) and len(down) else 0.0)
    return np.array(found)


def _does(solved: Solved, crossing: Crossing, more: bool, still: bool) -> str:
    """What a pass does at the end of its range: `more` of the tension passed on, or less."""
    if still and crossing.role == "edge":
        return "gripping the strand that stands still"
    if solved.moment.solving == "held":
        return "adding friction to the load" if more else "carrying part of the load"
    if crossing.role == "device":
        return "slick" if more else "braking well"
    if crossing.role == "edge":
        return "slick" if more else "dragging"
    return "running well" if more else "dragging"


def _name(crossing: Crossing) -> str:
    if crossing.role == "edge":
        return crossing.name
    where = {"bend": f" at {crossing.id.partition(':')[2]}", "redirect": " of the redirect"}.get(crossing.role, "")
    return f"{lower_first(crossing.name)}{where}"
