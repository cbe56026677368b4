"""Inputs drawn: every range of the catalogue and of a document as a point somewhere inside it."""

import random
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from pydantic import BaseModel

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.quantities.ranges import Range, exactly


def point(luck: random.Random, low: float, high: float) -> float:
    """Anywhere in a range, and often at an end of it: that is where bounds are broken."""
    return luck.choice([low, high, luck.uniform(low, high), luck.uniform(low, high)])


def drawn(luck: random.Random, value: Any) -> Any:
    """The same with every range in it a point."""
    if isinstance(value, Range):
        return exactly(point(luck, value.low, value.high))
    if isinstance(value, BaseModel):
        return value.model_copy(update={name: drawn(luck, getattr(value, name)) for name in type(value).model_fields})
    if isinstance(value, dict):
        return {name: drawn(luck, one) for name, one in value.items()}
    if isinstance(value, list):
        return [drawn(luck, one) for one in value]
    return value


@contextmanager
def drawn_catalogue(luck: random.Random) -> Iterator[None]:
    """The one catalogue with every range in it a point, for as long as it lasts."""
    there = catalogue()
    kept = dict(there.__dict__)
    there.__dict__.update({name: drawn(luck, value) for name, value in kept.items() if name != "systems"})
    try:
        yield
    finally:
        there.__dict__.clear()
        there.__dict__.update(kept)


def drawn_plan(luck: random.Random, plan: Plan) -> Plan:
    """A plan with its masses, ratings and pulls as points."""
    found = drawn(luck, plan.model_copy(update={"found": []}))
    items = [
        one.model_copy(update={"mass_kg": point(luck, one.mass_kg - one.plus_minus_kg, one.mass_kg + one.plus_minus_kg), "plus_minus_kg": 0})
        for one in plan.load.items
    ]  # fmt: skip
    return found.model_copy(update={"load": plan.load.model_copy(update={"items": items})})
