"""The plan document: what the leader decided. SI throughout.

x out along the fall line, y to the right looking out, z up; origin at the main working point."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from rigging.catalogue import Entry, catalogue
from rigging.document.anchors import Anchor, Arrangement, Leg, Place3
from rigging.document.course import Course
from rigging.document.features import Feature, KitItem
from rigging.document.lines import Line, Rope, TensionLine
from rigging.document.names import plain
from rigging.document.site import Day, Load, Site
from rigging.document.tested import Tested
from rigging.document.versions import upgraded
from rigging.document.words import BendId, DeviceId, HitchId, MinutesId, Name, Ratio, RopeKindId, SurfaceId, Text
from rigging.quantities.faults import Fault, misfits
from rigging.quantities.ranges import Range, Strict

SCHEMA_VERSION: Literal[4] = 4


class Person(Strict):
    """Somebody there: what they do, which anchor they are tied in to (None: nothing, or not said), and where they stand
    (None: not said)."""

    name: Name
    role: Literal["leader", "edge", "main", "belay", "haul", "ratchet", "writer", "attendant", "other"] = "other"
    tied_to: Name | None = None
    at: Place3 | None = None


class Pace(Strict):
    """How long the team itself takes for a kind of work, as shares of what the catalogue expects of it: from `count` times that it was done,
    `practised` of them in practice on real ropes."""

    takes: MinutesId
    low: Annotated[float, Field(gt=0, le=100)]
    expected: Annotated[float, Field(gt=0, le=100)]
    high: Annotated[float, Field(gt=0, le=100)]
    count: Annotated[int, Field(ge=1, le=1_000_000)]
    practised: Annotated[int, Field(ge=0, le=1_000_000)] = 0

    @model_validator(mode="after")
    def _in_order(self) -> Pace:
        if not self.low <= self.expected <= self.high:
            raise ValueError("low, expected and high are out of order; low ≤ expected ≤ high")
        return self


class Team(Strict):
    """Who can pull: the number of haulers and what each gives, sustained and in a heave (None: as people do); the people by name; what the team has
    taken for its work itself, in place of what the catalogue has."""

    haulers: Annotated[int, Field(ge=0, le=100)]
    sustained_n: Annotated[float, Field(gt=0, le=2000)] | None = None
    heave_n: Annotated[float, Field(gt=0, le=3000)] | None = None
    people: Annotated[list[Person], Field(max_length=60)] = []
    paces: Annotated[list[Pace], Field(max_length=40)] = []


Table = Literal["bends", "devices", "hitches", "protections", "ropes"]
TABLES: tuple[Table, ...] = ("bends", "devices", "hitches", "protections", "ropes")


def entry_of(table: Table, id: str) -> Entry:
    """What the catalogue has of a kind that the bags count."""
    entry: Entry = getattr(catalogue(), "surfaces" if table == "protections" else table)[id]
    return entry


class Held(Strict):
    """How many of each kind there are; a list left out is not said."""

    bends: dict[BendId, Annotated[int, Field(ge=0, le=200)]] | None = None
    devices: dict[DeviceId, Annotated[int, Field(ge=0, le=50)]] | None = None
    hitches: dict[HitchId, Annotated[int, Field(ge=0, le=200)]] | None = None
    protections: dict[SurfaceId, Annotated[int, Field(ge=0, le=50)]] | None = None
    ropes: dict[RopeKindId, Annotated[int, Field(ge=0, le=50)]] | None = None


class Bag(Held):
    """One bag, by the name on it, with who carries it (None: not said)."""

    name: Name
    carried_by: Name | None = None


class Bags(Held):
    """What is there besides material to tie with: what lies loose or was not said to be in which bag, and the bags."""

    packed: Annotated[list[Bag], Field(max_length=20)] = []

    def there(self, table: Table) -> Counter[str] | None:
        """How many of each kind there are in all; None where nobody said."""
        said = [counts for one in (self, *self.packed) if (counts := getattr(one, table)) is not None]
        return sum((Counter(one) for one in said), Counter[str]()) if said else None


class Rules(Strict):
    """The school that the team works under, and its targets.

    Static ratio: strength over load, for anchors and for everything else; what slips, over its own ratio. Force limit:
    every part at least `cap_margin` times what slips first.
    """

    school: Literal["static-ratio", "force-limit"] = "static-ratio"
    anchors_ratio: Ratio = 10
    others_ratio: Ratio = 5
    slip_ratio: Ratio = 2
    cap_margin: Ratio = 2


class Acceptance(Strict):
    """A line of the check accepted as it is, by somebody, with a reason. It holds for the answer that was given then."""

    check: Name
    answer: Annotated[str, Field(min_length=8, max_length=64)]
    by: Name
    reason: Annotated[str, Field(min_length=1, max_length=2000)]


class Found(Strict):
    """A range learnt from readings on this plan, in place of the catalogue's: of an edge by its name, of every bend or device of a kind,
    of the load's mass in kg. It holds for the `kind` that was there when it was learnt."""

    of: Literal["edge", "bend", "device", "load"]
    kind: Annotated[str, Field(max_length=60)] = ""
    name: Annotated[str, Field(max_length=120)] = ""
    low: Annotated[float, Field(gt=0, le=10_000)]
    expected: Annotated[float, Field(gt=0, le=10_000)]
    high: Annotated[float, Field(gt=0, le=10_000)]

    @model_validator(mode="after")
    def _in_order(self) -> Found:
        if not self.low <= self.expected <= self.high:
            raise ValueError("low, expected and high are out of order; low ≤ expected ≤ high")
        return self


class Plan(Strict):
    """One operation: the load, the ground, every anchor in use, every rope, and the lines they make."""

    schema_version: Literal[4] = SCHEMA_VERSION
    title: Name
    place: Text = ""
    day: Day = Day()
    load: Load
    site: Site
    features: Annotated[list[Feature], Field(min_length=1, max_length=50)]
    anchors: Annotated[list[Anchor], Field(min_length=1, max_length=12)]
    ropes: Annotated[list[Rope], Field(max_length=12)] = []
    lines: Annotated[list[Line], Field(max_length=8)] = []
    tension_lines: Annotated[list[TensionLine], Field(max_length=4)] = []
    kit: Annotated[list[KitItem], Field(max_length=60)] = []
    bags: Bags = Bags()
    team: Team
    rules: Rules = Rules()
    accepted: Annotated[list[Acceptance], Field(max_length=200)] = []
    found: Annotated[list[Found], Field(max_length=40)] = []
    tested: Annotated[list[Tested], Field(max_length=60)] = []
    operation: Course = Course()

    @model_validator(mode="before")
    @classmethod
    def _upgraded(cls, given: Any) -> Any:
        return plain(upgraded(given)) if isinstance(given, dict) else given

    @model_validator(mode="after")
    def _fits_together(self) -> Plan:
        faults = [*_twice(self), *_strays(self), *_ends(self)]
        if faults:
            raise misfits(faults)
        return self

    def in_bags(self, table: Table, id: str) -> bool:
        """Whether one more of a kind is in the bags, besides those the plan already uses; where nobody said, it may be."""
        there = self.bags.there(table)
        return there is None or there[id] > self.used(table)[id]

    def offers(self, table: Table, entry: Entry) -> bool:
        """Whether a kind may be offered: in the bags; where nobody said what is in them, only if it is nothing special."""
        said = self.bags.there(table) is not None
        return self.in_bags(table, entry.id) and (said or not entry.special)

    def used(self, table: Table) -> Counter[str]:
        """How many of each kind the plan uses."""
        if table == "protections":
            return Counter(edge.protection for edge in self.site.edges if edge.protection)
        if table == "ropes":
            return Counter(rope.kind for rope in self.ropes)
        found: list[str | None] = []
        for line in self.lines:
            haul, lowering, belay = line.haul, line.lowering, line.belay
            if table == "bends":
                found += [one.bend for one in line.redirects]
                found += [*haul.bends.values(), *(one.bend for one in haul.redirects)] if haul else []
            elif table == "devices":
                found += [
                    lowering.device if lowering else None,
                    belay.what if belay and belay.holds == "device" else None,
                ]
            else:
                found += [haul.grab if haul.grabs else None, haul.capture] if haul else []
                found += [
                    lowering.brake_hitch if lowering else None,
                    belay.what if belay and belay.holds == "hitch" else None,
                ]
        return Counter(one for one in found if one)

    def found_of(self, of: str, kind: str, name: str = "") -> Range | None:
        """What readings say of something; None where they say nothing of it as it is now."""
        one = next((one for one in self.found if (one.of, one.kind, one.name) == (of, kind, name)), None)
        return Range(one.low, one.expected, one.high) if one else None

    def takes_s(self, id: str) -> Range:
        """How long a kind of work takes by day, in seconds: the team itself, or as the catalogue has it."""
        by_catalogue = catalogue().minutes[id].takes_s
        pace = next((one for one in self.team.paces if one.takes == id), None)
        if pace is None:
            return by_catalogue
        return Range(*(by_catalogue.expected * share for share in (pace.low, pace.expected, pace.high)))

    def anchor(self, id: str) -> Anchor:
        return next(one for one in self.anchors if one.id == id)

    def rope(self, id: str) -> Rope:
        """A rope, as wet as the day is where nobody said otherwise."""
        rope = next(one for one in self.ropes if one.id == id)
        if rope.state is None and self.day.state is not None:
            return rope.model_copy(update={"state": self.day.state})
        return rope

    def feature(self, id: str) -> Feature:
        return next(one for one in self.features if one.id == id)

    def line(self, role: str) -> Line | None:
        """The first line of a role."""
        return next((one for one in self.lines if one.role == role), None)

    def arrangements(self) -> Iterator[tuple[str, Anchor, Arrangement]]:
        """Every arrangement with its path in the document and its anchor."""
        for a, anchor in enumerate(self.anchors):
            for b, arrangement in enumerate(anchor.alternatives):
                yield f"anchors[{a}].alternatives[{b}]", anchor, arrangement

    def path_of(self, arrangement: Arrangement) -> str:
        return next(path for path, _, one in self.arrangements() if one is arrangement)


def _again(names: list[str]) -> Iterator[tuple[int, str]]:
    """Those that stand before already, each with its place."""
    return ((number, name) for number, name in enumerate(names) if name in names[:number])


def _twice(plan: Plan) -> Iterator[Fault]:
    tables = {
        "features": [one.id for one in plan.features], "anchors": [one.id for one in plan.anchors],
        "ropes": [one.id for one in plan.ropes], "lines": [one.id for one in plan.lines], "tension_lines": [one.id for one in plan.tension_lines],
    }  # fmt: skip
    for table, ids in tables.items():
        for number, id in _again(ids):
            yield Fault(f"{table}[{number}].id", f"two {table} have the id {id!r}", "give each its own")
    for number, name in _again([one.name for one in plan.bags.packed]):
        yield Fault(f"bags.packed[{number}].name", f"two bags have the name {name!r}", "give each its own")
    seen = set()
    for path, _, arrangement in plan.arrangements():
        if arrangement.id in seen:
            yield Fault(f"{path}.id", f"two arrangements have the id {arrangement.id!r}", "give each its own")
        seen.add(arrangement.id)


def _strays(plan: Plan) -> Iterator[Fault]:
    """Names of things that are not listed; a line through its own working point; an anchor that can not be pulled."""
    kinds = {one.id: one.kind for one in plan.features}
    features, anchors = {one.id for one in plan.features}, {one.id: one for one in plan.anchors}
    ropes = {one.id for one in plan.ropes}
    for path, _, arrangement in plan.arrangements():
        for number, leg in enumerate(arrangement.legs):
            if leg.feature not in features:
                yield Fault(
                    f"{path}.legs[{number}].feature",
                    f"names {leg.feature!r}, which is not listed",
                    "name a feature's id",
                )
            elif leg.rope is not None and leg.rope not in ropes:
                yield Fault(
                    f"{path}.legs[{number}].rope", f"names rope {leg.rope!r}, which is not listed", "name a rope's id"
                )
            elif _stands(leg) != catalogue().features[kinds[leg.feature]].pushes:
                yield Fault(
                    f"{path}.legs[{number}].method",
                    f"{leg.method!r} does not go with {kinds[leg.feature]!r}: a frame's leg stands on its foot, nothing else does",
                    "take frame-leg for a foot of a frame, another way for what is tied to",
                )
        yield from _stray_ties(arrangement, path, features, ropes)
        feet = sum(_stands(leg) for leg in arrangement.legs)
        if (arrangement.made_as.made == "stands") != (feet > 0) or feet == 1:
            yield Fault(
                f"{path}.legs",
                f"{feet} of its legs stand on feet",
                "a frame stands on two feet or more; any other scheme on none",
            )
    for number, line in enumerate(plan.lines):
        here = f"lines[{number}]"
        if line.rope not in ropes:
            yield Fault(f"{here}.rope", f"names rope {line.rope!r}, which is not listed", "name a rope's id")
        if line.haul and line.haul.strands_of is not None and line.haul.strands_of not in ropes:
            yield Fault(
                f"{here}.haul.strands_of",
                f"names rope {line.haul.strands_of!r}, which is not listed",
                "name a rope's id",
            )
        for path, name in _anchors_of(line):
            if name not in anchors:
                yield Fault(f"{here}.{path}", f"names anchor {name!r}, which is not there", "name an anchor's id")
            elif anchors[name].arrangement.pull is not None:
                yield Fault(
                    f"{here}.{path}",
                    f"{anchors[name].arrangement.name!r} has a pull of its own",
                    "take one that a line can run from",
                )
            elif path != "anchor" and "redirects" in path and name == line.anchor:
                yield Fault(
                    f"{here}.{path}",
                    "a redirect at the working point itself turns nothing",
                    "give it an anchor of its own",
                )
    for number, tight in enumerate(plan.tension_lines):
        here = f"tension_lines[{number}]"
        if tight.rope not in ropes:
            yield Fault(f"{here}.rope", f"names rope {tight.rope!r}, which is not listed", "name a rope's id")
        for path, name in (("anchor", tight.anchor), ("far", tight.far)):
            if name not in anchors:
                yield Fault(f"{here}.{path}", f"names anchor {name!r}, which is not there", "name an anchor's id")
    for number, person in enumerate(plan.team.people):
        if person.tied_to is not None and person.tied_to not in anchors:
            yield Fault(
                f"team.people[{number}].tied_to",
                f"names anchor {person.tied_to!r}, which is not there",
                "name an anchor's id",
            )


def _stray_ties(arrangement: Arrangement, path: str, features: set[str], ropes: set[str]) -> Iterator[Fault]:
    stages = arrangement.set_down.stages if arrangement.set_down else []
    for number, tie in enumerate(arrangement.ties):
        if tie.feature not in features:
            yield Fault(
                f"{path}.ties[{number}].feature", f"names {tie.feature!r}, which is not listed", "name a feature's id"
            )
    tied = [(f"ties[{n}]", one.rope) for n, one in enumerate(arrangement.ties)]
    for where, rope in (*tied, *((f"set_down.stages[{n}]", one.rope) for n, one in enumerate(stages))):
        if rope is not None and rope not in ropes:
            yield Fault(f"{path}.{where}.rope", f"names rope {rope!r}, which is not listed", "name a rope's id")


def _stands(leg: Leg) -> bool:
    """Whether it is a leg of a frame."""
    return catalogue().attachments[leg.method].path == "post"


def _anchors_of(line: Line) -> Iterator[tuple[str, str]]:
    """Every anchor that a line names, with the path in the line."""
    yield "anchor", line.anchor
    for number, redirect in enumerate(line.redirects):
        yield f"redirects[{number}].anchor", redirect.anchor
    if line.haul:
        for number, redirect in enumerate(line.haul.redirects):
            yield f"haul.redirects[{number}].anchor", redirect.anchor
        for node, name in line.haul.anchors.items():
            yield f"haul.anchors.{node}", name


def _ends(plan: Plan) -> Iterator[Fault]:
    """Ropes that lie idle, and ends that two lines want."""
    used = {line.rope for line in plan.lines} | {line.rope for line in plan.tension_lines}
    used |= {line.haul.strands_of for line in plan.lines if line.haul and line.haul.strands_of}
    used |= {leg.rope for _, _, one in plan.arrangements() for leg in one.legs if leg.rope}
    for number, rope in enumerate(plan.ropes):
        if rope.id not in used:
            yield Fault(
                f"ropes[{number}]",
                f"the rope {rope.id!r} is on no line",
                "put it on a line, tie an anchor with it, haul with it, or take it out of the plan",
            )
    taken: dict[tuple[str, str], str] = {}
    for number, line in enumerate(plan.lines):
        other = taken.setdefault((line.rope, line.end), line.id)
        if other != line.id:
            yield Fault(
                f"lines[{number}].end",
                f"{line.id!r} and {other!r} want the same end of rope {line.rope!r}",
                "take its other end, or another rope",
            )
