"""Tables written every way that programs write them: each is read as the numbers that were meant, or asked, or refused; never as others."""

import io
import math
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from rigging.document import Plan
from rigging.files.log_columns import LogSettings
from rigging.files.loggers import read_log
from rigging.files.reading import FileSettings, read_places
from rigging.quantities.faults import Refused
from tests.plans import one_rope_document

PLAN = Plan.model_validate(one_rope_document())
ODD = settings(max_examples=250, deadline=None, suppress_health_check=list(HealthCheck))

VALUES = st.decimals(min_value=-4999, max_value=4999, places=3, allow_nan=False, allow_infinity=False)


def grouped(whole: str, sign: str) -> str:
    return whole if not sign else f"{int(whole):,}".replace(",", sign)


def written(value, places: int, decimal: str, thousands: str, minus: str) -> str:
    text = f"{abs(value):.{places}f}"
    whole, _, rest = text.partition(".")
    return (minus if value < 0 else "") + grouped(whole, thousands) + (decimal + rest if rest else "")


@st.composite
def odd_tables(draw):
    """Text, bytes and the numbers meant."""
    separator = draw(st.sampled_from([",", ";", "\t", "|"]))
    decimal = draw(st.sampled_from([".", ","]))
    thousands = draw(st.sampled_from(["", "", " ", "'", "\u00a0", "." if decimal == "," else ","]))
    places = draw(st.integers(0, 3))
    minus = draw(st.sampled_from(["-", "-", "\u2212"]))
    rows = draw(st.lists(st.tuples(VALUES, VALUES, VALUES), min_size=1, max_size=8))
    rows = [tuple(round(one, places) for one in row) for row in rows]
    texts = [[written(one, places, decimal, thousands, minus) for one in row] for row in rows]
    quoted = draw(st.booleans()) or separator in (decimal, thousands)
    # Between commas a point in a number is a decimal point to anybody, if no comma in the file says otherwise.
    assume(not (separator == "," and decimal == "," and not any("," in text for row in texts for text in row)))
    heads = draw(st.permutations(["name", "x_m", "y_m", "z_m"]))
    lines = [separator.join(heads)]
    for number, row in enumerate(texts):
        cells = dict(zip(("x_m", "y_m", "z_m"), row, strict=True)) | {"name": f"L\u00e4rche {number}"}
        lines.append(separator.join(f'"{cells[head]}"' if quoted and head != "name" else cells[head] for head in heads))
    end = draw(st.sampled_from(["\n", "\r\n", "\r"]))
    trailing = draw(st.sampled_from(["", separator, separator * 2]))
    text = end.join(line + trailing for line in lines) + draw(st.sampled_from(["", end, end * 3]))
    encoding = draw(st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "cp1252"]))
    assume(encoding != "cp1252" or minus == "-")
    return text.encode(encoding), encoding, [tuple(float(one) for one in row) for row in rows]


@ODD
@given(odd_tables())
def test_a_survey_is_read_as_it_was_meant_or_asked_or_refused(table):
    content, encoding, meant = table
    said = FileSettings(encoding="cp1252" if encoding == "cp1252" else None)
    try:
        read = read_places(content, "odd.csv", PLAN, said)
    except Refused as error:
        assert all(one.right for one in error.faults)
        return
    if read.asks or read.faults:
        assert not read.features
        return
    assert [(one.x_m, one.y_m, one.z_m) for one in read.features] == [pytest.approx(row, abs=0.0051) for row in meant]
    assert read.features[0].name == "L\u00e4rche 0"


BEGAN = datetime(2026, 6, 15, 22, 59, 30, tzinfo=UTC)
ZONES = ("UTC", "Europe/Vienna", "America/Denver", "Asia/Kolkata")
STAMPS = {
    "iso": lambda at: at.strftime("%Y-%m-%dT%H:%M:%S") + f".{at.microsecond // 1000:03d}",
    "iso, its zone": lambda at: at.isoformat(timespec="milliseconds"),
    "points": lambda at: at.strftime("%d.%m.%Y %H:%M:%S") + f",{at.microsecond // 1000:03d}",
    "day first": lambda at: at.strftime("%d/%m/%Y %H:%M:%S") + f".{at.microsecond // 1000:03d}",
    "month first": lambda at: at.strftime("%m/%d/%Y %I:%M:%S %p"),
}


@st.composite
def odd_logs(draw):
    separator = draw(st.sampled_from([";", "\t", ","]))
    decimal = draw(st.sampled_from([".", ","]))
    stamp = draw(st.sampled_from(sorted(STAMPS)))
    zone = draw(st.sampled_from(ZONES))
    unit, newtons = draw(
        st.sampled_from(
            [
                ("kN", 1000.0),
                ("N", 1.0),
                ("daN", 10.0),
                ("kgf", 9.80665),
                ("lbf", 4.4482216152605),
                ("lbs", 4.4482216152605),
                ("kp", 9.80665),
            ]
        )
    )
    places = draw(st.integers(0, 3))
    forces = [round(one, places) for one in draw(st.lists(st.floats(0, 60), min_size=2, max_size=40))]
    step = timedelta(seconds=1 if stamp == "month first" else draw(st.sampled_from([0.05, 0.1, 1.0])))
    times = [(BEGAN + n * step).astimezone(ZoneInfo(zone)) for n in range(len(forces))]
    texts = [written(one, places, decimal, "", "-") for one in forces]
    assume(not (separator == "," and decimal == "," and not any("," in text for text in texts)))
    head = draw(
        st.sampled_from(
            [f"Time{separator}Force ({unit})", f"Zeitstempel{separator}Kraft [{unit}]", f"Heure{separator}Force_{unit}"]
        )
    )
    lines = [head, *(f'"{STAMPS[stamp](at)}"{separator}"{text}"' for at, text in zip(times, texts, strict=True))]
    comment = draw(st.sampled_from(["", "# a logger\n", "Device LC\n"]))
    said = {"zone": zone} | ({"day_first": stamp == "day first"} if draw(st.booleans()) and "first" in stamp else {})
    return comment + "\n".join(lines), said, [at.timestamp() * 1000 for at in times], [one * newtons for one in forces]


@ODD
@given(odd_logs())
def test_a_logger_s_table_is_read_as_it_was_meant_or_asked_or_refused(log):
    text, said, times, forces = log
    try:
        read = read_log(io.BytesIO(text.encode()), LogSettings(**said))
    except Refused as error:
        assert all(one.right for one in error.faults)
        return
    if read.asks or read.faults:
        assert not len(read.times_ms)
        return
    assert read.times_ms.tolist() == pytest.approx(times, abs=1)
    assert read.forces_n.tolist() == pytest.approx(forces, rel=1e-5, abs=0.01)


@pytest.mark.parametrize(
    ("text", "said", "about"),
    [
        ("Time,Force (kN)\n2026-10-25 02:30:00,1.2\n2026-10-25 02:30:01,1.3\n", {"zone": "Europe/Vienna"}, "clocks went back"),
        ("time (s),force (kN)\n0,1.2\n0,1.3\n", {"begins": "2026-03-01 10:00", "zone": "UTC", "spread": False}, "not after the row before"),
        ("time (s),force (kN)\n0,1.2\n1,900\n", {"begins": "2026-03-01 10:00", "zone": "UTC"}, "no force on a rope"),
        ("time (s),force (kN)\n0,1.2\n1,1.2 t\n2,3 stone\n", {"begins": "2026-03-01 10:00", "zone": "UTC"}, "'stone' is no unit"),
        ("time (s),force (kN)\n0,1.2\n", {"begins": "yesterday", "zone": "UTC"}, "no moment"),
        ("time (s),force (kN)\n0,1.2\n", {"begins": "2026-03-01 10:00", "zone": "Atlantis"}, "no zone"),
        ("time (s),force (kN)\n0,1.2\n", {"time_column": "t"}, "no column 't'"),
    ],
)  # fmt: skip
def test_a_logger_s_table_at_fault_is_refused_by_row_or_setting(text, said, about):
    try:
        found = [str(one) for one in read_log(io.BytesIO(text.encode()), LogSettings(**said)).faults]
    except Refused as error:
        found = [str(one) for one in error.faults]
    assert any(about in one for one in found), found


def test_readings_of_the_same_second_are_spread_only_if_somebody_says_so():
    rows = [f"10:00:{n // 5:02d},{1 + n / 100:.2f}" for n in range(20)]
    text = "Time,Force (kN)\n" + "\n".join(rows)
    said = {"begins": "2026-03-01", "zone": "UTC"}
    assert [one.setting for one in read_log(io.BytesIO(text.encode()), LogSettings(**said)).asks] == ["spread"]
    read = read_log(io.BytesIO(text.encode()), LogSettings(**said, spread=True))
    assert set((read.times_ms[1:] - read.times_ms[:-1]).tolist()) == {200}


def test_blanks_and_overload_marks_are_left_out_and_counted():
    text = "time (s),force (kN)\n0,1.2\n1,\n2,OL\n3,>50\n4,1.4\n5,n/a\n"
    read = read_log(io.BytesIO(text.encode()), LogSettings(begins="2026-03-01 10:00", zone="UTC"))
    assert (len(read.times_ms), read.blank, read.over) == (2, 2, 2)
    assert "the load was more than any figure here" in " ".join(read.understood)
    assert math.isclose(read.forces_n[1], 1400)


def test_a_clock_without_a_date_goes_past_midnight():
    text = "Time;Force [N]\n23:59:59;100\n00:00:01;110\n"
    read = read_log(io.BytesIO(text.encode()), LogSettings(begins="2026-03-01", zone="UTC"))
    assert (read.times_ms[1] - read.times_ms[0]) == 2000


@pytest.mark.parametrize(
    ("rows", "asked", "at_fault"),
    [
        (['0,"1,000"', '1,"1,250"'], ["decimal"], []),
        (["0,1.000", "1,1.250"], [], []),
        (['0,"1,25"', '1,"1.25"'], [], ["row 3"]),
    ],
)
def test_of_a_comma_between_three_figures_nobody_is_sure(rows, asked, at_fault):
    text = "time (s),force (N)\n" + "\n".join(rows)
    read = read_log(io.BytesIO(text.encode()), LogSettings(begins="2026-03-01 10:00", zone="UTC"))
    assert ([one.setting for one in read.asks], [one.path for one in read.faults]) == (asked, at_fault)
