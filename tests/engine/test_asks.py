"""What to ask first: every unknown by itself, from one end of what it may be to the other."""

import random

import pytest

from rigging.advice.asks import asks, unknowns, weakest
from rigging.document import Plan
from rigging.telling.sheet.asks import asks_report
from tests.plans import changed, demo_document


def half_known() -> Plan:
    """The demo with nobody having looked at the ground under its boulder and trees, nor at what sits at the anchor's bend."""
    document = demo_document()
    for feature in document["features"]:
        feature["answers"] = {
            name: answer
            for name, answer in feature["answers"].items()
            if name not in ("ground", "slope_deg", "lies_on")
        }
    return Plan.model_validate(changed(document, lines__0__haul__bends={"A": "unknown", "G": "carabiner"}))


def test_what_moves_the_weakest_margin_most_is_asked_first():
    """Against asking both ends of every unknown, one at a time, and points between them."""
    plan = half_known()
    found = {one.unknown.id: one for one in asks(plan)}
    moves = {one.id: abs(weakest(one.ends[1]) - weakest(one.ends[0])) for one in unknowns(plan)}
    assert {id for id, one in moves.items() if one > 1e-6} == set(found)
    order = sorted(found.values(), key=lambda one: -one.moves)
    assert list(found.values()) == order and order[0].moves == max(moves.values())
    now = weakest(plan)
    for one in found.values():
        assert one.worst - 1e-9 <= now <= one.best + 1e-9 or one.unknown.of == "answer", one.unknown.id
    # An answer given is asked no more.
    first = order[0].unknown
    assert first.id not in {one.id for one in unknowns(first.ends[1])} and weakest(first.ends[1]) >= now


def test_where_the_rule_holds_by_every_weight_nobody_is_asked_how_heavy_it_is():
    """The demo, looked at and known, keeps its rule whatever its people weigh: nothing is asked of it first."""
    assert asks_report(Plan.model_validate(demo_document())).asks == []
    [first, *_] = asks_report(half_known()).asks
    assert first.question == "Boulder above the road: what it lies on?"


@pytest.mark.parametrize("seed", range(3))
def test_a_load_between_its_ends_is_between_their_margins(seed):
    plan, luck = half_known(), random.Random(seed)
    one = next(one for one in asks(plan) if one.unknown.of == "answer" and one.unknown.id.endswith("slope_deg"))
    number = next(n for n, feature in enumerate(plan.features) if feature.name == one.unknown.about)
    features = list(plan.features)
    features[number] = features[number].model_copy(
        update={"answers": {**features[number].answers, "slope_deg": luck.uniform(0, 10)}}
    )
    between = weakest(plan.model_copy(update={"features": features}))
    assert one.worst - 1e-9 <= between <= one.best + 1e-9
