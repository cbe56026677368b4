"""What the log is offered after a change of the plan: the trade's words, never a field's name."""

import itertools
import random
import re
from contextlib import suppress
from typing import Any

import pytest
from pydantic import ValidationError

from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.work.decided import changes_told, decided
from tests.engine.test_random_plans import changed_at_random
from tests.plans import demo_document, demo_plan

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
    ({"operation": {"begins": "hanging"}}, "Operation begins with the load hanging, not with the load on the ground"),
    (
        {"operation": {"sections": [{"procedure": "lower"}, {"procedure": "raise", "instead": [{"when": "it sticks", "procedure": "sling-haul"}]}]}},
        "Operation in this order: lower and raise with resets (or one sling, alone if it sticks)",
    ),
    ({"rules__school": "force-limit"}, "Rules by force limit in place of static ratio"),
]  # fmt: skip


@pytest.mark.parametrize(("paths", "words"), TOLD)
def test_a_change_is_told_as_a_leader_would_write_it(paths: dict[str, Any], words: str):
    assert decided(demo_plan(), demo_plan(**paths)).text == words


def test_what_comes_into_the_operation_and_what_goes_is_told_by_name():
    order = [{"procedure": one} for one in ("set-up", "lower", "secure", "raise")]
    before = demo_plan(operation={"sections": order})
    for sections, words in (
        ([*order[:2], *order[3:]], "Secure in the middle of a lower, hands free left out of the operation"),
        ([*order, {"procedure": "derig"}], "Struck put into the operation"),
        (
            [*order[::-1]],
            "Operation in another order: raise with resets, secure in the middle of a lower, hands free, lower and set-up",
        ),
        (None, "Operation as it is composed"),
    ):
        assert decided(before, demo_plan(operation={"sections": sections})).text == words


def test_lengths_and_forces_are_told_in_the_units_of_the_screen():
    told = decided(
        demo_plan(team__heave_n=350), demo_plan(ropes__0__length_m=50, team__heave_n=400), Wording("lbf", "ft")
    )
    assert told.text == "Main rope 197 ft → 164 ft; each hauler gives 79 lbf → 90 lbf in a heave"


def test_whatever_is_changed_has_words_and_none_of_them_is_a_field_of_the_document():
    luck, plans = random.Random(11), [demo_plan()]
    while len(plans) < 400:
        with suppress(ValidationError):
            plans.append(Plan.model_validate(changed_at_random(luck)))
    field = re.compile(r"[a-z]_[a-z]|[{}\[\]]|None|True|False")
    for before, after in itertools.pairwise(plans):
        told = list(changes_told(before, after, Wording()))
        assert bool(told) == (before != after)
        assert [one for one in told if field.search(one)] == []
