"""One rule of age for everything of textile: slings and cords as ropes, where the plan ties with their like."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Arrangement, Plan
from rigging.document.edits import Edit
from rigging.study.place import AtPlace


class KitTooOld(Found, topic="margins", source="rope-age"):
    number: int
    material: str
    length_m: float
    years: float
    most_years: float


def _materials(made: Arrangement) -> Iterator[str | None]:
    for leg in (*made.legs, *made.ties):
        yield from (leg.material, leg.extension)
    yield from (one.material for one in (made.set_down.stages if made.set_down else ()))


def find(here: AtPlace) -> Iterator[KitTooOld]:
    plan, most = here.plan, catalogue().tying.textile_years
    tied = {name for _, _, one in plan.arrangements() for name in _materials(one)}
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
