"""What the ground offers to tie to, and what is in the bags to tie with."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from rigging.catalogue import catalogue
from rigging.document.site import PlacedBy
from rigging.document.words import FeatureKindId, Metres, Name, SlingId, Text
from rigging.quantities.ranges import Range, Strict

Verdict = Literal["sound-alone", "with-others", "temporary", "reject"]
Answer = Annotated[float, Field(ge=0, le=1_000_000)] | Annotated[str, Field(max_length=40)]


class PlaceTaken(Strict):
    """How the place of something was taken, and how far it may be off, level and up."""

    by: PlacedBy
    off_m: Annotated[float, Field(ge=0, le=1000)]
    off_up_m: Annotated[float, Field(ge=0, le=1000)]


class Feature(Strict):
    """What the ground offers to tie to; x, y, z is where it is tied. `answers`: its inspection, by question.

    A `rating_n` entered by the leader stands in place of the estimate. What the inspection leads to is the verdict; `verdict` with
    its `reason` may better a rejection only with the name of who judged it so. `guard` names who guards it while it is loaded.
    `placed`: how its place was taken (None: nobody said).
    """

    id: Name
    name: Name
    kind: FeatureKindId
    x_m: Metres
    y_m: Metres = 0
    z_m: Metres = 0
    placed: PlaceTaken | None = None
    answers: dict[str, Answer] = {}
    rating_n: Range | None = None
    basis: Text = ""
    verdict: Verdict | None = None
    reason: Text = ""
    judged_by: Text = ""
    guard: Text = ""

    @model_validator(mode="after")
    def _rating_has_basis(self) -> Feature:
        if self.rating_n is not None and self.rating_n.low <= 0:
            raise ValueError(f"the rating of {self.name!r} starts at {self.rating_n.low:g} N; give a rating above 0")
        if self.rating_n is not None and not self.basis.strip():
            raise ValueError(f"the rating of {self.name!r} has no basis; write in basis how it was judged")
        if self.verdict == "reject" and not self.reason.strip():
            raise ValueError(f"{self.name!r} is rejected without a reason; write in reason why, so that it is kept")
        return self

    @model_validator(mode="after")
    def _answers_fit(self) -> Feature:
        kind = catalogue().features[self.kind]
        questions = {one.id: one for one in kind.questions}
        for name, answer in self.answers.items():
            question = questions.get(name)
            if question is None:
                raise ValueError(f"{kind.name.lower()} has no question {name!r}; one of {', '.join(questions)}")
            if (question.kind == "number") != isinstance(answer, (int, float)):
                right = "a number" if question.kind == "number" else "one of the answers offered"
                raise ValueError(f"the answer {answer!r} to {name!r} does not fit the question; give {right}")
            offered = ["yes", "no"] if question.kind == "yes-no" else [one.id for one in question.options]
            if question.kind != "number" and answer not in offered:
                raise ValueError(f"{answer!r} is no answer to {name!r}; one of {', '.join(offered)}")
        return self


class KitItem(Strict):
    """Material in the bags: pieces of one length, and how old they are (None: not said)."""

    material: SlingId
    length_m: Annotated[float, Field(gt=0, le=500)]
    count: Annotated[int, Field(ge=1, le=50)] = 1
    age_years: Annotated[float, Field(ge=0, le=60)] | None = None
