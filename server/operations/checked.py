"""The check of a plan's revision with its team's own procedures, worked out once: the sheet, signing, beginning a run and the paper read the same."""

from functools import partial
from typing import Any

from core import engine
from core.answers import Answers, content_of, told_once
from plans.models import Plan
from storing.canonical import canonical, sha256

from operations.composing import own_of, under_way
from rigging.document import Plan as Document
from rigging.procedures.run import own_procedures
from rigging.quantities.units import Wording
from rigging.telling.check.sheet import CheckReport, check

_made: Answers[CheckReport] = Answers(64, lambda _: 1)


def check_of(plan: Plan, document: str) -> CheckReport:
    """The check of a document of a plan, in the words that are signed.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    own = _own(plan)
    question = sha256(document + canonical(own))
    return _made.of(question, lambda: engine.ask_long(_checking(own), Document.model_validate_json(document)))


def check_told(plan: Plan, document: Document, say: Wording, doing: str) -> bytes:
    """The check of a plan's document as it stands there, as it is sent; known by the id of whoever waits for it."""
    own = _own(plan)
    question = f"check {say} {sha256(canonical(own))} {content_of(document)}"
    return told_once(question, doing, _checking(own), document, say)


def _own(plan: Plan) -> dict[str, Any]:
    """Procedures of the team, and of the run that goes on."""
    return own_of(plan, under_way(plan)[0])


def _checking(own: dict[str, Any]) -> "partial[CheckReport]":
    return partial(check, own=own_procedures(own))
