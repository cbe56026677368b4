"""What the bag holds and what it is worth: data files, each value with a range and an origin."""

from __future__ import annotations

import json
import math
import sys
from contextlib import suppress
from functools import cache
from importlib.util import cache_from_source
from pathlib import Path
from typing import Any, Literal, TypeVar

from pydantic import Field

from rigging.catalogue.haul import HaulSystem
from rigging.quantities.ranges import Range, Strict, exactly, times

_HERE = Path(__file__).parent


class Source(Strict):
    """Origin of a value: published (S), practice (P), memory (M), given (G) or computed (C)."""

    id: str
    kind: Literal["S", "P", "M", "G", "C"]
    text: str


class Entry(Strict):
    id: str
    name: str


class Bend(Entry):
    """What a rope can run round; `eta` is the share of tension a half turn passes on. `minds`: hitches that it keeps from
    running in."""

    eta: Range
    minds: list[str] = []
    strength_n: Range
    source: str
    strength_source: str


class Surface(Entry):
    """What a rope bends over: friction coefficient `mu`, `eta` per half turn for a roller, or `passes`, the share of the
    tension that gets through whatever the angle where the rope has bitten in. `leaves`: on rope that runs over it bare."""

    role: Literal["ground", "protection"]
    mu: Range | None = None
    eta: Range | None = None
    passes: Range | None = None
    leaves: Literal["fuzz", "grit"] | None = None
    source: str

    @property
    def friction(self) -> tuple[Literal["η", "μ", "k"], Range]:
        """Its symbol and range, whichever of them the surface has."""
        if self.passes is not None:
            return "k", self.passes
        if self.eta is not None:
            return "η", self.eta
        assert self.mu is not None, f"surface {self.id} has neither eta nor mu"
        return "μ", self.mu


class Contact(Entry):
    """How the load meets the ground."""

    mu: Range
    source: str


Led = Literal["parallel", "back"]


class Device(Entry):
    """A lowering device: `ratio` is tension at the device over force at the hand; round a trunk or bar, `turns` and `mu`
    give it. `spine`: which strand lies on the connector's spine matters. `led`: how its brake strand is led for it to brake so,
    beside the load strand or back, away from the load; `other_way`: the share of its ratio that it keeps led the other way."""

    ratio: Range | None = None
    mu: Range | None = None
    turns: float | None = None
    self_locking: bool
    twists: Literal["no", "some", "yes", "cancels"] = "no"
    spine: bool = False
    led: Led = "back"
    other_way: Range = exactly(1.0)
    look: str = ""
    strength_n: Range
    gives: Literal["breaks", "slips"] = "breaks"
    source: str
    strength_source: str

    def holding(self, turns: float | None = None, led: Led | None = None) -> Range:
        """Tension at the device over force at the hand; round a trunk or bar e^(2πnμ) (capstan equation)."""
        if self.ratio is not None:
            kept = self.other_way if led is not None and led != self.led else exactly(1.0)
            return times(self.ratio, kept).map(lambda ratio: max(1.0, ratio))
        assert self.mu is not None and self.turns is not None, f"device {self.id} has neither ratio nor mu and turns"
        round_rad = 2 * math.pi * (turns or self.turns)
        return self.mu.map(lambda mu: math.exp(mu * round_rad))


class Hitch(Entry):
    """What grabs a rope: a friction hitch, a clamp, or a device. `slip_n` is where it starts to slide on one rope (None: it
    cuts instead), `breaks_n` where its cord breaks round two together, on which it does not slide, or a clamp cuts the
    sheath. `cord` and `wraps` are what a hitch is usually tied with; a `pair` lies in line."""

    form: Literal["hitch", "clamp", "device"] = "hitch"
    slip_n: Range | None = None
    breaks_n: Range
    wraps: int | None = None
    cord: str | None = None
    pair: bool = False
    both_ways: bool
    releases_under_load: bool
    minds_itself: bool = False
    look: str
    source: str


class Knot(Entry):
    """`keeps` is the share of the rope's strength left, `along` that of a loop pulled along the line, `apart` that of a loop
    pulled apart. `takes_m` is the material it uses up with its loop; a `bend` joins two ropes, and with short tails runs at
    `slips_n`. `slick_runs`: of what knots in slick cord run at."""

    keeps: Range
    along: Range | None = None
    apart: Range | None = None
    slips_n: Range | None = None
    slick_runs: Range = exactly(1.0)
    bend: bool = False
    look: str
    takes_m: float
    source: str


class RopeKind(Entry):
    diameter_m: float
    strength_n: Range
    people_ceiling: int | None = None
    slick: bool = False
    ea_n: Range
    source: str
    stiffness_source: str


class SlingMaterial(Entry):
    """`strand_n` and `ea_n` are strength and stiffness of one strand; a `sewn` one is a loop of fixed length."""

    strand_n: Range
    ea_n: Range
    thickness_m: float
    sewn: bool
    cord: bool = False
    slick: bool = False
    source: str
    stiffness_source: str


class Turns(Strict):
    """How many times round, for a method."""

    least: int
    usual: int
    most: int


class AttachmentMethod(Entry):
    """A way round a feature: the strands that pull, the share of their sum that arrives, and how the material lies."""

    strands: int
    strands_per_turn: int
    turns: Turns
    keeps: Range
    path: Literal["basket", "choker", "wrap-pull", "tie-off", "loop", "post"]
    knot: str | None
    knot_bears: bool
    of_loop: bool
    take_m: float
    connectors: int
    minutes: Range
    limits: str
    source: str


class Connector(Entry):
    """`three_way`: it may be pulled in three directions; any other is made for a pull along its length and keeps
    `across_n` when pulled across."""

    strength_n: Range
    three_way: bool = False
    across_n: float | None = None
    source: str


class Option(Entry):
    """An answer to choose, with the value that it stands for where it has one."""

    value: Range | None = None


class Bad(Strict):
    """What a bad answer leads to, and why."""

    verdict: Literal["reject", "doubt"]
    why: str


class At(Strict):
    """What a measured number stands for."""

    at: float
    value: Range


class Question(Strict):
    """One question of an inspection. A number outside `least` to `most` is questioned; without a `need` no estimate.

    `gives`: what its answer is to the estimate, a base in newtons or a share that multiplies it; of a number by straight lines
    between the rows of `by`. `unsaid`: what a number may be that nobody measured.
    """

    id: str
    ask: str
    kind: Literal["number", "choice", "yes-no"]
    unit: str = ""
    need: bool = False
    least: float = 0
    most: float = 0
    options: list[Option] = []
    bad: dict[str, Bad] = {}
    gives: Literal["", "base", "share"] = ""
    by: list[At] = []
    unsaid: Range | None = None
    source: str = ""


class FeatureKind(Entry):
    """A kind of feature: its inspection, how it is estimated, how far its head gives, and whether it wants a guard. One that
    `pushes` is stood on, not tied to: the foot of a frame. One that `lifts` is drawn out by a pull that rises. One estimated `by_standard`
    never stands alone until somebody has pulled it."""

    surface: str
    round: bool = False
    pushes: bool = False
    head_n_per_m: Range
    estimate: Literal["tree", "block", "vehicle", "rating", "answers", "deadman", "person"]
    lifts: bool = False
    by_standard: bool = False
    temporary: bool = False
    guarded: str = ""
    questions: list[Question]
    source: str


class HoldingPower(Strict):
    """Holding pressure of earth at a depth, by slope of the pull."""

    depth_m: float
    pressure_pa: dict[str, float]


class Tying(Strict):
    """What the way a thing is tied does to it, as shares, and the limits of common practice.

    `wear`: strength left of a rope by its look. `per_wrap`, `beyond_wrap`: grip for each wrap more than usual, and for each
    beyond `wraps_most`. `per_mm_thick`: grip for each millimetre that a cord is thicker than the rope less `cord_thinner_m`.
    """

    wear: dict[str, Range]
    slick_keeps: Range
    slick_thin_m: float
    slick_thin_slips_n: Range
    slick_slips_n: Range
    slick_overhand_slips_n: Range
    empty_loop_rolls_n: Range
    across_keeps: Range
    per_wrap: Range
    wraps_most: int
    beyond_wrap: Range
    cord_thinner_m: float
    measured_within_m: float
    per_mm_thick: Range
    slick_grip: Range
    glazed_grip: Range
    crowded_keeps: float
    munter_m: float
    textile_years: float
    tail_diameters: float
    textile_shock_ratio: float
    metal_shock_ratio: float
    rest_loaded_s: float


class Catalogue(Strict):
    """Everything by id."""

    sources: dict[str, Source]
    bends: dict[str, Bend]
    surfaces: dict[str, Surface]
    contacts: dict[str, Contact]
    devices: dict[str, Device]
    hitches: dict[str, Hitch]
    knots: dict[str, Knot]
    ropes: dict[str, RopeKind]
    slings: dict[str, SlingMaterial]
    attachments: dict[str, AttachmentMethod]
    connectors: dict[str, Connector]
    features: dict[str, FeatureKind]
    deadman: list[HoldingPower]
    tying: Tying
    systems: dict[str, HaulSystem]
    hand_hold_n: Range = Field(default=Range(low=150, expected=200, high=250))
    hauler_sustained_n: float = 220.0
    hauler_heave_n: float = 350.0
    device_runs_n: float = 50.0
    clearance_m: float = 0.4
    own_clearance_m: float = 0.15
    own_takes_m: float = 0.95
    haul_m_per_s: float = 0.25
    reset_s: float = 45.0
    second_share: Range = Field(default=Range(low=0.35, expected=0.5, high=0.65))

    def catching(self, holds: Literal["hitch", "device", "tied"], what: str) -> Entry:
        """What catches on a belay line."""
        tables: dict[str, dict[str, Any]] = {"hitch": self.hitches, "device": self.devices, "tied": self.knots}
        entry: Entry = tables[holds][what]
        return entry


Model = TypeVar("Model", bound=Strict)


@cache
def _files() -> dict[str, Any]:
    """Every data file, read; kept beside the compiled code until one of them changes, as reading YAML takes half the
    start of a command."""
    files = sorted(_HERE.rglob("*.yaml"))
    stamp = [[file.name, file.stat().st_mtime_ns, file.stat().st_size] for file in files]
    kept = Path(cache_from_source(str(_HERE / "tables.py"))).with_suffix(".json")
    try:
        known = json.loads(kept.read_text(encoding="utf-8"))
        if known["stamp"] == stamp:
            return dict(known["files"])
    except (OSError, ValueError, KeyError):
        pass  # never kept, or half written: it is read again
    found = {file.relative_to(_HERE).as_posix(): _yaml(file) for file in files}
    if not sys.dont_write_bytecode:
        with suppress(OSError):
            kept.write_text(json.dumps({"stamp": stamp, "files": found}), encoding="utf-8")
    return found


def _yaml(file: Path) -> Any:
    import yaml

    # The parser written in C where this machine has it: ten times faster on the same text.
    return yaml.load(file.read_text(encoding="utf-8"), getattr(yaml, "CSafeLoader", yaml.SafeLoader))


def _rows(file: str) -> list[dict[str, Any]]:
    return list(_files()[file])


def _table(file: str, model: type[Model]) -> dict[str, Model]:
    return {row["id"]: model.model_validate(row) for row in _rows(file)}


@cache
def catalogue() -> Catalogue:
    """The shipped catalogue, read once."""
    systems = [HaulSystem.model_validate(rows) for name, rows in _files().items() if name.startswith("systems/")]
    return Catalogue(
        sources=_table("sources.yaml", Source),
        bends=_table("bends.yaml", Bend),
        surfaces=_table("surfaces.yaml", Surface),
        contacts=_table("contacts.yaml", Contact),
        devices=_table("devices.yaml", Device),
        hitches=_table("hitches.yaml", Hitch),
        knots=_table("knots.yaml", Knot),
        ropes=_table("ropes.yaml", RopeKind),
        slings=_table("slings.yaml", SlingMaterial),
        attachments=_table("attachments.yaml", AttachmentMethod),
        connectors=_table("connectors.yaml", Connector),
        features=_table("features.yaml", FeatureKind),
        deadman=[HoldingPower.model_validate(row) for row in _rows("deadman.yaml")],
        tying=Tying.model_validate(_files()["tying.yaml"]),
        systems={system.id: system for system in systems},
    )
