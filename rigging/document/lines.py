"""Ropes, and the lines they make: what is tied, led, lowered, hauled and caught."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from rigging.catalogue import Led, Loaded, catalogue
from rigging.catalogue.haul import HaulSystem, bends
from rigging.document.site import Condition
from rigging.document.words import (
    BendId,
    ConnectorId,
    CordId,
    DeviceId,
    HitchId,
    KnotId,
    Name,
    RopeKindId,
    SlingId,
    SlipsId,
    Text,
    known,
)
from rigging.quantities.faults import misfit
from rigging.quantities.ranges import Strict


class Join(Strict):
    """Where two lengths are tied together: metres from the load's end, the knot, its tails (None: not said), and what rope goes on
    from there (None: of the same kind)."""

    at_m: Annotated[float, Field(gt=0, le=2000)]
    knot: KnotId
    tail_m: Annotated[float, Field(ge=0, le=5)] | None = None
    onto: RopeKindId | None = None


class Damage(Strict):
    """A damaged place: metres from the load's end, the knot that takes it out (None: it is still in the pull), and what
    lies in the knot's loop."""

    at_m: Annotated[float, Field(ge=0, le=2000)]
    taken_out: KnotId | None = None
    in_loop: Literal["nothing", "connector", "overhand"] = "nothing"


class HitchMade(Strict):
    """How a hitch is tied here, where it is not as usual: its cord, wraps, the cord's whole length (None: not said), glazed
    by an earlier slip, its joining knot on the rope, wet or not (`state`; None: as its rope)."""

    cord: CordId | None = None
    wraps: Annotated[int, Field(ge=1, le=12)] | None = None
    cord_length_m: Annotated[float, Field(gt=0, le=20)] | None = None
    glazed: bool = False
    knot_on_rope: bool = False
    state: Condition | None = None


class Kept(Strict):
    """Metres of a rope that are in use for something else all the while: coils carried, whoever goes to the lip, people tied in."""

    what: Literal["coils", "lip", "people", "other"]
    length_m: Annotated[float, Field(gt=0, le=2000)]


class Rope(Strict):
    """A rope out of the bags, joins included; its age, its wear and what it has stood, where somebody looked; wet or not (`state`; None: as
    the day), its sheath `glazed`; what of it is `kept` for something else."""

    id: Name
    kind: RopeKindId
    age_years: Annotated[float, Field(ge=0, le=60)] | None = None
    wear: Literal["new", "used", "worn"] | None = None
    stood: Literal["nothing", "sunlight", "chemicals"] | None = None
    state: Condition | None = None
    glazed: bool = False
    length_m: Annotated[float, Field(gt=0, le=2000)]
    joins: Annotated[list[Join], Field(max_length=10)] = []
    damage: Annotated[list[Damage], Field(max_length=10)] = []
    kept: Annotated[list[Kept], Field(max_length=10)] = []

    @model_validator(mode="after")
    def _on_the_rope(self) -> Rope:
        marked = {"joins": [one.at_m for one in self.joins], "damage": [one.at_m for one in self.damage]}
        for what, places in marked.items():
            for number, at_m in enumerate(places):
                if at_m > self.length_m:
                    problem = f"{at_m:g} m from the load is past the rope's {self.length_m:g} m"
                    raise misfit(f"{what}[{number}].at_m", problem, f"give {self.length_m:g} m or less")
        return self


class Redirect(Strict):
    """A change of direction at an anchor of its own, and what the rope runs round there."""

    anchor: Name
    bend: BendId = "unknown"


class Lowering(Strict):
    """The device between load and hand, and the friction hitch on its brake side. `turns` round a trunk or bar (None: as
    usual); `hands` on its brake strand; `crowded`: its connector loaded near the gate; `led`: its brake strand beside the load
    strand, or back, away from the load (None: as it brakes best).

    The device sits `out_m` in front of the working point; the hitch's cord reaches `hitch_m` from there, and has
    `slack_m` to spare while somebody minds it. `tied_behind_m`: the rope behind it tied to the anchor, with so much
    slack (None: it runs free).
    """

    device: DeviceId
    turns: Annotated[float, Field(ge=0.5, le=10)] | None = None
    hands: Literal[1, 2] = 1
    crowded: bool = False
    led: Led | None = None
    brake_hitch: HitchId | None = None
    hitch_made: HitchMade | None = None
    minder: Text = ""
    out_m: Annotated[float, Field(gt=0, le=5)] = 0.5
    hitch_m: Annotated[float, Field(gt=0, le=5)] = 0.25
    slack_m: Annotated[float, Field(ge=0, le=2)] = 0.05
    tied_behind_m: Annotated[float, Field(ge=0, le=100)] | None = None


class OwnPiece(Strict):
    """The piece of material that a haul system is built from, where it is not the line's rope: a sewn sling by its length laid
    flat (it is a loop, and gives twice that), anything else by its whole length."""

    material: SlingId
    length_m: Annotated[float, Field(gt=0.2, le=200)]

    @property
    def gives_m(self) -> float:
        """Material to build with, knots included."""
        return self.length_m * (2 if catalogue().slings[self.material].sewn else 1)


class Haul(Strict):
    """A haul system on the line. `bends` says what sits at each bend id; a bend left out is not known yet.

    `attached`: to a grab on the main rope above the edge, or at the load itself with every strand over the edges.
    `reach_m`: how far in front of the working point the haul grab can be set; left out, up to the first edge.
    `redirects` turn the haul strand on its way to the haulers, who then walk along `walk_rad` in plan (0 out along the
    fall line, positive to the right looking out; left out, straight on). `anchors`: which node of the system stands at
    an anchor of its own. `capture_on`: the ratchet grips the first strand that would run back, or the one to the hands, which bears
    what the system leaves of the load. `capture_slack_m`: what the minded ratchet gives before it grips; `capture_releasing_m`: what the
    releasing hitch behind it can give back (None: there is none). `own`: the piece it is built from, where it takes none of
    the line's rope: it then reaches as far as that lets it. `strands_of`: the rope that strands besides the line's own are of (None: not
    said). `way_m`: how far the haulers can walk (None: not said).
    """

    system: HaulSystem
    bends: dict[str, BendId] = {}
    attached: Literal["grab", "load"] = "grab"
    grab: HitchId = "prusik-8"
    grab_made: HitchMade | None = None
    capture: HitchId | None = None
    capture_on: Literal["line", "haul"] = "line"
    capture_made: HitchMade | None = None
    capture_minder: Text = ""
    capture_slack_m: Annotated[float, Field(ge=0, le=2)] = 0.05
    capture_releasing_m: Annotated[float, Field(gt=0, le=20)] | None = None
    redirects: Annotated[list[Redirect], Field(max_length=6)] = []
    walk_rad: Annotated[float, Field(ge=-math.pi, le=math.pi)] | None = None
    way_m: Annotated[float, Field(gt=0, le=500)] | None = None
    anchors: dict[str, Name] = {}
    reach_m: Annotated[float, Field(gt=0, le=500)] | None = None
    own: OwnPiece | None = None
    strands_of: Name | None = None

    @property
    def load_grabbed(self) -> bool:
        """Whether the system's load is a grab on the main rope: unless it is at the load, or the rope itself just ends there."""
        ends = [piece for piece in self.system.ropes for name in piece if name == self.system.load]
        simple = len(ends) == 1 and self.system.load in (ends[0][0], ends[0][-1])
        return self.attached == "grab" and not simple

    @property
    def grabs(self) -> bool:
        """Whether anything of it grabs the rope, but for its capture."""
        nodes, ends = self.system.nodes, {end for piece in self.system.ropes for end in (piece[0], piece[-1])}
        return self.load_grabbed or "grab" in nodes.values() or any(nodes.get(end) == "block" for end in ends)

    @model_validator(mode="after")
    def _of_its_system(self) -> Haul:
        places = [place.id for place in bends(self.system)]
        for place in self.bends:
            if place not in places:
                raise ValueError(f"bends names {place!r}, where no rope bends; one of {', '.join(places) or 'none'}")
        for node in self.anchors:
            if self.system.nodes.get(node) != "anchor":
                raise ValueError(f"anchors names {node!r}, which is no anchor of the system; name one of its anchors")
        return self


class Belay(Strict):
    """What catches on a belay line: hitches minded by hand, a device, or a knot tied at the anchor.

    `round_ropes`: hitches round one rope slip before they break; round two together they do not. `releasing_m`: what the
    releasing hitch behind it can give back (None: there is none). `tied_behind_m`: the rope behind it tied to the anchor,
    with so much slack (None: it runs free). `led`: the brake strand of a device in the hand, as for lowering.
    """

    holds: Literal["hitch", "device", "tied"] = "hitch"
    what: str = "tandem-prusik-8"
    made: HitchMade | None = None
    minder: Text = ""
    round_ropes: Literal[1, 2] = 1
    led: Led | None = None
    releasing_m: Annotated[float, Field(gt=0, le=20)] | None = None
    tied_behind_m: Annotated[float, Field(ge=0, le=100)] | None = None

    @model_validator(mode="after")
    def _known(self) -> Belay:
        known({"hitch": "hitches", "device": "devices", "tied": "knots"}[self.holds], self.what)
        return self


Role = Literal["main", "belay", "second", "haul"]


class Line(Strict):
    """One rope from an anchor to the load, and its part in the work.

    `main` lowers and raises; `belay` is slack and catches; `second` is loaded alike with the main line; `haul` is a
    rope of its own that raises (a drop loop). `redirects` lead it from the anchor outward. `slack_m` is how much longer
    it lies than its way. `end`: which end of the rope is at the load, since one rope may serve two lines. `load_connector_loaded`: how its
    connector at the load is pulled; `load_parts`: what else is between that and the load (swivel, plate, bridle, harness), of the connectors.
    """

    id: Name
    role: Role
    rope: Name
    end: Literal["first", "other"] = "first"
    anchor: Name
    redirects: Annotated[list[Redirect], Field(max_length=6)] = []
    tail_m: Annotated[float, Field(ge=0, le=200)] = 5
    load_knot: KnotId
    load_connector: ConnectorId
    load_connector_crowded: bool = False
    load_connector_loaded: Loaded = "along"
    load_parts: Annotated[list[ConnectorId], Field(max_length=6)] = []
    slack_m: Annotated[float, Field(ge=0, le=500)] = 0
    lowering: Lowering | None = None
    haul: Haul | None = None
    belay: Belay | None = None

    @model_validator(mode="after")
    def _as_its_role(self) -> Line:
        if self.role == "belay" and (self.lowering or self.haul):
            raise misfit(
                "role",
                "a belay neither lowers nor hauls",
                "take its lowering and haul out, or make it a main or second line",
            )
        if self.role != "belay" and self.belay is not None:
            raise misfit(
                "belay", f"a {self.role} line has no belay of its own", "leave it out, or make the line a belay"
            )
        if self.role == "haul" and self.haul is None:
            raise misfit("haul", "a haul line has no haul system", "choose one, or make it another kind of line")
        return self


class TensionLine(Strict):
    """A tight line between two anchors, and the load rolling along it, held by tag lines.

    `ropes` lie side by side, all into both ends; `pretension_n` is what each end is pulled to before loading; `slips` is a
    device at the near end that slips before anything breaks. The load's lowest part hangs `hang_m` under the carriage.
    """

    id: Name
    rope: Name
    anchor: Name
    far: Name
    ropes: Annotated[int, Field(ge=1, le=4)] = 1
    end_knot: KnotId = "figure-eight-loop"
    pretension_n: Annotated[float, Field(ge=0, le=20_000)] = 500
    slips: SlipsId | None = None
    hang_m: Annotated[float, Field(ge=0, le=20)] = 1.5

    @model_validator(mode="after")
    def _two_ends(self) -> TensionLine:
        if self.anchor == self.far:
            raise misfit("far", "both ends of the line are at one anchor", "give its far end another anchor")
        return self
