"""An alarm of a load cell in words: what was read, and what it probably is."""

from __future__ import annotations

from rigging.quantities.units import Wording
from rigging.readings.places import Along, Place
from rigging.readings.watch import Alarm
from rigging.site.load import GRAVITY


def alarm_text(along: Along, where: Place, name: str, alarm: Alarm, say: Wording | None = None) -> str:
    """What a cell found, and what it is like."""
    say = say or Wording()
    now, before = say.force(max(alarm.force_n, 0.0)), say.force(max(alarm.level_n, 0.0))
    if alarm.kind == "silence":
        return f"{name} has said nothing for {alarm.rate_n_min:.1f} s. Cell, its battery or its connection; until it is back, hands and eyes"
    if alarm.kind == "unit":
        sent = alarm.unit.removeprefix("1/")
        way = (
            f"sent in {sent} as if it were newtons"
            if not alarm.unit.startswith("1/")
            else f"sent in newtons as if it were {sent}"
        )
        return f"{name} reads as if it were {way}: taken as {now} from now on. Say its unit, or look where it hangs"
    if alarm.kind == "sign":
        return f"{name} reads pulls as pushes: taken the other way round, {now}, from now on. Turn it, or say that it reads the other way"
    if alarm.kind == "frozen":
        return f"{name} has read {now} to the last digit for {alarm.rate_n_min:.0f} s: it may be frozen. Until it moves again, hands and eyes"
    if alarm.kind == "creep":
        way = "loses" if alarm.rate_n_min < 0 else "takes on"
        return f"{name} {way} {say.force(abs(alarm.rate_n_min))} a minute while nothing moves. As if an anchor crept: mark it, look at its other legs"
    if alarm.kind == "shock":
        return f"{name} read a shock of {now}, {before} before. What was caught by it is looked at before it is loaded again"
    if alarm.kind == "outside":
        side = "below" if alarm.force_n < alarm.level_n else "above"
        return f"{name} stands at {now}, {side} what was worked out ({before}). Friction, weight or rigging is not as planned, or the cell's unit is not as said"
    return f"{name} rose from {before} to {now}. {_like(along, where, alarm, say)}"


def _like(along: Along, where: Place, alarm: Alarm, say: Wording) -> str:
    jammed, up = along.at(where, "jammed"), along.band(where, "raising")
    # It is said while it still rises: past the middle between coming up and stuck it is taken for stuck.
    if jammed and up and alarm.force_n >= (up.high + jammed.low) / 2:
        return f"As if the load stood still: stuck, {say.force(jammed)} is predicted there"
    resting = along.halfway.solver.resting
    weight_n = resting.mass_kg.expected * GRAVITY if resting else 0.0
    if up and alarm.level_n > 0.5 * up.low and weight_n:
        more = (alarm.force_n / alarm.level_n - 1) * weight_n / GRAVITY
        return f"As if rope or load were caught at an edge, or about {round(more, -1):.0f} kg more had come on"
    return "As if rope or load were caught somewhere"
