"""The pole under a floating point, judged like any other part, where it bears most."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.anchors.rig import rig_anchor
from rigging.anchors.states import prop_force
from rigging.checks.found import Found
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class PropWeak(Found, topic="margins"):
    anchor: str
    bears_n: Range
    holds_n: Range
    target: float


def find(here: AtPlace) -> Iterator[PropWeak]:
    worst: dict[str, PropWeak] = {}
    for (id, name), state in here.anchors.items():
        arrangement = here.plan.anchor(name).arrangement
        prop, target = arrangement.prop, here.plan.rules.others_ratio
        if prop is None or state.states is None or id == "jammed" or id.startswith("goes:"):
            continue
        bears = prop_force(rig_anchor(here.plan, arrangement), state.asked)
        if bears.high < 1.0 or prop.holds_n.low / bears.high >= target:
            continue
        if name not in worst or bears.high > worst[name].bears_n.high:
            worst[name] = PropWeak(
                level="stop", about=f"anchor:{name}:point", key=name, state=id, anchor=name, bears_n=bears, holds_n=prop.holds_n,
                target=target,
            )  # fmt: skip
    yield from worst.values()
