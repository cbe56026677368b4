"""What was changed of a plan, revision by revision, and why, as the log has it."""

from collections.abc import Iterator
from datetime import datetime

from operations.models import LogEntry
from plans.models import Plan
from pydantic import BaseModel

from rigging.document import Plan as Document
from rigging.telling.decided import decided


class Change(BaseModel):
    """A revision: what it changed and with what effect, in words, and the reasons that decisions made on it give."""

    revision: int
    at: datetime
    by: str
    sha256: str
    text: str
    effects: list[str]
    why: list[str]


def changes_of(plan: Plan, since: datetime | None = None) -> list[Change]:
    """Every revision in its order, the first as it was saved; or those saved since a moment."""
    return [one for one in _changes(plan) if since is None or one.at >= since]


def _changes(plan: Plan) -> Iterator[Change]:
    decisions = plan.log.filter(kind__in=(LogEntry.Kind.DECISION, LogEntry.Kind.CORRECTION)).exclude(reason="")
    why: dict[int, list[str]] = {}
    for number, reason in decisions.order_by("sequence").values_list("revision__number", "reason"):
        said = why.setdefault(number, [])
        if reason not in said:
            said.append(reason)
    before: Document | None = None
    for one in plan.revisions.select_related("author").order_by("number"):
        now = Document.model_validate_json(one.document)
        told = decided(before, now) if before else None
        text = "First saved" if told is None else told.text or "Nothing that is told"
        yield Change(
            revision=one.number, at=one.saved_at, by=one.author.get_username(), sha256=one.sha256, text=text,
            effects=told.effects if told else [], why=why.get(one.number, []),
        )  # fmt: skip
        before = now
