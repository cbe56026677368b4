"""More of a kind in the plan than there is in the bags, where somebody counted them."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.document import TABLES, Table
from rigging.document.plan import entry_of
from rigging.study.place import AtPlace


class NotInBags(Found, topic="margins"):
    table: Table
    what: str
    name: str
    uses: int
    there: int


def find(here: AtPlace) -> Iterator[NotInBags]:
    plan = here.plan
    for table in TABLES:
        there = plan.bags.there(table)
        if there is None:
            continue
        for id, uses in plan.used(table).items():
            if id != "unknown" and uses > there[id]:
                yield NotInBags(
                    level="look", about="load", key=f"{table}:{id}", table=table, what=id, name=entry_of(table, id).name, uses=uses, there=there[id]
                )  # fmt: skip
