"""Endpoints of the survey: readings from instruments, places from readings, features from and to files."""

import random

from accounts.models import Role
from accounts.permissions import person, team_of
from answering.faults import REFUSED
from answering.given import given
from django.http import HttpRequest
from ninja import File, Form, Router, UploadedFile
from storing import clock

from rigging.document import Plan as Document
from rigging.files.bags import BagSettings, BagsRead, read_bags
from rigging.files.reading import FileRead, FileSettings, read_places
from rigging.files.sightings import sentence, sighting
from rigging.files.written import write_features
from rigging.quantities.faults import Fault, Refused
from rigging.site.instruments import simulated_rangefinder
from rigging.site.north import Declination, declination
from rigging.site.survey import Placed, Reading, place
from survey import known
from survey.models import Reading as Kept
from survey.schemas import (
    AskDeclination,
    NewReading,
    NewSentences,
    PasteSurvey,
    PlaceReading,
    ReadBags,
    ReadingOut,
    ReadSurvey,
    SimulateReading,
    SurveyFile,
    WriteSurvey,
)

router = Router()
_SHOWN = 20


def _out(kept: Kept) -> ReadingOut:
    reading = Reading(
        distance_m=kept.distance_m,
        inclination_deg=kept.inclination_deg,
        bearing_deg=kept.bearing_deg,
        north=kept.north or None,
    )
    return ReadingOut(
        id=kept.pk, time=kept.time, author=kept.author.get_username(), instrument=kept.instrument, reading=reading
    )


def _keep(request: HttpRequest, team_id: int, instrument: str, reading: Reading) -> ReadingOut:
    team = team_of(request, team_id, Role.LEADER, Role.MEMBER)
    values = reading.model_dump(include={"distance_m", "inclination_deg", "bearing_deg"})
    row = Kept(team=team, author=person(request), instrument=instrument, north=reading.north or "", **values)
    row.save()
    return _out(row)


@router.get("/teams/{team_id}/readings", response={200: list[ReadingOut], **REFUSED}, operation_id="readings")
def readings(request: HttpRequest, team_id: int) -> list[ReadingOut]:
    team = team_of(request, team_id, *Role)
    return [_out(kept) for kept in team.readings.select_related("author")[:_SHOWN]]


@router.post("/teams/{team_id}/readings", response={200: ReadingOut, **REFUSED}, operation_id="new_reading")
def new_reading(request: HttpRequest, team_id: int, body: NewReading) -> ReadingOut:
    return _keep(request, team_id, body.instrument, body)


@router.post(
    "/teams/{team_id}/readings/simulated", response={200: ReadingOut, **REFUSED}, operation_id="simulate_reading"
)
def simulate_reading(request: HttpRequest, team_id: int, body: SimulateReading) -> ReadingOut:
    """A reading of the simulated rangefinder, by the sentence that it sends."""
    return _keep(
        request, team_id, "simulated", _read(sentence(simulated_rangefinder(random.Random(), body.frame)), "simulated")
    )


@router.post(
    "/teams/{team_id}/readings/sentences", response={200: list[ReadingOut], **REFUSED}, operation_id="new_sentences"
)
def new_sentences(request: HttpRequest, team_id: int, body: NewSentences) -> list[ReadingOut]:
    """Readings as a rangefinder's serial line has them, a sentence each; all of them or none."""
    readings: list[Reading] = []
    faults: list[Fault] = []
    for number, line in enumerate(body.sentences):
        try:
            readings.append(_read(line, f"sentences[{number}]"))
        except Refused as error:
            faults += error.faults
    if faults:
        raise Refused(faults)
    return [_keep(request, team_id, body.instrument, one) for one in readings]


def _read(line: str, where: str) -> Reading:
    found = sighting(line, where)
    assert found.slope_m is not None and found.inclination_deg is not None
    return Reading(
        distance_m=found.slope_m,
        inclination_deg=found.inclination_deg,
        bearing_deg=found.bearing_deg,
        north=found.north,
    )


@router.post("/survey/place", response={200: Placed, **REFUSED}, operation_id="place_reading")
def place_reading(request: HttpRequest, body: PlaceReading) -> Placed:
    measured = body.measured
    return place(measured if isinstance(measured, Reading) else measured.reading, body.frame, body.held_at)


@router.post("/survey/read", response={200: FileRead, **REFUSED}, operation_id="read_survey")
def read_survey(request: HttpRequest, asked: Form[ReadSurvey], file: File[UploadedFile]) -> FileRead:
    """What a file would bring to a plan; nothing is kept but what somebody said of its columns."""
    return _survey(
        request,
        asked.team,
        file.read(),
        file.name or "file",
        given(Document, asked.document),
        given(FileSettings, asked.settings),
    )


@router.post("/survey/bags", response={200: BagsRead, **REFUSED}, operation_id="read_bags")
def read_table_of_bags(request: HttpRequest, asked: Form[ReadBags], file: File[UploadedFile]) -> BagsRead:
    """What a table of gear would put in the bags."""
    team_of(request, asked.team, Role.LEADER, Role.MEMBER)
    return read_bags(file.read(), file.name or "file", given(BagSettings, asked.settings))


@router.post("/survey/paste", response={200: FileRead, **REFUSED}, operation_id="paste_survey")
def paste_survey(request: HttpRequest, body: PasteSurvey) -> FileRead:
    return _survey(request, body.team, body.text.encode(), "what was pasted", body.document, body.settings)


def _survey(
    request: HttpRequest, team_id: int, content: bytes, name: str, document: Document, said: FileSettings
) -> FileRead:
    team = team_of(request, team_id, Role.LEADER, Role.MEMBER)
    return known.read(team, said, lambda settings: read_places(content, name, document, settings))


@router.post("/survey/write", response={200: SurveyFile, **REFUSED}, operation_id="write_survey")
def write_survey(request: HttpRequest, body: WriteSurvey) -> SurveyFile:
    text = write_features(body.document.features, body.format, body.document.site.frame, body.with_mark)
    return SurveyFile(name=f"features.{body.format}", text=text)


@router.post("/survey/declination", response={200: Declination, **REFUSED}, operation_id="declination")
def ask_declination(request: HttpRequest, body: AskDeclination) -> Declination:
    """How far magnetic north lies from true, by the model that ships."""
    day = body.on or clock.now().date()
    year = day.year + (day.timetuple().tm_yday - 1) / 365.25
    return declination(body.latitude_deg, body.longitude_deg, body.elevation_m, year)
