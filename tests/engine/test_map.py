"""What the map says of adding a thing is so: one of each, added to a copy of the house in as many files as it says, and asked for."""

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from rigging.catalogue import catalogue
from tests.plans import ROOT

# What is written where: files of the copy with what is added at their end, or in place of a mark.
SYSTEM = """id: nine-to-try
name: "9:1 to try"
nodes: {A: anchor, G: grab, H: grab, L: load}
ropes:
  - [L, G]
  - [G, A, G, H]
  - [H, A, H, hand]
"""
CHECK = '''"""A rope named twice as long as anybody carries."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.found import Found
from rigging.study.place import AtPlace


class VeryLong(Found, topic="geometry"):
    length_m: float


def find(here: AtPlace) -> Iterator[VeryLong]:
    for rope in here.plan.ropes:
        if rope.length_m > 55:
            yield VeryLong(level="look", about="load", key=rope.id, length_m=rope.length_m)
'''
WORDS = """

def very_long(found, plan, say):
    return f"A rope of {say.length(found.length_m)}: who carries it?", "Two shorter ones."
"""
SCHEME = """id: both-ways
name: Held both ways
legs: [2]
tight: true
what: Two legs against each other.
look: Both tight.
spots: {one: {kind: anchor, x_m: -2, y_m: 0}, other: {kind: anchor, x_m: 2, y_m: 0}}
laid: [[sling, one, other]]
"""
VERB = """

def look_twice(state, edit):
    return state
"""


@pytest.fixture
def house(tmp_path):
    """A copy of the house that can be added to: files are counted as they are written."""
    shutil.copytree(ROOT / "rigging", tmp_path / "rigging", ignore=shutil.ignore_patterns("__pycache__", "tables.*"))
    shutil.copytree(ROOT / "demo", tmp_path / "demo")
    return tmp_path


def add(house: Path, file: str, text: str, instead_of: str = "") -> None:
    path = house / "rigging" / file
    there = path.read_text(encoding="utf-8") if path.exists() else ""
    assert instead_of in there
    path.write_text(there.replace(instead_of, text, 1) if instead_of else there + text, encoding="utf-8")


def asked(house: Path, code: str) -> str:
    demo = house / "demo" / "alder-gill.json"
    told = subprocess.run(
        [sys.executable, "-c", f"demo = open({str(demo)!r}).read()\n{code}"],
        cwd=house, env={**os.environ, "PYTHONPATH": str(house)}, capture_output=True, text=True, timeout=120, check=False,
    )  # fmt: skip
    assert told.returncode == 0, told.stderr
    return told.stdout


def said() -> dict[str, int]:
    """How many files each thing takes, as the map has it."""
    rows = re.findall(r"^\| (an? [^|]+) \| (\d) \|", (ROOT / "docs/map.md").read_text(encoding="utf-8"), re.M)
    return {what: int(files) for what, files in rows}


# By what is added: the files that it touches, and what the house then says.
ADDED = {
    "a haul system": (
        {"catalogue/systems/nine-to-try.yaml": (SYSTEM, "")},
        "from rigging.catalogue import catalogue\nprint(catalogue().systems['nine-to-try'].name)",
        "9:1 to try",
    ),
    "a scheme of anchors": (
        {"catalogue/schemes/both-ways.yaml": (SCHEME, "")},
        "import json\nfrom rigging.document import Plan\nfrom rigging.telling.anchors.report import study\nplan = json.loads(demo)\n"
        "way = plan['anchors'][0]['alternatives'][0]\nway.update(scheme='both-ways', legs=[{**one, 'pretension_n': None} for one in way['legs'][:2]])\n"
        "told = study(Plan.model_validate(plan), 'lowering', only=way['id']).arrangements[0]\n"
        "print(told.scheme, [one.text for one in told.findings if 'pretension' in one.text], told.available)",
        "has no pretension: the point moves until it is tight.",
    ),
    "a check": (
        {"checks/ropes/very_long.py": (CHECK, ""), "telling/words/ropes.py": (WORDS, "")},
        "from rigging.document import Plan\nfrom rigging.telling.check.sheet import check\n"
        "print([one.text for one in check(Plan.model_validate_json(demo)).lines])",
        "who carries it?",
    ),
    "a verb of procedures": (
        {
            "procedures/edits/people.py": (VERB, ""),
            "procedures/edits/__init__.py": ('"look twice": people.look_twice, "guard": people.guard', '"guard": people.guard'),
        },
        "from rigging.procedures.edits import VERBS\nprint('look twice' in VERBS)",
        "True",
    ),
    "a procedure": (
        {"procedures/steps/breathe.yaml": ("id: breathe\nname: Stop and breathe\nsteps:\n  - {who: [leader], do: All stop.}\n", "")},
        "from rigging.procedures.run import known\nprint(known()['breathe'].name)",
        "Stop and breathe",
    ),
}  # fmt: skip


@pytest.mark.parametrize("what", ADDED)
def test_one_more_of_each_takes_as_many_files_as_the_map_says_and_is_there(house, what):
    files, code, answer = ADDED[what]
    assert len(files) == said()[what]
    assert answer not in asked(house, code) if what == "a check" else True
    for file, (text, instead_of) in files.items():
        add(house, file, text, instead_of)
    assert answer in asked(house, code)


def test_no_code_of_the_house_knows_a_scheme_by_its_name():
    """But for what older documents were written as."""
    names = re.compile(rf"scheme.{{0,20}}[\"'](?:{'|'.join(catalogue().schemes)})[\"']")
    knowing = [path.name for path in (ROOT / "rigging").rglob("*.py") if names.search(path.read_text(encoding="utf-8"))]
    assert knowing == ["versions.py"]


@pytest.mark.parametrize(("what", "table"), [("a device", "devices"), ("a knot", "knots"), ("a rope", "ropes")])
def test_one_more_line_of_the_catalogue_is_offered(house, what, table):
    """An entry under another id: known, and chosen by."""
    assert said()[what] == 1
    path = house / "rigging" / "catalogue" / f"{table}.yaml"
    line = next(row for row in path.read_text(encoding="utf-8").splitlines() if row.startswith("- {id: "))
    add(
        house,
        f"catalogue/{table}.yaml",
        re.sub(r"id: [^,]+, name: (\"[^\"]*\"|[^,]+)", "id: one-more, name: One more", line) + "\n",
    )
    assert "One more" in asked(
        house, f"from rigging.catalogue import catalogue\nprint(catalogue().{table}['one-more'].name)"
    )


def test_a_check_without_its_words_does_not_start(house):
    add(house, "checks/ropes/very_long.py", CHECK)
    with pytest.raises(AssertionError, match="very_long"):
        asked(house, "import rigging.telling.words")
