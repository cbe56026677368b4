"""One rule of age for everything of textile: slings and cords as ropes, where the plan ties with their like."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.study.place import AtPlace


class KitTooOld(Found, topic="margins", source="rope-age"):
    number: int
    material: str
    length_m: float
    years: float
    most_years: float


def find(here: AtPlace) -> Iterator[KitTooOld]:
    plan, most = here.plan, catalogue().tying.textile_years
    tied = {name for _, _, one in plan.arrangements() for leg in one.legs for name in (leg.material, leg.extension)}
    for number, item in enumerate(plan.kit):
        material = catalogue().slings[item.material]
        if material.fibre in ("metal", "timber") or item.age_years is None or item.age_years <= most:
            continue
        yield KitTooOld(
            level="stop" if item.material in tied else "look", about="load", key=str(number), number=number, material=material.name,
            length_m=item.length_m, years=item.age_years, most_years=most,
        )  # fmt: skip


def mends(found: KitTooOld, plan: Plan) -> Iterator[Mend]:
    yield Mend("out-of-bags", (Edit("remove", f"/kit/{found.number}"),))
