"""A part of the load path, what it keeps, and its margin: lowest strength over highest force, against the team's rule."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from rigging.document import Rules
from rigging.quantities.ranges import Range
from rigging.quantities.symbols import Symbol, symbol

PEAK_RATIO = 2.0
Gives = Literal["breaks", "slips", "unknown", "unrated"]
Verdict = Literal["meets", "below", "unknown", "unrated"]
Kind = Literal[
    "load-connector", "load-knot", "join", "tied-out", "edge", "rope", "own-piece", "grab", "bend", "redirect", "device", "device-connector", "locked-device", "capture", "hitch",
    "belay", "cord", "clamp", "working-point", "attachment", "feature",
]  # fmt: skip


@dataclass(frozen=True)
class Part:
    """A part of the load path with the force on it.

    `thing` is its name in the catalogue or the document, `where` the place that tells it from others of its kind,
    `takes` the part of "what holds?" that it is. `strength_n` is None where nothing is rated or known; `why_not` then
    says why. `wants` is how many more strands would do, where strands would.
    """

    id: str
    kind: Kind
    thing: str
    where: str
    about: str
    takes: str
    anchor: bool
    force_n: Range
    strength_n: Range | None
    gives: Gives
    rule: str
    symbols: tuple[Symbol, ...]
    why_not: str = ""
    wants: int | None = None
    target: float = 0.0
    margin: Range | None = None
    verdict: Verdict = "unrated"

    def judged(self, target: float, margin: Range | None, verdict: Verdict) -> Part:
        """The same part, held against its target."""
        return Part(
            self.id, self.kind, self.thing, self.where, self.about, self.takes, self.anchor, self.force_n, self.strength_n,
            self.gives, self.rule, self.symbols, self.why_not, self.wants, target, margin, verdict,
        )  # fmt: skip


def rated(
    id: str, kind: Kind, thing: str, about: str, takes: str, force: Range, strength: Range, source: str, **more: str
) -> Part:
    """A part with a rating of its own, not judged yet."""
    rating = (symbol("S", "rating", strength, "N", source),)
    return Part(
        id, kind, thing, more.get("where", ""), about, takes, False, force, strength, "breaks", "rating", rating
    )


def judged(rules: Rules, part: Part, cap: Range | None) -> Part:
    """The part held against the rule of the school in force."""
    force_limit = rules.school == "force-limit"
    if part.gives == "slips":
        target = rules.slip_ratio
    elif force_limit:
        target = rules.cap_margin
    else:
        target = rules.anchors_ratio if part.anchor else rules.others_ratio
    if part.strength_n is None:
        return part.judged(target, None, "unknown" if part.gives == "unknown" else "unrated")
    against = part.force_n
    if force_limit and part.gives != "slips":
        if cap is None:
            return part.judged(target, None, "unknown")
        against = cap
    margin = margin_of(part.strength_n, against)
    below = margin is not None and margin.low < target - 1e-9
    return part.judged(target, margin, "below" if below else "meets")


def at_peak(part: Part) -> Part:
    """The part under the peak of a catch. No rule of the team covers that: below `PEAK_RATIO` it is said."""
    if part.strength_n is None:
        return part.judged(PEAK_RATIO, None, "unknown" if part.gives == "unknown" else "unrated")
    margin = margin_of(part.strength_n, part.force_n)
    # What slips under the peak does what it is there for: it caps it.
    below = margin is not None and margin.low < PEAK_RATIO - 1e-9 and part.gives != "slips"
    return part.judged(PEAK_RATIO, margin, "below" if below else "meets")


# A force below this is none that a margin could be told of, in newtons.
_LEAST_N = 1.0


def margin_of(strength: Range, force: Range) -> Range | None:
    """Strength over force: lowest over highest to highest over lowest; None where there is no force.

    A force that may vanish would make the upper end endless: below a newton it is taken as one.
    """
    if force.high <= 1e-9:
        return None
    low, expected, high = (max(one, _LEAST_N) for one in (force.low, force.expected, force.high))
    return Range(low=strength.low / high, expected=strength.expected / expected, high=strength.high / low)


def share_of_rule(part: Part | None) -> float:
    """A part's least margin over what the rule asks; endless where nothing is known of it."""
    return part.margin.low / part.target if part and part.margin and part.target else math.inf


def weakest_of(parts: list[Part]) -> Part | None:
    """The part with the least of its target: margin over what the rule asks."""
    known = [one for one in parts if one.margin is not None]
    return min(known, key=share_of_rule, default=None)
