"""Who hangs on the rope, and the ground from the side. SI throughout."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from rigging.document.words import In, Metres, Name, ProtectionId, SurfaceId
from rigging.quantities.ranges import Strict

Condition = Literal["dry", "wet", "icy", "muddy"]
PlacedBy = Literal["tape", "rangefinder", "instrument", "phone", "barometer", "map"]


class Day(Strict):
    """What today makes of everything that nobody says otherwise of (None: nobody has said, and figures are for dry), and how cold it is."""

    state: Condition | None = None
    temperature_c: Annotated[float, Field(ge=-60, le=60)] | None = None


class LoadItem(Strict):
    """Someone or something on the rope. `joins_below_m`: it hangs there only that far below the first corner and beyond
    (None: all the way)."""

    name: Name
    joins_below_m: Annotated[float, Field(ge=0, le=2000)] | None = None
    mass_kg: Annotated[float, Field(gt=0, le=2000)]
    plus_minus_kg: Annotated[float, Field(ge=0, le=500)] = 0

    @model_validator(mode="after")
    def _some_mass_left(self) -> LoadItem:
        if self.plus_minus_kg >= self.mass_kg:
            raise ValueError(f"{self.name!r} may weigh nothing; give plus_minus_kg below mass_kg ({self.mass_kg:g})")
        return self


class Load(Strict):
    items: Annotated[list[LoadItem], Field(min_length=1, max_length=30)]
    contact: Annotated[str, In("contacts")]


class Point(Strict):
    x_m: Metres
    z_m: Metres


class Edge(Point):
    """Something the rope may bend over: its own surface, what is laid over it, and whether it is wet (`state`; None: as the day). `sawn`:
    a rope under tension moves sideways on it."""

    name: Name
    surface: SurfaceId
    protection: ProtectionId | None = None
    state: Condition | None = None
    sawn: bool = False


North = Literal["true", "magnetic"]


class Frame(Strict):
    """Where the sheet lies in the world: the bearing of the fall line, from which north it was taken and how far magnetic north lies east of
    true here (None: nobody said), and the origin's place on the map, with what its elevation was read from."""

    bearing_deg: Annotated[float, Field(ge=0, le=360)]
    north: North | None = None
    declination_deg: Annotated[float, Field(ge=-180, le=180)] | None = None
    latitude_deg: Annotated[float, Field(ge=-85, le=85)] | None = None
    longitude_deg: Annotated[float, Field(ge=-180, le=180)] | None = None
    elevation_m: Annotated[float, Field(ge=-500, le=9000)] | None = None
    elevation_by: PlacedBy | None = None


class Site(Strict):
    """The ground from the side. `load_at` is where the load is now: the lowest point of the job."""

    profile: Annotated[list[Point], Field(min_length=2, max_length=200)]
    surface: SurfaceId
    edges: Annotated[list[Edge], Field(max_length=20)] = []
    load_at: Point
    frame: Frame | None = None

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
