"""The plan document: what the leader decided. SI throughout; x out along the fall line, z up, origin at the working point."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from rigging.catalogue import catalogue
from rigging.haul import HaulSystem, bends
from rigging.ranges import Range, Strict

SCHEMA_VERSION: Literal[1] = 1
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


class Site(Strict):
    """The ground from the side. `load_at` is where the load is now: the lowest point of the job."""

    profile: Annotated[list[Point], Field(min_length=2, max_length=200)]
    surface: str
    edges: Annotated[list[Edge], Field(max_length=20)] = []
    load_at: Point

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


class Feature(Strict):
    """What the ground offers to tie to, at x, y, z from the working point. No rating: its strength is unknown."""

    id: Name
    name: Name
    kind: str
    x_m: Metres
    y_m: Metres = 0
    z_m: Metres = 0
    rating_n: Range | None = None
    basis: Text = ""

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
        return self


class Anchor(Strict):
    """The working point's anchor: one feature, how it is tied, and the connector at the working point."""

    feature: Name
    method: str
    material: str
    connector: str

    @model_validator(mode="after")
    def _all_known(self) -> Anchor:
        for table, value in (("attachments", self.method), ("slings", self.material), ("connectors", self.connector)):
            _known(table, value)
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
    """One rope system, from the casualty to the ground."""

    schema_version: Literal[1] = SCHEMA_VERSION
    title: Name
    place: Text = ""
    load: Load
    site: Site
    features: Annotated[list[Feature], Field(min_length=1, max_length=50)]
    anchor: Anchor
    line: Line
    team: Team
    rules: Rules = Rules()

    @model_validator(mode="after")
    def _fits_together(self) -> Plan:
        if self.anchor.feature not in [feature.id for feature in self.features]:
            raise ValueError(
                f"the anchor names feature {self.anchor.feature!r}, which is not listed; name a feature's id"
            )
        return self

    @property
    def anchored_to(self) -> Feature:
        return next(feature for feature in self.features if feature.id == self.anchor.feature)
