"""The published JSON Schema of the plan document: what it accepts the program accepts, and what it refuses the program refuses, but for what
compares one part of a document with another, which stands in words in its description."""

from __future__ import annotations

from typing import Any

from rigging.catalogue import catalogue
from rigging.document.plan import SCHEMA_VERSION, Plan
from rigging.document.words import In

# What no schema can say: it compares parts of a document.
ACROSS = (
    "low ≤ expected ≤ high, wherever the three stand",
    "what one part names stands elsewhere in the plan: a leg its feature, a line its rope and its anchors, an anchor the way that is taken, an "
    "acceptance its line",
    "no two of a list have the same id, and no two bags the same name",
    "every rope is on a line, and no two lines take the same end of one",
    "the ground goes outward; an item weighs more than its uncertainty; joins and damage lie on their rope, and in order",
    "a leg's turns are those of its way to tie, a sewn loop is tied as one, and a frame's feet carry legs that push",
    "a haul system moves as one, and names its own bends and anchors",
    "two ends of a tension line are at two anchors, and no anchor of a line has a pull of its own or is turned at itself",
)


def plan_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of a plan of today's version, the catalogue's ids in it."""
    found: dict[str, Any] = _with_ids(Plan.model_json_schema())
    for name, rules in _rules().items():
        found["$defs"][name]["allOf"] = rules
    words = " ".join(f"{one[0].upper()}{one[1:]}." for one in ACROSS)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:outrigger:plan:{SCHEMA_VERSION}",
        **found,
        "description": f"{found['description']}\n\nBesides what stands here: {words} Plans of versions 1 to {SCHEMA_VERSION - 1} open, too.",
    }


def _with_ids(schema: Any) -> Any:
    """Every place for an id of the catalogue with the ids that there are."""
    if isinstance(schema, list):
        return [_with_ids(one) for one in schema]
    if not isinstance(schema, dict):
        return schema
    found = {name: _with_ids(one) for name, one in schema.items() if name != "x-catalogue"}
    if isinstance(place := schema.get("x-catalogue"), list):
        found["enum"] = In(*place).ids
    return found


def _when(field: str, value: Any, then: dict[str, Any]) -> dict[str, Any]:
    test = {"enum": value} if isinstance(value, list) else {"const": value}
    return {"if": {"properties": {field: test}, "required": [field]}, "then": then}


_SAID = {"pattern": r"\S"}
_NULL = {"type": "null"}


def _rules() -> dict[str, list[dict[str, Any]]]:
    """What one object asks of itself: by the name of its definition."""
    tables = {"hitch": In("hitches").ids, "device": In("devices").ids, "tied": In("knots").ids}
    above = {"anyOf": [{"type": "null"}, {"properties": {"low": {"exclusiveMinimum": 0}}}]}
    rated = {
        "if": {"properties": {"rating_n": {"type": "object"}}, "required": ["rating_n"]},
        "then": {"properties": {"basis": _SAID}, "required": ["basis"]},
    }
    legs = [
        _when(
            "scheme",
            one.id,
            {
                "properties": {
                    "legs": {"anyOf": [{"minItems": count, "maxItems": count} for count in one.legs]},
                    "span": {"type": "object"} if one.made == "line" else _NULL,
                    **({} if one.propped else {"prop": _NULL}),
                },
                "required": ["span"] if one.made == "line" else [],
            },
        )
        for one in catalogue().schemes.values()
    ]
    return {
        "Belay": [
            *(_when("holds", holds, {"properties": {"what": {"enum": ids}}}) for holds, ids in tables.items()),
            # Left out, it is a hitch, and what it is then is one, too.
            {"if": {"not": {"required": ["holds"]}}, "then": {"properties": {"what": {"enum": tables["hitch"]}}}},
            {"if": {"not": {"required": ["what"]}}, "then": {"properties": {"holds": {"const": "hitch"}}}},
        ],
        "Feature": [
            {"properties": {"rating_n": above}},
            rated,
            _when("verdict", "reject", {"properties": {"reason": _SAID}, "required": ["reason"]}),
            *(_when("kind", kind, {"properties": {"answers": _answers(kind)}}) for kind in catalogue().features),
        ],
        "TieOff": [{"properties": {name: above for name in ("drum_n", "axle_n")}}],
        "Leg": [{"not": {"properties": {name: {"type": "number"} for name in ("length_m", "pretension_n")}, "required": ["length_m", "pretension_n"]}}],
        "Arrangement": legs,
        "Line": [
            _when("role", "belay", {"properties": {"lowering": _NULL, "haul": _NULL}}),
            _when("role", ["main", "second", "haul"], {"properties": {"belay": _NULL}}),
            _when("role", "haul", {"properties": {"haul": {"type": "object"}}, "required": ["haul"]}),
        ],
    }  # fmt: skip


def _answers(kind: str) -> dict[str, Any]:
    """The questions of a kind of feature, and what answers each."""
    found: dict[str, Any] = {}
    for one in catalogue().features[kind].questions:
        offered = ["yes", "no"] if one.kind == "yes-no" else [option.id for option in one.options]
        found[one.id] = {"type": "number"} if one.kind == "number" else {"enum": offered}
    return {"properties": found, "additionalProperties": False}
