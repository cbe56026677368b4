"""What is taken and given about the survey."""

from datetime import date, datetime
from typing import Annotated

from pydantic import BaseModel, Discriminator, Field, Tag

from rigging.document import Frame, Place3
from rigging.document import Plan as Document
from rigging.files.reading import FileSettings
from rigging.files.written import WrittenForm
from rigging.quantities.ranges import Strict
from rigging.site.survey import Reading, Taped


class NewReading(Reading):
    """A reading as an instrument sends it."""

    instrument: Annotated[str, Field(min_length=1, max_length=60)]


class NewSentences(Strict):
    """Lines of a rangefinder as they come."""

    instrument: Annotated[str, Field(min_length=1, max_length=60)]
    sentences: Annotated[list[Annotated[str, Field(max_length=200)]], Field(min_length=1, max_length=50)]


class ReadingOut(BaseModel):
    id: int
    time: datetime
    author: str
    instrument: str
    reading: Reading


class SimulateReading(Strict):
    frame: Frame | None = None


def _kind(given: object) -> str:
    """Whether something was taped, or read by an instrument."""
    taped = "level_m" in given if isinstance(given, dict) else isinstance(given, Taped)
    return "kind:taped" if taped else "kind:read"


class PlaceReading(Strict):
    """A reading or a taped measure, from where it was taken, to be placed on the sheet."""

    measured: Annotated[
        Annotated[Reading, Tag("kind:read")] | Annotated[Taped, Tag("kind:taped")], Discriminator(_kind)
    ]
    frame: Frame | None = None
    held_at: Place3 = Place3()


class ReadSurvey(BaseModel):
    """A file of features to read into a plan: the document and what was said of the file, each as JSON beside the file."""

    team: int
    document: str
    settings: str = "{}"


class ReadBags(BaseModel):
    """A table of what is in the bags: what was said of it, as JSON beside the file."""

    team: int
    settings: str = "{}"


class PasteSurvey(Strict):
    """Text to read as a file would be: what an instrument sent, or what was copied from a table."""

    team: int
    text: Annotated[str, Field(max_length=200_000)]
    document: Document
    settings: FileSettings = FileSettings()


class WriteSurvey(Strict):
    """`with_mark`: a byte order mark before a table, by which spreadsheets know its letters."""

    format: WrittenForm
    document: Document
    with_mark: bool = False


class AskDeclination(Strict):
    """Where and when magnetic north is asked for; today where no date is given."""

    latitude_deg: Annotated[float, Field(ge=-90, le=90)]
    longitude_deg: Annotated[float, Field(ge=-180, le=180)]
    elevation_m: Annotated[float, Field(ge=-500, le=9000)] = 0
    on: date | None = None


class SurveyFile(BaseModel):
    name: str
    text: str
