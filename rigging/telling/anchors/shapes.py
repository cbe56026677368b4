"""What the Anchors stage is made from: every candidate judged, every arrangement asked what each leg sees and what if."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict

from rigging.document import Verdict
from rigging.judging.legs_gone import Outcome
from rigging.telling.figures.shapes import Finding, Spot
from rigging.telling.figures.working import Figure


@dataclass(slots=True)
class FeatureReport:
    """A candidate: where it lies from the working point in use, what it holds, the verdict its inspection leads to.

    `kind` is what it was taken for when this was worked out, `alone` is its margin if it alone held this anchor's pull (None: not known), `off_pull_rad` how far it lies off straight
    behind the pull; `rank` orders the candidates by what they would do here, best first; `loaded` says whether the
    arrangement that is taken pulls on it."""

    id: str
    kind: str
    distance: Figure
    bearing_rad: float
    holds: Figure | None
    why_not: str
    limit: str
    higher_up: str
    open_questions: int
    verdict: Verdict | None
    reasons: list[str]
    doubts: list[str]
    guard: str
    loaded: bool
    off_pull_rad: float
    alone: float | None
    rank: int


@dataclass(slots=True)
class LinkReport:
    name: str
    strength: Figure


@dataclass(slots=True)
class NeedReport:
    """Material for one use: how much, the piece of the kit for it (None: none long enough), and what to do then."""

    use: str
    where: str
    material: str
    need: Figure
    piece_m: float | None
    text: str


@dataclass(slots=True)
class OnePieceRow:
    """Metres of a piece that something takes."""

    what: str
    length_m: float


@dataclass(slots=True)
class OnePieceReport:
    """The one piece of an anchor: how long it has to be, by what; the way it runs; what goes with a cut on each leg, and with each knot undone."""

    need: NeedReport
    way: list[str]
    parts: list[OnePieceRow]
    cuts: list[str]
    undone: list[str]


@dataclass(slots=True)
class StageReport:
    """What sets a working point down: what it holds, and that over all of the pull."""

    name: str
    holds: Figure
    margin: float


@dataclass(slots=True)
class TightRow:
    """A leg that is pulled tight: to what, and what it bears after each round, in newtons."""

    name: str
    wanted_n: float
    after_n: list[float]


@dataclass(slots=True)
class TightReport:
    """Legs pulled tight one after another, as the leader has it or (not `given`) as opposed ones follow each other; `text`: what does not stay tight."""

    order: list[str]
    given: bool
    rows: list[TightRow]
    text: str


@dataclass(slots=True)
class LegReport:
    """One leg under the pull. `share` is its force over the pull; `holds` its chain's least link, feature included; `behind`: it ties back the feature
    of the first."""

    index: int
    feature: str
    name: str
    start: Spot
    end: Spot
    length: Figure
    force: Figure
    share: Figure
    off_pull_rad: float
    behind: bool
    strands: int
    slack: bool
    links: list[LinkReport]
    holds: Figure | None
    weakest: str
    margin: float | None
    verdict: Literal["meets", "below", "unknown"]
    needs: list[NeedReport]
    limits: str
    tail: Figure | None


@dataclass(slots=True)
class SweepReport:
    """The pull swung to either side: each leg's expected force (n by d) in newtons, and the worst there is."""

    offsets_rad: list[float]
    forces_n: list[list[float]]
    worst_leg: int
    worst_rad: float
    worst: Figure


@dataclass(slots=True)
class RemovalReport:
    """A leg gone: where the point goes, who takes it, the peak on the way, and whether what remains holds.

    `slips_m` is what runs through a clutch, None where it does not stop; without any legs left only `text` is told."""

    leg: int
    name: str
    point: Spot
    moved: Figure | None
    forces: list[Figure]
    peak: Figure | None
    peak_on_leg: Figure | None
    slips_m: float | None
    outcome: Outcome
    text: str


@dataclass(slots=True)
class GatherReport:
    """Leg lengths for the wanted point and pull, and the most that a centimetre in one leg moves any leg's force. Where
    no lengths bring the loaded point there, `text` says so and there are no figures."""

    point: Spot
    lengths: list[Figure]
    forces: list[Figure]
    per_cm: Figure | None
    text: str


@dataclass(slots=True)
class PretensionRow:
    pretension_n: float
    tension_n: float
    at_anchors_n: float
    sag_m: float
    gained_m: float


@dataclass(slots=True)
class SpanReport:
    """A line between two ends: how deep it hangs, what it pulls, and where its device would slip."""

    span: Figure
    sag: Figure
    tension: Figure
    slips_at: Figure | None
    slipping: bool
    fed_m: float
    rows: list[PretensionRow]


@dataclass(slots=True)
class CostReport:
    """What an arrangement takes: metres by material, connectors, minutes to build."""

    material_m: dict[str, float]
    connectors: int
    minutes: Figure
    short: list[str]


@dataclass(slots=True)
class ArrangementReport:
    """One arrangement under one state's pull. `scheme` by its name. Where it can not be laid out, `why_not` says why and the rest is empty."""

    id: str
    name: str
    scheme: str
    available: bool
    why_not: str
    pulled_in: str
    pull: Figure | None
    heading_rad: float
    direction: Spot
    loaded_at: Spot
    movement: Figure | None
    prop: Figure | None
    widest_rad: float
    legs: list[LegReport]
    sweep: SweepReport | None
    removals: list[RemovalReport]
    gather: GatherReport | None
    piece: OnePieceReport | None
    others: list[NeedReport]
    stages: list[StageReport]
    tight: TightReport | None
    span: SpanReport | None
    cost: CostReport | None
    weakest_margin: float | None
    weakest: str
    moves_most: Figure | None
    findings: list[Finding]


class AnchorsReport(BaseModel):
    """The Anchors stage in one state of the work."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    state: str
    caution: str
    features: list[FeatureReport]
    arrangements: list[ArrangementReport]
