"""What the day leaves of hands, edges, ropes and hitches: wet, icy and muddy as shares of dry, and the cold.

Where nobody has said what it is like, figures are for dry; the check says so."""

from __future__ import annotations

from rigging.catalogue import Condition, Fibre, SlingMaterial, catalogue
from rigging.document import Plan
from rigging.document.site import Condition as Name
from rigging.quantities.ranges import Range, exactly, times

# Below this hands are cold, and what is wet freezes.
COLD_C, FREEZES_C = 5.0, 0.0


def condition(state: Name | None) -> Condition:
    """The shares of a condition, those of dry where nobody said."""
    return catalogue().conditions[state or "dry"]


def wet_strength(fibre: Fibre, state: Name | None) -> Range:
    """Share of its dry strength that a textile keeps: nylon loses some, others none."""
    return condition(state).nylon if fibre == "nylon" else exactly(1.0)


def strand_n(sling: SlingMaterial, state: Name | None) -> Range:
    """Strength of one strand of webbing, sling or cord as it is."""
    return times(sling.strand_n, wet_strength(sling.fibre, state))


def sling_ea_n(sling: SlingMaterial, state: Name | None) -> Range:
    """Stiffness EA of one strand as it is."""
    return times(sling.ea_n, condition(state).stretch) if sling.fibre == "nylon" else sling.ea_n


def slower(plan: Plan) -> Range:
    """How much longer everything takes today than by day, warm and dry; where nobody said what it is like, perhaps as long, perhaps by much."""
    day, by = plan.day, catalogue().people.slower
    if (day.state or "dry") != "dry" or (day.temperature_c is not None and day.temperature_c < COLD_C):
        return by
    return exactly(1.0) if day.state and day.temperature_c is not None else Range(1.0, 1.0, by.high)


def hand_hold_n(plan: Plan) -> Range:
    """What one gloved hand holds for long today, in newtons."""
    people, day = catalogue().people, plan.day
    cold = people.cold_hand if day.temperature_c is not None and day.temperature_c < COLD_C else exactly(1.0)
    return times(people.hand_hold_n, condition(day.state).hand, cold)


def sustained_n(plan: Plan) -> Range:
    """What one hauler gives for long today: as was entered, else as people do on such footing."""
    return _pull(plan, plan.team.sustained_n, catalogue().people.sustained_n)


def heave_n(plan: Plan) -> Range:
    """What one hauler gives in a heave today."""
    return _pull(plan, plan.team.heave_n, catalogue().people.heave_n)


def _pull(plan: Plan, entered: float | None, usual: Range) -> Range:
    return exactly(entered) if entered is not None else times(usual, condition(plan.day.state).pull)
