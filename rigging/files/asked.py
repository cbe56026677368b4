"""What reading a file says besides what it found: how it was understood, and what has to be asked."""

from __future__ import annotations

from dataclasses import dataclass

from rigging.quantities.faults import Fault, Refused

# As many rows are named as somebody would go through.
MOST_FAULTS = 50


@dataclass(frozen=True)
class Offer:
    """One way to answer, in words."""

    value: str
    label: str


@dataclass(frozen=True)
class Ask:
    """Something that the file does not tell: the `setting` that answers it, and how it can be answered (none: anything of its kind)."""

    setting: str
    question: str
    offers: tuple[Offer, ...] = ()


@dataclass(frozen=True)
class RowRead:
    """A row as it stands, by its number in the file; `faulty`: something in it is wrong."""

    row: int
    cells: tuple[str, ...]
    faulty: bool


def not_too_many(faults: list[Fault]) -> list[Fault]:
    """The first faults, and how many there are besides."""
    rest = len(faults) - MOST_FAULTS
    if rest <= 0:
        return faults
    return [
        *faults[:MOST_FAULTS],
        Fault("file", f"{rest} more rows are at fault", "mend these first, then read it again"),
    ]


def refused(faults: list[Fault]) -> Refused:
    return Refused(not_too_many(faults))
