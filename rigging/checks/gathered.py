"""What all checks find: in one state, where the load is, and over the whole of a plan; each thing once, most urgent first."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import partial

from rigging.checks import CHECKS, Check
from rigging.checks.anchors import guard, inspection_rejects, overridden, rejected, temporary_last
from rigging.checks.anchors.made import Made, in_use
from rigging.checks.found import Found
from rigging.checks.holding.hands_alone import HandsAlone
from rigging.checks.holding.hands_off_lower import HandsOffLower
from rigging.checks.holding.hands_off_raise import HandsOffRaise
from rigging.checks.margins.unknown import Unknown
from rigging.lines.solve import Solved
from rigging.study.place import AtPlace
from rigging.study.whole import Study

# What may be otherwise where the load is elsewhere; how things are tied and who is named is asked once.
_ANYWHERE = [one for one in CHECKS.values() if one.kind.anywhere]


@dataclass(frozen=True)
class Listed:
    """One line of the check: what was found, asked of which place. `up_m`: how far up its way the load is there (None: where it starts)."""

    found: Found
    at: AtPlace
    up_m: float | None = None


def in_state(here: AtPlace, solved: Solved) -> list[Found]:
    """Everything to be heard about one state, most urgent first."""
    return here.once(("heard", solved.id), partial(_heard, here, solved, CHECKS.values()))


def _heard(here: AtPlace, solved: Solved, checks: Iterable[Check]) -> list[Found]:
    found = [one for check in checks if check.find_in_state for one in check.find_in_state(here, solved)]
    return sorted(found, key=lambda one: one.urgency)


def of_made(made: Made) -> Iterator[Found]:
    """Everything to be heard about how an arrangement is made."""
    for check in CHECKS.values():
        if check.find_made:
            yield from check.find_made(made)


def tied_to(made: Made) -> Iterator[Found]:
    """What is to be heard of the features that an arrangement is tied to, however it is laid out."""
    for check in (rejected, inspection_rejects, overridden, guard, temporary_last):
        yield from check.find_made(made)


def at_place(here: AtPlace) -> list[Listed]:
    """Everything found with the load where it is."""
    made = (one for arrangement in in_use(here.plan) for one in of_made(arrangement))
    return _gathered(Listed(one, here) for one in (*made, *_found(here, CHECKS.values())))


def _found(here: AtPlace, checks: Iterable[Check]) -> Iterator[Found]:
    for check in checks:
        if check.find:
            yield from check.find(here)
    for solved in here.solved.values():
        yield from (one for one in _heard(here, solved, checks) if not one.better and not _unsaid_bend(one))


def everywhere(study: Study) -> list[Listed]:
    """Everything found anywhere, where it is worst."""
    found = {one.found.id: one for one in at_place(study.start)}
    for there in study.places:
        for one in _gathered(Listed(one, there, there.up_m) for one in _found(there, _ANYWHERE)):
            if _worse(one.found, found.get(one.found.id)):
                found[one.found.id] = one
    over = [
        Listed(one, study.start, up_m)
        for check in CHECKS.values() if check.find_over for one, up_m in check.find_over(study)
    ]  # fmt: skip
    return _gathered([*found.values(), *over])


def _gathered(listed: Iterable[Listed]) -> list[Listed]:
    found: dict[str, Listed] = {}
    for one in listed:
        known = found.get(one.found.id)
        if known is None or one.found.urgency < known.found.urgency:
            found[one.found.id] = one
    rows = list(found.values())
    if any(isinstance(one.found, HandsAlone) for one in rows):
        # It says the same, and that nothing else is there either.
        rows = [one for one in rows if not isinstance(one.found, HandsOffLower | HandsOffRaise)]
    return sorted(rows, key=lambda one: one.found.urgency)


def _unsaid_bend(found: Found) -> bool:
    """A bend nobody spoke of is one thing to ask, not two: what sits there, and what that holds."""
    return isinstance(found, Unknown) and found.part.kind == "bend"


def _worse(found: Found, known: Listed | None) -> bool:
    """Whether what was found elsewhere says more than what is known of the same thing."""
    if known is None or found.urgency < known.found.urgency:
        return True
    return found.urgency == known.found.urgency and found.room < known.found.room * (1 - 0.01) - 1e-9
