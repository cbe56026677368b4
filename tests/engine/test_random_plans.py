"""Random whole plans: documents with values, kinds and counts changed at random go through every part of the core. There
is an answer, or a refusal that names a field; never an exception, never a value that is no number."""

import copy
import json
import math
import random
from typing import Any

import pytest
from pydantic import ValidationError

from rigging.advice.best import GOALS
from rigging.catalogue import catalogue
from rigging.checks import CHECKS
from rigging.document import Plan
from rigging.gear.worn import Read, Worked, worn
from rigging.quantities.faults import Refused, faults_of
from rigging.readings.places import Place
from rigging.telling.anchors.report import study
from rigging.telling.check.holding import holding
from rigging.telling.check.sheet import check, check_here
from rigging.telling.sheet.best import best_report
from rigging.telling.sheet.choices import choices
from rigging.telling.sheet.leading import lead
from rigging.telling.sheet.report import analyse, working_of
from rigging.telling.sheet.way import way_report
from rigging.telling.work.gear import gear_report
from tests.frames import STANDS
from tests.plans import demo_document, haul
from tests.reference.test_tension_line import tight_document

COUNT = 300
TABLES = [
    set(getattr(catalogue(), name))
    for name in ("bends", "surfaces", "contacts", "devices", "hitches", "knots", "ropes", "slings", "attachments", "connectors")
]  # fmt: skip
SCHEMES = list(catalogue().schemes)


def leaves(value: Any, path: tuple[Any, ...] = ()):
    yield path, value
    if isinstance(value, dict):
        for key, part in value.items():
            yield from leaves(part, (*path, key))
    elif isinstance(value, list):
        for index, part in enumerate(value):
            yield from leaves(part, (*path, index))


def put(document: Any, path: tuple[Any, ...], value: Any) -> None:
    for step in path[:-1]:
        document = document[step]
    document[path[-1]] = value


def other(luck: random.Random, path: tuple[Any, ...], value: Any, whole: Any) -> Any:
    """Something else of the same sort in a value's place."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, int | float):
        return luck.choice([
            value * luck.uniform(0.3, 3), value + luck.uniform(-2, 2), round(value), 0, -value, value * 10, luck.uniform(-20, 60),
        ])  # fmt: skip
    if isinstance(value, str):
        if path[-1] == "scheme":
            return luck.choice(SCHEMES)
        if path[-1] == "system":
            return value
        table = next((one for one in TABLES if value in one), None)
        if table:
            return luck.choice(sorted(table))
        if path[-1] in ("anchor", "feature", "tied_to", "rope"):
            where = {"anchor": "anchors", "tied_to": "anchors", "feature": "features", "rope": "ropes"}[path[-1]]
            return luck.choice([one["id"] for one in whole.get(where) or [{"id": value}] if one])
        return value
    if isinstance(value, list) and value:
        if luck.random() < 0.5:
            return [one for one in value if luck.random() < 0.7] or value[:1]
        again = copy.deepcopy(luck.choice(value))
        if isinstance(again, dict) and "id" in again:
            again["id"] = f"{again['id']}-{luck.randrange(99)}"
        return [*value, again]
    if isinstance(value, dict) and path and path[-1] == "system":
        return luck.choice(list(catalogue().systems.values())).model_dump()
    if value is None or isinstance(value, dict):
        return None if luck.random() < 0.3 else value
    return value


def begun(luck: random.Random) -> dict[str, Any]:
    """The demo, or the demo with what it has not: a frame, a tension line, a sling, hitches tied otherwise, worn and joined ropes."""
    document = copy.deepcopy(luck.choice([demo_document(), demo_document(), STANDS, tight_document()]))
    main = document["lines"][0]
    if luck.random() < 0.5:
        main["haul"]["grab_made"] = {
            "cord": luck.choice(["cord-5", "cord-7", "slick-cord-5"]),
            "wraps": luck.randint(1, 9),
            "glazed": True,
        }
        main["lowering"] |= {"device": "capstan-trunk", "turns": luck.uniform(0.5, 4), "hands": 2, "crowded": True}
        document["ropes"][0] |= {
            "wear": "worn", "age_years": 9, "joins": [{"at_m": 30, "knot": "butterfly-bend", "tail_m": 0.05}],
            "damage": [{"at_m": 20, "taken_out": "butterfly-loop", "in_loop": "overhand"}],
        }  # fmt: skip
        document["load"]["items"][0]["joins_below_m"] = luck.uniform(0, 30)
    if luck.random() < 0.3:
        main["haul"] = haul(
            "sling-4", "slick-sling", own={"material": "sewn-sling-22", "length_m": luck.uniform(0.6, 4)}
        )
    return used_besides(document)


def used_besides(document: dict[str, Any]) -> dict[str, Any]:
    """Ropes that do something else, too, by a chance of their own: coils kept, legs tied with them, strands of the haul of them."""
    luck, ropes = random.Random(json.dumps(document)), [one["id"] for one in document["ropes"]]
    for rope in document["ropes"]:
        if luck.random() < 0.3:
            rope["kept"] = [{"what": luck.choice(["coils", "lip", "people", "other"]), "length_m": luck.uniform(1, 60)}]
    for anchor in document["anchors"]:
        for one in anchor["alternatives"]:
            for leg in one["legs"]:
                if luck.random() < 0.2:
                    leg["rope"] = luck.choice(ropes)
    hauls = [line["haul"] for line in document["lines"] if line.get("haul")]
    if hauls and luck.random() < 0.4:
        hauls[0]["strands_of"] = luck.choice(ropes)
    for anchor in document["anchors"]:
        for one in anchor["alternatives"]:
            built_otherwise(one, luck)
    return document


def built_otherwise(made: dict[str, Any], luck: random.Random) -> None:
    """An arrangement out of one piece, set down, held in place, doubled, over an edge, without a connector; each by a chance of its own."""
    point = catalogue().schemes[made["scheme"]].made == "point"
    if point and luck.random() < 0.25:
        closed = "slides" if made["scheme"] == "self-adjusting" else luck.choice(["one-knot", "leg-by-leg"])
        material = luck.choice(["rope-11", "cord-8", "slick-cord-6"])
        for leg in made["legs"]:
            leg |= {
                "method": luck.choice(["passed", "clove-round", "wrap-pull"]),
                "material": material,
                "extension": None,
                "turns": None,
                "rope": None,
            }
        knot = None if closed == "slides" else luck.choice(["long-bight-overhand", "clove"])
        made["piece"] = {
            "closed": closed,
            "knot": knot,
            "joined": "double-fisherman" if closed == "slides" else luck.choice([None, "water-knot"]),
        }
        made["connector"] = luck.choice([None, made["connector"]]) if knot else made["connector"]
    if point and luck.random() < 0.25:
        stage = {
            "material": luck.choice(["rope-11", "cord-6", "slick-cord-5"]),
            "strands": luck.randint(1, 4),
            "knot": "figure-eight-loop",
        }
        behind = {**made.get("point", {}), "x_m": made.get("point", {}).get("x_m", 0) - luck.uniform(0.2, 1.5)}
        made["set_down"] = {"gathers_at": behind, "stages": [stage] * luck.randint(1, 3)}
    for leg in made["legs"]:
        if luck.random() < 0.15 and leg["method"] != "frame-leg":
            leg |= {
                "over": luck.choice(["sharp-steel", "rough-rock", "timber"]),
                "padding": luck.choice([None, "canvas-pad"]),
            }
        if leg.get("extension") and luck.random() < 0.2:
            leg |= {"extension_strands": luck.randint(1, 3), "extension_joined": luck.choice([None, "water-knot"])}
    if luck.random() < 0.15:
        made["ties"] = (
            [{"feature": made["legs"][0]["feature"], "method": "figure-eight-round", "material": "cord-6"}]
            if made["scheme"] != "frame"
            else []
        )
    if len(made["legs"]) > 1 and luck.random() < 0.15:
        order = list(range(len(made["legs"])))
        luck.shuffle(order)
        made["tightened"] = {"order": order, "rounds": luck.randint(1, 3)}


def changed_at_random(luck: random.Random) -> dict[str, Any]:
    document = begun(luck)
    for _ in range(luck.randint(1, 5)):
        path, value = luck.choice(
            [row for row in leaves(document) if row[0] and row[0][0] not in ("schema_version", "title", "place")]
        )
        put(document, path, other(luck, path, value, document))
    return document


def no_number(value: Any) -> bool:
    return isinstance(value, float) and not math.isfinite(value)


def checked(report: Any) -> None:
    told = report.model_dump(mode="json")
    assert not any(no_number(value) for _, value in leaves(told))
    json.dumps(told, allow_nan=False)


def ask(question: Any) -> Any:
    """The answer, or None for a refusal that names its fields."""
    try:
        answer = question()
    except Refused as refused:
        assert all(fault.path and fault.problem and fault.right for fault in refused.faults)
        return None
    checked(answer)
    return answer


# What another line of the check says better than the state's own sheet.
SAID_BETTER = {kind for kind, one in CHECKS.items() if one.kind.better} | {"unknown"}
# What the anchors report stops for, by the check's name for it.
STOPS = {"below": "below:anchor:{0}:", "goes": "leg-goes:{0}:", "short": "material-short:{0}:", "pole": "prop-weak:{0}"}


def of_one_mind(plan, state, anchors, told):
    """Whatever a state's sheet and the anchors report stop for, the check stops for; a leg's margin is the same on both."""
    stops = {one.id for one in told.lines if one.level == "stop"}
    kinds = {id.partition(":")[0] for id in stops}
    assert {one.id.partition(":")[0] for one in state.findings if one.level == "stop"} - kinds <= SAID_BETTER
    # What leaves nothing of an anchor is said of the one thing that holds.
    alone = {"leg-goes", "single", "shared-plate", "shared-feature"} & kinds
    for anchor in plan.anchors:
        report = next((one for one in anchors.arrangements if one.id == anchor.taken), None)
        pulled = {f"anchor:{one.anchor}" for one in state.anchors}
        if report is None or not report.available or report.pulled_in or f"anchor:{anchor.id}" not in pulled:
            continue
        for one in report.findings:
            name = STOPS.get(one.id.partition(":")[0], "")
            if one.level == "stop" and name and state.id != "jammed" and state.group != "goes":
                assert any(id.startswith(name.format(anchor.id)) for id in stops) or (
                    one.id.startswith("goes") and alone
                ), one.text
        for leg in report.legs:
            rungs = [
                one.margin.low
                for one in state.rungs
                if one.about == f"anchor:{anchor.id}:leg:{leg.index}" and one.margin
            ]
            if leg.margin is not None and rungs:
                assert min(rungs) == pytest.approx(leg.margin, rel=1e-9)


@pytest.mark.parametrize("part", range(6))
def test_three_hundred_random_plans_through_every_part_of_the_core(part):
    luck = random.Random(part)
    answered = 0
    for _ in range(COUNT // 6):
        document = changed_at_random(luck)
        try:
            plan = Plan.model_validate(document)
        except ValidationError as error:
            assert all(fault.path and fault.right for fault in faults_of(error))
            continue
        report = ask(lambda plan=plan: analyse(plan))
        if report is None:
            continue
        answered += 1
        state = luck.choice(report.states)
        anchors = ask(lambda plan=plan, id=state.id: study(plan, id))
        found = ask(lambda plan=plan, id=state.id: holding(plan, id))
        if found and found.parts:
            part = luck.choice(found.parts).id
            ask(lambda plan=plan, id=state.id, gone=part: holding(plan, id, gone, every=False))
        # Over the whole of it each tenth plan: it asks eleven places.
        told = ask(lambda plan=plan, over=check if answered % 10 == 0 else check_here: over(plan))
        if told is not None and anchors is not None:
            of_one_mind(plan, state, anchors, told)
        what = luck.choice(["lowering", "haul", "belay", "brake", "grab", "capture"])
        ask(lambda plan=plan, what=what: choices(plan, what))
        ask(lambda plan=plan: way_report(plan, None, 3))
        work = [Worked(("held", "lowering", "raising"), 600, 5, {Place("load"): Read(luck.uniform(0, 9000), True)})]
        ask(lambda plan=plan, work=work: gear_report(plan, worn(plan, work)))
        for tight in plan.tension_lines:
            ask(lambda plan=plan, id=tight.id: way_report(plan, id, 3))
        if plan.lines:
            line = luck.choice(plan.lines).id
            ask(lambda plan=plan, id=state.id, line=line: lead(plan, id, line))
        if luck.random() < 0.03:
            ask(lambda plan=plan: best_report(plan, luck.choice(GOALS)))
        figures = [rung.force.working for rung in state.rungs]
        if figures:
            checked_working = working_of(plan, luck.choice(figures))
            assert checked_working is not None
    # Enough of them make sense to say something.
    assert answered > COUNT // 6 // 4
