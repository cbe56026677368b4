"""What wet, cold, age, edges and heat make of a plan: whether anybody said, what may not grip, what heats, what is loaded askew."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from rigging.catalogue import catalogue
from rigging.document import Line, Plan
from rigging.judging.found import Found, Level
from rigging.lines.solve import Solved
from rigging.lines.tied import HitchPlace, hitches_of
from rigging.quantities.ranges import Range
from rigging.site.conditions import FREEZES_C, condition

# Specific heat of aluminium and steel in J/(kg·K), and the share of a lower's heat that a device keeps, the rope and the air taking the rest.
_HEAT_J_PER_KG_K, _KEEPS_HEAT = 900.0, Range(0.1, 0.2, 0.5)
# From so much warmer nylon softens, slick cord sooner (sources: device-heat).
_SOFTENS_K, _SLICK_SOFTENS_K = 100.0, 60.0


def find_conditions(plan: Plan, states: Mapping[str, object]) -> Iterator[Found]:
    """Everything that the day and the age of things give to say."""
    yield from _day(plan)
    yield from _kit(plan)
    for line in plan.lines:
        for place in hitches_of(line):
            yield from _grips(plan, line, place)
        yield from _connectors(line)
    yield from _wire(plan)
    yield from _shared_device(plan)
    lowering = states.get("lowering")
    if isinstance(lowering, Solved):
        yield from _heats(plan, lowering)


def _day(plan: Plan) -> Iterator[Found]:
    day = plan.day
    if day.state is None and any(rope.state is None for rope in plan.ropes):
        yield Found("day-unsaid", "look", "load")
    if day.state == "wet" and day.temperature_c is not None and day.temperature_c <= FREEZES_C:
        yield Found("freezes", "look", "load", {"celsius": day.temperature_c})


def _kit(plan: Plan) -> Iterator[Found]:
    """One rule of age for everything of textile: slings and cords as ropes, where the plan ties with their like."""
    most = catalogue().tying.textile_years
    tied = {name for _, _, one in plan.arrangements() for leg in one.legs for name in (leg.material, leg.extension)}
    for number, item in enumerate(plan.kit):
        material = catalogue().slings[item.material]
        if material.fibre in ("metal", "timber") or item.age_years is None or item.age_years <= most:
            continue
        level: Level = "stop" if item.material in tied else "look"
        values = {"material": material.name, "length_m": item.length_m, "years": item.age_years, "most": most}
        yield Found("kit-too-old", level, "load", values, str(number))


def _grips(plan: Plan, line: Line, place: HitchPlace) -> Iterator[Found]:
    """A hitch or clamp that may not grip at all as wet, icy or muddy as it is."""
    state = place.made.state or plan.rope(line.rope).state
    if getattr(condition(state), place.hitch.form).low > 0:
        return
    about = f"{line.id}:{'ratchet' if place.place == 'capture' else place.place}"
    values = {"line": line.id, "place": place.place, "hitch": place.hitch.name, "state": condition(state).name}
    yield Found("may-not-grip", "stop", about, values, f"{line.id}:{place.place}")


def _connectors(line: Line) -> Iterator[Found]:
    connector = catalogue().connectors[line.load_connector]
    if line.load_connector_loaded != "along":
        keeps, _ = connector.loaded(line.load_connector_loaded)
        values = {"line": line.id, "what": connector.name, "loaded": line.load_connector_loaded, "keeps": keeps}
        yield Found("misloaded", "stop", "load", values, line.id)
    if not connector.locks:
        yield Found("gate-unlocked", "look", "load", {"line": line.id, "what": connector.name}, line.id)


def _wire(plan: Plan) -> Iterator[Found]:
    """Wire rope: no knot is tied in it, and no cord or cam grips it; what is made in wire is no knot for rope."""
    for line in plan.lines:
        metal = catalogue().ropes[plan.rope(line.rope).kind].fibre == "metal"
        if catalogue().knots[line.load_knot].wire != metal:
            values = {"line": line.id, "knot": catalogue().knots[line.load_knot].name, "metal": metal}
            yield Found("wire-knot", "stop", "load", values, line.id)
        for place in hitches_of(line) if metal else ():
            about = f"{line.id}:{'ratchet' if place.place == 'capture' else place.place}"
            values = {"line": line.id, "place": place.place, "hitch": place.hitch.name}
            yield Found("wire-grip", "stop", about, values, f"{line.id}:{place.place}")


def _shared_device(plan: Plan) -> Iterator[Found]:
    """One device for both ropes: if it goes, both go."""
    on = [line for line in plan.lines if line.lowering and catalogue().devices[line.lowering.device].both_ropes]
    if len(on) > 1:
        values = {"lines": [line.id for line in on], "what": catalogue().devices["twin-rope"].name}
        yield Found("shared-device", "stop", f"{on[0].id}:device", values)


def _heats(plan: Plan, lowering: Solved) -> Iterator[Found]:
    """A lower turns the load's weight times its height into heat: how much warmer the device gets for it, what touches it."""
    for forces in lowering.lines:
        of = forces.rig.line
        device = catalogue().devices[of.lowering.device] if of.lowering else None
        if device is None or device.mass_kg is None:
            continue
        fall, mass = forces.rig.way.rise_m, device.mass_kg
        load = forces.at_load
        joules = Range(*(max(0.0, force) * fall for force in (load.low, load.expected, load.high)))
        kept = _KEEPS_HEAT
        warmer = Range(
            joules.low * kept.low / (mass.high * _HEAT_J_PER_KG_K),
            joules.expected * kept.expected / (mass.expected * _HEAT_J_PER_KG_K),
            joules.high * kept.high / (mass.low * _HEAT_J_PER_KG_K),
        )
        slick = catalogue().ropes[plan.rope(of.rope).kind].slick
        most = _SLICK_SOFTENS_K if slick else _SOFTENS_K
        if warmer.expected > most:
            values = {
                "line": of.id,
                "device": device.name,
                "far_m": fall,
                "heat_j": joules,
                "warmer_k": warmer,
                "slick": slick,
            }
            yield Found("heats", "look", f"{of.id}:device", values, of.id)
