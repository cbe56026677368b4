"""What is kept is what would be worked out anew: no two questions that differ in a number share an answer."""

import copy
import os
import random
import subprocess
import sys
from contextlib import suppress
from typing import Any

import numpy as np
import pytest
from pydantic import ValidationError

from rigging.anchors.failure import peaks
from rigging.anchors.rig import rig_anchor
from rigging.anchors.states import Swing, all_states
from rigging.document import Plan
from rigging.judging.pulls import pulling
from rigging.lines.every_state import solve_all
from rigging.lines.solve import Solved
from rigging.quantities.faults import Refused
from rigging.quantities.kept import forgotten
from tests.drawn import drawn_catalogue
from tests.engine.test_random_plans import leaves, other, put
from tests.frames import STANDS
from tests.plans import ROOT, changed, demo_document


def answers(plan: Plan) -> list[str]:
    """All that is kept of a plan's anchors under a load that is raised, as text to its last digit."""
    solved = solve_all(plan)[1].get("raising")
    found = []
    for anchor in plan.anchors if isinstance(solved, Solved) else []:
        arrangement = anchor.arrangement
        try:
            rig = rig_anchor(plan, arrangement)
            pull = pulling(plan, anchor, arrangement, solved)
            if pull is not None and rig.count > 1:
                told = all_states(rig, pull.asked, Swing(arrangement.swing_rad)), peaks(rig, pull)
                with np.printoptions(threshold=10_000, precision=17):
                    found.append(repr(told))
        except Refused as refused:
            found.append(str(refused.faults))
    return found


def afresh(plan: Plan) -> list[str]:
    with forgotten():
        return answers(plan)


def turned(luck: random.Random, base: dict[str, Any], count: int) -> list[Plan]:
    """One plan with one number of its anchors or features otherwise each time."""
    found: list[Plan] = []
    paths = [
        row for row in leaves(base) if row[0][:1] in (("anchors",), ("features",)) and isinstance(row[1], float | int)
    ]
    while len(found) < count:
        document, (path, value) = copy.deepcopy(base), luck.choice(paths)
        put(document, path, other(luck, path, value, document))
        with suppress(ValidationError):
            found.append(Plan.model_validate(document))
    return found


def tight() -> dict[str, Any]:
    """The demo with its legs drawn tight."""
    return changed(demo_document(), **{f"anchors__0__alternatives__0__legs__{n}__pretension_n": 200 for n in range(3)})


@pytest.mark.parametrize("base", [tight(), STANDS, demo_document()], ids=["tight", "frame", "demo"])
def test_plans_changed_at_random_are_answered_as_if_nobody_had_asked_before(base):
    """Many that differ in one number, one after another: what was kept of one is never told of the next."""
    told = []
    for plan in turned(random.Random(5), base, 80):
        with suppress(Refused):
            told.append((plan, answers(plan)))
    for plan, now in told:
        assert now == afresh(plan)
    assert sum(len(now) for _, now in told) > 10


def test_each_number_of_an_anchor_counts():
    """One thing changed at a time, of an anchor with everything: each gives another answer than the last."""
    base = Plan.model_validate(demo_document())
    first = answers(base)
    here = "anchors__0__alternatives__0__"
    for change in (
        {here + "swing_rad": 0.4}, {here + "legs__0__pretension_n": 300}, {here + "legs__0__length_m": 9.0},
        {here + "point__x_m": -0.7}, {"load__items__0__mass_kg": 90.0}, {"features__0__z_m": 0.9},
    ):  # fmt: skip
        assert answers(Plan.model_validate(changed(demo_document(), **change))) != first, change
    assert answers(base) == first


def test_a_catalogue_of_other_values_is_another_question():
    frame = Plan.model_validate(STANDS)
    demo = Plan.model_validate(
        changed(demo_document(), anchors__0__alternatives__0__scheme="self-adjusting", anchors__0__alternatives__0__limit_m=None)
    )  # fmt: skip
    luck = random.Random(4)
    for plan in (demo, frame):
        first = answers(plan)
        with drawn_catalogue(luck):
            assert answers(plan) == afresh(plan) != first
        assert answers(plan) == first


def test_what_is_told_is_the_same_in_every_process():
    """Names of anchors in whatever order a process has its sets: report and check are the same to the letter."""
    script = (
        "import hashlib, sys; from pathlib import Path; from rigging.document import Plan; from rigging.procedures.compose import composed; "
        "from rigging.telling.check.sheet import check; from rigging.telling.work.operation import operation_report; "
        "plan = Plan.model_validate_json(Path(sys.argv[1]).read_bytes()); "
        "told = check(plan).model_dump_json() + operation_report(plan, composed(plan, {}, [])).model_dump_json(); "
        "print(hashlib.sha256(told.encode()).hexdigest())"
    )
    command = [sys.executable, "-c", script, str(ROOT / "demo" / "otter-brook-crossing.json")]
    told = {
        subprocess.run(
            command, env={**os.environ, "PYTHONHASHSEED": seed}, cwd=ROOT, capture_output=True, text=True, check=True
        ).stdout
        for seed in ("1", "2", "3")
    }
    assert len(told) == 1
