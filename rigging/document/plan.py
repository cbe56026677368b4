"""The plan document: what the leader decided. SI throughout.

x out along the fall line, y to the right looking out, z up; origin at the main working point."""

from __future__ import annotations

import itertools
import math
from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_validator

from rigging.catalogue import catalogue
from rigging.catalogue.haul import HaulSystem, bends
from rigging.quantities.ranges import Range, Strict
from rigging.document.versions import from_version_1

SCHEMA_VERSION: Literal[2] = 2
Name = Annotated[str, Field(min_length=1, max_length=120)]
Text = Annotated[str, Field(max_length=2000)]
Metres = Annotated[float, Field(ge=-5000, le=5000)]
Ratio = Annotated[float, Field(ge=1, le=100)]


def _known(table: str, value: str) -> str:
    ids = getattr(catalogue(), table)
    if value not in ids:
        raise ValueError(f"{value!r} is not in the catalogue of {table}; one of {', '.join(ids)}")
    return value


class LoadItem(Strict):
    """Someone or something on the rope."""

    name: Name
    mass_kg: Annotated[float, Field(gt=0, le=2000)]
    plus_minus_kg: Annotated[float, Field(ge=0, le=500)] = 0

    @model_validator(mode="after")
    def _some_mass_left(self) -> LoadItem:
        if self.plus_minus_kg >= self.mass_kg:
            raise ValueError(f"{self.name!r} may weigh nothing; give plus_minus_kg below mass_kg ({self.mass_kg:g})")
        return self


class Load(Strict):
    items: Annotated[list[LoadItem], Field(min_length=1, max_length=30)]
    contact: str

    @field_validator("contact")
    @classmethod
    def _contact(cls, value: str) -> str:
        return _known("contacts", value)


class Point(Strict):
    x_m: Metres
    z_m: Metres


class Edge(Point):
    """Something the rope may bend over: its own surface and what is laid over it."""

    name: Name
    surface: str
    protection: str | None = None

    @field_validator("surface")
    @classmethod
    def _surface(cls, value: str) -> str:
        return _known("surfaces", value)

    @field_validator("protection")
    @classmethod
    def _protection(cls, value: str | None) -> str | None:
        if value is not None and catalogue().surfaces[_known("surfaces", value)].role != "protection":
            raise ValueError(f"{value!r} is bare ground, not a protection; leave it empty or name a pad or roller")
        return value


class Frame(Strict):
    """Where the sheet lies in the world: the compass bearing of the fall line, and the origin's place on the map."""

    bearing_deg: Annotated[float, Field(ge=0, le=360)]
    latitude_deg: Annotated[float, Field(ge=-85, le=85)] | None = None
    longitude_deg: Annotated[float, Field(ge=-180, le=180)] | None = None
    elevation_m: Annotated[float, Field(ge=-500, le=9000)] = 0


class Site(Strict):
    """The ground from the side. `load_at` is where the load is now: the lowest point of the job."""

    profile: Annotated[list[Point], Field(min_length=2, max_length=200)]
    surface: str
    edges: Annotated[list[Edge], Field(max_length=20)] = []
    load_at: Point
    frame: Frame | None = None

    @field_validator("surface")
    @classmethod
    def _surface(cls, value: str) -> str:
        return _known("surfaces", value)

    @field_validator("profile")
    @classmethod
    def _outward(cls, value: list[Point]) -> list[Point]:
        for number, (a, b) in enumerate(itertools.pairwise(value), start=1):
            if b.x_m < a.x_m:
                raise ValueError(
                    f"the ground folds back at point {number + 1}: {b.x_m:g} m out, after {a.x_m:g} m; "
                    "enter the points going outward, each at the same distance or further out"
                )
        return value


Verdict = Literal["sound-alone", "with-others", "temporary", "reject"]
Answer = Annotated[float, Field(ge=0, le=1_000_000)] | Annotated[str, Field(max_length=40)]


class Feature(Strict):
    """What the ground offers to tie to; x, y, z is where it is tied. `answers`: its inspection, by question.

    A `rating_n` entered by the leader stands in place of the estimate. `guard` names who guards it while it is loaded.
    """

    id: Name
    name: Name
    kind: str
    x_m: Metres
    y_m: Metres = 0
    z_m: Metres = 0
    answers: dict[str, Answer] = {}
    rating_n: Range | None = None
    basis: Text = ""
    verdict: Verdict | None = None
    reason: Text = ""
    guard: Text = ""

    @field_validator("kind")
    @classmethod
    def _kind(cls, value: str) -> str:
        return _known("features", value)

    @model_validator(mode="after")
    def _rating_has_basis(self) -> Feature:
        if self.rating_n is not None and self.rating_n.low <= 0:
            raise ValueError(f"the rating of {self.name!r} starts at {self.rating_n.low:g} N; give a rating above 0")
        if self.rating_n is not None and not self.basis.strip():
            raise ValueError(f"the rating of {self.name!r} has no basis; write in basis how it was judged")
        if self.verdict == "reject" and not self.reason.strip():
            raise ValueError(f"{self.name!r} is rejected without a reason; write in reason why, so that it is kept")
        return self

    @model_validator(mode="after")
    def _answers_fit(self) -> Feature:
        kind = catalogue().features[self.kind]
        questions = {one.id: one for one in kind.questions}
        for name, answer in self.answers.items():
            question = questions.get(name)
            if question is None:
                raise ValueError(f"{kind.name.lower()} has no question {name!r}; one of {', '.join(questions)}")
            if (question.kind == "number") != isinstance(answer, (int, float)):
                right = "a number" if question.kind == "number" else "one of the answers offered"
                raise ValueError(f"the answer {answer!r} to {name!r} does not fit the question; give {right}")
            offered = ["yes", "no"] if question.kind == "yes-no" else [one.id for one in question.options]
            if question.kind != "number" and answer not in offered:
                raise ValueError(f"{answer!r} is no answer to {name!r}; one of {', '.join(offered)}")
        return self


class KitItem(Strict):
    """Material in the bags: pieces of one length."""

    material: str
    length_m: Annotated[float, Field(gt=0, le=500)]
    count: Annotated[int, Field(ge=1, le=50)] = 1

    @field_validator("material")
    @classmethod
    def _material(cls, value: str) -> str:
        return _known("slings", value)


class Place3(Strict):
    x_m: Metres = 0
    y_m: Metres = 0
    z_m: Metres = 0


class TieOff(Strict):
    """How a full-strength tie-off on a drum is finished: its drum, where the tail goes, what holds it at the end."""

    drum_m: Annotated[float, Field(gt=0, le=2)]
    tail_to: Literal["anchor-behind", "same-axle", "nothing"]
    finish: Literal["releasable-hitch", "clipped-slack", "clipped-tight", "half-hitch"]


class Leg(Strict):
    """One leg: what it is tied to, how, with what, and what runs on from there to the working point.

    Without an `extension` the attachment's own material reaches the working point. Left out, `length_m` is snug to
    the working point; `pretension_n` is how tight it is pulled before loading.
    """

    feature: Name
    method: str
    material: str
    turns: Annotated[int, Field(ge=1, le=12)] | None = None
    extension: str | None = None
    extension_knot: str = "figure-eight-loop"
    length_m: Annotated[float, Field(gt=0, le=500)] | None = None
    pretension_n: Annotated[float, Field(ge=0, le=20_000)] | None = None
    tie_off: TieOff | None = None

    @model_validator(mode="after")
    def _all_known(self) -> Leg:
        method = catalogue().attachments[_known("attachments", self.method)]
        if catalogue().slings[_known("slings", self.material)].sewn and not method.of_loop:
            raise ValueError(f"{method.name} can not be made with a sewn loop; take tape, cord or rope with two ends")
        least, most = method.turns.least, method.turns.most
        if self.turns is not None and not least <= self.turns <= most:
            raise ValueError(f"{self.turns} turns do not make a {method.name.lower()}; {least} to {most} turns")
        if self.extension is not None:
            _known("slings", self.extension)
            _known("knots", self.extension_knot)
        if self.length_m is not None and self.pretension_n is not None:
            raise ValueError("a leg has either its length or its pretension; leave one of length_m, pretension_n out")
        return self


class Prop(Strict):
    """A pole under the working point, standing on its foot."""

    foot: Place3
    holds_n: Range
    basis: Name


class Span(Strict):
    """The line of a span anchor or tension line between its two legs' features."""

    ropes: Annotated[int, Field(ge=1, le=4)] = 1
    carriage: Literal["gathered", "rolls"] = "gathered"
    ends: Literal["gathered", "one-each"] = "gathered"
    slips: str | None = None

    @field_validator("slips")
    @classmethod
    def _device(cls, value: str | None) -> str | None:
        if value is not None and catalogue().devices[_known("devices", value)].gives != "slips":
            raise ValueError(f"{value!r} is not known to slip; name a device that slips, or leave slips out")
        return value


class Pull(Strict):
    """A pull of the arrangement's own, instead of the main line's: how much, where to in plan, how far down."""

    force_n: Range
    heading_rad: Annotated[float, Field(ge=-math.pi, le=math.pi)] = 0
    dip_rad: Annotated[float, Field(ge=-math.pi / 2, le=math.pi / 2)] = math.pi / 2


Scheme = Literal["single", "two-loop-y", "fixed", "self-adjusting", "back-tied", "floating", "span"]
_LEGS: dict[Scheme, tuple[int, int]] = {
    "single": (1, 1), "two-loop-y": (2, 2), "fixed": (2, 6), "self-adjusting": (2, 6),
    "back-tied": (2, 4), "floating": (3, 8), "span": (2, 4),
}  # fmt: skip


class Arrangement(Strict):
    """One way to make an anchor: a working point on legs, by a scheme.

    `heading_rad` is the direction of pull in plan that it is made for (0 straight out, positive to the right looking
    out); left out, the line's own. `swing_rad` is how far the leader expects it to swing to either side. Back-tied:
    the first leg is the front one, the others tie its feature back. Span: one feature at each end, or two at each
    (the first two legs are one end). Self-adjusting: `limit_m` is how far limiting knots let it run, `locked` by a knot.
    """

    id: Name
    name: Name
    scheme: Scheme
    point: Place3 = Place3()
    legs: Annotated[list[Leg], Field(min_length=1, max_length=8)]
    connector: str
    knot: str | None = None
    heading_rad: Annotated[float, Field(ge=-math.pi, le=math.pi)] | None = None
    swing_rad: Annotated[float, Field(ge=0, le=math.pi / 3)] = math.radians(15)
    slider: str = "carabiner"
    locked: bool = False
    limit_m: Annotated[float, Field(ge=0, le=20)] | None = None
    prop: Prop | None = None
    span: Span | None = None
    pull: Pull | None = None

    @model_validator(mode="after")
    def _fits_together(self) -> Arrangement:
        _known("connectors", self.connector)
        _known("bends", self.slider)
        if self.knot is not None:
            _known("knots", self.knot)
        least, most = _LEGS[self.scheme]
        if not least <= len(self.legs) <= most:
            wanted = f"{least}" if least == most else f"{least} to {most}"
            raise ValueError(f"{self.name!r} has {len(self.legs)} legs; {self.scheme} wants {wanted}")
        if self.scheme == "span" and len(self.legs) == 3:
            raise ValueError(f"{self.name!r} has 3 legs; a span wants one feature at each end, or two at each")
        if (self.span is not None) != (self.scheme == "span"):
            raise ValueError("the scheme span and its span settings go together; give both or neither")
        if self.prop is not None and self.scheme != "floating":
            raise ValueError("only a floating anchor is propped; leave prop out")
        return self


class Lowering(Strict):
    """The device between load and hand, and the friction hitch on its brake side."""

    device: str
    brake_hitch: str | None = None

    @model_validator(mode="after")
    def _all_known(self) -> Lowering:
        _known("devices", self.device)
        if self.brake_hitch is not None:
            _known("hitches", self.brake_hitch)
        return self


class Haul(Strict):
    """A haul system on the line. `bends` says what sits at each bend id; a bend left out is not known yet.

    `attached`: to a grab on the main rope above the edge, or at the load itself with every strand over the edges.
    `reach_m`: how far in front of the working point the haul grab can be set; left out, up to the first edge.
    """

    system: HaulSystem
    bends: dict[str, str] = {}
    attached: Literal["grab", "load"] = "grab"
    grab: str = "prusik-8"
    capture: str | None = None
    capture_minder: Text = ""
    reach_m: Annotated[float, Field(gt=0, le=500)] | None = None

    @model_validator(mode="after")
    def _all_known(self) -> Haul:
        places = [place.id for place in bends(self.system)]
        for place, kind in self.bends.items():
            if place not in places:
                raise ValueError(f"bends names {place!r}, where no rope bends; one of {', '.join(places) or 'none'}")
            _known("bends", kind)
        for hitch in filter(None, (self.grab, self.capture)):
            _known("hitches", hitch)
        return self


class Line(Strict):
    """One rope from the working point to the load."""

    rope: str
    length_m: Annotated[float, Field(gt=0, le=2000)]
    tail_m: Annotated[float, Field(ge=0, le=200)] = 5
    load_knot: str
    load_connector: str
    lowering: Lowering | None = None
    haul: Haul | None = None

    @model_validator(mode="after")
    def _all_known(self) -> Line:
        for table, value in (("ropes", self.rope), ("knots", self.load_knot), ("connectors", self.load_connector)):
            _known(table, value)
        return self


class Team(Strict):
    """Who can pull: the number of haulers and what each gives, sustained and in a heave."""

    haulers: Annotated[int, Field(ge=0, le=100)]
    sustained_n: Annotated[float, Field(gt=0, le=2000)] = catalogue().hauler_sustained_n
    heave_n: Annotated[float, Field(gt=0, le=3000)] = catalogue().hauler_heave_n


class Rules(Strict):
    """The team's static ratio: strength over load, for anchors and for everything else."""

    anchors_ratio: Ratio = 10
    others_ratio: Ratio = 5


class Plan(Strict):
    """One rope system, from the casualty to the ground. The line runs from the arrangement named by `in_use`."""

    schema_version: Literal[2] = SCHEMA_VERSION
    title: Name
    place: Text = ""
    load: Load
    site: Site
    features: Annotated[list[Feature], Field(min_length=1, max_length=50)]
    arrangements: Annotated[list[Arrangement], Field(min_length=1, max_length=4)]
    in_use: Name
    kit: Annotated[list[KitItem], Field(max_length=60)] = []
    line: Line
    team: Team
    rules: Rules = Rules()

    @model_validator(mode="before")
    @classmethod
    def _upgraded(cls, given: Any) -> Any:
        return from_version_1(given) if isinstance(given, dict) and given.get("schema_version") == 1 else given

    @model_validator(mode="after")
    def _fits_together(self) -> Plan:
        features = [feature.id for feature in self.features]
        for what, ids in (("feature", features), ("arrangement", [one.id for one in self.arrangements])):
            twice = next((one for one in ids if ids.count(one) > 1), None)
            if twice is not None:
                raise ValueError(f"two {what}s have the id {twice!r}; give each its own")
        for arrangement in self.arrangements:
            for leg in arrangement.legs:
                if leg.feature not in features:
                    raise ValueError(
                        f"{arrangement.name!r} names feature {leg.feature!r}, which is not listed; name a feature's id"
                    )
        if self.in_use not in [one.id for one in self.arrangements]:
            raise ValueError(f"in_use names {self.in_use!r}, which is no arrangement; name an arrangement's id")
        if self.arrangement.pull is not None:
            raise ValueError(f"{self.arrangement.name!r} has a pull of its own; take one that the line can run from")
        return self

    @property
    def arrangement(self) -> Arrangement:
        """The one that the line runs from."""
        return next(one for one in self.arrangements if one.id == self.in_use)

    def feature(self, id: str) -> Feature:
        return next(one for one in self.features if one.id == id)
