"""Places as files say them: on the map, on the sheet, or by distance and bearing; and where on the sheet each of them lies.

Map positions go over the WGS 84 ellipsoid by its geodesics (GeographicLib)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from geographiclib.geodesic import Geodesic

from rigging.document import Frame, Point
from rigging.document.site import North
from rigging.quantities.faults import refuse
from rigging.site.north import heading_rad, true_bearing_deg

# Nothing that a rope is tied to lies further from its working point.
FAR_M = 2000.0


@dataclass(frozen=True)
class OnMap:
    """WGS 84; `height_m` above the sea; `off_m`: how far the file itself says that it may be off."""

    latitude_deg: float
    longitude_deg: float
    height_m: float | None = None
    off_m: float | None = None


@dataclass(frozen=True)
class OnSheet:
    x_m: float
    y_m: float
    z_m: float | None = None


@dataclass(frozen=True)
class Sighted:
    """By bearing and distance: level, or along the slope with what it rises (`inclination_deg`) or how high it is (`height_m`)."""

    bearing_deg: float
    north: North | None
    level_m: float | None = None
    slope_m: float | None = None
    inclination_deg: float | None = None
    height_m: float | None = None


@dataclass(frozen=True)
class Spot:
    """Something with a place: `where` it stands in the file, what it says of itself."""

    where: str
    at: OnMap | OnSheet | Sighted
    fields: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Track:
    """A line of places, as somebody walked it."""

    where: str
    name: str
    points: tuple[OnMap, ...]


@dataclass(frozen=True)
class Content:
    """What a file holds; `left_out`: what else is in it that is neither a place nor a way, in words."""

    spots: tuple[Spot, ...] = ()
    tracks: tuple[Track, ...] = ()
    left_out: tuple[str, ...] = ()
    understood: tuple[str, ...] = ()


def origin(frame: Frame | None) -> tuple[float, float]:
    """The working point's latitude and longitude.

    Raises
    ------
    Refused
        If nobody said where the working point is.
    """
    if frame is None or frame.latitude_deg is None or frame.longitude_deg is None:
        right = "give the working point's latitude and longitude and the bearing of the fall line"
        raise refuse("site.frame", "map positions can not be placed yet", right)
    return frame.latitude_deg, frame.longitude_deg


def checked(where: str, latitude: float, longitude: float) -> None:
    """Refuses what is no place on the earth."""
    if not (abs(latitude) <= 90 and abs(longitude) <= 180):
        right = "latitude −90 to 90, longitude −180 to 180"
        if abs(longitude) <= 90 and abs(latitude) <= 180:
            right += "; exchanged they would be one"
        raise refuse(where, f"latitude {latitude:g}, longitude {longitude:g} is no place", right)


def level_place(where: str, at: OnMap, frame: Frame) -> tuple[float, float]:
    """x and y on the sheet of a place on the map.

    Raises
    ------
    Refused
        If it is no place, or lies too far off; it is said if it would be near with its numbers exchanged.
    """
    checked(where, at.latitude_deg, at.longitude_deg)
    start = origin(frame)
    way = Geodesic.WGS84.Inverse(*start, at.latitude_deg, at.longitude_deg)
    if way["s12"] > FAR_M:
        raise refuse(where, f"{way['s12'] / 1000:.1f} km from the working point", _near(at, start))
    heading = math.radians(way["azi1"] - true_bearing_deg(frame))
    return way["s12"] * math.cos(heading), way["s12"] * math.sin(heading)


def _near(at: OnMap, start: tuple[float, float]) -> str:
    """What would bring a place that is far off near, if anything simple does."""
    tried = {
        "with latitude and longitude exchanged": (at.longitude_deg, at.latitude_deg),
        "with the longitude west instead of east": (at.latitude_deg, -at.longitude_deg),
        "with the latitude south instead of north": (-at.latitude_deg, at.longitude_deg),
    }
    for how, (latitude, longitude) in tried.items():
        if abs(latitude) <= 90 and abs(longitude) <= 180:
            far = Geodesic.WGS84.Inverse(*start, latitude, longitude)["s12"]
            if far <= FAR_M:
                return f"{how} it would lie {far:.0f} m away: exchange them in the file, or correct the working point"
    return f"check the file's places and the working point's; at most {FAR_M / 1000:g} km"


def sighted_place(where: str, at: Sighted, frame: Frame | None) -> tuple[float, float, float | None]:
    """x, y and z on the sheet of what was sighted from the working point; z None where nothing says how high it lies."""
    if frame is None:
        raise refuse("site.frame", "bearings can not be placed yet", "give the bearing of the fall line, looking out")
    heading = heading_rad(at.bearing_deg, at.north, frame)
    level, up = at.level_m, at.height_m
    if at.slope_m is not None and at.inclination_deg is not None:
        rise = math.radians(at.inclination_deg)
        level, up = at.slope_m * math.cos(rise), at.slope_m * math.sin(rise)
    elif at.slope_m is not None and at.height_m is not None:
        if abs(at.height_m) > at.slope_m:
            raise refuse(
                where,
                f"{at.height_m:g} m high on {at.slope_m:g} m of slope",
                "a height no larger than the distance along the slope",
            )
        level = math.sqrt(at.slope_m**2 - at.height_m**2)
    elif level is not None and at.inclination_deg is not None and up is None:
        up = level * math.tan(math.radians(at.inclination_deg))
    if level is None:
        raise refuse(
            where,
            "how far away it is can not be told",
            "a level distance, or one along the slope with its inclination or height",
        )
    return level * math.cos(heading), level * math.sin(heading), up


def ground_m(profile: Sequence[Point], x_m: float) -> float:
    """How high the ground lies at a distance along the fall line; beyond its ends as at them."""
    if x_m <= profile[0].x_m:
        return profile[0].z_m
    for a, b in itertools.pairwise(profile):
        if a.x_m <= x_m <= b.x_m:
            return a.z_m if a.x_m == b.x_m else a.z_m + (b.z_m - a.z_m) * (x_m - a.x_m) / (b.x_m - a.x_m)
    return profile[-1].z_m


def to_map(x_m: float, y_m: float, frame: Frame) -> tuple[float, float]:
    """Latitude and longitude of a place on the sheet."""
    bearing = true_bearing_deg(frame) + math.degrees(math.atan2(y_m, x_m))
    there = Geodesic.WGS84.Direct(*origin(frame), bearing, math.hypot(x_m, y_m))
    return there["lat2"], there["lon2"]
