"""A rescue played at a table: what happens in it, by seed, at steps that it could happen in; what answers it, and for how long nobody did."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

from rigging.document import Plan
from rigging.procedures.operation import Operation, Planned

# So many things happen in one, where so many can.
HAPPENS = 6
# Within a step it comes after a share of what the step takes, but no later than this.
_EARLY, _LATE, _LATEST_S = 0.1, 0.5, 60.0
# No two things happen sooner after one another.
_APART_S = 30.0


@dataclass(frozen=True)
class Kind:
    """Something that happens: `id` of the contingency that is gone through then; whether a good leader stops for it; what else answers it, by the
    log's kinds of entries; `fits`: the steps that it could happen in."""

    id: str
    stops: bool
    answered_by: frozenset[str]
    fits: Callable[[Plan, Planned], bool]


@dataclass(frozen=True)
class Happening:
    """Something that is to happen: of which kind, from which step on, so many seconds into it, in which steps it could, and what it is about (a feature, who
    guards it)."""

    kind: str
    step: str
    after_s: float
    fits: tuple[str, ...]
    feature: str = ""
    guard: str = ""


@dataclass(frozen=True)
class Entry:
    """An entry of the log as far as it answers anything: seconds since the run began, its kind, the contingency that it is of, what it says."""

    at_s: float
    kind: str
    contingency: str = ""


@dataclass(frozen=True)
class Met:
    """A thing that happened, when; after how long somebody did something about it (None: nobody did), by which kind of entry, and whether its own
    contingency was gone through."""

    happening: Happening
    at_s: float
    met_after_s: float | None
    by: str
    gone_through: bool


def _hangs(plan: Plan, one: Planned) -> bool:
    return not one.rests.state.grounded and not one.step.found.state.grounded


def _raised(plan: Plan, one: Planned) -> bool:
    return _hangs(plan, one) and "raising" in one.motions


def _lowered(plan: Plan, one: Planned) -> bool:
    return _hangs(plan, one) and "lowering" in one.motions


def _on_a_hitch(plan: Plan, one: Planned) -> bool:
    return _hangs(plan, one) and any(item.kind == "hitch" and item.engaged for _, item in one.rests.state.items())


def _guarded(plan: Plan, one: Planned) -> bool:
    return _hangs(plan, one) and bool(_guards(plan))


def _joined(plan: Plan, one: Planned) -> bool:
    return _raised(plan, one) and any(rope.joins for rope in plan.ropes)


def _guards(plan: Plan) -> list[tuple[str, str]]:
    """Features that an anchor in use is fastened to and somebody guards, by id, with who."""
    used = [plan.feature(leg.feature) for anchor in plan.anchors for leg in anchor.arrangement.legs]
    return [(one.id, one.guard) for one in used if one.guard.strip()]


KINDS = {
    one.id: one
    for one in (
        Kind("heavy", True, frozenset({"stop"}), _raised),
        Kind("creeps", True, frozenset({"stop"}), _on_a_hitch),
        Kind("guard-gone", True, frozenset({"stop", "here"}), _guarded),
        Kind("worse", False, frozenset({"decision"}), _hangs),
        Kind("stuck-join", True, frozenset({"stop"}), _joined),
        Kind("light-lost", False, frozenset({"decision", "stop"}), _hangs),
        Kind("anchor-moves", True, frozenset({"stop"}), _hangs),
        Kind("wind", True, frozenset({"decision", "stop"}), _hangs),
        Kind("rope-end", True, frozenset({"stop"}), _lowered),
    )
}


def scheduled(plan: Plan, operation: Operation, seed: int) -> tuple[Happening, ...]:
    """What happens in an operation, in the order of its steps: those that can, the first kinds before the others, no two in one step where there are
    steps enough. The same for the same seed."""
    luck = random.Random(f"table-top {seed}")
    steps = operation.steps
    found: list[Happening] = []
    taken: set[str] = set()
    for kind in KINDS.values():
        fits = tuple(one.key for one in steps if kind.fits(plan, one))
        if not fits or len(found) == HAPPENS:
            continue
        free = [key for key in fits if key not in taken] or list(fits)
        key = luck.choice(free)
        taken.add(key)
        found.append(_happening(plan, kind, next(one for one in steps if one.key == key), fits, luck))
    order = {one.key: place for place, one in enumerate(steps)}
    return tuple(sorted(found, key=lambda one: (order[one.step], one.after_s)))


def _happening(plan: Plan, kind: Kind, step: Planned, fits: tuple[str, ...], luck: random.Random) -> Happening:
    after = round(min(_LATEST_S, luck.uniform(_EARLY, _LATE) * step.seconds.expected), 1)
    feature, guard = "", ""
    if kind.id == "guard-gone":
        feature, guard = luck.choice(_guards(plan))
    elif kind.id == "anchor-moves":
        feature = luck.choice([leg.feature for anchor in plan.anchors for leg in anchor.arrangement.legs])
    return Happening(kind.id, step.key, after, fits, feature, guard)


def due(
    happenings: Sequence[Happening],
    told: Iterable[int],
    order: Sequence[str],
    at: str,
    for_s: float,
    quiet_s: float = math.inf,
) -> int | None:
    """The number of what happens now, with a run at a step for so many seconds, and as many since something happened last; None where nothing does. What its
    step went by without comes in the next that it fits."""
    if at not in order or quiet_s < _APART_S:
        return None
    here, past = order.index(at), set(told)
    for number, one in enumerate(happenings):
        if number in past or one.step not in order or at not in one.fits:
            continue
        if order.index(one.step) < here or (one.step == at and for_s >= one.after_s):
            return number
    return None


def met(happened: Iterable[tuple[Happening, float]], entries: Sequence[Entry]) -> Iterator[Met]:
    """Of each thing that happened, what was done about it. An entry answers what it speaks of, or else everything that is open when it is written."""
    for one, at_s in happened:
        kind = KINDS[one.kind]
        after = [entry for entry in entries if entry.at_s >= at_s]
        own = next((entry for entry in after if entry.contingency == one.kind), None)
        other = next((entry for entry in after if not entry.contingency and entry.kind in kind.answered_by), None)
        first = min((entry for entry in (own, other) if entry), key=lambda entry: entry.at_s, default=None)
        yield Met(one, at_s, None if first is None else first.at_s - at_s, first.kind if first else "", own is not None)
