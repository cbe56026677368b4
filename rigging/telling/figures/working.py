"""The working behind every figure: formula, what was put in, what came out, and where it comes from.

A report carries figures, each with the id of its working; the working itself is told only where it is asked for. Rows
here and in the reports are written once and handed out; they are not frozen, for that costs a sixth of an analysis."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from rigging.catalogue import Source, origins_in
from rigging.quantities.ranges import Range
from rigging.quantities.symbols import Symbol


@dataclass(slots=True)
class Figure:
    """A computed quantity as a range, in SI `unit` ("N", "m", "" for a ratio); `working` is its working's id."""

    low: float
    expected: float
    high: float
    unit: str
    working: str

    @property
    def range(self) -> Range:
        return Range(low=self.low, expected=self.expected, high=self.high)


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
    sources: list[Source]


@dataclass(slots=True)
class Told:
    """What a figure tells of itself; `cases`: what makes it high and low, if not its state's own."""

    title: str
    formula: str
    symbols: list[Symbol] = field(default_factory=list)
    steps: list[Step] = field(default_factory=list)
    cases: tuple[str, str] | None = None


def step(text: str, value: Range, unit: str) -> Step:
    return Step(text, value.low, value.expected, value.high, unit)


KNOWN = ("the part is at the upper end of what is known of it", "it is at the lower end")
JUDGED = ("the part is at its strongest and the force at its least", "it is at its weakest and the force at its most")


@dataclass(slots=True)
class Asked:
    """The one working that is asked for, if any, and what was told of it."""

    id: str | None = None
    working: Working | None = None


@dataclass(slots=True)
class Trace:
    """Names the figures of one report or state; tells the working of the one that is asked for."""

    prefix: str
    high_when: str
    low_when: str
    asked: Asked

    def figure(self, key: str, value: Range, unit: str, tell: Callable[[], Told]) -> Figure:
        name = f"{self.prefix}/{key}"
        figure = Figure(value.low, value.expected, value.high, unit, name)
        if name == self.asked.id:
            told = tell()
            high_when, low_when = told.cases or (self.high_when, self.low_when)
            cited = origins_in(*(symbol.source for symbol in told.symbols))
            self.asked.working = Working(
                told.title, told.formula, told.symbols, told.steps, figure, high_when, low_when, cited
            )
        return figure
