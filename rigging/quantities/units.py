"""The unit boundary: SI inside, other units only where a person reads or types."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Literal

from rigging.quantities.ranges import Range

ForceUnit = Literal["kN", "kgf", "lbf"]
LengthUnit = Literal["m", "ft"]
FORCE_UNITS: dict[ForceUnit, str] = {"kN": "kilonewton", "kgf": "kilogram_force", "lbf": "pound_force"}
LENGTH_UNITS: dict[LengthUnit, str] = {"m": "metre", "ft": "foot"}


# The units of the sheet, as pint has them: reading its registry takes longer than a whole analysis.
_PLAIN = {"kilonewton": 1000.0, "metre": 1.0}


@cache
def si_value(unit: str) -> float:
    """One `unit` in SI base units."""
    plain = _PLAIN.get(unit)
    if plain is not None:
        return plain
    import pint

    return float(pint.UnitRegistry()(unit).to_base_units().magnitude)


def _figures(value: float) -> str:
    return f"{value:.0f}" if abs(value) >= 20 else f"{value:.1f}" if abs(value) >= 1 else f"{value:.2f}"


def span_text(low: str, high: str) -> str:
    return low if low == high else f"{low} to {high}"


@dataclass(frozen=True)
class Wording:
    """How forces and lengths are written in sentences."""

    force_unit: ForceUnit = "kN"
    length_unit: LengthUnit = "m"

    def force(self, value: float | Range) -> str:
        """A force given in newtons, with its unit; a range as a range."""
        one = si_value(FORCE_UNITS[self.force_unit])
        low, high = (value.low, value.high) if isinstance(value, Range) else (value, value)
        return f"{span_text(_figures(low / one), _figures(high / one))} {self.force_unit}"

    def length(self, value_m: float) -> str:
        return f"{_figures(value_m / si_value(LENGTH_UNITS[self.length_unit]))} {self.length_unit}"

    def length_range(self, value: Range) -> str:
        """A range of lengths given in metres, with its unit."""
        one = si_value(LENGTH_UNITS[self.length_unit])
        return f"{span_text(_figures(value.low / one), _figures(value.high / one))} {self.length_unit}"

    @staticmethod
    def ratio(value: float | Range) -> str:
        """A ratio as teams say it: 2.7, or 2.7 (2.5 to 2.9)."""
        if not isinstance(value, Range):
            return f"{value:.2f}" if value < 1 else f"{value:.1f}"
        low, middle, high = (Wording.ratio(part) for part in (value.low, value.expected, value.high))
        return middle if low == high else f"{middle} ({span_text(low, high)})"
