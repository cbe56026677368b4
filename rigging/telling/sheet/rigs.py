"""The best rigs out of the bags, told: what each is, what it asks and gives, why it and not the next, what it takes and what stays."""

from __future__ import annotations

import time
from collections.abc import Iterator
from concurrent.futures import Executor
from dataclasses import asdict, dataclass
from string import ascii_uppercase
from typing import Any

from pydantic import BaseModel, ConfigDict

from rigging.advice.rigs.asked import asked
from rigging.advice.rigs.figures import GOALS, Goal
from rigging.advice.rigs.search import Found, Lacks, Rig, best_rigs, common
from rigging.advice.rigs.ways import Bagged
from rigging.catalogue import catalogue
from rigging.document import TABLES, Plan, Table
from rigging.document.edits import Edit
from rigging.document.plan import entry_of
from rigging.lines.states import hauling_line
from rigging.quantities.progress import Tell, silent
from rigging.quantities.units import Wording
from rigging.telling.check.sheet import EditOut, check
from rigging.telling.sheet.best import margin_text
from rigging.telling.words import told as told_of
from rigging.telling.words.names import listed, lower_first, upper_first

GOAL_NAMES: dict[Goal, str] = {
    "margin": "Weakest margin", "haulers": "Haulers", "hand_n": "Pull at the hands", "resets": "Resets", "minutes": "Minutes", "pieces": "Pieces",
}  # fmt: skip
_MOST: dict[Goal, str] = {
    "margin": "the largest margin", "haulers": "the fewest to haul", "hand_n": "the least pull", "resets": "the fewest resets",
    "minutes": "the quickest", "pieces": "the fewest pieces",
}  # fmt: skip


@dataclass(slots=True)
class Told:
    """One figure of a rig, or the best of all rigs by it: in words, and its size where it is drawn."""

    goal: Goal
    name: str
    text: str
    size: float


@dataclass(slots=True)
class Against:
    """Why a rig and not another one."""

    letter: str
    text: str


@dataclass(slots=True)
class Carried:
    """What a rig takes out of one bag, and who carries it."""

    bag: str
    carried_by: str
    things: str


@dataclass(slots=True)
class RigReport:
    """A whole rig: what it is, what it asks and gives, its edits, the line for the log."""

    letter: str
    text: str
    figures: list[Told]
    best_in: str
    why: list[Against]
    uses_up: str
    stays: str
    carried: list[Carried]
    edits: list[EditOut]
    log: str
    now: bool


class RigsReport(BaseModel):
    """Rigs out of the bags that none betters in everything; how many were tried in how long; the best by every goal; where there is none, what
    stands in the way."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    tried: int
    checked: int
    seconds: float
    whole: bool
    rigs: list[RigReport]
    best: list[Told]
    unsaid: list[str]
    nothing: list[str]
    bags: list[str]


def rigs_report(
    plan: Plan, without: str | None = None, people: int | None = None, no_good: str | None = None, one_more: str | None = None,
    say: Wording | None = None, tell: Tell = silent, executor: Executor | None = None,
) -> RigsReport:  # fmt: skip
    """The best rigs out of a plan's bags, told.

    Raises
    ------
    Refused
        If the plan can not be laid out, or what is asked names nothing that is there.
    """
    say, began = say or Wording(), time.perf_counter()
    there, edits = asked(plan, without=without, people=people, no_good=no_good, one_more=one_more)
    found = best_rigs(there, executor=executor, tell=tell, bags=plan.bags)
    rows = list(zip(ascii_uppercase, found.rigs, strict=False))
    return RigsReport(
        tried=found.tried, checked=found.exactly, seconds=round(time.perf_counter() - began, 2), whole=found.whole,
        rigs=[_rig(letter, rig, rows, there, edits, say) for letter, rig in rows], best=_best(found.rigs, say), unsaid=_unsaid(there),
        nothing=list(_nothing(found, there, say)), bags=[one.name for one in plan.bags.packed],
    )  # fmt: skip


def rigs_json(
    plan: Plan, without: str | None = None, people: int | None = None, executor: Executor | None = None
) -> dict[str, Any]:
    """What the command line prints."""
    began = time.perf_counter()
    there, edits = asked(plan, without=without, people=people)
    found = best_rigs(there, executor=executor, bags=plan.bags)
    rows = list(zip(ascii_uppercase, found.rigs, strict=False))
    return {
        "tried": found.tried, "seconds": round(time.perf_counter() - began, 2),
        "rigs": [
            {"edits": [asdict(one) for one in (*edits, *rig.edits)], **_figures(rig), "why": " ".join(_why(letter, rig, rows))} for letter, rig in rows
        ],
        "nothing": list(_nothing(found, there, Wording())),
    }  # fmt: skip


def _figures(rig: Rig) -> dict[str, float]:
    of = rig.figures
    return {
        "margin": round(of.margin, 4), "haulers": of.haulers, "hand_n": round(of.hand_n, 1), "resets": of.resets, "minutes": round(of.minutes, 1),
        "pieces": of.pieces,
    }  # fmt: skip


Rows = list[tuple[str, Rig]]


def _rig(letter: str, rig: Rig, rows: Rows, plan: Plan, edits: tuple[Edit, ...], say: Wording) -> RigReport:
    text = rig_text(rig.plan)
    told = [_of(rig, goal, say) for goal in GOALS]
    log = f"{text}: {listed([f'{lower_first(one.name)} {one.text}' for one in told[:2]])}, {told[4].text}"
    return RigReport(
        letter, text, told, upper_first(listed(_best_in(rig, rows))), list(_against(letter, rig, rows)), listed(list(_used_up(plan, rig.plan))),
        listed(list(_stays(plan, rig.plan))), list(_carried(plan, rig.plan)), [EditOut(e.op, e.path, e.value) for e in (*edits, *rig.edits)], log,
        not rig.edits,
    )  # fmt: skip


def rig_text(plan: Plan) -> str:
    """A plan's rig in a few words: what hauls on what, what lowers, what catches, and how the main anchor is rigged."""
    found = []
    line = hauling_line(plan)
    if line and line.haul:
        bends = _counted([catalogue().bends[id].name for id in line.haul.bends.values()])
        led = "" if line.haul.redirects else ", pulled straight back"
        found.append(f"{line.haul.system.name}{f' on {bends}' if bends else ''}{led}")
    main = plan.line("main")
    if main and main.lowering:
        found.append(catalogue().devices[main.lowering.device].name)
    if main:
        anchor = plan.anchor(main.anchor)
        found.append(f"{anchor.name}: {lower_first(anchor.arrangement.name)}")
    belay = plan.line("belay")
    if belay and belay.belay and belay.belay.holds != "tied":
        found.append(f"belay on {lower_first(catalogue().catching(belay.belay.holds, belay.belay.what).name)}")
    return "; ".join(lower_first(one) if number else one for number, one in enumerate(found))


def _counted(names: list[str]) -> str:
    return listed(
        [
            f"{names.count(name)} {lower_first(name)}{'s' if names.count(name) > 1 else ''}"
            for name in dict.fromkeys(names)
        ]
    )


def _of(rig: Rig, goal: Goal, say: Wording) -> Told:
    of = rig.figures
    size: float = getattr(of, goal)
    if goal == "margin":
        text = margin_text(rig.weakest)
    elif goal == "hand_n":
        text = say.force(size)
    elif goal == "haulers":
        text = f"{of.haulers} of {rig.plan.team.haulers}"
    else:
        text = f"{size:.0f} min" if goal == "minutes" else f"{size:.0f}"
    return Told(goal, GOAL_NAMES[goal], text, size)


def _best(rigs: list[Rig], say: Wording) -> list[Told]:
    """The best of all by every goal."""
    return [
        _of(min(rigs, key=lambda one: one.figures.sizes[number]), goal, say)
        for number, goal in enumerate(GOALS) if rigs
    ]  # fmt: skip


def _best_in(rig: Rig, rows: Rows) -> list[str]:
    """What nobody else of those shown has as much of."""
    others = [one for _, one in rows if one is not rig]
    return [
        _MOST[goal] for number, goal in enumerate(GOALS)
        if others and all(rig.figures.sizes[number] < one.figures.sizes[number] - _TOLD[goal] for one in others)
    ]  # fmt: skip


# Less than this is told as no difference.
_TOLD: dict[Goal, float] = {
    "margin": 0.005,
    "haulers": 0.5,
    "hand_n": 1.0,
    "resets": 0.5,
    "minutes": 0.5,
    "pieces": 0.5,
}


def _why(letter: str, rig: Rig, rows: Rows) -> Iterator[str]:
    best = _best_in(rig, rows)
    if best:
        yield f"{upper_first(listed(best))} of these."
    if len(rows) == 1:
        yield "Nothing else out of these bags keeps the rule with the people there and gives more of anything."
    for one in _against(letter, rig, rows):
        yield f"Not {one.letter}: {one.text}"


def _against(letter: str, rig: Rig, rows: Rows) -> Iterator[Against]:
    """Against those before and after it."""
    place = ascii_uppercase.index(letter)
    for other, one in rows[max(0, place - 1) : place + 2]:
        if one is not rig:
            gives, takes = _differences(rig, one)
            yield Against(other, f"{other} gives {listed(takes) or 'nothing more'}, for {listed(gives) or 'nothing'}.")


def _differences(rig: Rig, other: Rig) -> tuple[list[str], list[str]]:
    """What another rig asks more than this one, and what it gives more."""
    asks: list[str] = []
    gives: list[str] = []
    for number, goal in enumerate(GOALS):
        apart = other.figures.sizes[number] - rig.figures.sizes[number]
        if abs(apart) >= _TOLD[goal]:
            (asks if apart > 0 else gives).append(_apart(goal, apart))
    return asks, gives


def _apart(goal: Goal, apart: float) -> str:
    more, size = apart > 0, abs(apart)
    if goal == "margin":
        return f"{size:.0%} of the rule {'less' if more else 'more'} margin"
    if goal == "hand_n":
        return f"{size:.0f} N {'more' if more else 'less'} at the hands"
    if goal == "minutes":
        return f"{size:.0f} min {'more' if more else 'less'}"
    what = {"haulers": "to haul", "resets": "reset", "pieces": "piece"}[goal]
    plural = "s" if size != 1 and goal != "haulers" else ""
    return f"{size:.0f} {'more' if more else 'fewer'} {what}{plural}"


def _kind_name(table: Table, id: str) -> str:
    return lower_first(entry_of(table, id).name)


def _left(plan: Plan, rig: Plan) -> Iterator[tuple[Table, str, int, int]]:
    """Every kind in the bags: how many a rig uses and how many are left."""
    used = Bagged.of(rig).counts
    for table in TABLES:
        for id, count in (plan.bags.there(table) or {}).items():
            yield table, id, used[table][id], count - used[table][id]


def _times(count: int, name: str) -> str:
    return name if count == 1 else f"{count} × {name}"


def _used_up(plan: Plan, rig: Plan) -> Iterator[str]:
    for table, id, uses, left in _left(plan, rig):
        if uses and left <= 0:
            yield f"the last {_kind_name(table, id)}"


def _stays(plan: Plan, rig: Plan) -> Iterator[str]:
    for table, id, _, left in _left(plan, rig):
        if left > 0:
            yield _times(left, _kind_name(table, id))


def _carried(plan: Plan, rig: Plan) -> Iterator[Carried]:
    """What comes out of which bag: what lies loose first, then the bags in their order."""
    left = {(table, id): uses for table, id, uses, _ in _left(plan, rig)}
    for table in TABLES:
        for id, count in (getattr(plan.bags, table) or {}).items():
            left[table, id] = max(0, left[table, id] - count)
    for bag in plan.bags.packed:
        things = []
        for table in TABLES:
            for id, count in (getattr(bag, table) or {}).items():
                taken = min(count, left[table, id])
                left[table, id] -= taken
                things += [_times(taken, _kind_name(table, id))] if taken else []
        if things:
            yield Carried(bag.name, bag.carried_by or "", listed(things))


_SAID: dict[Table, str] = {
    "bends": "pulleys and carabiners", "devices": "devices", "hitches": "cords for hitches, and clamps", "protections": "edge protection",
    "ropes": "ropes",
}  # fmt: skip


def _unsaid(plan: Plan) -> list[str]:
    """What nobody counted: of it only what the plan has is tried."""
    return [_SAID[table] for table in TABLES if plan.bags.there(table) is None and table != "protections"]


def _nothing(found: Found, plan: Plan, say: Wording) -> Iterator[str]:
    """Why there is no rig at all, the smallest thing first."""
    if found.rigs:
        return
    if not any(line.lowering or line.haul for line in plan.lines):
        yield "Nothing lowers or hauls in this plan yet: choose that first, under Lines."
    if found.lacks is not None:
        yield from _lacks(found.lacks)
    stops = common(found.stops)
    here = {one.id: one.text for one in check(plan, say).lines} if stops else {}
    for stop in stops:
        yield f"The check stops for it whatever is rigged. {here.get(stop.id) or told_of(stop, plan, say)[0]}"
    if found.short:
        wants = listed([f"{count} more {_kind_name(table, id)}" for table, id, count in found.short])
        yield f"The bags hold no rig at all; the nearest wants {wants}."


def _lacks(lacks: Lacks) -> Iterator[str]:
    if lacks.people is not None and lacks.people > 0:
        yield f"{lacks.people} more to haul {'are' if lacks.people > 1 else 'is'} missing."
    if lacks.margin is not None:
        yield f"No rig keeps the rule: the most that one keeps is {lacks.margin:.0%} of it, at its weakest part."
