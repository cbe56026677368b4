"""Pieces that no piece of the bags is long enough for, over all anchors in use together: each piece is tied once."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rigging.anchors.material import Taken, pieces_needed
from rigging.anchors.wraps import Need, assign
from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend
from rigging.document import Plan
from rigging.document.edits import Edit
from rigging.lines.rig import anchor_node
from rigging.study.place import AtPlace


class MaterialShort(Found, topic="margins"):
    """`longest_m`: the longest piece of it in the bags (None: there is none)."""

    anchor: str
    name: str
    use: str
    material: str
    needed_m: float
    longest_m: float | None


def find(here: AtPlace) -> Iterator[MaterialShort]:
    plan = here.plan
    wanted = list(_wanted(plan)) if plan.kit else []
    pieces = assign([need for need, _, _ in wanted], plan.kit)
    for need, taken, anchor in wanted:
        if pieces[need] is None:
            lengths = [one.length_m for one in plan.kit if one.material == need.material]
            yield MaterialShort(
                level="stop", about=f"{anchor_node(anchor)}:{_about(taken)}", key=f"{anchor}:{taken.number}:{need.use}", anchor=anchor,
                name=taken.where, use=need.use, material=need.material, needed_m=need.length_m, longest_m=max(lengths, default=None),
            )  # fmt: skip


def _wanted(plan: Plan) -> Iterator[tuple[Need, Taken, str]]:
    """Every piece that the anchors take out of the bags; a piece is told from its like by its leg, those of several anchors numbered through."""
    for number, (anchor, one) in enumerate(pieces_needed(plan)):
        if one.rope is None:
            yield Need(number, one.use, one.material, one.length_m), one, anchor


def _about(taken: Taken) -> str:
    return f"leg:{taken.number}" if taken.use in ("attachment", "extension", "piece") else "point"


def mends(found: MaterialShort, plan: Plan) -> Iterator[Mend]:
    """One more piece in the bags that reaches, if it is there."""
    long, what = math.ceil(found.needed_m * 2) / 2, catalogue().slings[found.material].name
    piece = {"material": found.material, "length_m": long, "count": 1}
    yield Mend("more-kit", (Edit("add", "/kit/-", piece),), {"what": what, "length_m": long})
