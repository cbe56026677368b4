"""Everything of a plan that should be as it was written, worked out again."""

from collections.abc import Iterator

from operations.selectors import broken_links
from plans.models import Plan
from readings.selectors import broken_readings

from sealing import heads


def broken_seals(plan: Plan) -> Iterator[str]:
    """In words, everything of a plan that does not fit its hash, revisions, log, photographs, readings, or its head."""
    yield from broken_links(plan)
    yield from broken_readings(plan)
    yield from heads.broken(plan)
