"""What was changed of a plan, revision by revision, and why, as the log has it."""

import itertools
from datetime import datetime

from operations.models import LogEntry
from plans.models import Plan, Revision
from pydantic import BaseModel

from rigging.document import Plan as Document
from rigging.telling.work.decided import decided


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
    rows, why = list(plan.revisions.select_related("author").order_by("number")), _why(plan)
    return [
        _change(before, one, why.get(one.number, []))
        for before, one in itertools.pairwise([None, *rows])
        if one is not None and (since is None or one.saved_at >= since)
    ]


def _why(plan: Plan) -> dict[int, list[str]]:
    """The reasons that decisions gave, by revision, each once."""
    decisions = plan.log.filter(kind__in=(LogEntry.Kind.DECISION, LogEntry.Kind.CORRECTION)).exclude(reason="")
    why: dict[int, list[str]] = {}
    for number, reason in decisions.order_by("sequence").values_list("revision__number", "reason"):
        said = why.setdefault(number, [])
        if reason not in said:
            said.append(reason)
    return why


def _document(revision: Revision) -> Document:
    return Document.model_validate_json(revision.document)


def _change(before: Revision | None, one: Revision, why: list[str]) -> Change:
    told = decided(_document(before), _document(one)) if before else None
    text = "First saved" if told is None else told.text or "Nothing that is told"
    return Change(
        revision=one.number, at=one.saved_at, by=one.author.get_username(), sha256=one.sha256, text=text,
        effects=told.effects if told else [], why=why,
    )  # fmt: skip
