"""Placing features by tape and by rangefinder, from which north the bearings are."""

import random

import pytest

from rigging.document import Frame, Place3
from rigging.quantities.faults import Refused
from rigging.site.instruments import simulated_rangefinder
from rigging.site.north import declination, true_bearing_deg
from rigging.site.survey import Reading, Taped, place

FRAME = Frame(bearing_deg=205, north="magnetic", latitude_deg=47.0, longitude_deg=12.0, elevation_m=940)
HERE = Place3()


def test_a_reading_back_up_the_fall_line_lies_behind_and_above():
    """205° − 180° = 25° is straight behind; 10 m at 30° up is 8.66 m level and 5 m up."""
    spot = place(Reading(distance_m=10, inclination_deg=30, bearing_deg=25, north="magnetic"), FRAME, HERE).place
    assert (spot.x_m, spot.y_m, spot.z_m) == pytest.approx((-8.66, 0, 5), abs=0.01)
    # A quarter turn clockwise from the fall line is to the right, looking out.
    assert (
        place(Reading(distance_m=4, inclination_deg=0, bearing_deg=295, north="magnetic"), FRAME, HERE).place.y_m == 4
    )


def test_tape_and_rangefinder_place_alike():
    taped = Taped(level_m=4, height_m=3, bearing_deg=25, north="magnetic")
    assert taped.reading.distance_m == 5
    assert place(taped.reading, FRAME, HERE).place == Place3(x_m=-4, y_m=0, z_m=3)
    moved = place(taped.reading, FRAME, Place3(x_m=1, y_m=2, z_m=0.5)).place
    assert moved == Place3(x_m=-3, y_m=2, z_m=3.5)


@pytest.mark.parametrize(
    ("reading", "asked"),
    [
        ((400, 0, 25), "far for an anchor"),
        ((0.3, 0, 25), "nearer than"),
        ((6, 70, 25), "held still"),
        ((6, 0, 205), "ahead"),
    ],
)
def test_a_reading_outside_what_is_sensible_is_questioned_not_swallowed(reading, asked):
    distance, rise, bearing = reading
    found = place(
        Reading(distance_m=distance, inclination_deg=rise, bearing_deg=bearing, north="magnetic"), FRAME, HERE
    )
    assert asked in " ".join(found.doubts)


def test_without_the_fall_lines_bearing_nothing_is_guessed():
    with pytest.raises(Refused, match="bearing of the fall line"):
        place(Reading(distance_m=6, inclination_deg=0, bearing_deg=25, north="magnetic"), None, HERE)


def test_the_simulated_rangefinder_reads_behind_the_point_with_noise():
    readings = [simulated_rangefinder(random.Random(seed), FRAME) for seed in range(50)]
    places = [place(one, FRAME, HERE).place for one in readings]
    assert all(one.x_m < 0 for one in places)
    assert len({one.distance_m for one in readings}) > 40


def test_two_bearings_of_one_compass_need_no_declination_and_of_two_norths_do():
    """12.8 m off at 30 m where they lie 25° apart: the chord of that turn."""
    true = Reading(distance_m=30, inclination_deg=0, bearing_deg=25, north="true")
    with pytest.raises(Refused, match=r"site\.frame\.declination_deg"):
        place(true, FRAME, HERE)
    far = FRAME.model_copy(update={"declination_deg": 25.0})
    spot, same = place(true, far, HERE).place, place(true.model_copy(update={"north": "magnetic"}), far, HERE).place
    assert ((spot.x_m - same.x_m) ** 2 + (spot.y_m - same.y_m) ** 2) ** 0.5 == pytest.approx(12.98, abs=0.02)
    assert true_bearing_deg(far) == 230


@pytest.mark.parametrize(
    ("frame", "north", "path"), [(None, "magnetic", "site.frame.north"), ("magnetic", None, "measured.north")]
)
def test_from_which_north_a_bearing_is_is_asked(frame, north, path):
    asked = FRAME.model_copy(update={"north": frame})
    with pytest.raises(Refused) as caught:
        place(Reading(distance_m=30, inclination_deg=0, bearing_deg=25, north=north), asked, HERE)
    assert caught.value.faults[0].path == path


def test_the_declination_of_a_year_that_the_model_does_not_reach_is_refused():
    with pytest.raises(Refused, match="2025 to 2030"):
        declination(47, 12, 940, 2031.0)
