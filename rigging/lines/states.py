"""The moments of the work, made from a plan's lines: what each line does in each of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from rigging.document import Line, Plan
from rigging.lines.planning import PLANNING
from rigging.lines.rig import OPEN_M, Mode

# How a state is solved: nothing runs; the load goes down; it comes up; it is stuck; a line has gone.
Solving = Literal["held", "lowering", "raising", "jammed", "goes"]


@dataclass(frozen=True)
class Moment:
    """A state of the plan. `modes` says what each line does (left out: it is not there yet); `works` are the lines that
    bear; `gone` is the line that goes. `missing` says why the state can not be, and is empty where it can."""

    id: str
    solving: Solving
    modes: dict[str, Mode]
    works: tuple[str, ...]
    hands_off: bool = False
    gone: str | None = None
    missing: Literal["", "line", "lowering", "haul", "capture", "haulers"] = ""


def moments(plan: Plan) -> list[Moment]:
    """Every state of a plan, in the order of the work."""
    main, second, hauls = plan.line("main"), plan.line("second"), hauling_line(plan)
    bearing = [line for line in (main, second) if line and line.slack_m < OPEN_M]
    backups = _all(
        [line for line in plan.lines if line.role == "belay" or (line in (main, second) and line not in bearing)],
        "slack",
    )
    held: dict[str, Mode] = {**{line.id: _held(line) for line in bearing}, **backups}
    works = tuple(line.id for line in bearing)
    if not bearing and hauls and hauls.slack_m < OPEN_M and hauls.haul and hauls.haul.capture:
        held, works = _all([hauls], "captured") | backups, (hauls.id,)
    lowers = _all(bearing, "running") | backups
    no_device = not bearing or any(line.lowering is None for line in bearing)
    found = [Moment("held", "held", held, works, missing="" if works else "line")]
    for id, off in (("lowering", False), ("lowering-hands-off", True)):
        missing: Literal["", "lowering", "line"] = "line" if not bearing else "lowering" if no_device else ""
        found.append(Moment(id, "lowering", lowers, works, off, missing=missing))
    return [*found, *_raising(plan, hauls, bearing, backups), *_going(plan, held, works)]


def _all(lines: list[Line], mode: Mode) -> dict[str, Mode]:
    return {line.id: mode for line in lines}


def _held(line: Line) -> Mode:
    return "locked" if line.lowering else "captured" if line.haul and line.haul.capture else "fast"


def _raising(plan: Plan, hauls: Line | None, bearing: list[Line], backups: dict[str, Mode]) -> list[Moment]:
    # What is hauled is drawn in, whatever it hung before.
    backups = {id: mode for id, mode in backups.items() if hauls is None or id != hauls.id}
    others = _all([line for line in bearing if line is not hauls], "slack") | backups
    if hauls is None:
        missing: Literal["haul", "line"] = "haul" if bearing else "line"
        names = ("raising", "between-hauls", "raising-hands-off", "jammed")
        return [Moment(name, "jammed" if name == "jammed" else "raising", {}, (), missing=missing) for name in names]
    up = _all([hauls], "hauling") | others
    caught = _all([hauls], "captured") | others
    captured = hauls.haul is not None and hauls.haul.capture is not None
    works = (hauls.id,)
    no_capture: Literal["", "capture"] = "" if captured else "capture"
    return [
        Moment("raising", "raising", up, works),
        Moment("between-hauls", "held", caught, works, missing=no_capture),
        Moment("raising-hands-off", "held", up if not captured else caught, works, True, missing=no_capture),
        Moment("jammed", "jammed", up, works, missing="" if plan.team.haulers else "haulers"),
    ]


def _going(plan: Plan, held: dict[str, Mode], works: tuple[str, ...]) -> list[Moment]:
    return [
        Moment(f"goes:{line.id}", "goes", held, tuple(one for one in works if one != line.id), gone=line.id)
        for line in plan.lines
        if line.id in held and line.id != PLANNING
    ]


def hauling_line(plan: Plan) -> Line | None:
    """The line that raises: one of its own, else the main line's system."""
    own, main = plan.line("haul"), plan.line("main")
    return own or (main if main and main.haul else None)
