"""The analysis result: what every screen, printout and check is made from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict

from rigging.checks.found import Level
from rigging.document.lines import Role
from rigging.quantities.ranges import Range
from rigging.telling.figures.working import Figure

StateGroup = Literal["held", "lower", "raise", "goes"]
Runs = Literal["", "to-start", "to-end"]


@dataclass(slots=True)
class Spot:
    """A place on the sheet: out along the fall line, to the right looking out, up."""

    x_m: float
    y_m: float
    z_m: float


@dataclass(slots=True)
class NodeReport:
    """A node of the state's rig; `on` is the anchor it is fastened to, `out_m` how far in front of its working point it
    lies along its line."""

    id: str
    kind: Literal["anchor", "edge", "grab", "block", "load", "hands"]
    name: str
    at: Spot
    on: str
    out_m: float


@dataclass(slots=True)
class StrandReport:
    """A strand from `start` to `end` of a piece (`rope`) of a line. A slack one carries nothing and has no figure;
    `runs` says which way rope goes through it."""

    id: str
    line: str
    rope: str
    index: int
    start: str
    end: str
    main: bool
    slack: bool
    runs: Runs
    tension: Figure | None


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
    """A bend, edge, redirect or device: what it is, the force on it, and what it costs at the hand (raising)."""

    id: str
    line: str
    role: Literal["bend", "edge", "redirect", "device"]
    node: str
    kind: str
    name: str
    turn_rad: float
    passes_on: Figure
    force: Figure
    cost: Figure | None
    swaps: list[Swap]


@dataclass(slots=True)
class AnchorPull:
    """Pull on an anchor in this state, and its direction (unit vector)."""

    anchor: str
    force: Figure
    direction: Spot


@dataclass(slots=True)
class Rung:
    """One part of the load path. `margin` is lowest strength over highest force; `verdict` is against the team's rule;
    `takes` is the part that the question "what if it goes?" is asked of; `drawn` the drawing of how it is tied ("": there is none)."""

    id: str
    name: str
    group: Literal["anchors", "others", "slips"]
    about: str
    takes: str
    force: Figure
    strength: Figure | None
    gives: Literal["breaks", "slips", "unknown", "unrated"]
    margin: Figure | None
    target: float
    verdict: Literal["meets", "below", "unknown", "unrated"]
    mend: str
    drawn: str = ""


@dataclass(slots=True)
class Finding:
    """Something the leader should know: what, how much, why, and what would mend it. `about` names the part."""

    id: str
    level: Level
    text: str
    mend: str
    about: str


@dataclass(slots=True)
class CatchReport:
    """A line has gone: which one, what catches (None: nothing), the free drop, the peak, what slips and where it stops."""

    gone: str
    by: str | None
    drop: Figure | None
    peak: Figure | None
    slid: Figure | None
    stops_in: Figure | None
    clutch: str
    text: str


@dataclass(slots=True)
class StateReport:
    """One moment of the work. When it is not `available`, `why_not` says what is missing."""

    id: str
    name: str
    group: StateGroup
    available: bool
    why_not: str
    high_when: str
    low_when: str
    nodes: list[NodeReport]
    ropes: list[list[str]]
    strands: list[StrandReport]
    crossings: list[CrossingReport]
    hand: Figure | None
    hand_line: str
    anchors: list[AnchorPull]
    rungs: list[Rung]
    weakest: str | None
    findings: list[Finding]
    catch: CatchReport | None


@dataclass(slots=True)
class HaulReport:
    """What the haul system gives. Strokes and rope are for the whole rise from where the load is now."""

    line: str
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
    stretch: Figure
    sinks: Figure
    through_hands: Figure
    open_bends: list[str]


@dataclass(slots=True)
class RopeBudget:
    """Rope on hand against rope needed; `left` is negative where it is short.

    `other` is what the haul system takes from pieces that are not the line's own rope."""

    job: Literal["lower", "raise", "catch", "span", "strands"]
    line: str
    length: Figure
    needed: Figure
    left: Figure
    other: Figure


@dataclass(slots=True)
class TurnReport:
    """A corner of a line's way over the ground; `node` is its name in the states."""

    node: str
    name: str
    at: Spot
    turn_rad: float
    entered: bool


@dataclass(slots=True)
class LineReport:
    """A line's way: working point, redirects, corners, load."""

    id: str
    name: str
    role: Role
    way: list[Spot]
    turns: list[TurnReport]
    length: Figure


@dataclass(slots=True)
class SiteReport:
    """What the ground asks: the drop from the first corner to the load, and what hangs there."""

    drop_m: float
    load_mass: Range
    straight: bool


@dataclass(slots=True)
class RuleReport:
    """The rule in force, and what it asks of anchors, of everything else and of what slips for this load."""

    school: Literal["static-ratio", "force-limit"]
    text: str
    means: list[str]


@dataclass(slots=True)
class NextStep:
    """The next open thing, in the order of the work: where it is and what belongs there."""

    stage: Literal["size-up", "anchors", "lines"]
    id: str
    text: str


@dataclass(slots=True)
class StageOpen:
    """What is still open in a stage of the work."""

    stage: Literal["size-up", "anchors", "lines"]
    items: list[str]


@dataclass(slots=True)
class WholeReport:
    """What takes every state of the plan: the rule's meaning, what is open in each stage, what comes next."""

    rule: RuleReport
    open: list[StageOpen]
    next: list[NextStep]


class Report(BaseModel):
    """Everything computed from one plan document. `opens_in` is the state that the sheet opens in.

    `whole` is left out where one state was asked for.
    """

    model_config = ConfigDict(frozen=True, defer_build=True)

    caution: str
    site: SiteReport
    lines: list[LineReport]
    haul: HaulReport | None
    budgets: list[RopeBudget]
    states: list[StateReport]
    opens_in: str
    findings: list[Finding]
    whole: WholeReport | None

    def state(self, id: str) -> StateReport:
        """The state of this id."""
        return next(one for one in self.states if one.id == id)


CAUTION = (
    "Outrigger supports trained people. It replaces no training, no inspection, no local rule and no qualified "
    "person's judgement. Local codes and your team's own procedures come first."
)
