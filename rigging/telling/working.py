"""The trace behind every figure: formula, what was put in, what came out, and where it comes from.

Rows here and in the report are written once and handed out; they are not frozen, for that costs a sixth of an analysis."""

from __future__ import annotations

from dataclasses import dataclass

from rigging.quantities.ranges import Range


@dataclass(slots=True)
class Figure:
    """A computed quantity as a range, in SI `unit` ("N", "m", "" for a ratio); `working` is its trace's id."""

    low: float
    expected: float
    high: float
    unit: str
    working: str

    @property
    def range(self) -> Range:
        return Range(low=self.low, expected=self.expected, high=self.high)


@dataclass(slots=True)
class Symbol:
    """A symbol of the formula with its value and origin (`source`: id in the catalogue's sources)."""

    symbol: str
    meaning: str
    low: float
    expected: float
    high: float
    unit: str
    source: str


@dataclass(slots=True)
class Step:
    """An intermediate result."""

    text: str
    low: float
    expected: float
    high: float
    unit: str


@dataclass(slots=True)
class Working:
    """How one figure came about. `high_when` and `low_when` name the case behind each end of the range."""

    title: str
    formula: str
    symbols: list[Symbol]
    steps: list[Step]
    result: Figure
    high_when: str
    low_when: str


def symbol(name: str, meaning: str, value: Range | float, unit: str, source: str) -> Symbol:
    if isinstance(value, Range):
        return Symbol(name, meaning, value.low, value.expected, value.high, unit, source)
    return Symbol(name, meaning, value, value, value, unit, source)


def step(text: str, value: Range, unit: str) -> Step:
    return Step(text, value.low, value.expected, value.high, unit)


KNOWN = ("the part is at the upper end of what is known of it", "it is at the lower end")
JUDGED = ("the part is at its strongest and the force at its least", "it is at its weakest and the force at its most")


class Trace:
    """Collects the workings of one report or phase. `cases` says in words what makes figures high and low."""

    def __init__(self, prefix: str, high_when: str, low_when: str):
        self.workings: dict[str, Working] = {}
        self._prefix, self._high_when, self._low_when = prefix, high_when, low_when

    def traced(self, key: str) -> Figure | None:
        """The figure recorded under this key, if there is one."""
        working = self.workings.get(f"{self._prefix}/{key}")
        return working.result if working else None

    def figure(
        self,
        key: str,
        title: str,
        value: Range,
        unit: str,
        formula: str,
        symbols: list[Symbol],
        steps: list[Step] | None = None,
        cases: tuple[str, str] | None = None,
    ) -> Figure:
        """Record a figure with its working and return it. `cases`: what makes it high and low, if not the phase's."""
        name = f"{self._prefix}/{key}"
        result = Figure(value.low, value.expected, value.high, unit, name)
        high_when, low_when = cases or (self._high_when, self._low_when)
        self.workings[name] = Working(title, formula, symbols, steps or [], result, high_when, low_when)
        return result
