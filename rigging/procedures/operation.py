"""What an operation is: sections of steps with the people that each asks for, and what is lacking."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from rigging.document import Plan
from rigging.lines.whole_way import Job, WholeWay
from rigging.procedures.asked import Asked
from rigging.procedures.edits.edit import Edit
from rigging.procedures.run import ProcedureGiven, Step
from rigging.procedures.state import State
from rigging.quantities.faults import Fault
from rigging.quantities.ranges import Range, exactly

_NO_TIME = exactly(0.0)
_MOVES: dict[str, Job] = {"haul": "raising", "lower": "lowering"}


@dataclass(frozen=True)
class Asks:
    """What a step asks of people: each duty with who has it (None: nobody is left), and the haul team: needed and there."""

    duties: dict[str, str | None]
    haul_needed: int = 0
    haul_there: int = 0
    haul: tuple[str, ...] = ()

    @property
    def missing(self) -> tuple[str, ...]:
        """Duties that nobody is left for; `haul` where too few can pull."""
        short = ("haul",) if self.haul_needed > self.haul_there else ()
        return (*(duty for duty, who in self.duties.items() if who is None), *short)


@dataclass(frozen=True)
class Task:
    """A piece of the set-up: `minds` has it by preference, `after` are the pieces that must be there before."""

    id: str
    minds: str
    after: tuple[str, ...] = ()


@dataclass(frozen=True)
class Lies:
    """What somebody found before a step that the plan has otherwise; the faults, where that can no longer be so."""

    edits: tuple[Edit, ...]
    done: bool = False
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class Planned:
    """A step of the operation: `key` names it across changes of the plan; metres of rope that come in and go out in it, and that the load is drawn
    along a tension line; `runs_m`: places of
    the load in it, from where it begins to where it ends, in metres up its way; `seconds`: how long it takes, `takes`: what of the catalogue's
    minutes it is, which expects `by_catalogue_s` of it. `task`: of the set-up, which
    piece of work it is. `lies`: what was found before it. `there`: the same step with the load where its section ends, where it is made after the load has moved there."""

    key: str
    step: Step
    asks: Asks
    up_m: float = 0.0
    down_m: float = 0.0
    across_m: float = 0.0
    runs_m: tuple[float, ...] = (0.0,)
    seconds: Range = _NO_TIME
    takes: str = ""
    by_catalogue_s: float = 0.0
    task: Task | None = None
    lies: tuple[Lies, ...] = ()
    there: Step | None = None

    @property
    def rests(self) -> Asked:
        """The rig after it, with the load where it then is."""
        return (self.there or self.step).after

    @property
    def halfway_m(self) -> float:
        """Where the load is halfway through it, in metres up its way."""
        return self.runs_m[len(self.runs_m) // 2]

    @property
    def moved(self) -> list[tuple[str, float]]:
        """Its hauls, lowers and ways along a tension line that were made, with the metres that they were asked about at."""
        edits = [one.edit for one in self.step.made if one.asked is not None]
        return [(edit.verb, float(edit.values.get("by_m", 0.0))) for edit in edits if edit.verb in (*_MOVES, "travel")]

    @property
    def motions(self) -> tuple[Job, ...]:
        """What the load does in it."""
        return tuple(dict.fromkeys(_MOVES[verb] for verb, _ in self.moved if verb in _MOVES))


@dataclass(frozen=True)
class Unmade:
    """Why a section has no steps: there is no such procedure; it begins with a rig (`needs`) that the one before does not leave (`found`); or
    the plan has not what it asks for."""

    kind: Literal["unknown", "found", "refused"]
    needs: str = ""
    found: str = ""
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class Branch:
    """What is done instead of a section, and when, in the leader's words."""

    id: str
    when: str
    section: Section


@dataclass(frozen=True)
class Section:
    """A stretch of the work: a procedure at one place of it; `at_m` metres of its job done when it begins, `number` of `count` where
    it is one haul of several; `there`: the plan with its load where it begins; the rig that it `begins` with, and what that is called which it
    leaves (`rig`, "" where more of the same follows); its `place` among those that the leader arranged."""

    id: str
    procedure: str
    name: str
    steps: tuple[Planned, ...]
    there: Plan
    job: Job | None = None
    at_m: float | None = None
    number: int = 1
    count: int = 1
    why: str = ""
    unmade: Unmade | None = None
    begins: State | None = None
    rig: str = ""
    place: int = 0
    instead: tuple[Branch, ...] = ()


@dataclass(frozen=True)
class Lacks:
    """What can not be done with the people there, in which steps, and what would make it possible."""

    duty: str
    keys: tuple[str, ...]
    needed: int
    there: int
    would: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True)
class Operation:
    sections: tuple[Section, ...]
    lacks: tuple[Lacks, ...] = field(default=())
    way: WholeWay | None = None
    # What the team has of its own, by id.
    own: Mapping[str, ProcedureGiven] = field(default_factory=dict)
    # Where it begins, and the rig that it finds there.
    begins: str = "ground"
    finds: str = "ground"

    @property
    def steps(self) -> list[Planned]:
        return [one for section in self.sections for one in section.steps]
