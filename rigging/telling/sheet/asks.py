"""What to ask first, in words: the question, and what the weakest margin may be by its answer."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from rigging.advice.asks import Ask, asks
from rigging.document import Plan


class AskReport(BaseModel):
    """A question with what hangs on its answer; `about` names the thing, `id` what is asked."""

    model_config = ConfigDict(frozen=True)

    id: str
    about: str
    question: str
    text: str


class AsksReport(BaseModel):
    """Questions that move the weakest margin, most first."""

    model_config = ConfigDict(frozen=True)

    asks: list[AskReport]


def asks_report(plan: Plan, most: int = 2) -> AsksReport:
    """What to ask first.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    # What is known within a range is asked about only where the rule may hang on it.
    worth = [one for one in asks(plan) if one.worst < 1 or one.unknown.of in ("answer", "bend")]
    return AsksReport(asks=[_told(one) for one in worth[:most]])


def _told(ask: Ask) -> AskReport:
    of, question = ask.unknown, ask.unknown.question.rstrip("?")
    asked = f"{of.about}: {question[0].lower()}{question[1:]}?" if of.of == "answer" else f"{question}?"
    text = (
        f"By the answer the weakest part keeps {ask.worst * 100:.0f} to {ask.best * 100:.0f} % of what your rule asks."
    )
    return AskReport(id=of.id, about=of.about, question=asked, text=text)
