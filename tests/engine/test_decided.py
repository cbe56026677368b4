"""What the log is offered after a change of the plan: the trade's words, never a field's name."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from pydantic import ValidationError

from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.decided import changes_told, decided
from tests.plans import changed, demo_document, demo_plan

SPRUCE = demo_document()["features"][1]
LEGS = demo_document()["anchors"][0]["alternatives"][0]["legs"]

TOLD = [
    ({"features": [*demo_document()["features"], {**SPRUCE, "id": "rowan", "name": "Rowan tree, 240 mm"}]}, "Rowan tree surveyed"),
    ({"features__1__x_m": -7, "features__1__z_m": 0.2}, "Spruce moved"),
    ({"features__1__answers__diameter_m": 0.3, "features__1__answers__strap_height_m": 0.2}, "Spruce inspected"),
    ({"features__1__verdict": "reject", "features__1__reason": "bark loose"}, "Spruce rejected: bark loose"),
    ({"features__1__guard": "Hazel"}, "Hazel guards spruce"),
    (
        {"features__1__rating_n": {"low": 10_000, "expected": 12_000, "high": 14_000}, "features__1__basis": "by the drawing"},
        "Spruce rated 10.0 to 14.0 kN; rating of spruce by: by the drawing",
    ),
    ({"anchors__0__alternatives__0__legs": LEGS[:2]}, "2 legs in place of 3 legs at the main anchor"),
    ({"anchors__0__taken": "sliding"}, "Two legs, adjusting taken for the main anchor"),
    (
        {"anchors__0__alternatives__2__legs__0__pretension_n": 1200},
        "Pulled to 0.90 kN → 1.2 kN, leg to larch, at the main anchor, floating (not in use)",
    ),
    ({"site__edges__0__x_m": 7.4, "site__profile__1__z_m": 0.7}, "Ground measured again; road kerb log moved"),
    ({"load__items__1__joins_below_m": 3}, "Attendant on the rope from 3.0 m below the lip"),
    ({"load__contact": "slides-soil"}, "Load slides on grass or soil"),
    ({"ropes__0__joins": [{"at_m": 30, "knot": "double-fisherman"}]}, "Main rope joined 30 m from the load"),
    ({"team__people__0__at__x_m": -2.0}, "Rowan stands elsewhere"),
    ({"team__people__4__tied_to": None}, "Hazel tied in to nothing"),
    ({"lines__0__lowering__hands": 2}, "Both hands on the brake strand, main line"),
    ({"rules__school": "force-limit"}, "Rules by force limit in place of static ratio"),
]  # fmt: skip


@pytest.mark.parametrize(("paths", "words"), TOLD)
def test_a_change_is_told_as_a_leader_would_write_it(paths: dict[str, Any], words: str):
    assert decided(demo_plan(), demo_plan(**paths)).text == words


def test_lengths_and_forces_are_told_in_the_units_of_the_screen():
    told = decided(demo_plan(), demo_plan(ropes__0__length_m=50, team__heave_n=400), Wording("lbf", "ft"))
    assert told.text == "Main rope 197 ft → 164 ft; each hauler gives 79 lbf → 90 lbf in a heave"


def _leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Any]]:
    for key, part in value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ():
        yield (*path, key), part
        yield from _leaves(part, (*path, key))


def _nudged(value: Any) -> list[Any]:
    if isinstance(value, bool):
        return [not value]
    if isinstance(value, int | float):
        return [value * 1.05 + 0.01, value + 1]
    if value is None:
        return [1, "rowan", "ball-bearing-pulley", "figure-eight-loop", {"cord": "cord-6"}]
    return [value[:-1]] if isinstance(value, list) else [None, f"{value}x"]


def test_whatever_of_the_plan_is_changed_has_words_and_none_of_them_is_a_field_of_the_document():
    before = demo_plan()
    whole = before.model_dump(mode="json")
    told: dict[str, list[str]] = {}
    for path, value in _leaves(whole):
        for other in _nudged(value):
            try:
                after = Plan.model_validate(changed(whole, **{"__".join(map(str, path)): other}))
            except (ValidationError, TypeError):
                continue
            if after != before:
                told["/".join(map(str, path))] = list(changes_told(before, after, Wording()))
    silent = {path for path, words in told.items() if not words}
    assert len(told) > 250
    assert silent == set()
    field = re.compile(r"[a-z]_[a-z]|[{}\[\]]|None|True|False| n:")
    assert {path: words for path, words in told.items() if any(field.search(one) for one in words)} == {}
