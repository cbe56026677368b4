"""The published schema and the program say the same of a plan: what one accepts the other accepts, by two validators that know nothing of it."""

import copy
import json
import random
import subprocess

import pytest
from jsonschema import Draft202012Validator
from pydantic import ValidationError

from rigging.document import Plan
from rigging.document.schema import plan_schema
from rigging.quantities.faults import faults_of
from tests.plans import ROOT, demo_document

COUNT = 300
AJV = """
const Ajv = require("ajv/dist/2020").default ?? require("ajv/dist/2020");
const given = JSON.parse(require("fs").readFileSync(0, "utf8"));
const valid = new Ajv({ strict: false, allErrors: false, validateFormats: false }).compile(given.schema);
process.stdout.write(JSON.stringify(given.plans.map((one) => valid(one))));
"""
# What the schema's description leaves to words: by what the program says of it.
ACROSS = (
    "not listed", "which is not there", "no arrangement of this anchor", "have the id", "is on no line", "same end of rope", "folds back", "may weigh nothing",
    "out of order", "turns do not make", "no rope reaches node", "does not list", "where no rope bends", "no anchor of the system", "must hold one rope end",
    "can not be made with a sewn loop", "a frame's leg stands on its foot", "stand on feet", "past the rope's", "both ends of the line", "two bags",
    "has a pull of its own", "own working point", "no mechanism", "does not move", "does not hold together", "moves in more than one way", "names the rope",
)  # fmt: skip


def places(value, path=()):
    yield path, value
    rows = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, one in rows:
        yield from places(one, (*path, key))


def mutated(document, luck):
    found = copy.deepcopy(document)
    (*above, last), value = luck.choice([one for one in places(found) if one[0] and one[0] != ("schema_version",)])
    whole = found
    for key in above:
        whole = whole[key]
    strange = [None, -1, 0, 1e9, True, "60", "", [], {}, "none-such", [None], {"a": 1}]
    how = luck.randrange(6)
    if how == 0:
        del whole[last]
    elif how == 1 and isinstance(value, dict):
        value["strange"] = 1
    elif how == 2 and isinstance(value, int | float):
        whole[last] = luck.choice([-value, value * 1e4, value + 0.5, str(value)])
    elif how == 3 and isinstance(value, list):
        whole[last] = value * luck.choice([0, 30])
    elif how == 4 and isinstance(value, str):
        whole[last] = luck.choice(
            [value + "x", value * 200, *(one for _, one in places(document) if isinstance(one, str))]
        )
    else:
        whole[last] = luck.choice(strange)
    return found


def accepted(document):
    """Whether the program takes a plan; None where it refuses only what no schema can say."""
    try:
        Plan.model_validate(document)
    except ValidationError as error:
        return None if all(any(one in str(fault) for one in ACROSS) for fault in faults_of(error)) else False
    return True


@pytest.fixture(scope="module")
def plans():
    luck = random.Random(25)
    bases = [
        demo_document() | {"schema_version": 4},
        *(json.loads(file.read_text()) for file in sorted((ROOT / "demo").glob("*.json"))),
    ]
    bases = [one for one in bases if isinstance(one, dict) and one.get("schema_version") == 4]
    assert len(bases) >= 3
    return [mutated(luck.choice(bases), luck) for _ in range(COUNT)]


def test_program_and_schema_agree_on_three_hundred_plans_with_something_wrong(plans):
    schema = plan_schema()
    Draft202012Validator.check_schema(schema)
    by_jsonschema = [Draft202012Validator(schema).is_valid(one) for one in plans]
    ran = subprocess.run(
        ["node", "-e", AJV],
        input=json.dumps({"schema": schema, "plans": plans}),
        capture_output=True,
        text=True,
        cwd=ROOT / "web",
        check=True,
    )
    by_ajv = json.loads(ran.stdout)
    ours = [accepted(one) for one in plans]
    wrong = [n for n, one in enumerate(ours) if by_jsonschema[n] != by_ajv[n] or (one is not None and one != by_ajv[n])]
    assert not wrong, [(n, ours[n], by_jsonschema[n], by_ajv[n]) for n in wrong]
    assert ours.count(True) > 30 and ours.count(False) > 100


def test_the_schema_says_what_it_is_and_which_ids_there_are():
    schema = plan_schema()
    assert schema["$schema"].startswith("https://json-schema.org/") and schema["$id"].startswith("urn:")
    assert "larch" not in json.dumps(schema)
    assert "figure-eight-loop" in schema["$defs"]["Line"]["properties"]["load_knot"]["enum"]
    assert "Besides what stands here" in schema["description"]
    assert "x-catalogue" not in json.dumps(schema)


@pytest.mark.parametrize("value", [True, "60"])
def test_a_number_is_a_number(value):
    document = demo_document()
    document["load"]["items"][0]["mass_kg"] = value
    with pytest.raises(ValidationError) as caught:
        Plan.model_validate(document)
    assert [one.path for one in faults_of(caught.value)] == ["load.items[0].mass_kg"]
