"""What stands in the catalogue: each kind of entry with its fields, every number with its range and origin."""

from __future__ import annotations

import math
from typing import Literal

from rigging.quantities.ranges import Range, Strict, exactly, times


class Source(Strict):
    """Origin of a value: published (S), practice (P), memory (M), given (G) or computed (C)."""

    id: str
    kind: Literal["S", "P", "M", "G", "C"]
    text: str


# What kinds of sources there are.
ORIGIN = {
    "S": "published standard or handbook, quoted from memory",
    "P": "common practice of the trade, no source",
    "M": "engineering value from memory",
    "G": "entered by the leader",
    "C": "computed",
}


class Sourced(Strict):
    """Data whose every number has an origin by its own name: one id of the sources, or two where the low end is from another than the rest
    (a standard asks the least, what is usual is from memory)."""

    origins: dict[str, str | list[str]] = {}

    def origin(self, number: str) -> str:
        """Ids of the sources that a number comes from, its low end's first, with a blank between."""
        ids = self.origins.get(number, "")
        return ids if isinstance(ids, str) else " ".join(ids)


class Entry(Sourced):
    """Something of the catalogue. What is `special` is offered only where somebody said that it is there, or named it."""

    id: str
    name: str
    special: bool = False


class Bend(Entry):
    """What a rope can run round; `eta` is the share of tension a half turn passes on. `minds`: hitches that it keeps from
    running in. `sheave_m`: how thick what the rope lies round is."""

    eta: Range
    minds: list[str] = []
    sheave_m: Range
    strength_n: Range


class Surface(Entry):
    """What a rope bends over: friction coefficient `mu`, `eta` per half turn for a roller, or `passes`, the share of the
    tension that gets through whatever the angle where the rope has bitten in. `leaves`: on rope that runs over it bare; `edge_keeps`:
    strength that a rope under tension keeps over it bare, `sawn_keeps` where it moves sideways on it; one that `cuts` no rope is led over
    bare."""

    role: Literal["ground", "protection"]
    mu: Range | None = None
    eta: Range | None = None
    passes: Range | None = None
    leaves: Literal["fuzz", "grit"] | None = None
    edge_keeps: Range | None = None
    sawn_keeps: Range | None = None
    cuts: bool = False

    @property
    def bites(self) -> bool:
        """Whether the rope has bitten into it."""
        return self.role == "ground" and self.passes is not None

    @property
    def friction(self) -> tuple[Literal["η", "μ", "k"], Range]:
        """Its symbol and range, whichever of them the surface has."""
        if self.passes is not None:
            return "k", self.passes
        if self.eta is not None:
            return "η", self.eta
        assert self.mu is not None, f"surface {self.id} has neither eta nor mu"
        return "μ", self.mu

    @property
    def source(self) -> str:
        """Origin of its friction."""
        return self.origin({"k": "passes", "η": "eta", "μ": "mu"}[self.friction[0]])


class Contact(Entry):
    """How the load meets the ground."""

    mu: Range


Led = Literal["parallel", "back"]
_WHOLE = exactly(1.0)


class Device(Entry):
    """A lowering device: `ratio` is tension at the device over force at the hand; round a trunk or bar, `turns` and `mu`
    give it. `spine`: which strand lies on the connector's spine matters. `led`: how its brake strand is led for it to brake so,
    beside the load strand or back, away from the load; `other_way`: the share of its ratio that it keeps led the other way. `mass_kg`: what
    heats as rope runs (None: a trunk or bar, which takes it up). `both_ropes`: it takes two ropes, which go with it."""

    ratio: Range | None = None
    mu: Range | None = None
    turns: float | None = None
    self_locking: bool
    twists: Literal["no", "some", "yes", "cancels"] = "no"
    spine: bool = False
    led: Led = "back"
    other_way: Range = _WHOLE
    look: str = ""
    strength_n: Range
    mass_kg: Range | None = None
    both_ropes: bool = False
    gives: Literal["breaks", "slips"] = "breaks"

    def holding(
        self, turns: float | None = None, led: Led | None = None, leaves: Range = _WHOLE, wet: Range = _WHOLE
    ) -> Range:
        """Tension at the device over force at the hand: of its ratio what the rope `leaves`; round a trunk or bar e^(2πnμ) (capstan
        equation), of its friction what `wet` leaves."""
        if self.ratio is not None:
            kept = self.other_way if led is not None and led != self.led else _WHOLE
            return times(self.ratio, kept, leaves).map(lambda ratio: max(1.0, ratio))
        assert self.mu is not None and self.turns is not None, f"device {self.id} has neither ratio nor mu and turns"
        round_rad = 2 * math.pi * (turns or self.turns)
        return times(self.mu, wet).map(lambda mu: math.exp(mu * round_rad))


class Hitch(Entry):
    """What grabs a rope: a friction hitch, a clamp, or a device. `slip_n` is where it starts to slide on one rope (None: it
    cuts instead), `breaks_n` where its cord breaks round two together, on which it does not slide, or a clamp cuts the
    sheath. `cord` and `wraps` are what a hitch is usually tied with, `wraps_least` the fewest that are
    still usual (None: `wraps`); a `pair` lies in line. One that `releases_under_load` is opened by hand
    while it bears no more than `releases_below_n` (None: whatever it bears)."""

    form: Literal["hitch", "clamp", "device"] = "hitch"
    slip_n: Range | None = None
    breaks_n: Range
    wraps: int | None = None
    wraps_least: int | None = None
    cord: str | None = None
    pair: bool = False
    both_ways: bool
    releases_under_load: bool
    releases_below_n: Range | None = None
    minds_itself: bool = False
    look: str


class Knot(Entry):
    """`keeps` is the share of the rope's strength left, `along` that of a loop pulled along the line, `apart` that of a loop
    pulled apart. `takes_m` is the material it uses up with its loop; a `bend` joins two ropes, and with short tails runs at
    `slips_n`, or always where it `runs_always`; `tail_least_m` is what its own tails have to be. One that `creeps` shortens its tails under
    load that comes and goes; an `unlike` one joins ropes of unlike thickness, a `wire` one is made in wire rope, the others in what bends. `slick_runs`: of what knots in slick cord run at."""

    keeps: Range
    along: Range | None = None
    apart: Range | None = None
    slips_n: Range | None = None
    runs_always: bool = False
    tail_least_m: float | None = None
    creeps: bool = False
    unlike: bool = False
    slick_runs: Range = exactly(1.0)
    bend: bool = False
    wire: bool = False
    look: str
    takes_m: float


Fibre = Literal["nylon", "polyester", "slick", "metal", "timber"]


class RopeKind(Entry):
    """`ea_n` is its stiffness under a load that stands or is hauled, `catch_ea_n` as it stops a fall; `people_ceiling` the most of people
    × advantage."""

    diameter_m: float
    fibre: Fibre
    strength_n: Range
    people_ceiling: int
    slick: bool = False
    ea_n: Range
    catch_ea_n: Range


class Section(Strict):
    """What a pole's cross-section is worth against buckling: Young's modulus, second moment of area."""

    modulus_pa: Range
    second_moment_m4: Range


class SlingMaterial(Entry):
    """`strand_n` and `ea_n` are strength and stiffness of one strand; a `sewn` one is a loop of fixed length. `choked`: what a girth hitch
    of it keeps, where not what the hitch keeps of others; `section`: of a pole, which may buckle."""

    strand_n: Range
    ea_n: Range
    thickness_m: float
    fibre: Fibre
    sewn: bool
    cord: bool = False
    slick: bool = False
    choked: Range | None = None
    section: Section | None = None


class Turns(Strict):
    """How many times round, for a method."""

    least: int
    usual: int
    most: int


class AttachmentMethod(Entry):
    """A way round a feature: the strands that pull, the share of their sum that arrives, and how the material lies; on a `drum`, or on the feature
    itself. `in_piece`: whether it is a leg of an anchor out of one piece, too, or only there, or at an end of it; `grips`: whether it then holds the piece
    from either side."""

    strands: int
    strands_per_turn: int
    turns: Turns
    keeps: Range
    path: Literal["basket", "choker", "wrap-pull", "tie-off", "loop", "post", "passed", "clove"]
    drum: bool = False
    knot: str | None
    knot_bears: bool
    of_loop: bool
    in_piece: Literal["never", "too", "only", "end"] = "never"
    grips: bool = False
    take_m: float
    connectors: int
    minutes: Range
    limits: str


class Connector(Entry):
    """`three_way`: it may be pulled in three directions; any other is made for a pull along its length and keeps `across_n` when pulled
    across, `gate_open_n` with its gate open, `nose_n` hooked on its nose, `edge_n` bent over an edge. `locks`: its gate does."""

    strength_n: Range
    three_way: bool = False
    locks: bool = True
    across_n: Range | None = None
    gate_open_n: Range | None = None
    nose_n: Range | None = None
    edge_n: Range | None = None

    def loaded(self, way: Loaded) -> tuple[Range, str]:
        """What it holds loaded that way, with the origin: what nobody knows of it, as the least that is known of its like."""
        number = {
            "along": "strength_n",
            "across": "across_n",
            "gate-open": "gate_open_n",
            "nose": "nose_n",
            "edge": "edge_n",
        }[way]
        found: Range | None = getattr(self, number)
        return (found, self.origin(number)) if found is not None else (self.strength_n, self.origin("strength_n"))


Loaded = Literal["along", "across", "gate-open", "nose", "edge"]


class Condition(Entry):
    """What the weather leaves of what things do dry, as shares: of the strength of `nylon`, of the grip of a `hitch` and a `clamp`, of a
    `device`'s ratio and where it slips, of the friction of an `edge`, of what a `hand` holds and of a hauler's `pull`; `stretch` of a rope's EA."""

    nylon: Range
    hitch: Range
    clamp: Range
    device: Range
    edge: Range
    hand: Range
    pull: Range
    stretch: Range

    def grips(self, form: Literal["hitch", "clamp", "device"]) -> Range:
        """Share of its dry grip that what grips a rope keeps."""
        return {"hitch": self.hitch, "clamp": self.clamp, "device": self.device}[form]


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


class Duration(Entry):
    """How long a piece of the work takes a practised team by day, in seconds; `each` metre of the way, or of rope through the hands."""

    takes_s: Range
    each: Literal["", "metre", "rope-metre"] = ""


class Placing(Entry):
    """A way to take the place of something, and how far it may be off, level and up, nineteen times in twenty."""

    off_m: float
    off_up_m: float


class HoldingPower(Strict):
    """Holding pressure of earth at a depth, by slope of the pull."""

    depth_m: float
    pressure_pa: dict[str, float]


class Tying(Sourced):
    """What the way a thing is tied does to it, as shares, and the limits of common practice.

    `wear`: strength left of a rope by its look. `per_wrap`, `beyond_wrap`: grip for each wrap more than usual, and for each
    beyond `wraps_most`. `per_mm_thick`: grip for each millimetre that a cord is thicker than the rope less `cord_thinner_m`. `thin_ratio`: of
    a device's ratio, and `thin_slips` of where it slips, on rope of `thin_m` and thinner, all of it from `full_m`; `sheath_ratio` by the rope's look. `test_keeps`: strength that the
    competence test asks to be left. `device_keeps_heat`: of what a lower turns into heat; from `softens_k` warmer nylon softens, slick cord
    from `slick_softens_k`.
    """

    wear: dict[str, Range]
    slick_keeps: Range
    slick_thin_m: float
    slick_thin_slips_n: Range
    slick_slips_n: Range
    slick_overhand_slips_n: Range
    empty_loop_rolls_n: Range
    across_keeps: Range
    unlike_keeps: Range
    unlike_from_m: float
    per_wrap: Range
    wraps_most: int
    beyond_wrap: Range
    cord_thinner_m: float
    measured_within_m: float
    per_mm_thick: Range
    slick_grip: Range
    glazed_grip: Range
    thin_ratio: Range
    thin_slips: Range
    thin_m: float
    full_m: float
    sheath_ratio: dict[str, Range]
    crowded_keeps: Range
    munter_m: float
    textile_years: float
    tail_diameters: float
    textile_shock_ratio: float
    metal_shock_ratio: float
    rest_loaded_s: float
    test_keeps: float
    sun_keeps: Range
    device_keeps_heat: Range
    device_j_per_kg_k: float
    softens_k: float
    slick_softens_k: float


class People(Sourced):
    """What people hold and pull, how much slower it goes at night, in the cold or in the wet, and what they and their gear take up."""

    hand_hold_n: Range
    cold_hand: Range
    sustained_n: Range
    heave_n: Range
    device_runs_n: float
    second_share: Range
    slower: Range
    clearance_m: float
    own_clearance_m: float
    own_takes_m: float
