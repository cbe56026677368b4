"""No figure is outside what is told: every input drawn inside its range, the whole plan worked out anew, every figure of every
report looked for in the range that was told before any of it was known.

The oracle is the engine itself with every range a point, so it checks the bounds, not the model; that is what the other
checks of this folder are for."""

import random
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from pydantic import ValidationError

from rigging.document import Plan
from rigging.lines.solve import LineForces, Solved
from rigging.lines.tension_line import along_line
from rigging.lines.whole_way import whole_way
from rigging.mechanics.bounds import chosen_corners, cloud, every_corner, least_size
from rigging.mechanics.motion import solve_motion
from rigging.mechanics.network import Network, Pass, Rope
from rigging.mechanics.tension import corner_rows, solve_rows
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range, exactly
from rigging.telling.anchors import study
from rigging.telling.plan import analyse
from tests.drawn import drawn_catalogue, drawn_plan
from tests.engine.test_random_plans import changed_at_random
from tests.plans import demo_document, demo_plan

# The last digits of sums and searches.
SLACK = 2e-4


def figures(told: Any, path: str = "") -> Iterator[tuple[str, float, float]]:
    """Every figure of a report: where it stands, low and high."""
    if isinstance(told, dict):
        if {"low", "expected", "high"} <= set(told):
            yield f"{path}|{told.get('working', '')}", told["low"], told["high"]
            return
        name = told.get("id", "")
        for key, value in told.items():
            yield from figures(value, f"{path}.{name}.{key}" if isinstance(name, str) else f"{path}.{key}")
    elif isinstance(told, list):
        for number, value in enumerate(told):
            key = value.get("id", number) if isinstance(value, dict) else number
            yield from figures(value, f"{path}[{key}]")


def outside(told: dict[str, tuple[float, float]], now: dict[str, tuple[float, float]]) -> list[str]:
    """Figures that are not inside what was told of them."""
    found = []
    for name, (low, high) in now.items():
        if name in told:
            least, most = told[name]
            room = SLACK * max(abs(least), abs(most)) + 0.05
            if low < least - room or high > most + room:
                found.append(f"{name}: {low:.4f} to {high:.4f}, told {least:.4f} to {most:.4f}")
    return found


def everything(plan: Plan) -> dict[str, tuple[float, float]]:
    """Every figure of the sheet, the anchors, the whole way and the tension lines."""
    found: dict[str, tuple[float, float]] = {}

    def add(name: str, rows: Iterator[tuple[str, float, float]]) -> None:
        found.update({f"{name}:{where}": (low, high) for where, low, high in rows})

    report = analyse(plan)
    add("sheet", figures(report.model_dump(mode="json")))
    state = next((one.id for one in report.states if one.available), "held")
    add("anchors", figures(study(plan, state, directions=5).model_dump(mode="json")))
    for line in plan.lines[:1]:
        for place in whole_way(plan, line, 4).places:
            for job in place.jobs:
                pulls = place.pulls(job)
                for name in ("pull_n", "hand_n", "working_point_n"):
                    one = getattr(pulls, name)
                    found[f"way:{place.run_m:.2f}:{job}:{name}"] = (one.low, one.high)
    for line in plan.tension_lines:
        for number, at in enumerate(along_line(plan, line, 5)):
            for name in ("sag_m", "tension_n", "tag_n", "clear_m"):
                if (one := getattr(at, name)) is not None:
                    found[f"line:{line.id}:{number}:{name}"] = (one.low, one.high)
            for name in ("near", "far"):
                size = getattr(at, name).size
                found[f"line:{line.id}:{number}:{name}"] = (size.low, size.high)
    return found


def asked(plan: Plan) -> dict[str, tuple[float, float]] | None:
    try:
        return everything(plan)
    except Refused:
        return None


@pytest.mark.parametrize("seed", range(4))
def test_the_demo_holds_whatever_its_inputs_turn_out_to_be(seed):
    luck, plan = random.Random(seed), demo_plan()
    told = everything(plan)
    assert len(told) > 400
    for _ in range(12):
        with drawn_catalogue(luck):
            now = everything(drawn_plan(luck, plan))
        assert outside(told, now) == []
