"""The analysis result: what every screen, printout and check is made from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict

from rigging.lines.build import Phase
from rigging.quantities.ranges import Range
from rigging.telling.working import Figure, Working

Level = Literal["stop", "look", "note"]


@dataclass(slots=True)
class Place:
    x_m: float
    z_m: float


@dataclass(slots=True)
class NodeReport:
    """A node of the phase's network; `out_m` is how far in front of the working point it lies along the line."""

    id: str
    kind: Literal["anchor", "edge", "moving", "load", "hand"]
    name: str
    at: Place
    out_m: float


@dataclass(slots=True)
class StrandReport:
    """A strand from `start` to `end`; `rope` and `index` place it in the phase's ropes."""

    id: str
    rope: int
    index: int
    start: str
    end: str
    main: bool
    tension: Figure


@dataclass(slots=True)
class Swap:
    """What else could sit here, and the hand pull, advantage of the line and change of pull it would give."""

    kind: str
    name: str
    hand_n: float
    line_advantage: float
    change_n: float


@dataclass(slots=True)
class CrossingReport:
    """A bend, edge or device: what it is, the force on it, and what it costs at the hand (raising)."""

    id: str
    role: Literal["bend", "edge", "device"]
    node: str
    kind: str
    name: str
    turn_rad: float
    passes_on: Figure
    force: Figure
    cost: Figure | None
    swaps: list[Swap]


@dataclass(slots=True)
class Rung:
    """One part of the load path. `margin` is lowest strength over highest force; `verdict` is against the team's rule."""

    id: str
    name: str
    group: Literal["anchors", "others"]
    about: str
    force: Figure
    strength: Figure | None
    gives: Literal["breaks", "slips", "unknown", "unrated"]
    margin: Figure | None
    target: float
    verdict: Literal["meets", "below", "unknown", "unrated"]
    mend: str


@dataclass(slots=True)
class Finding:
    """Something the leader should know: what, how much, why, and what would mend it. `about` names the part."""

    id: str
    level: Level
    text: str
    mend: str
    about: str


@dataclass(slots=True)
class PhaseReport:
    """One state of the system. When it is not `available`, `why_not` says what is missing."""

    phase: Phase
    available: bool
    why_not: str
    high_when: str
    low_when: str
    nodes: list[NodeReport]
    ropes: list[list[str]]
    strands: list[StrandReport]
    crossings: list[CrossingReport]
    hand: Figure | None
    at_anchor: Figure | None
    rungs: list[Rung]
    weakest: str | None
    findings: list[Finding]


@dataclass(slots=True)
class HaulReport:
    """What the haul system gives. Strokes and rope are for the whole rise from where the load is now."""

    name: str
    ideal: float
    actual: Figure
    line_actual: Figure
    haulers_sustained: Figure
    haulers_heave: Figure
    stroke: Figure | None
    runs_out: str
    strokes: int | None
    resets: int | None
    rise: Figure
    through_hands: Figure
    open_bends: list[str]


@dataclass(slots=True)
class RopeBudget:
    """Rope on hand against rope needed; `left` is negative where it is short.

    `other` is what the haul system takes from pieces that are not the main rope."""

    job: Literal["lower", "raise"]
    length: Figure
    needed: Figure
    left: Figure
    other: Figure


@dataclass(slots=True)
class TurnReport:
    id: str
    name: str
    at: Place
    turn_rad: float
    entered: bool


@dataclass(slots=True)
class SiteReport:
    """The rope's way over the ground."""

    way: list[Place]
    turns: list[TurnReport]
    line_length: Figure
    drop_m: float
    load_mass: Range


@dataclass(slots=True)
class StageOpen:
    """What is still open in a stage of the work."""

    stage: Literal["size-up", "anchors", "lines"]
    items: list[str]


class Report(BaseModel):
    """Everything computed from one plan document."""

    model_config = ConfigDict(frozen=True)

    title: str
    caution: str
    site: SiteReport
    haul: HaulReport | None
    budgets: list[RopeBudget]
    phases: dict[Phase, PhaseReport]
    findings: list[Finding]
    open: list[StageOpen]
    workings: dict[str, Working]


CAUTION = (
    "Outrigger supports trained people. It replaces no training, no inspection, no local rule and no qualified "
    "person's judgement. Local codes and your team's own procedures come first."
)
