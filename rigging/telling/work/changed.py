"""One change of a plan, from one value to another, in the trade's words: what a leader would write down, never a field's name."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.words.names import line_name, listed, lower_first, spoken
from rigging.telling.work.rearranged import of_operation

TOLD_WHOLE = frozenset(
    ["system", "at", "load_at", "point", "profile", "frame", "answers", "rating_n", "planning_n", "prop", "span", "pull", "joins", "damage", "kept", "own",
     "tie_off", "piece", "ties", "set_down", "tightened", "kit", "bags", "redirects", "sections", "paces", "load_parts", "hitch_made", "grab_made", "capture_made", "made"]
)  # fmt: skip
"""What is told as one thing, however much of it changed."""


@dataclass(frozen=True, slots=True)
class Change:
    """What stood at `path` of the plan as JSON, and what stands there now; None: nothing, or not said."""

    path: tuple[Any, ...]
    old: Any
    new: Any
    before: Plan
    after: Plan
    say: Wording

    @property
    def last(self) -> Any:
        return self.path[-1]

    @property
    def came(self) -> bool:
        return self.old is None

    @property
    def went(self) -> bool:
        return self.new is None

    def lengths(self, unsaid: str = "not said") -> str:
        return self._between(self.say.length, unsaid)

    def forces(self) -> str:
        return self._between(self.say.force)

    def angle(self) -> str:
        return f"{math.degrees(self.new):.0f}°"

    def figures(self, unit: str = "", unsaid: str = "not said") -> str:
        return self._between(lambda value: f"{value:g}{unit}", unsaid)

    def _between(self, word: Callable[[Any], str], unsaid: str = "not said") -> str:
        return " → ".join(unsaid if one is None else word(one) for one in (self.old, self.new))


def in_words(change: Change) -> str:
    """One change in words; "" for what nobody would write down."""
    teller = _TELLERS.get(change.path[0])
    return teller(change) if teller else ""


# Names


def _name(table: str, id: Any) -> str:
    known = getattr(catalogue(), table).get(id)
    return lower_first(known.name) if known else str(id)


def _feature_name(change: Change, id: str) -> str:
    for plan in (change.after, change.before):
        for one in plan.features:
            if one.id == id:
                return spoken(one.name)
    return id


def _anchor_name(change: Change, id: str | None) -> str:
    for plan in (change.after, change.before):
        for one in plan.anchors:
            if one.id == id:
                return lower_first(one.name)
    return str(id)


def _swapped(table: str, change: Change) -> str:
    old, new = change.old, change.new
    if new is None:
        return f"no {_name(table, old)}"
    return _name(table, new) if old is None else f"{_name(table, new)} in place of the {_name(table, old)}"


_TABLES = {
    "knot": "knots", "extension_knot": "knots", "connector": "connectors", "protection": "surfaces", "surface": "surfaces",
    "joined": "knots", "extension_joined": "knots", "padding": "surfaces",
    "material": "slings", "extension": "slings", "method": "attachments", "slider": "bends",
}  # fmt: skip


# The ground, the load, the people, the material


def _of_load(change: Change) -> str:
    if change.last == "contact":
        return f"load {_name('contacts', change.new)}"
    if len(change.path) == 2:
        return "load made up otherwise"
    who = lower_first(str(change.path[2]))
    if len(change.path) == 3:
        return f"{who} {'off the rope' if change.went else 'on the rope'}"
    if change.last == "mass_kg":
        return f"{who} {change.figures()} kg"
    if change.last == "plus_minus_kg":
        return f"weight of {who} ± {change.figures()} kg"
    return f"{who} on the rope " + (
        "all the way" if change.went else f"from {change.say.length(change.new)} below the lip"
    )


def _of_site(change: Change) -> str:
    if change.path[1] == "edges" and len(change.path) > 2:
        edge = lower_first(str(change.path[2]))
        if len(change.path) == 3:
            return f"{edge} {'is no edge any more' if change.went else 'is an edge'}"
        return f"{_swapped('surfaces', change)} at {edge}" if change.last in _TABLES else f"{edge} moved"
    return {
        "profile": "ground measured again", "edges": "edges marked otherwise", "load_at": "load moved", "frame": "place on the map and fall line given anew",
        "surface": f"ground: {_swapped('surfaces', change)}" if change.last == "surface" else "",
    }[change.path[1]]  # fmt: skip


_VERDICTS = {
    "sound-alone": "sound alone",
    "with-others": "only with others",
    "temporary": "temporary only",
    "reject": "rejected",
}


def _of_feature(change: Change) -> str:
    id = change.path[1]
    name = _feature_name(change, id)
    if len(change.path) == 2:
        return f"{name} {'off the list of what there is to tie to' if change.went else 'surveyed'}"
    if change.last in ("verdict", "reason", "judged_by"):
        return _judged(change, name)
    if change.last == "rating_n":
        rated = None if change.went else change.say.force(Range(**change.new))
        return f"{name} rated {rated}" if rated else f"{name} as estimated, no rating of its own"
    if change.last == "basis":
        return f"rating of {name} by: {change.new}" if change.new else ""
    if change.last == "guard":
        return f"{change.new or 'nobody'} guards {name}"
    if change.last == "name":
        return f"{spoken(change.old)} named {change.new}"
    if change.last == "kind":
        return f"{name}: {_swapped('features', change)}"
    return f"{name} inspected" if change.last == "answers" else f"{name} moved"


def _judged(change: Change, name: str) -> str:
    """A verdict with its reason, once, whichever of the two changed."""
    feature = change.after.feature(change.path[1])
    if feature.verdict is None:
        return f"{name} not judged any more"
    by = f", by {feature.judged_by}" if feature.judged_by else ""
    return f"{name} {_VERDICTS[feature.verdict]}{f': {feature.reason}' if feature.reason else ''}{by}"


_KEPT = {"coils": "coils", "lip": "whoever goes to the lip", "people": "people tied in", "other": "something else"}
_STOOD = {"nothing": "nothing known", "sunlight": "long sunlight", "chemicals": "near chemicals"}


def _of_rope(change: Change) -> str:
    rope = f"{change.path[1]} rope"
    if len(change.path) == 2:
        return f"{rope} {'taken out' if change.went else 'taken along'}"
    if change.last == "kind":
        return f"{_swapped('ropes', change)}, {rope}"
    if change.last in ("joins", "damage"):
        places = listed(change.say.length(one["at_m"]) for one in change.new)
        word, none = ("joined", "no join in the") if change.last == "joins" else ("damaged", "no damage on the")
        return f"{rope} {word} {places} from the load" if places else f"{none} {rope}"
    if change.last == "kept":
        kept = listed(f"{change.say.length(one['length_m'])} kept for {_KEPT[one['what']]}" for one in change.new)
        return f"{rope}: {kept}" if kept else f"nothing kept of the {rope}"
    if change.last == "glazed":
        return f"{rope}: sheath {'glazed' if change.new else 'sound'}"
    if change.last == "stood":
        return f"{rope}: stood {_STOOD.get(change.new, 'nobody knows what')}"
    if change.last == "state":
        return f"{rope} {change.new or 'as wet as the day'}"
    if change.last == "age_years":
        return f"{rope}: age {change.figures(' years')}"
    return f"{rope} {change.lengths()}" if change.last == "length_m" else f"{rope}: {change.new or 'wear not said'}"


def _of_team(change: Change) -> str:
    if change.path[1] == "people":
        return _of_person(change) if len(change.path) > 2 else "other people"
    if change.path[1] == "paces":
        own = listed(_name("minutes", one["takes"]) for one in change.new)
        return f"the team's own times for {own}" if own else "times from memory"
    return {
        "haulers": f"{change.new} haulers in place of {change.old}", "sustained_n": f"each hauler gives {change.forces()}",
        "heave_n": f"each hauler gives {change.forces()} in a heave",
    }[change.path[1]]  # fmt: skip


def _of_person(change: Change) -> str:
    name = change.path[2]
    if len(change.path) == 3:
        return f"{name} {'gone' if change.went else 'there'}"
    if change.last == "role":
        return f"{name} {change.new} in place of {change.old}"
    if change.last == "tied_to":
        return f"{name} tied in to nothing" if change.went else f"{name} tied in to {_anchor_name(change, change.new)}"
    return (
        f"{name}: place not said"
        if change.went
        else f"{name} stands elsewhere"
        if change.old
        else f"{name} has a place"
    )


def _of_rules(change: Change) -> str:
    what = {
        "anchors_ratio": "anchors", "others_ratio": "everything but anchors", "slip_ratio": "what slips", "cap_margin": "strength over what slips first",
    }.get(change.last)  # fmt: skip
    if what:
        return f"rule for {what} {change.figures(' : 1')}"
    return f"rules by {str(change.new).replace('-', ' ')} in place of {str(change.old).replace('-', ' ')}"


def _of_found(change: Change) -> str:
    """What readings taught, by thing, with the range that stands now."""
    rows = []
    for one in change.after.found:
        table = {"bend": "bends", "device": "devices"}.get(one.of, "")
        name = "load" if one.of == "load" else lower_first(one.name) if one.of == "edge" else _name(table, one.kind)
        rows.append(f"{name} {one.low:.3g} to {one.high:.3g}{' kg' if one.of == 'load' else ''}")
    return (
        f"friction and weight learnt from readings: {', '.join(rows)}"
        if rows
        else "nothing learnt from readings any more"
    )


# Anchors


def _of_anchor(change: Change) -> str:
    name = _anchor_name(change, change.path[1])
    if len(change.path) == 2:
        return f"{name} {'taken out' if change.went else 'added'}"
    anchor = change.after.anchor(change.path[1])
    ways = {one.id: lower_first(one.name) for one in anchor.alternatives}
    if change.last == "taken":
        return f"{ways[change.new]} taken for the {name}"
    if change.last == "planning_n":
        judged = "the load held on it" if change.went else change.say.force(Range(**change.new))
        return f"{name} judged for {judged} while no line pulls on it"
    if change.path[2] == "alternatives" and len(change.path) > 3:
        way = change.path[3]
        if len(change.path) == 4:
            drawn = change.new or change.old
            return f"{lower_first(drawn['name'])} {'discarded' if change.went else 'drawn'} for the {name}"
        where = f"at the {name}" + ("" if way == anchor.taken else f", {ways[way]} (not in use)")
        return f"{_of_arrangement(change)} {where}"
    return f"{lower_first(str(change.old))} named {change.new}"


def _of_arrangement(change: Change) -> str:
    field, last = change.path[4], change.last
    if field == "legs":
        return _of_leg(change)
    if last in _TABLES:
        return _swapped(_TABLES[last], change)
    told: dict[str, Callable[[], str]] = {
        "name": lambda: f"{lower_first(str(change.old))} named {change.new}",
        "scheme": lambda: _swapped("schemes", change),
        "point": lambda: "working point moved",
        "heading_rad": lambda: f"made for {'the line as it pulls' if change.went else f'a pull at {change.angle()}'}",
        "swing_rad": lambda: f"swing ± {change.angle()}",
        "locked": lambda: "legs locked by a knot" if change.new else "legs free to adjust",
        "limit_m": lambda: f"limiting knots {change.lengths()}",
        "prop": lambda: "no pole" if change.went else "pole",
        "span": lambda: "line otherwise",
        "pull": lambda: "pull of the line" if change.went else "pull of its own",
        "piece": lambda: "legs of pieces of their own" if change.went else "out of one piece",
        "ties": lambda: "held in place otherwise",
        "set_down": lambda: "set down no further" if change.went else "working point set down",
        "tightened": lambda: "order of tightening",
    }
    return told[field]()


def _of_leg(change: Change) -> str:
    if len(change.path) == 5:
        return f"{_legs(change.new)} in place of {_legs(change.old)}"
    last, old, new = change.last, change.old, change.new
    if last == "feature":
        return f"{_feature_name(change, new)} in place of {_feature_name(change, old)}"
    way = next(one for one in change.after.anchor(change.path[1]).alternatives if one.id == change.path[3])
    leg = f"leg to {_feature_name(change, way.legs[change.path[5]].feature)}"
    told: dict[str, Callable[[], str]] = {
        "turns": lambda: (
            f"{'turns as usual' if new is None else f'{new:g} turns'} in place of {'as usual' if old is None else f'{old:g}'}"
        ),
        "length_m": lambda: f"length {change.lengths('snug')}",
        "pretension_n": lambda: f"pulled to {change.forces()}",
        "tie_off": lambda: "tied off otherwise",
        "pulled": lambda: "all wraps but one pulled" if new is None else f"{new} wraps pulled",
        "extension_strands": lambda: f"{new} strands in place of {old}",
        "over": lambda: "over nothing" if new is None else f"over {_name('surfaces', new)}",
        "rope": lambda: "a piece out of the bags" if new is None else f"tied with the {new} rope",
        "state": lambda: f"{new or 'as wet as the day'}",
    }
    return f"{told[last]() if last in told else _swapped(_TABLES[last], change)}, {leg},"


def _legs(legs: list[Any]) -> str:
    return "one leg" if len(legs) == 1 else f"{len(legs)} legs"


# Lines


def _of_line(change: Change) -> str:
    plan = change.after if any(one.id == change.path[1] for one in change.after.lines) else change.before
    whose = lower_first(line_name(plan, change.path[1]))
    if len(change.path) == 2:
        return f"{whose} {'taken out' if change.went else 'laid'}"
    if len(change.path) == 3:
        return _of_line_itself(change, whose)
    return {"lowering": _of_lowering, "haul": _of_haul, "belay": _of_belay}[change.path[2]](change, whose)


def _of_line_itself(change: Change, whose: str) -> str:
    old, new, last = change.old, change.new, change.last
    if last in ("lowering", "haul", "belay"):
        word = {"lowering": "lowering", "haul": "haul system", "belay": "belay"}[last]
        return f"{word} {'taken out' if change.went else 'rigged'}, {whose}"
    told: dict[str, Callable[[], str]] = {
        "role": lambda: f"{whose} in place of {old}",
        "rope": lambda: f"{new} rope in place of {old} on the {whose}",
        "end": lambda: f"the rope's {new} end at the load, {whose}",
        "anchor": lambda: f"{whose} from {_anchor_name(change, new)} in place of {_anchor_name(change, old)}",
        "redirects": lambda: f"{whose} led otherwise",
        "tail_m": lambda: f"tail {change.lengths()}, {whose}",
        "load_knot": lambda: f"{_swapped('knots', change)} at the load, {whose}",
        "load_connector": lambda: f"{_swapped('connectors', change)} at the load, {whose}",
        "load_connector_crowded": lambda: f"load connector {_crowded(new)}, {whose}",
        "slack_m": lambda: f"{whose} slack {change.lengths()}",
        "load_connector_loaded": lambda: f"load connector pulled otherwise, {whose}",
        "load_parts": lambda: f"other parts between load and connector, {whose}",
    }
    return told[last]()


def _crowded(crowded: bool) -> str:
    return "crowded near its gate" if crowded else "loaded along its spine"


def _tied_behind(change: Change, whose: str) -> str:
    behind = "runs free" if change.went else f"tied to the anchor with {change.say.length(change.new)} of slack"
    return f"rope behind the {whose} {behind}"


def _led(way: str | None) -> str:
    return {"parallel": "beside the load strand", "back": "back, away from the load"}.get(
        way or "", "as the device brakes best"
    )


def _of_lowering(change: Change, whose: str) -> str:
    new = change.new
    told: dict[str, Callable[[], str]] = {
        "device": lambda: f"{_swapped('devices', change)} on the {whose}",
        "turns": lambda: f"turns {change.figures(unsaid='as usual')} at the device, {whose}",
        "hands": lambda: f"{'both hands' if new == 2 else 'one hand'} on the brake strand, {whose}",
        "crowded": lambda: f"device's connector {_crowded(new)}, {whose}",
        "led": lambda: f"brake strand led {_led(new)}, {whose}",
        "brake_hitch": lambda: f"{_swapped('hitches', change)} behind the device",
        "hitch_made": lambda: f"brake-side hitch tied otherwise, {whose}",
        "minder": lambda: f"{new or 'nobody'} minds the hitch, {whose}",
        "out_m": lambda: f"device {change.lengths()} in front of the working point, {whose}",
        "hitch_m": lambda: f"brake-side hitch's cord {change.lengths()}, {whose}",
        "slack_m": lambda: f"slack in the minded hitch {change.lengths()}, {whose}",
        "tied_behind_m": lambda: _tied_behind(change, whose),
    }
    return told[change.last]()


def _of_haul(change: Change, whose: str) -> str:
    old, new = change.old, change.new
    if change.path[3] == "bends" and len(change.path) == 5:
        return f"{_swapped('bends', change)} at {change.last}" if new else f"nothing said at {change.last}"
    told: dict[str, Callable[[], str]] = {
        "system": lambda: (
            f"{new['name']} in place of {old['name']}"
            if new["name"] != old["name"]
            else f"{new['name']} set out otherwise"
        ),
        "attached": lambda: (
            "haul at the load, every strand over the edges" if new == "load" else "haul by a grab on the main rope"
        ),
        "grab": lambda: f"{_swapped('hitches', change)} as haul grab",
        "grab_made": lambda: "haul grab tied otherwise",
        "capture": lambda: f"{_swapped('hitches', change)} as ratchet",
        "capture_made": lambda: "ratchet tied otherwise",
        "capture_on": lambda: f"ratchet on the {'haul strand' if new == 'haul' else 'strand from the load'}",
        "capture_minder": lambda: f"{new or 'nobody'} minds the ratchet, {whose}",
        "capture_slack_m": lambda: f"slack in the minded ratchet {change.lengths()}",
        "capture_releasing_m": lambda: _releasing(change, "ratchet"),
        "redirects": lambda: "haul strand led otherwise",
        "walk_rad": lambda: "haulers walk another way",
        "way_m": lambda: f"haulers' way {change.lengths()}",
        "anchors": lambda: "haul system at other anchors",
        "reach_m": lambda: f"haul grab set as far out as {change.lengths('the first edge')}",
        "strands_of": lambda: (
            f"other strands of the haul of {'nobody said what' if new is None else f'the {new} rope'}"
        ),
        "own": lambda: "haul built of the line's rope" if change.went else "haul built of a piece of its own",
    }
    return told[change.path[3]]()


def _of_belay(change: Change, whose: str) -> str:
    new = change.new
    told: dict[str, Callable[[], str]] = {
        "holds": lambda: "",
        "what": lambda: f"{_any(new)} in place of the {_any(change.old)} on the {whose}",
        "made": lambda: f"hitches of the {whose} tied otherwise",
        "minder": lambda: f"{new or 'nobody'} minds the hitch, {whose}",
        "round_ropes": lambda: f"hitches of the {whose} round {'both ropes together' if new == 2 else 'one rope'}",
        "led": lambda: f"brake strand led {_led(new)}, {whose}",
        "releasing_m": lambda: _releasing(change, "belay"),
        "tied_behind_m": lambda: _tied_behind(change, whose),
    }
    return told[change.last]()


def _any(id: str) -> str:
    """What catches on a belay: a hitch, a device or a knot."""
    return next((_name(one, id) for one in ("hitches", "devices", "knots") if id in getattr(catalogue(), one)), id)


def _releasing(change: Change, behind: str) -> str:
    if change.went:
        return f"no releasing hitch behind the {behind}"
    return f"releasing hitch of {change.new:g} m behind the {behind}"


def _of_tension_line(change: Change) -> str:
    if len(change.path) == 2:
        return f"tension line {'taken out' if change.went else 'rigged'}"
    told: dict[str, Callable[[], str]] = {
        "rope": lambda: f"{change.new} rope in place of {change.old}",
        "anchor": lambda: f"near end at {_anchor_name(change, change.new)}",
        "far": lambda: f"far end at {_anchor_name(change, change.new)}",
        "ropes": lambda: f"{change.figures()} ropes side by side",
        "end_knot": lambda: f"{_swapped('knots', change)} at its ends",
        "pretension_n": lambda: f"pulled to {change.forces()}",
        "slips": lambda: f"{_swapped('devices', change)} at the near end",
        "hang_m": lambda: f"load {change.lengths()} under the carriage",
    }
    return f"tension line: {told[change.last]()}"


_TELLERS: dict[str, Callable[[Change], str]] = {
    "title": lambda change: f"plan named {change.new}", "place": lambda change: f"place: {change.new or 'not said'}", "load": _of_load,
    "site": _of_site, "features": _of_feature, "anchors": _of_anchor, "ropes": _of_rope,
    "lines": _of_line, "tension_lines": _of_tension_line, "kit": lambda _: "other material in the bags", "bags": lambda _: "other gear in the bags",
    "team": _of_team, "rules": _of_rules, "found": _of_found, "operation": of_operation,
}  # fmt: skip
