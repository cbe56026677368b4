"""What was changed between two states of a plan, in the trade's words, with its effect; what of the check it answered. It is what a
leader would write in the log, offered so that only the reason is left to say."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any

from pydantic import BaseModel, ConfigDict

from rigging.advice.best import GOALS, effect_of
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.quantities.faults import Refused
from rigging.quantities.units import Wording
from rigging.telling.best import GOAL_NAMES, value_text
from rigging.telling.check import check
from rigging.telling.words import line_name, listed, lower_first, upper_first

_MOST_ANSWERS = 3
_MOST_EFFECTS = 3
Leaf = tuple[tuple[Any, ...], Any, Any]


class DecidedReport(BaseModel):
    """`text`: what was changed, "" where nothing was; `effects`: quantities that read otherwise now; `answers`: lines of the check that
    it did away with, as reasons."""

    model_config = ConfigDict(frozen=True)

    text: str
    effects: list[str]
    answers: list[str]


def decided(before: Plan, after: Plan, say: Wording | None = None) -> DecidedReport:
    """Two states of a plan, compared.

    Several small changes are told as one decision. What can not be laid out has no effect to tell.
    """
    say = say or Wording()
    changes = list(dict.fromkeys(_changes(before, after)))
    if not changes:
        return DecidedReport(text="", effects=[], answers=[])
    try:
        effects, answers = list(_effects(before, after, say)), list(_answers(before, after, say))
    except Refused:
        effects, answers = [], []
    return DecidedReport(
        text=upper_first("; ".join(changes)), effects=effects[:_MOST_EFFECTS], answers=answers[:_MOST_ANSWERS]
    )


def _effects(before: Plan, after: Plan, say: Wording) -> Iterator[str]:
    here, there = effect_of(before), effect_of(after)
    for goal in GOALS:
        was, now = value_text(here, goal, before, say), value_text(there, goal, after, say)
        if was != now:
            yield f"{lower_first(GOAL_NAMES[goal])} {was} → {now}"


def _answers(before: Plan, after: Plan, say: Wording) -> Iterator[str]:
    """Loud lines that are gone, as somebody would give them for a reason."""
    left = {one.id for one in check(after, say).lines if one.level in ("stop", "look", "unknown")}
    for one in check(before, say).lines:
        if one.level in ("stop", "look", "unknown") and one.id not in left:
            yield lower_first(re.split(r"(?<=[a-z)])\.\s", one.text)[0].rstrip("."))


# What changed, leaf by leaf


def _changes(before: Plan, after: Plan) -> Iterator[str]:
    old, new = before.model_dump(mode="json"), after.model_dump(mode="json")
    for leaf in _leaves(old, new, ()):
        said = _said(leaf, before, after)
        if said:
            yield said


def _leaves(old: Any, new: Any, path: tuple[Any, ...]) -> Iterator[Leaf]:
    if old == new:
        return
    if (
        isinstance(old, dict)
        and isinstance(new, dict)
        and path[-1:] not in (("system",), ("at",), ("load_at",), ("point",))
    ):
        for key in dict.fromkeys([*old, *new]):
            yield from _leaves(old.get(key), new.get(key), (*path, key))
    elif isinstance(old, list) and isinstance(new, list) and _by_id(old) and _by_id(new):
        ids = dict.fromkeys([*(_id(one) for one in old), *(_id(one) for one in new)])
        for id in ids:
            a, b = (next((one for one in rows if _id(one) == id), None) for rows in (old, new))
            yield from _leaves(a, b, (*path, id))
    elif isinstance(old, list) and isinstance(new, list) and len(old) == len(new):
        for number, (a, b) in enumerate(zip(old, new, strict=True)):
            yield from _leaves(a, b, (*path, number))
    else:
        yield path, old, new


def _id(one: Any) -> Any:
    return one.get("id") or one.get("name") or one.get("check")


def _by_id(rows: list[Any]) -> bool:
    return all(isinstance(one, dict) and _id(one) for one in rows) and len({_id(one) for one in rows}) == len(rows)


def _name(table: str, id: Any) -> str:
    known = getattr(catalogue(), table).get(id)
    return lower_first(known.name) if known and not known.name[:1].isdigit() else known.name if known else str(id)


def _swapped(table: str) -> Callable[[Any, Any], str]:
    def words(old: Any, new: Any) -> str:
        if new is None:
            return f"no {_name(table, old)}"
        return _name(table, new) if old is None else f"{_name(table, new)} in place of the {_name(table, old)}"

    return words


_KINDS: dict[str, Callable[[Any, Any], str]] = {
    "device": _swapped("devices"), "brake_hitch": _swapped("hitches"), "grab": _swapped("hitches"), "capture": _swapped("hitches"), "load_knot": _swapped("knots"),
    "load_connector": _swapped("connectors"), "connector": _swapped("connectors"), "protection": _swapped("surfaces"), "surface": _swapped("surfaces"),
    "kind": _swapped("ropes"), "material": _swapped("slings"), "method": _swapped("attachments"), "bend": _swapped("bends"), "contact": _swapped("contacts"),
}  # fmt: skip
_WHERE = {
    "grab": "as haul grab", "capture": "as ratchet", "brake_hitch": "behind the device", "load_knot": "at the load", "load_connector": "at the load",
}  # fmt: skip


def _said(leaf: Leaf, before: Plan, after: Plan) -> str:
    """One change in words; "" for what nobody would write down."""
    path, old, new = leaf
    top, last = path[0], path[-1]
    if top in ("accepted", "schema_version"):
        return ""
    if top == "found":
        return _of_found(after)
    if top == "lines" and len(path) > 1:
        return _of_line(path, old, new, before, after)
    if top == "anchors" and len(path) > 1:
        return _of_anchor(path, old, new, after)
    if top == "site" and path[1:2] == ("edges",) and len(path) > 3:
        return (
            f"{_KINDS[last](old, new)} at {lower_first(str(path[2]))}"
            if last in _KINDS
            else f"{lower_first(str(path[2]))} moved"
        )
    if top == "load" and last == "mass_kg":
        return f"{lower_first(str(path[2]))} {old:g} → {new:g} kg"
    if top == "load" and len(path) == 3:
        return f"{lower_first(str(path[2]))} {'off the rope' if new is None else 'on the rope'}"
    if path == ("team", "haulers"):
        return f"{new} haulers in place of {old}"
    if top == "site" and "load_at" in path:
        return "load moved"
    if top == "ropes" and last in _KINDS:
        return f"{_KINDS[last](old, new)}, {path[1]} rope"
    if top == "team" and path[1:2] == ("people",):
        return _of_person(path, old, new)
    return _plain(path, old, new)


def _of_line(path: tuple[Any, ...], old: Any, new: Any, before: Plan, after: Plan) -> str:
    plan = after if any(one.id == path[1] for one in after.lines) else before
    whose = lower_first(line_name(plan, path[1]))
    if len(path) == 2:
        return f"{whose} {'taken out' if new is None else 'laid'}"
    last = path[-1]
    if last == "system":
        return f"{new['name']} in place of {old['name']}" if old and new else "haul system changed"
    if path[2] == "belay" and last == "what":
        tables = ("hitches", "devices", "knots")
        table = next((name for name in tables if new in getattr(catalogue(), name)), "hitches")
        was = next((_name(name, old) for name in tables if old in getattr(catalogue(), name)), str(old))
        return f"{_name(table, new)} in place of the {was} on the {whose}"
    if "bends" in path:
        return f"{_swapped('bends')(old, new)} at {last}" if new else f"nothing said at {last}"
    if last in ("minder", "capture_minder"):
        return f"{new or 'nobody'} minds the {'ratchet' if last == 'capture_minder' else 'hitch'}, {whose}"
    if last in ("lowering", "haul", "belay"):
        word = {"lowering": "lowering", "haul": "haul system", "belay": "belay"}[last]
        return f"{word} {'taken out' if new is None else 'rigged'}, {whose}"
    if last in _KINDS:
        return " ".join(part for part in (_KINDS[last](old, new), _WHERE.get(last, f"on the {whose}")) if part)
    if last in _HAUL_WORDS:
        return _HAUL_WORDS[last]
    if last in ("releasing_m", "capture_releasing_m"):
        behind = "belay" if last == "releasing_m" else "ratchet"
        return f"releasing hitch of {new:g} m behind the {behind}" if new else f"no releasing hitch behind the {behind}"
    if last == "slack_m" and len(path) == 3:
        return f"{whose} slack {old:g} → {new:g} m"
    return f"{_plain(path[2:], old, new)}, {whose}"


def _of_anchor(path: tuple[Any, ...], old: Any, new: Any, after: Plan) -> str:
    anchor = next((one for one in after.anchors if one.id == path[1]), None)
    name = lower_first(anchor.name) if anchor else str(path[1])
    last = path[-1]
    if last == "taken" and anchor:
        taken = next((one.name for one in anchor.alternatives if one.id == new), str(new))
        return f"{lower_first(taken)} taken for the {name}"
    if last in _KINDS:
        return f"{_KINDS[last](old, new)} at the {name}"
    if last == "feature":
        return f"{lower_first(after.feature(new).name)} in place of {old} at the {name}"
    if last == "turns":
        return f"{new:g} turns in place of {old:g} at the {name}"
    return f"{name} rigged otherwise"


def _of_found(after: Plan) -> str:
    """What readings taught, by thing, with the range that stands now."""
    rows = []
    for one in after.found:
        table = {"bend": "bends", "device": "devices"}.get(one.of, "")
        name = "load" if one.of == "load" else lower_first(one.name) if one.of == "edge" else _name(table, one.kind)
        rows.append(f"{name} {one.low:.3g} to {one.high:.3g}{' kg' if one.of == 'load' else ''}")
    return (
        f"friction and weight learnt from readings: {', '.join(rows)}"
        if rows
        else "nothing learnt from readings any more"
    )


def _of_person(path: tuple[Any, ...], old: Any, new: Any) -> str:
    if len(path) == 3:
        return f"{path[2]} {'gone' if new is None else 'there'}"
    if path[-1] == "role":
        return f"{path[2]} {new} in place of {old}"
    return f"{path[2]}, {str(path[-1]).replace('_', ' ')}: {new if new is not None else 'nothing'}"


_HAUL_WORDS = {
    "redirects": "haul strand led otherwise",
    "walk_rad": "haulers walk another way",
    "way_m": "haulers' way of another length",
}
_UNIT = re.compile(r"_(m|n|kg|rad|years|kN)$")


def _plain(path: tuple[Any, ...], old: Any, new: Any) -> str:
    """A field by its own name."""
    words = [str(one) for one in path if not isinstance(one, int)]
    name = _UNIT.sub("", words[-1]).replace("_", " ") if words else "plan"
    of = listed(words[-2:-1]).replace("_", " ")
    unit = _UNIT.search(words[-1]) if words else None
    shown = [_value(one) for one in (old, new)]
    said = f"{name} {shown[0]} → {shown[1]}{f' {unit.group(1)}' if unit else ''}" if all(shown) else f"{name} changed"
    return f"{of}: {said}" if of else said


def _value(value: Any) -> str:
    if value is None:
        return "not said"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return f"{value:g}"
    return value if isinstance(value, str) and len(value) < 60 else ""
