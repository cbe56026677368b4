"""Wrong input: refused with the field, what is wrong and what would be right; and the file format itself."""

import json

import pytest
from pydantic import ValidationError

from rigging.__main__ import main
from rigging.document import Plan
from rigging.quantities.faults import Refused, faults_of
from rigging.telling.sheet.report import analyse
from tests.plans import DEMO, changed, one_rope_document

WRONG = [
    ({"load__items__0__mass_kg": -84}, "load.items[0].mass_kg", "above 0"),
    ({"load__items__0__plus_minus_kg": 90}, "load.items[0]", "below mass_kg"),
    ({"load__items": []}, "load.items", "at least 1"),
    ({"load__contact": "floats"}, "load.contact", "hangs"),
    ({"site__profile__5": {"x_m": 5, "z_m": -3}}, "site.profile", "folds back at point 6"),
    ({"site__edges__1__z_m": -7.0}, "site.edges[1].z_m", "under the ground"),
    ({"site__load_at": {"x_m": 25, "z_m": -40}}, "site.load_at.z_m", "under the ground"),
    ({"site__load_at": {"x_m": 99, "z_m": 0}}, "site.load_at.x_m", "no ground is entered"),
    ({"site__load_at": {"x_m": -1, "z_m": 2}}, "site.load_at.x_m", "straight below it"),
    ({"site__profile__3__z_m": 1.0}, "anchors[0].point.z_m", "under the ground"),
    ({"site__edges__1__protection": "rough-rock"}, "site.edges[1].protection", "bare ground"),
    ({"features__0__rating_n": {"low": 5, "expected": 4, "high": 9}}, "features[0].rating_n", "out of order"),
    ({"features__0__basis": " "}, "features[0]", "basis"),
    (
        {"anchors__0__alternatives__0__legs__0__feature": "oak"},
        "anchors[0].alternatives[0].legs[0].feature",
        "'oak', which is not listed",
    ),
    ({"lines__0__haul__bends": {"Q": "carabiner"}}, "lines[0].haul", "where no rope bends"),
    ({"lines__0__haul__bends": {"G": "gold"}}, "lines[0].haul.bends.G", "catalogue of bends"),
    ({"ropes__0__length_m": float("inf")}, "ropes[0].length_m", "number"),
    ({"team__haulers": 2.5}, "team.haulers", "whole number"),
    ({"rules__anchors_ratio": 0.5}, "rules.anchors_ratio", "1"),
    ({"schema_version": 5}, "schema_version", "4"),
    ({"colour": "red"}, "colour", "unknown field"),
    ({"lines__0__lowering__spin": 1}, "lines[0].lowering.spin", "unknown field"),
]


@pytest.mark.parametrize(("change", "path", "said"), WRONG)
def test_each_wrong_field_is_named_with_what_would_be_right(change, path, said):
    with pytest.raises((ValidationError, Refused)) as caught:
        analyse(Plan.model_validate(changed(one_rope_document(), **change)))
    faults = caught.value.faults if isinstance(caught.value, Refused) else faults_of(caught.value)
    assert path in [fault.path for fault in faults]
    assert said in " ".join(f"{fault.problem} {fault.right}" for fault in faults)
    assert all(fault.right for fault in faults)


def test_every_fault_is_named_not_only_the_first():
    document = changed(one_rope_document(), colour="red", load__items__0__mass_kg=-1, ropes__0__length_m=0)
    with pytest.raises(ValidationError) as caught:
        Plan.model_validate(document)
    assert {fault.path for fault in faults_of(caught.value)} == {"colour", "load.items[0].mass_kg", "ropes[0].length_m"}


def test_the_command_line_analyses_a_plan_and_prints_its_schema(capsys):
    assert main(["analyse", str(DEMO)]) == 0
    report = json.loads(capsys.readouterr().out)
    assert [one["id"] for one in report["states"]][:3] == ["held", "lowering", "lowering-hands-off"]
    assert main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "Plan"


def test_bad_plans_on_the_command_line_end_with_status_2_and_no_trace(tmp_path, capsys):
    bad = tmp_path / "bad.json"
    for content in ("{", "[]", "7", json.dumps(changed(one_rope_document(), colour="red"))):
        bad.write_text(content)
        assert main(["analyse", str(bad)]) == 2
        error = capsys.readouterr().err
        assert error.strip()
        assert "Traceback" not in error


def test_a_document_survives_being_written_and_read():
    plan = Plan.model_validate(one_rope_document())
    assert Plan.model_validate_json(plan.model_dump_json()) == plan
