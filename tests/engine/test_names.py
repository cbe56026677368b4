"""Ids are anything that JSON allows: a plan whose things are called by the words and signs that the core joins names with is answered
like any other."""

import json
import random
from typing import Any

import pytest
from pydantic import ValidationError

from rigging.advice.choices import choices
from rigging.document import Plan
from rigging.quantities.faults import Refused
from rigging.telling.anchors.report import study
from rigging.telling.check.holding import holding
from rigging.telling.check.sheet import check_here
from rigging.telling.sheet.report import analyse
from tests.frames import STANDS
from tests.plans import demo_document
from tests.reference.test_tension_line import tight_document

NAMES = [
    "anchor", "feature", "main:x", "belay:2", "m:1", "load", "hands", "rope", "main", "belay", "rope:1", "cord", "goes:main", "leg:0", "a b",
    "ä/ö~1", "0", "-1", "~0", "working-point", "device", "ratchet", "haul:1", "edge:1", "anchor:main", "tie of x", ":", "::x", "x:", "planning",
    "x behind", "main:rope", "redirect:1", "anchor:main:leg:0", "second", "haul", " ", "raising", "none", "null", "belay·2", "日本",
]  # fmt: skip


def renamed(luck: random.Random, document: dict[str, Any]) -> dict[str, Any]:
    """The document with its ids taken from anywhere, and everything that names them alike."""
    found = json.loads(json.dumps(document))
    maps: dict[str, dict[str, str]] = {}
    for table in ("features", "anchors", "ropes", "lines", "tension_lines"):
        names = luck.sample(NAMES, len(found.get(table, [])))
        maps[table] = {one["id"]: name for one, name in zip(found.get(table, []), names, strict=True)}
        for one in found.get(table, []):
            one["id"] = maps[table][one["id"]]
    spare = luck.sample(NAMES, len(NAMES))
    for anchor in found["anchors"]:
        for one in anchor["alternatives"]:
            new, taken = spare.pop(), one["id"] == anchor["taken"]
            one["id"], anchor["taken"] = new, new if taken else anchor["taken"]
            for leg in one["legs"]:
                leg["feature"] = maps["features"][leg["feature"]]
    for line in [*found["lines"], *found.get("tension_lines", [])]:
        line["rope"], line["anchor"] = maps["ropes"][line["rope"]], maps["anchors"][line["anchor"]]
        if "far" in line:
            line["far"] = maps["anchors"][line["far"]]
        haul = line.get("haul") or {}
        for one in [*line.get("redirects", []), *haul.get("redirects", [])]:
            one["anchor"] = maps["anchors"][one["anchor"]]
        if haul.get("anchors"):
            haul["anchors"] = {node: maps["anchors"][name] for node, name in haul["anchors"].items()}
    for person in found["team"].get("people", []):
        if person.get("tied_to"):
            person["tied_to"] = maps["anchors"][person["tied_to"]]
    return found


@pytest.mark.parametrize("seed", range(4))
def test_whatever_things_are_called_there_is_an_answer(seed):
    luck, answered = random.Random(seed), 0
    for _ in range(25):
        document = luck.choice([demo_document(), STANDS, tight_document()])
        try:
            plan = Plan.model_validate(renamed(luck, document))
        except ValidationError:
            continue
        try:
            lines = {one.level for one in check_here(plan).lines}
            assert lines and analyse(plan).states and study(plan, "raising", directions=3)
            assert choices(plan, "belay") is not None and holding(plan, "raising") is not None
            answered += 1
        except Refused as refused:
            assert all(fault.path for fault in refused.faults)
    assert answered > 10


def test_other_names_are_the_same_plan():
    """The demo under strange names has the figures that it has under its own."""
    told = [one.force for one in analyse(Plan.model_validate(demo_document())).state("raising").anchors]
    strange = analyse(Plan.model_validate(renamed(random.Random(11), demo_document()))).state("raising").anchors
    assert [(one.force.low, one.force.high) for one in strange] == [
        (pytest.approx(one.low), pytest.approx(one.high)) for one in told
    ]
