"""What buys most, told: each change in the trade's words with what it does here, and the line that the log would keep."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from rigging.advice.best import GOALS, Best, Effect, Goal, Tried, offered, to_inspect
from rigging.advice.best import best as tried_out
from rigging.advice.one_pulley import one_pulley
from rigging.catalogue import catalogue
from rigging.checks.gathered import Listed
from rigging.document import Plan
from rigging.judging.margins import Part
from rigging.lines.states import hauling_line
from rigging.quantities.progress import Tell, silent
from rigging.quantities.units import Wording
from rigging.telling.check.sheet import EditOut
from rigging.telling.words import told as told_of
from rigging.telling.words.names import line_name, lower_first, short_name

GOAL_NAMES: dict[Goal, str] = {
    "margin": "Weakest margin", "hand": "Pull at the hands", "brake": "Brake hand", "haulers": "Haulers", "resets": "Resets",
    "singles": "One thing alone", "minutes": "Minutes",
}  # fmt: skip


@dataclass(slots=True)
class Outcome:
    """One quantity of a plan: as it is now, and with the change (the same where it stays)."""

    goal: Goal
    name: str
    now: str
    then: str
    better: Literal["better", "same", "worse"]


@dataclass(slots=True)
class ChangeReport:
    """A change: what, its edits, what it does here, the line for the log, and the stops that it would bring."""

    id: str
    text: str
    gain: str
    outcomes: list[Outcome]
    edits: list[EditOut]
    log: str
    brings: list[str] = field(default_factory=list)


@dataclass(slots=True)
class FrictionCost:
    """What the friction of one bend or edge costs at the haulers' hands."""

    crossing: str
    text: str
    cost: str


class BestReport(BaseModel):
    """Changes that help by one goal, most first, and apart those that would bring a stop; how many were tried; what could help once
    it is inspected; what each part costs."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    goal: Goal
    goals: dict[Goal, str]
    now: str
    tried: int
    helping: int
    changes: list[ChangeReport]
    stopped: list[ChangeReport]
    inspect: list[str]
    costs: list[FrictionCost]
    one_pulley: list[str]


def best_report(
    plan: Plan, goal: Goal = "margin", most: int = 12, say: Wording | None = None, tell: Tell = silent
) -> BestReport:
    """Every change tried; those that help by a goal, told. `tell`: how many have been tried.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    say, found = say or Wording(), tried_out(plan, tell)
    ranked, offer = found.ranked(goal), offered(plan, found, goal, most)
    return BestReport(
        goal=goal, goals=GOAL_NAMES, now=value_text(found.now, goal, plan, say), tried=len(found.tried) + found.refused, helping=len(ranked),
        changes=[_change(one, found, goal, plan, say, []) for one in offer.changes],
        stopped=[_change(one, found, goal, plan, say, lines) for one, lines in offer.stopped],
        inspect=[f"{one.name}: not inspected yet; what it holds could be counted on once it is." for one in to_inspect(plan)],
        costs=_costs(found, say),
        one_pulley=_one_pulley(plan),
    )  # fmt: skip


def _change(one: Tried, found: Best, goal: Goal, plan: Plan, say: Wording, lines: list[Listed]) -> ChangeReport:
    text = change_text(one.change.kind, one.change.values, plan)
    outcomes = [_outcome(each, found.now, one, plan, say) for each in GOALS]
    told = [row for row in outcomes if row.better != "same" or row.goal == goal]
    gain = next(f"{row.now} → {row.then}" for row in outcomes if row.goal == goal)
    log = f"{text}: {lower_first(GOAL_NAMES[goal])} {gain}"
    edits = [EditOut(e.op, e.path, e.value) for e in one.change.edits]
    id = ";".join(f"{e.path}={e.value if isinstance(e.value, str | int | float) else text}" for e in one.change.edits)
    return ChangeReport(
        id, text, gain, [*told], edits, log, [told_of(line.found, one.change.plan, say)[0] for line in lines]
    )


def _outcome(goal: Goal, now: Effect, one: Tried, plan: Plan, say: Wording) -> Outcome:
    here, there = now.size(goal), one.effect.size(goal)
    alike = here == there or abs(here - there) < 1e-9 * max(1.0, abs(here))
    better: Literal["better", "same", "worse"] = "same" if alike else "better" if there < here else "worse"
    before, after = value_text(now, goal, plan, say), value_text(one.effect, goal, one.change.plan, say)
    # What reads alike is told alike.
    return Outcome(goal, GOAL_NAMES[goal], before, after, "same" if before == after else better)


def value_text(effect: Effect, goal: Goal, plan: Plan, say: Wording) -> str:
    """One quantity in a few words; a dash where it is not known."""
    weakest = effect.weakest
    if goal == "margin":
        return margin_text(weakest) if weakest else "–"
    if goal in ("hand", "brake"):
        hand = effect.hand_n if goal == "hand" else effect.brake_n
        return say.force(hand) if hand else "–"
    value = {"haulers": effect.haulers, "resets": effect.resets, "singles": effect.singles, "minutes": effect.minutes}[
        goal
    ]
    if value is None:
        return "–"
    return f"{value:.0f} min" if goal == "minutes" else f"{value:.0f}"


def margin_text(part: Part) -> str:
    """A part's margin against its target; a dash where it is not known."""
    return f"{part.margin.low:.1f} : 1 of {part.target:g}, {short_name(part)}" if part.margin else "–"


def _costs(found: Best, say: Wording) -> list[FrictionCost]:
    return [
        FrictionCost(one.crossing.id, f"{one.crossing.name} at {one.crossing.id.partition(':')[2]}" if one.crossing.role == "bend" else one.crossing.name,
                   say.force(one.hand_n))
        for one in found.costs
        if one.hand_n > 0.5
    ]  # fmt: skip


def _one_pulley(plan: Plan) -> list[str]:
    """Both schools of where a lone pulley belongs, computed."""
    line = hauling_line(plan)
    found = one_pulley(line.haul.system) if line and line.haul else []
    schools = {one.school: one for one in reversed(found) if one.school}
    told = [f"best at {found[0].at}: {found[0].gives:.2f} : 1"] if found and not found[0].school else []
    if "hands" in schools:
        told.append(
            f"nearest the hands, at {schools['hands'].at}: {schools['hands'].gives:.2f} : 1, it multiplies all behind it"
        )
    if "load" in schools:
        told.append(
            f"at the block that goes to the casualty, {schools['load'].at}: {schools['load'].gives:.2f} : 1, it can not be changed later"
        )
    return told


Labeller = Callable[[dict[str, Any], Plan], str]
_TEXT: dict[str, Labeller] = {
    "load-knot": lambda v, p: f"{v['what']} at the load{_whose(v, p)}",
    "load-connector": lambda v, p: f"{v['what']} at the load{_whose(v, p)}",
    "device": lambda v, p: f"{v['what']} in place of the {lower_first(catalogue().devices[v['now']].name)}{_whose(v, p)}",
    "brake-hitch": lambda v, p: f"{v['what']} on the brake side{_whose(v, p)}",
    "hands": lambda v, p: f"Two people on the brake strand{_whose(v, p)}",
    "bend": lambda v, p: f"{v['what']} in place of the {lower_first(v['now'])} at {v['at']}",
    "system": lambda v, p: f"{v['what']} on {_plural(v['on'])}",
    "stack": lambda v, p: f"{v['what']}, on {_plural(v['on'])}",
    "add-redirect": lambda v, p: "One more change of direction",
    "drop-redirect": lambda v, p: "The last change of direction out",
    "grab": lambda v, p: f"{v['what']} as haul grab",
    "capture": lambda v, p: f"{v['what']} as ratchet",
    "set-back": lambda v, p: f"Anchor {v['at']} of the haul system set back {v['by_m']:g} m",
    "redirect-bend": lambda v, p: f"{v['what']} at {lower_first(v['at'])}",
    "straight-back": lambda v, p: "Haul strand led straight back",
    "belay": lambda v, p: f"{v['what']} on the belay",
    "edge": lambda v, p: f"{v['what']} at {lower_first(v['at'])}",
    "rope": lambda v, p: f"{v['what']} as {_on_rope(v, p)}",
    "second": lambda v, p: "A second rope, loaded alike",
    "haulers": lambda v, p: f"{v['count']} haulers",
    "school": lambda v, p: f"{v['what']} as {lower_first(v['of'])}",
    "working-connector": lambda v, p: f"{v['what']} at the working point, {lower_first(v['of'])}",
    "turns": lambda v, p: f"{v['turns']} turns round {_leg(v, p)}, {lower_first(v['of'])}",
    "leg-material": lambda v, p: f"{v['what']} round {_leg(v, p)}, {lower_first(v['of'])}",
    "extension": lambda v, p: f"{v['what']} on from {_leg(v, p)}, {lower_first(v['of'])}",
    "feature": lambda v, p: f"{v['what']} in place of {_leg(v, p)}, {lower_first(v['of'])}",
    "leg-method": lambda v, p: f"{v['what']} round {_leg(v, p)}, {lower_first(v['of'])}",
}  # fmt: skip


def change_text(kind: str, values: dict[str, Any], plan: Plan) -> str:
    """A change in the trade's words."""
    text = _TEXT[kind](values, plan)
    return text[:1].upper() + text[1:]


def _whose(v: dict[str, Any], p: Plan) -> str:
    return f", {lower_first(line_name(p, v['line']))}" if len(p.lines) > 1 else ""


def _plural(name: str) -> str:
    return (
        f"{lower_first(name.removeprefix('Bare '))}s"
        if not name.startswith("Bare")
        else f"bare {name.removeprefix('Bare ')}s"
    )


def _on_rope(v: dict[str, Any], p: Plan) -> str:
    lines = [lower_first(line_name(p, line.id)) for line in p.lines if line.rope == v["rope"]]
    return " and ".join(lines) or str(v["rope"])


def _leg(v: dict[str, Any], p: Plan) -> str:
    return lower_first(p.feature(v["leg"]).name)
