"""Words by kind: a sentence for everything that the checks find, and what would mend it. Each in one place, with its values named.

`<room>.py` has a function for each kind of that room of checks; a kind without one is missed at import, not in the field."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import Any

from rigging.checks import CHECKS, Check
from rigging.checks.found import Found
from rigging.document import Plan
from rigging.quantities.units import Wording
from rigging.telling.figures.shapes import Finding
from rigging.telling.words.names import Pair


def _teller(check: Check) -> Callable[[Any, Plan, Wording], Pair]:
    teller: Callable[[Any, Plan, Wording], Pair] = getattr(
        import_module(f"{__name__}.{check.room}"), check.kind.kind.replace("-", "_")
    )
    return teller


_TELLERS = {kind: _teller(check) for kind, check in CHECKS.items()}


def finding_of(found: Found, plan: Plan, say: Wording) -> Finding:
    """A finding as it is read."""
    text, mend = told(found, plan, say)
    return Finding(found.id, found.level, text, mend, found.about)


def told(found: Found, plan: Plan, say: Wording) -> Pair:
    """A finding's sentence, and what would mend it."""
    return _TELLERS[found.kind](found, plan, say)
