"""What an inspection leads to is the verdict: every answer that rejects is a stop, whatever rating was typed; overridden by name it is said."""

import pytest

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.telling.check.sheet import check_here
from tests.plans import changed, on_one_feature

REJECTS = [
    (kind.id, question.id, answer)
    for kind in catalogue().features.values()
    for question in kind.questions
    for answer, bad in question.bad.items()
    if bad.verdict == "reject" and not kind.pushes
]


def tied_to(kind: str, answers: dict, **more) -> Plan:
    """The demo's main line on one feature of a kind."""
    feature = {
        "id": "larch",
        "name": "What there is",
        "kind": kind,
        "x_m": -4.2,
        "y_m": 0.4,
        "z_m": 0.1,
        "answers": answers,
    }
    plan = on_one_feature()
    document = changed(plan.model_dump(mode="json"), features=[{**feature, **more}])
    return Plan.model_validate(document)


def told(plan: Plan) -> dict[str, str]:
    return {line.id.partition(":")[0]: line.level for line in check_here(plan).lines}


RATED = {"rating_n": {"low": 40000, "expected": 45000, "high": 50000}, "basis": "looked strong"}


def test_there_are_rejections_of_many_kinds():
    assert len(REJECTS) >= 12 and len({kind for kind, _, _ in REJECTS}) >= 6


@pytest.mark.parametrize(("kind", "question", "answer"), REJECTS)
def test_every_answer_that_rejects_is_a_stop_rated_or_not(kind, question, answer):
    for rated in ({}, RATED):
        assert told(tied_to(kind, {question: answer}, **rated))["inspection-rejects"] == "stop"


@pytest.mark.parametrize(("kind", "question", "answer"), REJECTS[:4])
def test_overridden_by_name_with_a_reason_it_is_said(kind, question, answer):
    judged = {"verdict": "with-others", "reason": "sound below the bark, drilled", "judged_by": "Rowan"}
    found = told(tied_to(kind, {question: answer}, **RATED, **judged))
    assert "inspection-rejects" not in found and found["overridden"] == "look"
    for half in ("reason", "judged_by"):
        assert told(tied_to(kind, {question: answer}, **RATED, **{**judged, half: ""}))["inspection-rejects"] == "stop"
    line = next(
        one
        for one in check_here(tied_to(kind, {question: answer}, **RATED, **judged)).lines
        if one.id.startswith("overridden")
    )
    assert "Rowan" in line.text and "drilled" in line.text
