"""Endpoints of the survey: readings from instruments, places from readings, features from and to files."""

import random

from accounts.models import Role
from accounts.permissions import person, team_of
from answering.faults import REFUSED
from django.http import HttpRequest
from ninja import Router

from rigging.document import Feature
from rigging.site.instruments import simulated_rangefinder
from rigging.site.survey import Placed, Reading, place, read_features, write_features
from survey.models import Reading as Kept
from survey.schemas import NewReading, PlaceReading, ReadingOut, ReadSurvey, SimulateReading, SurveyFile, WriteSurvey

router = Router()
_SHOWN = 20


def _out(kept: Kept) -> ReadingOut:
    reading = Reading(distance_m=kept.distance_m, inclination_deg=kept.inclination_deg, bearing_deg=kept.bearing_deg)
    return ReadingOut(
        id=kept.pk, time=kept.time, author=kept.author.get_username(), instrument=kept.instrument, reading=reading
    )


def _keep(request: HttpRequest, team_id: int, instrument: str, reading: Reading) -> ReadingOut:
    team = team_of(request, team_id, Role.LEADER, Role.MEMBER)
    values = reading.model_dump(include={"distance_m", "inclination_deg", "bearing_deg"})
    return _out(Kept.objects.create(team=team, author=person(request), instrument=instrument, **values))


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
    return _keep(request, team_id, "simulated", simulated_rangefinder(random.Random(), body.frame))


@router.post("/survey/place", response={200: Placed, **REFUSED}, operation_id="place_reading")
def place_reading(request: HttpRequest, body: PlaceReading) -> Placed:
    measured = body.measured
    return place(measured if isinstance(measured, Reading) else measured.reading, body.frame, body.held_at)


@router.post("/survey/read", response={200: list[Feature], **REFUSED}, operation_id="read_survey")
def read_survey(request: HttpRequest, body: ReadSurvey) -> list[Feature]:
    taken = [feature.id for feature in body.document.features]
    return read_features(body.text, body.format, body.document.site.frame, taken)


@router.post("/survey/write", response={200: SurveyFile, **REFUSED}, operation_id="write_survey")
def write_survey(request: HttpRequest, body: WriteSurvey) -> SurveyFile:
    text = write_features(body.document.features, body.format, body.document.site.frame)
    return SurveyFile(name=f"features.{body.format}", text=text)
