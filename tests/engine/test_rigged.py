"""What a rig card says is rigged: everything of the plan that somebody has to tie, clip or lay is in it."""

import json

import pytest

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.telling.work.rigged import rigged
from tests.plans import ROOT


@pytest.mark.parametrize("file", sorted((ROOT / "demo").glob("*.json")), ids=lambda one: one.stem)
def test_every_tie_rope_knot_and_part_of_the_demos_plans_is_told_once_in_the_order_of_the_work(file):
    plan = Plan.model_validate(json.loads(file.read_text(encoding="utf-8")))
    told = rigged(plan)
    assert len(told) == len(plan.anchors) + len(plan.site.edges) + len(plan.lines) + len(plan.tension_lines)
    known = catalogue()
    for anchor, text in zip(plan.anchors, told, strict=False):
        assert text.startswith(anchor.name)
        for leg in anchor.arrangement.legs:
            for words in (plan.feature(leg.feature).name, known.slings[leg.material].name):
                assert words.lower() in text.lower(), words
    whole = " ".join(told).lower()
    for line in plan.lines:
        wanted = [
            known.ropes[plan.rope(line.rope).kind],
            known.knots[line.load_knot],
            known.connectors[line.load_connector],
        ]
        if line.lowering:
            wanted.append(known.devices[line.lowering.device])
        if line.haul:
            wanted += [known.bends[one] for one in line.haul.bends.values()]
            wanted += [known.hitches[one] for one in (line.haul.grab, line.haul.capture) if one]
        for one in wanted:
            assert one.name.lower() in whole, one.name
