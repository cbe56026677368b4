"""The check of a plan's revision, worked out once: signing, beginning a run and the paper read the same."""

from core import engine
from core.answers import Answers
from storing.canonical import sha256

from rigging.document import Plan as Document
from rigging.telling.check.sheet import CheckReport, check

_made: Answers[CheckReport] = Answers(64, lambda _: 1)


def check_of(document: str) -> CheckReport:
    """The check of a document, in the words that are signed.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    return _made.of(sha256(document), lambda: engine.ask_long(check, Document.model_validate_json(document)))
