"""What is taken and given about the survey."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from rigging.document import Frame, Place3
from rigging.document import Plan as Document
from rigging.quantities.ranges import Strict
from rigging.site.survey import Format, Reading, Taped


class NewReading(Reading):
    """A reading as an instrument sends it."""

    instrument: Annotated[str, Field(min_length=1, max_length=60)]


class ReadingOut(BaseModel):
    id: int
    time: datetime
    author: str
    instrument: str
    reading: Reading


class SimulateReading(Strict):
    frame: Frame | None = None


class PlaceReading(Strict):
    """A reading or a taped measure, from where it was taken, to be placed on the sheet."""

    measured: Reading | Taped
    frame: Frame | None = None
    held_at: Place3 = Place3()


class ReadSurvey(Strict):
    """A file of features to read into a plan."""

    format: Format
    text: Annotated[str, Field(max_length=1_000_000)]
    document: Document


class WriteSurvey(Strict):
    format: Format
    document: Document


class SurveyFile(BaseModel):
    name: str
    text: str
