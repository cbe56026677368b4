"""Every part that the check takes away, against the question asked of the rig with that part taken out by hand: the rules of
taking away written out once more on the plain file form (nodes, pieces, slack), and single points by trying them all."""

import itertools
import math
import random
from typing import Any

import pytest
from pydantic import ValidationError

from rigging.checks.gathered import at_place
from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.judging.removal import Standing
from rigging.mechanics.holds import HANDS, Drop, LyingRig, drop, lying
from rigging.quantities.faults import Refused
from rigging.site.conditions import hand_hold_n, heave_n
from rigging.study.place import AtPlace, thing_of
from tests.engine.test_random_plans import changed_at_random
from tests.plans import demo_plan, one_rope_plan

WORKING = ("held", "lowering", "raising", "between-hauls")
Filed = dict[str, Any]


def filed(standing: Standing) -> Filed:
    """The rig as the file that the command line reads."""
    rig = standing.lying
    return {
        "load": {"node": rig.load, "weight_kN": rig.weight_kn, "along": list(rig.along)},
        "nodes": {name: {"at": list(rig.at[name]), "kind": kind} for name, kind in rig.kinds.items()},
        "pieces": [{"id": p.id, "rope": p.rope, "route": list(p.route), "length": p.length_m} for p in rig.pieces],
    }


def asked(rig: Filed) -> float | None:
    return opened(rig).drop_m


def opened(rig: Filed) -> Drop:
    """How the load lies, of a file whose pieces have lengths; a length shorter than the route by rounding is the route's."""
    at = {name: node["at"] for name, node in rig["nodes"].items()}
    pieces = []
    for piece in rig["pieces"]:
        long = sum(math.dist(at[a], at[b]) for a, b in itertools.pairwise(piece["route"]))
        pieces.append(
            {
                "id": piece["id"],
                "rope": piece["rope"],
                "route": piece["route"],
                "slack_m": max(0.0, piece["length"] - long),
            }
        )
    return drop(lying(LyingRig.model_validate({**rig, "pieces": pieces})))


def without(rig: Filed, part: str) -> Filed:
    """A part taken out: a piece cut, hands off, an anchor made loose, a grab slipped, a block broken."""
    nodes, pieces = dict(rig["nodes"]), [dict(piece) for piece in rig["pieces"]]
    if part == HANDS:
        held = {name for name, node in nodes.items() if node["kind"] == HANDS}
        return {**rig, "pieces": [p for p in pieces if not held & {p["route"][0], p["route"][-1]}]}
    if part not in nodes:
        return {**rig, "pieces": [p for p in pieces if p["id"] != part]}
    if nodes[part]["kind"] == "anchor":
        return {**rig, "nodes": {**nodes, part: {**nodes[part], "kind": "block"}}}
    if nodes[part]["kind"] == "grab":
        for rope in {p["rope"] for p in pieces}:
            two = [p for p in pieces if p["rope"] == rope and part in (p["route"][0], p["route"][-1])]
            if len(two) == 2:
                a, b = two
                before = a["route"] if a["route"][-1] == part else a["route"][::-1]
                after = b["route"] if b["route"][0] == part else b["route"][::-1]
                pieces = [p for p in pieces if p is not b]
                a.update(route=[*before, *after[1:]], length=a["length"] + b["length"])
    pieces = [p for p in pieces if part not in (p["route"][0], p["route"][-1])]
    for piece in pieces:
        piece["route"] = [name for name, _ in itertools.groupby(n for n in piece["route"] if n != part)]
    return {**rig, "pieces": [p for p in pieces if len(p["route"]) > 1]}


def feature_out(plan: Plan, rig: Filed, feature: str) -> Filed:
    for anchor in plan.anchors:
        node = f"anchor:{anchor.id}"
        if node in rig["nodes"] and {leg.feature for leg in anchor.arrangement.legs} == {feature}:
            rig = without(rig, node)
    return rig


def torn(plan: Plan, standing: Standing, rig: Filed, part: str) -> Filed:
    """The hands' strand of a line whose device, belay or anchor is the part, or of a hauled line of which it is any part: gone where its
    tension is more than those hands hold, or where nothing that bears ends at an anchor or in hands."""
    for line in standing.rig.lines:
        of = line.line
        tied = {leg.feature for leg in plan.anchor(of.anchor).arrangement.legs}
        mine = {
            f"{of.id}:device",
            f"{of.id}:belay",
            f"anchor:{of.anchor}",
            *(f"feature:{one}" for one in tied if len(tied) == 1),
        }
        hands = {name for name, node in rig["nodes"].items() if node["kind"] == HANDS}
        held = [
            p["id"]
            for p in rig["pieces"]
            if p["id"].startswith(f"{of.id}:") and hands & {p["route"][0], p["route"][-1]}
        ]
        hauls = standing.moment.solving in ("raising", "jammed")
        if not held or not (part in mine or (hauls and of.haul is not None and part.startswith(f"{of.id}:"))):
            continue
        found = opened(rig)
        if found.drop_m is None:
            continue
        weight_kn = rig["load"]["weight_kN"]
        # What a device hangs by has no length: it is fast where that leads to an anchor.
        fast = {
            p["route"][0]
            for p in rig["pieces"]
            if p["id"].startswith("tie of ") and rig["nodes"][p["route"][1]]["kind"] == "anchor"
        }
        bears = [
            p
            for p in rig["pieces"]
            if found.tensions_kn.get(p["id"], 0.0) > 1e-5 * weight_kn and not p["id"].startswith("tie of ")
        ]
        ends = {end for p in bears for end in (p["route"][0], p["route"][-1])}
        stands = any(rig["nodes"][end]["kind"] in ("anchor", HANDS) or end in fast for end in ends)
        comes_n, before_n = (
            sum(one.tensions_kn.get(id, 0.0) for id in held) / weight_kn * standing.pull_n(line)
            for one in (found, standing.found)
        )
        people = plan.team.haulers if hauls else of.lowering.hands if of.lowering else 1
        holds_n = people * (heave_n(plan).low if hauls else hand_hold_n(plan).high)
        if comes_n > (max(holds_n, 1.01 * before_n) if hauls else holds_n) or not stands:
            rig = {**rig, "pieces": [p for p in rig["pieces"] if p["id"] not in held]}
    return rig


def same(found: float | None, by_hand: float | None) -> bool:
    return found is by_hand if None in (found, by_hand) else abs(found - by_hand) <= 0.01


def compared(plan: Plan) -> int:
    """Every part of every working state, hands on and hands off, and the single points of the sheet; how many parts."""
    checked = AtPlace(judge(plan))
    count, singles = 0, set()
    for id in WORKING:
        if id not in checked.standings:
            continue
        moment = checked.standings[id].moment
        for off in (False, True):
            standing = Standing(checked.judged.solver, moment, hands_off=off)
            rig = filed(standing)
            here = asked(rig)
            assert same(standing.found.drop_m, here)
            if here is None:
                continue
            for part in standing.parts:
                left = feature_out(plan, rig, part[8:]) if part.startswith("feature:") else without(rig, part)
                left = torn(plan, standing, torn(plan, standing, left, part), part)
                there = asked(left)
                by_hand = None if there is None else max(0.0, there - here)
                assert same(standing.further(part), by_hand), (id, off, part)
                count += 1
                if by_hand is None and not off and part != HANDS:
                    singles.add(thing_of(standing, part))
    named = [line for line in at_place(checked) if line.found.kind in ("single", "shared-plate", "shared-feature")]
    assert {line.found.id.partition(":")[2] for line in named} == singles
    return count


def test_every_part_of_the_demo_and_of_its_one_rope():
    assert compared(demo_plan()) > 80
    assert compared(demo_plan(lines__1__anchor="main")) > 80
    assert compared(one_rope_plan()) > 40


@pytest.mark.parametrize("part", range(5))
def test_every_part_of_a_hundred_random_plans(part):
    luck, done = random.Random(100 + part), 0
    while done < 20:
        try:
            plan = Plan.model_validate(changed_at_random(luck))
            parts = compared(plan)
        except (ValidationError, Refused):
            continue
        done += parts > 0
