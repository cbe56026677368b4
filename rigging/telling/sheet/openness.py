"""What is still open, for the rail; and the next open thing, in the order of the work, for a plan just begun."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.checks.gathered import in_state
from rigging.checks.holding import hands_off_lower
from rigging.document import Plan
from rigging.lines.parts import minded
from rigging.quantities.units import Wording
from rigging.site.features import estimate, kind_of, missing_answers
from rigging.study.place import AtPlace
from rigging.telling.figures.shapes import Finding, NextStep, StageOpen, StateReport
from rigging.telling.words import told

_NEEDED = ("held", "lowering", "raising", "between-hauls")


def open_items(
    plan: Plan, states: list[StateReport], general: list[Finding], here: AtPlace, say: Wording
) -> list[StageOpen]:
    """What each stage still leaves open."""
    open_yet = [f for f in general if f.level != "note"]
    size_up = [f.text for f in open_yet if not f.id.startswith("short") and ":leg:" not in f.about]
    lines = [f.text for f in general if f.id.startswith("short")]
    lines += [
        f"{state.why_not[0].upper()}{state.why_not[1:]}."
        for state in states
        if not state.available and state.id in _NEEDED and state.id in here.states and state.why_not
    ]
    lines += [
        told(one, plan, say)[0]
        for solved in here.solved.values()
        for one in in_state(here, solved)
        if one.level == "stop"
    ]
    anchors = [f.text for f in open_yet if ":leg:" in f.about]
    for state in here.anchors.values():
        anchors += [f"{leg.line.feature.name}: {leg.feature.why_not}." for leg in state.legs if leg.feature.why_not]
        anchors += list(state.faults)
    return [
        StageOpen("size-up", size_up), StageOpen("anchors", list(dict.fromkeys(anchors))), StageOpen("lines", list(dict.fromkeys(lines))),
    ]  # fmt: skip


def next_steps(here: AtPlace) -> list[NextStep]:
    """What is open before the rope can be loaded, first things first."""
    return list(_steps(here.judged.given, here))


def _steps(plan: Plan, here: AtPlace) -> Iterator[NextStep]:
    for anchor in plan.anchors:
        for leg in anchor.arrangement.legs:
            feature = plan.feature(leg.feature)
            if missing_answers(feature) and feature.rating_n is None:
                yield NextStep(
                    "anchors",
                    f"inspect:{feature.id}",
                    f"Inspect the {kind_of(feature).name.lower()} {feature.name}: nobody has said what it holds.",
                )
            elif estimate(feature).strength_n is None:
                yield NextStep("anchors", f"judge:{feature.id}", f"Judge {feature.name}: {estimate(feature).why_not}.")
    if not plan.lines and plan.tension_lines:
        return
    if not any(line.role in ("main", "haul") for line in plan.lines):
        yield NextStep("lines", "line", "Lay the main line: which rope, from which anchor.")
        return
    main = plan.line("main")
    if main and main.lowering is None:
        yield NextStep("lines", "lowering", "Choose what lowers: nothing holds the rope at the station yet.")
    if main and main.lowering and main.lowering.brake_hitch is None and _runs_free(here):
        yield NextStep(
            "lines", "brake-hitch", "Put a hitch on the brake side: if everybody lets go, nothing holds the load."
        )
    if not any(line.haul for line in plan.lines):
        yield NextStep("lines", "haul", "Choose what raises, for the way back up.")
    elif any(line.haul and line.haul.capture is None for line in plan.lines):
        yield NextStep("lines", "capture", "Put on a progress capture: between hauls the load hangs on hands.")
    elif any(line.haul and line.haul.capture and not minded(line.haul) for line in plan.lines):
        yield NextStep("lines", "minder", "Name who minds the ratchet.")
    if not any(line.role in ("belay", "second") for line in plan.lines):
        yield NextStep("lines", "belay", "Add a belay or a second rope: the main line is the one thing that holds.")


def _runs_free(here: AtPlace) -> bool:
    lowering = here.solved.get("lowering")
    return lowering is not None and any(hands_off_lower.find_in_state(here, lowering))
