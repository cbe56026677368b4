"""What stands in the readings."""

from collections.abc import Iterator

from plans.models import Plan


def broken_readings(plan: Plan) -> Iterator[str]:
    """In words, every block of readings that does not fit its hash."""
    for cell in plan.cells.all():
        before = b""
        for block in cell.blocks.all().iterator():
            if block.content_hash(before) != bytes(block.hash):
                yield f"plan {plan.id}, readings of {cell.name} from number {block.first}: do not fit their hash"
            before = bytes(block.hash)
