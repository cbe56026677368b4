"""The whole way told: bands over it, what comes to what and which procedure that asks for, and the worst places."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict

from rigging.document import Line, Plan
from rigging.judging.along import Along, judged_along
from rigging.judging.spans import LEAST_CLEAR_M, Crossing, crossing
from rigging.lines.people import haulers_range
from rigging.lines.states import hauling_line
from rigging.lines.way import place_of
from rigging.lines.whole_way import Event, Job, Kind, Travel, whole_way
from rigging.quantities.faults import refuse
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.site.conditions import hand_hold_n, sustained_n
from rigging.telling.figures.shapes import Spot
from rigging.telling.words.names import line_name, lower_first, short_name

# What an event asks for, by what comes to what.
_PROCEDURES: dict[tuple[Kind, Job, str], str] = {
    ("join", "lowering", "device"): "Knot pass, lowering", ("damage", "lowering", "device"): "Knot pass, lowering",
    ("join", "lowering", "belay"): "Knot pass on the belay: main line held, hitches past it one by one",
    ("damage", "lowering", "belay"): "Knot pass on the belay: main line held, hitches past it one by one",
    ("join", "raising", "ratchet"): "Knot pass, raising", ("damage", "raising", "ratchet"): "Knot pass, raising",
    ("join", "raising", "block"): "Knot pass, raising", ("damage", "raising", "block"): "Knot pass, raising",
    ("join", "raising", "belay"): "Knot pass on the belay: main line held, hitches past it one by one",
    ("damage", "raising", "belay"): "Knot pass on the belay: main line held, hitches past it one by one",
    ("reset", "raising", ""): "Set, ease, grab forward, haul on",
    ("rope-end", "lowering", ""): "Set, join another rope, knot pass, lowering",
}  # fmt: skip
_OVER = "Set short of it, look, ease it over by hand"


@dataclass(slots=True)
class PlaceReport:
    """The load at one place: metres up from its start, where, and the rope from working point to load."""

    run_m: float
    x_m: float
    z_m: float
    line_m: float


@dataclass(slots=True)
class BandReport:
    """One quantity over the places, as low, expected and high; None where the job can not be done."""

    id: Literal[
        "pull", "hand", "haulers", "working-point", "margin", "tension", "sag", "clearance", "tag", "near", "far"
    ]
    name: str
    unit: str
    values: list[Range | None]
    limit: float | None


@dataclass(slots=True)
class WorstPlace:
    """A place that asks most: which, and why; `below` where it is more than the team or its rule allows."""

    place: int
    run_m: float
    text: str
    below: bool


@dataclass(slots=True)
class JobReport:
    """One job along the way: its bands, its worst places, what stands out against the team and the rule. `crossing`: the load
    along a tension line, from its near end to its far one."""

    job: Job | Literal["crossing"]
    name: str
    state: str
    bands: list[BandReport]
    worst: list[WorstPlace]


@dataclass(slots=True)
class EventReport:
    """What comes to what: after how many metres of the job, where the load then is, and what that asks for."""

    kind: Kind
    line: str
    job: Job
    metre: float
    run_m: float
    text: str
    asks: str


class WayReport(BaseModel):
    """A line's whole way, from where the load is up to the first corner; or along a tension line, with its `ends`."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    line: str
    name: str
    ends: list[Spot]
    places: list[PlaceReport]
    jobs: list[JobReport]
    events: list[EventReport]


def way_report(plan: Plan, line: str | None = None, count: int = 50, say: Wording | None = None) -> WayReport:
    """The whole way of a line; left out, of the one that raises, else the main line.

    Raises
    ------
    Refused
        If there is no such line, or it can not be laid out.
    """
    say = say or Wording()
    tight = next((one for one in plan.tension_lines if one.id == line), None)
    if tight is not None or (not plan.lines and plan.tension_lines and line is None):
        return _crossing(plan, crossing(plan, tight or plan.tension_lines[0], count), say)
    of = line_of(plan, line)
    way = whole_way(plan, of, count)
    return WayReport(
        line=of.id, name=line_name(plan, of.id), ends=[],
        places=[PlaceReport(one.run_m, one.x_m, one.z_m, one.line_m) for one in way.places],
        jobs=[_job(plan, one, [place.run_m for place in way.places], say) for one in judged_along(plan, way)],
        events=[event_report(plan, one, say) for one in way.events],
    )  # fmt: skip


def _crossing(plan: Plan, found: Crossing, say: Wording) -> WayReport:
    """The load along a tension line."""
    line, places = found.line, found.places
    near, far = plan.anchor(line.anchor).name, plan.anchor(line.far).name
    thin = found.weakest[found.thinnest]
    clear = [one.clear_m for one in places]

    def pulls(which: Literal["near", "far"]) -> list[Range | None]:
        return [getattr(one, which).size for one in places]

    bands = [
        BandReport("tension", "tension in the line", "N", [one.tension_n for one in places], None),
        BandReport("margin", "weakest margin", "", [one.margin if one else None for one in found.weakest], thin.target if thin else None),
        BandReport("sag", "sag", "m", [one.sag_m for one in places], None),
        BandReport("clearance", "free under the load", "m", clear, LEAST_CLEAR_M),
        BandReport("tag", "tag lines", "N", [one.tag_n for one in places], None),
        BandReport("near", f"on {lower_first(near)}", "N", pulls("near"), None),
        BandReport("far", f"on {lower_first(far)}", "N", pulls("far"), None),
    ]  # fmt: skip
    hardest = places[found.hardest]
    text = f"Tightest {say.length(hardest.run_m)} along: {say.force(hardest.tension_n.high)}"
    if thin is not None and thin.margin is not None:
        text += f", {thin.margin.low:.1f} : 1 of {thin.target:g}, {short_name(thin)}"
    worst = [
        WorstPlace(found.hardest, hardest.run_m, text, bool(thin and thin.verdict == "below" and thin.gives != "slips"))
    ]
    if found.lowest is not None:
        low = places[found.lowest]
        assert low.clear_m is not None
        text = f"Lowest {say.length(low.run_m)} along: {say.length(max(0.0, low.clear_m.low))} free"
        worst.append(WorstPlace(found.lowest, low.run_m, text, low.clear_m.low < LEAST_CLEAR_M))
    ends = [Spot(*place_of(plan, one)) for one in (line.anchor, line.far)]
    spots = [PlaceReport(one.run_m, one.at[0], one.at[2], one.run_m) for one in places]
    job = JobReport("crossing", "Along the line", "", bands, worst)
    return WayReport(
        line=line.id,
        name=f"Tension line, {lower_first(near)} to {lower_first(far)}",
        ends=ends,
        places=spots,
        jobs=[job],
        events=[],
    )


def line_of(plan: Plan, id: str | None) -> Line:
    """The line asked for; left out, the one that raises, else the main line.

    Raises
    ------
    Refused
        If there is none.
    """
    found = next((one for one in plan.lines if one.id == id), None) if id else hauling_line(plan) or plan.line("main")
    if found is None:
        ids = ", ".join(one.id for one in plan.lines) or "none: lay a line first"
        raise refuse("line", f"this plan has no line {id or 'that raises or lowers'!r}", f"one of {ids}")
    return found


def moved(plan: Plan, run_m: float) -> Plan:
    """The plan with its load so far up its way, and on the rope what hangs there.

    Raises
    ------
    Refused
        If no line raises or lowers, or it can not be laid out.
    """
    return Travel(plan, line_of(plan, None)).moved(run_m)


def _job(plan: Plan, along: Along, runs: list[float], say: Wording) -> JobReport:
    raising = along.job == "raising"
    team = plan.team

    def band(name: str) -> list[Range | None]:
        return [None if one is None else getattr(one, name) for one in along.pulls]

    hands = band("hand_n")
    bands = [BandReport("pull", "pull at the load", "N", band("pull_n"), None)]
    if raising:
        counts = [one and haulers_range(one, sustained_n(plan)) for one in hands]
        bands.append(BandReport("haulers", "haulers", "people", counts, float(team.haulers)))
    bands.append(BandReport("hand", "at the hands" if raising else "at the brake hand", "N", hands, None))
    bands.append(BandReport("working-point", "on the working point", "N", band("working_point_n"), None))
    shares = [part.margin if part else None for part in along.weakest]
    thin = along.weakest[along.thinnest]
    bands.append(BandReport("margin", "weakest margin", "", shares, thin.target if thin else None))
    return JobReport(along.job, "Raising" if raising else "Lowering", along.job, bands, _worst(plan, along, runs, say))


def _worst(plan: Plan, along: Along, runs: list[float], say: Wording) -> list[WorstPlace]:
    pulls, part = along.pulls[along.hardest], along.weakest[along.thinnest]
    found = []
    if pulls is not None:
        raising = along.job == "raising"
        where = _where(runs[along.hardest], runs[-1], along.job, say)
        grip = plan.team.haulers * sustained_n(plan).low if raising else hand_hold_n(plan).low
        text = f"Hardest {where}: {say.force(pulls.hand_n)} at the {'hands' if raising else 'brake hand'}"
        found.append(WorstPlace(along.hardest, runs[along.hardest], text, pulls.hand_n.high > grip))
    if part is not None and part.margin is not None:
        where = _where(runs[along.thinnest], runs[-1], along.job, say)
        text = f"Least margin {where}: {part.margin.low:.1f} : 1 of {part.target:g}, {short_name(part)}"
        found.append(WorstPlace(along.thinnest, runs[along.thinnest], text, part.verdict == "below"))
    return found


def _where(run_m: float, far_m: float, job: Job, say: Wording) -> str:
    done = run_m if job == "raising" else far_m - run_m
    way = "up" if job == "raising" else "down"
    return f"{say.length(done)} {way}" if done > 0.05 else "at the start" if job == "raising" else "at the edge"


def event_report(plan: Plan, event: Event, say: Wording) -> EventReport:
    known = {"device": "its device", "ratchet": "the ratchet", "block": "the first block", "belay": "the belay"}
    to = known.get(event.comes_to, lower_first(event.comes_to))
    name = lower_first(line_name(plan, event.line))
    way = "down" if event.job == "lowering" else "up"
    at = f"{say.length(event.metre)} {way}"
    text = {
        "join": f"{at}: the join in the {name}'s rope comes to {to}",
        "damage": f"{at}: the knot over the damage in the {name}'s rope comes to {to}",
        "reset": f"{at}: reset, {event.comes_to} meet",
        "rope-end": f"{at}: the {name}'s rope ends at {to}, the load is not down",
    }[event.kind]
    asks = _PROCEDURES.get((event.kind, event.job, event.comes_to)) or _PROCEDURES.get(
        (event.kind, event.job, ""), _OVER
    )
    return EventReport(event.kind, event.line, event.job, event.metre, event.run_m, text, asks)
