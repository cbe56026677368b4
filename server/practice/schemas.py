"""What is taken and given about practice."""

import uuid
from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from rigging.quantities.ranges import Strict
from rigging.telling.learning.table_top import HappenedReport, ScoreReport

Skill = Annotated[str, Field(max_length=60)]
Username = Annotated[str, Field(max_length=150)]
Seconds = Annotated[float, Field(ge=0, le=36_000)]
Moment = Annotated[datetime, Field(strict=False)]


class About(Strict):
    """The plan that a drill is about, as it then was."""

    model_config = ConfigDict(frozen=True)

    plan: uuid.UUID
    revision: Annotated[int, Field(ge=1, le=2_000_000_000)]


class AnswerGiven(Strict):
    """A drill as it was answered: the numbers of the options given, in order where they were to be put in order; by the device's clock; the plan it was `about`."""

    id: uuid.UUID
    number: Annotated[int, Field(ge=0, le=2_000_000_000)]
    skill: Skill
    seed: Annotated[int, Field(ge=0, le=2_000_000_000)]
    level: Literal[1, 2, 3]
    given: Annotated[list[Annotated[int, Field(ge=0, le=20)]], Field(min_length=1, max_length=8)]
    took_s: Seconds
    at: Moment
    about: About | None = None


class NewAnswers(Strict):
    """Answers of one device, as they were given, also long ago and without a connection."""

    device: Annotated[str, Field(min_length=1, max_length=60)]
    answers: Annotated[list[AnswerGiven], Field(min_length=1, max_length=200)]


class NewTied(Strict):
    """A knot tied by somebody else, each stage as it was or not."""

    id: uuid.UUID
    who: Username
    knot: Skill
    hand: Literal["right", "left"]
    stages: Annotated[list[bool], Field(min_length=1, max_length=20)]
    took_s: Seconds


class SkillOut(BaseModel):
    """A skill of somebody: `due` (None: never done) and whether it is, the level it is asked at, how often it was done and right, when last, the share that will
    still know it."""

    skill: str
    name: str
    about: str
    due: datetime | None
    is_due: bool = False
    level: int
    done: int
    right: int
    last: datetime | None
    knows: float | None


class TyingOut(BaseModel):
    """A knot of somebody: when it is due again, how often it was tied and right, the quickest right one, when last."""

    knot: str
    name: str
    stages: list[str]
    due: datetime | None
    done: int
    right: int
    quickest_s: float | None
    last: datetime | None


class Fellows(BaseModel):
    """A team, and those of it whose knots somebody can tick."""

    team: int
    names: list[str]


class PracticeOut(BaseModel):
    """What somebody has practised, most due first; `due`: how many are; those of their teams whose knots they can tick."""

    due: int
    fellows: list[Fellows]
    skills: list[SkillOut]
    tying: list[TyingOut]


class PersonPractised(BaseModel):
    """A person of a team: their skills, the knots that they tied, when last."""

    name: str
    skills: list[SkillOut]
    tying: list[TyingOut]
    last: datetime | None


class EveningOut(BaseModel):
    """A skill that would be worth an evening, with those who are due in it."""

    skill: str
    name: str
    who: list[str]


class RunNeeded(BaseModel):
    """A run, with the skills and knots it needed that nobody of the team had practised before it."""

    plan: uuid.UUID
    title: str
    begun_at: datetime
    skills: list[str]
    knots: list[str]


class TeamPractised(BaseModel):
    """Who of a team can do what, by name in no order of merit; what an evening would be made up of; what its last runs needed that nobody had practised."""

    people: list[PersonPractised]
    evening: list[EveningOut]
    needed: list[RunNeeded]


Paced = Literal[0, 1, 2, 5, 10]


class NewTableTop(Strict):
    """A table-top: on a `plan` of the team; what happens by `seed`; the clock so many times as fast, or `rigged` on real ropes; `begins`: at
    which step (left out, the first)."""

    id: uuid.UUID
    plan: uuid.UUID
    seed: Annotated[int, Field(ge=0, le=1_000_000_000)] | None = None
    pace: Paced = 1
    rigged: bool = False
    begins: Annotated[str, Field(max_length=160)] = ""


class SetPace(Strict):
    pace: Paced


class TableTopRow(BaseModel):
    """A table-top of a list: on what, by whom, whether it has ended, what has happened in it and what of that nobody did anything about."""

    plan: uuid.UUID
    title: str
    made_by: str
    begun_at: datetime
    ended: bool
    rigged: bool
    happened: int
    missed: int


class TableTopOut(BaseModel):
    """A table-top as it is now: by its own clock; `score`: what it came to, once it has ended."""

    plan: uuid.UUID
    title: str
    seed: int
    rigged: bool
    pace: float
    now: datetime
    begun_at: datetime
    ended: bool
    happened: list[HappenedReport]
    score: ScoreReport | None
