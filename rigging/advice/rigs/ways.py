"""The ways to fill each slot of a plan out of its bags: what lowers, what hauls with what at each bend, what grabs and what keeps what was won, what
catches, how each anchor is rigged, which rope runs; and what each uses."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from pydantic import BaseModel

from rigging.advice.changes import systems_beside
from rigging.advice.choices import hauled_with
from rigging.catalogue import catalogue
from rigging.catalogue.haul import HaulSystem, bends
from rigging.document import TABLES, Haul, Lowering, Plan, Table
from rigging.document.edits import Edit
from rigging.lines.states import hauling_line

# Where in the document something is put.
Path = tuple[str | int, ...]
Kind = Literal["lowering", "haul", "grab", "capture", "belay", "anchor", "rope"]
# Slots that say where and on what the lines run; the others hang on them.
GROUND: frozenset[Kind] = frozenset({"anchor", "rope"})
# So many ways to fill the bends of one system, the best kinds first.
_MOST_FILLED = 81
# The brake hitch that belongs to a device which does not lock, where nobody said which there are.
_USUAL_BRAKE = "french-8"
_USUAL_BELAYS: tuple[tuple[Literal["hitch", "device"], str], ...] = (
    ("hitch", "tandem-prusik-8"), ("hitch", "prusik-8"), ("device", "self-locking"), ("device", "munter"),
)  # fmt: skip


@dataclass(frozen=True)
class Way:
    """One way to fill a slot: what is put where."""

    puts: tuple[tuple[Path, Any], ...] = ()

    @property
    def edits(self) -> tuple[Edit, ...]:
        """The same as edits of the document, whether it says anything there yet or not."""
        return tuple(Edit("add", "/" + "/".join(map(str, path)), _json(value)) for path, value in self.puts)

    def put(self, plan: Plan) -> Plan:
        """The plan with it, not read in again."""
        for path, value in self.puts:
            plan = _put(plan, path, value)
        return plan


AS_IT_IS = Way()


@dataclass(frozen=True)
class Slot:
    """A place of a plan and the ways to fill it, the one that it has first. `of`: the id of the anchor, or of the first line."""

    kind: Kind
    of: str
    ways: tuple[Way, ...]


@dataclass(frozen=True)
class Bagged:
    """What a plan uses of its bags: how many of each kind, by table."""

    counts: dict[Table, Counter[str]] = field(default_factory=dict)

    @classmethod
    def of(cls, plan: Plan) -> Bagged:
        return cls({table: plan.used(table) for table in TABLES})

    def more_than(self, other: Bagged) -> dict[tuple[Table, str], int]:
        """How much more than another it uses of each kind (negative: less)."""
        kinds = {(table, id) for one in (self, other) for table, counts in one.counts.items() for id in counts}
        found = {(table, id): self.counts[table][id] - other.counts[table][id] for table, id in kinds}
        return {key: more for key, more in found.items() if more}

    @cached_property
    def total(self) -> int:
        return sum(counts.total() for counts in self.counts.values())


def slots(plan: Plan) -> list[Slot]:
    """Every slot of a plan in which there is a choice."""
    found = [*_lowerings(plan), *_hauls(plan), *_belays(plan), *_anchors(plan), *_ropes(plan)]
    return [one for one in found if len(one.ways) > 1]


def _json(value: Any) -> Any:
    return value.model_dump(mode="json") if isinstance(value, BaseModel) else value


def _put(owner: Any, path: Path, value: Any) -> Any:
    """A copy with the value at a path below it."""
    if not path:
        return value
    head, *rest = path
    if isinstance(owner, list):
        return [_put(one, tuple(rest), value) if number == head else one for number, one in enumerate(owner)]
    return owner.model_copy(update={str(head): _put(getattr(owner, str(head)), tuple(rest), value)})


def _once(kind: Kind, of: str, ways: Iterable[Way]) -> Slot:
    kept: dict[str, Way] = {}
    for one in ways:
        kept.setdefault(repr([(path, _json(value)) for path, value in one.puts]), one)
    return Slot(kind, of, tuple(kept.values()))


def _there(plan: Plan, table: Table) -> set[str]:
    """Kinds in the bags."""
    return {id for id, count in (plan.bags.there(table) or {}).items() if count}


# What lowers


def _lowerings(plan: Plan) -> Iterator[Slot]:
    """Lines loaded alike have like devices."""
    rows = [
        (number, line.lowering)
        for number, line in enumerate(plan.lines)
        if line.lowering and line.role in ("main", "second")
    ]
    if rows:
        now = Way(tuple((("lines", number, "lowering"), lowering) for number, lowering in rows))
        others = (
            Way(tuple((("lines", number, "lowering"), _lowered(lowering, device, hitch)) for number, lowering in rows))
            for device, hitch in _devices(plan, rows[0][1])
        )
        yield _once("lowering", plan.lines[rows[0][0]].id, [now, *others])


def _lowered(now: Lowering, device: str, hitch: str | None) -> Lowering:
    return now.model_copy(
        update={"device": device, "brake_hitch": hitch, "turns": None, "hitch_made": None, "led": None}
    )


def _devices(plan: Plan, now: Lowering) -> Iterator[tuple[str, str | None]]:
    for device in catalogue().devices.values():
        if device.id != now.device and device.id not in _there(plan, "devices"):
            continue
        if device.self_locking:
            yield device.id, None
            continue
        for hitch in catalogue().hitches.values():
            there = hitch.id in _there(plan, "hitches") or hitch.id == (now.brake_hitch or _USUAL_BRAKE)
            if there and hitch.form == "hitch" and hitch.releases_under_load:
                yield device.id, hitch.id


# What hauls


def _hauls(plan: Plan) -> Iterator[Slot]:
    line = hauling_line(plan)
    if line is None or line.haul is None:
        return
    path: Path = ("lines", plan.lines.index(line), "haul")
    yield _once("haul", line.id, (Way(((path, haul),)) for haul in (line.haul, *_built(plan, line.haul))))
    gripping = [one.id for one in catalogue().hitches.values() if one.id in _there(plan, "hitches")]
    grabs = [id for id in gripping if catalogue().hitches[id].form != "device"]
    yield Slot("grab", line.id, (AS_IT_IS, *(_tied(path, "grab", id) for id in grabs if id != line.haul.grab)))
    if line.haul.capture is not None:
        yield Slot(
            "capture", line.id, (AS_IT_IS, *(_tied(path, "capture", id) for id in gripping if id != line.haul.capture))
        )


def _tied(haul: Path, what: str, id: str) -> Way:
    """Another hitch or clamp on the haul, tied as usual."""
    return Way((((*haul, what), id), ((*haul, f"{what}_made"), None)))


def _built(plan: Plan, now: Haul) -> Iterator[Haul]:
    for system in _systems(now):
        for led in _led(now):
            made = hauled_with(now, system).model_copy(update=led)
            for filled in _filled(plan, made):
                yield made.model_copy(update={"bends": filled})


def _systems(now: Haul) -> list[HaulSystem]:
    """The systems of the catalogue that are built of the rope itself, the one that is there, and what is stacked on it or taken off."""
    beside = {one.id: one for _, one in systems_beside(now.system) if not one.out_of_one}
    return list((beside | {now.system.id: now.system}).values())


def _led(now: Haul) -> list[dict[str, Any]]:
    """The haul strand led as it is, and straight back."""
    return [{}, {"redirects": [], "walk_rad": None}] if now.redirects else [{}]


def _filled(plan: Plan, made: Haul) -> Iterator[dict[str, str]]:
    """Every way to put the kinds that are there, or that the plan has, at the bends of a system."""
    places = [one.id for one in bends(made.system)]
    has = plan.used("bends")
    kinds = [
        one
        for one in catalogue().bends.values()
        if one.id in _there(plan, "bends") or has[one.id] or one.id == "carabiner"
    ]
    kinds = sorted((one for one in kinds if one.id != "unknown"), key=lambda one: -one.eta.expected)
    while len(kinds) > 1 and len(kinds) ** len(places) > _MOST_FILLED:
        kinds.pop(-2 if len(kinds) > 2 else -1)
    for chosen in itertools.product([one.id for one in kinds], repeat=len(places)):
        yield dict(zip(places, chosen, strict=True))


# What catches, and the ground it all stands on


def _belays(plan: Plan) -> Iterator[Slot]:
    for number, line in enumerate(plan.lines):
        if line.belay is None or line.belay.holds == "tied":
            continue
        there = _there(plan, "hitches") | _there(plan, "devices")
        path: Path = ("lines", number, "belay")
        others = (
            line.belay.model_copy(update={"holds": holds, "what": what, "made": None, "led": None})
            for holds, what in _USUAL_BELAYS
            if what in there
        )
        yield _once("belay", line.id, (Way(((path, one),)) for one in (line.belay, *others)))


def _anchors(plan: Plan) -> Iterator[Slot]:
    """The ways that a leader drew for each anchor."""
    for number, anchor in enumerate(plan.anchors):
        ids = [one.id for one in anchor.alternatives if one.pull is None and one.id != anchor.taken]
        if anchor.arrangement.pull is None:
            path: Path = ("anchors", number, "taken")
            yield Slot("anchor", anchor.id, tuple(Way(((path, id),)) for id in (anchor.taken, *ids)))


def _ropes(plan: Plan) -> Iterator[Slot]:
    for number, rope in enumerate(plan.ropes):
        kinds = [
            one.id for one in catalogue().ropes.values()
            if one.id != rope.kind and not one.slick and one.id in _there(plan, "ropes")
        ]  # fmt: skip
        path: Path = ("ropes", number, "kind")
        yield Slot("rope", rope.id, tuple(Way(((path, id),)) for id in (rope.kind, *kinds)))
