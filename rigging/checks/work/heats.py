"""A lower turns the load's weight times its height into heat: how much warmer the device gets for it, what touches it."""

from __future__ import annotations

from collections.abc import Iterator

from rigging.catalogue import catalogue
from rigging.checks.found import Found
from rigging.checks.mending import Mend, device, line_number
from rigging.document import Plan
from rigging.lines.solve import LineForces, Solved
from rigging.quantities.ranges import Range
from rigging.study.place import AtPlace


class Heats(Found, topic="margins", source="device-heat"):
    line: str
    device: str
    far_m: float
    warmer_k: Range
    slick: bool


def find(here: AtPlace) -> Iterator[Heats]:
    lowering = here.states.get("lowering")
    for forces in lowering.lines if isinstance(lowering, Solved) else ():
        of, heat = forces.rig.line, catalogue().tying
        made = catalogue().devices[of.lowering.device] if of.lowering else None
        if made is None or made.mass_kg is None:
            continue
        warmer = _warmer_k(forces, made.mass_kg)
        slick = catalogue().ropes[here.plan.rope(of.rope).kind].slick
        if warmer.expected > (heat.slick_softens_k if slick else heat.softens_k):
            yield Heats(
                level="look", about=f"{of.id}:device", key=of.id, line=of.id, device=made.name, far_m=forces.rig.way.rise_m, warmer_k=warmer,
                slick=slick,
            )  # fmt: skip


def _warmer_k(forces: LineForces, mass_kg: Range) -> Range:
    """The share of the lower's work that the device keeps, over its mass and specific heat."""
    fall, load, heat = forces.rig.way.rise_m, forces.at_load, catalogue().tying
    joules = Range(*(max(0.0, force) * fall for force in (load.low, load.expected, load.high)))
    kept, each = heat.device_keeps_heat, heat.device_j_per_kg_k
    return Range(
        joules.low * kept.low / (mass_kg.high * each), joules.expected * kept.expected / (mass_kg.expected * each),
        joules.high * kept.high / (mass_kg.low * each),
    )  # fmt: skip


def mends(found: Heats, plan: Plan) -> Iterator[Mend]:
    yield device(line_number(plan, found.line), "rack-5")
