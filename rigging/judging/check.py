"""The last look before loading: everything a careful leader asks, of every state, as data.

Each state says what it holds on, what is behind it and what happens hands off; every part is taken away in turn; what is
found is gathered from all states, each thing once, most urgent first."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from rigging.anchors.rig import rig_anchor
from rigging.anchors.states import prop_force
from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.judging.anchoring import find_anchors
from rigging.judging.conditions import find_conditions
from rigging.judging.found import URGENCY, Found, Level
from rigging.judging.frames import find_frames
from rigging.judging.geometry import find_geometry
from rigging.judging.judged import Judged
from rigging.judging.knots import find_knots
from rigging.judging.legs_gone import Outcome, legs_gone
from rigging.judging.margins import Part, weakest_of
from rigging.judging.parts import tied_behind
from rigging.judging.people import find_people
from rigging.judging.release import find_release
from rigging.judging.removal import Gone, Standing
from rigging.judging.spans import find_spans
from rigging.lines.catch import Caught
from rigging.lines.rig import anchor_node
from rigging.lines.solve import Missing, Solved
from rigging.mechanics.holds import HANDS
from rigging.quantities.ranges import Range

Topic = Literal["parts", "hands-off", "margins", "jam", "release", "geometry", "ground"]
# States whose parts are taken away: in the others hands are off, the load is stuck or something has gone already.
_WORKING = ("held", "lowering", "raising", "between-hauls")
# Findings that another line of the check says better, or only a single state's sheet needs.
_SAID_ELSEWHERE = frozenset({"weakest", "hand-fits", "nothing-holds", "nothing-catches"})
# A loss by which the load goes further than this is said, whatever holds it then.
_LOSS_M = 1.0
# Three times the fall that a belay is tried with.
_FAR_M = 3.0
_LEG_LEVELS: dict[Outcome, Level] = {"gives": "stop", "nothing": "stop", "unknown": "unknown", "below": "look"}
_TOPICS: dict[str, Topic] = {
    **dict.fromkeys(("single", "loss", "shared-device", "shared-plate", "shared-feature", "shares-feature", "nothing-catches", "caught", "does-not-stop", "reaches-ground",
                     "belay-test", "falls", "leg-goes"), "parts"),
    **dict.fromkeys(("hands-off-lower", "hands-off-raise", "hands-alone", "unminded", "brake-unminded", "belay-unminded", "two-jobs",
                     "not-there", "belay-by-hands", "guard"), "hands-off"),
    **dict.fromkeys(("below", "slips-under-load", "unknown", "hand-too-much", "may-not-run", "no-slide", "anchor-fails", "cap", "no-cap",
                     "cap-defeated", "worse-than-straight", "unsaid", "hardest-place", "damage-in-pull", "rejected", "inspection-rejects", "overridden", "drum-unsaid", "temporary-last"), "margins"),
    **dict.fromkeys(("step-refused", "place-refused", "too-few-people"), "ground"),
    **dict.fromkeys(("gives-first", "people-ceiling", "too-few-haulers"), "jam"),
    **dict.fromkeys(("join-on-way", "releases", "release-missing", "release-tied", "capture-release"), "release"),
    **dict.fromkeys(("edge-nobody", "untied", "tied-to-load", "people-below", "below-unsaid", "way-short", "way-long", "way-unsaid", "no-reset",
                     "way-crossed", "span-low", "span-ground"), "ground"),
    **dict.fromkeys(("bitten", "span-fails", "span-single", "span-below", "span-slips", "span-unlimited", "frame-tips", "frame-may-tip", "frame-by-guys", "frame-stands", "breaks-first", "crowded", "too-old", "worn", "may-not-grip", "wire-knot", "wire-grip", "kit-too-old", "misloaded", "material-short", "prop-weak", "gate-unlocked", "stood", "creeps", "unlike", "heats"), "margins"),
    **dict.fromkeys(("day-unsaid", "freezes"), "ground"),
}  # fmt: skip


@dataclass(frozen=True)
class Row:
    """One state of the sheet: asked with its hands on, and its weakest part; `missing` where it can not be. `up_m`: how far up its way the
    load is where that part is so weak (None: where it starts)."""

    state: str
    standing: Standing | None
    weakest: Part | None
    missing: Missing | None = None
    up_m: float | None = None


@dataclass(frozen=True)
class Line:
    """One line of the check: what was found, under which head, and in which state it is worst. `up_m`: how far up its way the load is where
    it was found, `of` the check of the plan there (None: where the load starts)."""

    found: Found
    topic: Topic
    state: str
    up_m: float | None = None
    of: Check | None = field(default=None, compare=False, repr=False)

    @property
    def id(self) -> str:
        return self.found.id


class Check:
    """One judged plan, checked."""

    def __init__(self, judged: Judged):
        self.judged, self.plan = judged, judged.plan

    @cached_property
    def rows(self) -> list[Row]:
        """Every state that has hands on it or needs none, in the order of the work."""
        if self._tight_alone:
            return []
        return [self._row(id, one) for id, one in self.judged.states.items() if not one.moment.hands_off]

    @property
    def _tight_alone(self) -> bool:
        """Whether the plan is a tension line and nothing else: then no load is held on a line of its own."""
        return not self.judged.given.lines and bool(self.judged.given.tension_lines)

    def _row(self, id: str, one: Any) -> Row:
        if not isinstance(one, Solved):
            return Row(id, None, None, one if isinstance(one, Missing) else None)
        return Row(id, self.standings[id], weakest_of(self.judged.parts[id]))

    @cached_property
    def standings(self) -> dict[str, Standing]:
        """Every state that can be, asked what holds."""
        solver = self.judged.solver
        return {id: Standing(solver, one.moment) for id, one in self.judged.states.items() if isinstance(one, Solved)}

    @cached_property
    def lines(self) -> list[Line]:
        """Everything found, each thing once, most urgent first."""
        return gathered(self._all())

    def _all(self) -> list[Line]:
        judged, plan = self.judged, self.plan
        if self._tight_alone:
            given = judged.given
            rows = [*find_anchors(given), *find_spans(given), *find_conditions(given, {}), *find_people(given, None)]
            return [line_of(one, "") for one in (*judged.general, *rows)]
        found = [line_of(one, "") for one in find_anchors(plan)]
        found += [*self._parts(), *self._losses(), *self._props(), *self._legs(), *self._margins(), *self._school()]
        for state, rows in judged.found.items():
            found += [line_of(one, state) for one in rows if one.kind not in _SAID_ELSEWHERE and not _unsaid_bend(one)]
        raising = judged.states.get("raising")
        geometry = find_geometry(plan, judged.solver.ways, raising if isinstance(raising, Solved) else None)
        found += [
            line_of(one, "")
            for one in (
                *judged.general,
                *geometry,
                *find_knots(plan, judged.solver.ways),
                *find_release(plan),
                *find_conditions(plan, judged.states),
            )
        ]
        frames = find_frames([one for one in judged.states.values() if isinstance(one, Solved)], judged.anchors)
        found += [line_of(one, one.values["state"]) for one in frames]
        found += [line_of(one, "") for one in find_spans(plan)]
        found += [line_of(one, "raising") for one in find_people(plan, judged.hauling)]
        return found

    # Every part taken away

    def _parts(self) -> list[Line]:
        """States that hold on nothing or on hands alone; parts without which nothing holds, each once."""
        found: list[Line] = []
        singles: dict[str, tuple[str, str, list[str]]] = {}
        for id in _WORKING:
            standing = self.standings.get(id)
            if standing is None:
                continue
            if standing.found.drop_m is None:
                found.append(line_of(Found("falls", "stop", "load", {}, id), id))
                continue
            for part in standing.single():
                if part == HANDS:
                    found.append(line_of(Found("hands-alone", "stop", "hand", {"state": id}, id), id))
                    continue
                thing = thing_of(standing, part)
                singles.setdefault(thing, (id, part, []))[2].append(id)
        for line in by_hands(self.plan):
            found.append(line_of(Found("belay-by-hands", "look", f"{line}:belay", {"line": line}, line), "held"))
        for thing, (id, part, states) in singles.items():
            found.append(line_of(self._single(thing, part, id, states), id))
        return [*found, *self._tied_twice(set(singles))]

    def _tied_twice(self, alone: set[str]) -> Iterator[Line]:
        """A feature that several lines' anchors are tied to, where it is not all that they hang on."""
        bearing: dict[str, list[str]] = {}
        for id in dict.fromkeys(line.anchor for line in self.plan.lines):
            for leg in self.plan.anchor(id).arrangement.legs:
                bearing.setdefault(leg.feature, []).append(id)
        for feature, anchors in bearing.items():
            if len(set(anchors)) > 1 and f"feature:{feature}" not in alone:
                values = {"feature": feature, "anchors": list(dict.fromkeys(anchors))}
                yield line_of(Found("shares-feature", "look", f"feature:{feature}", values, feature), "held")

    def _losses(self) -> list[Line]:
        """Every part whose loss lets the load go further before something holds: onto what, how hard, past what."""
        worst: dict[str, Line] = {}
        for id in _WORKING:
            standing = self.standings.get(id)
            if standing is None or standing.found.drop_m is None:
                continue
            for part in standing.parts:
                far = None if part == HANDS else standing.further(part)
                if far is None or far < _LOSS_M:
                    continue
                gone = standing.gone(part)
                thing = thing_of(standing, part)
                bears_n = self._bears(gone)
                values = {"part": part, "state": id, "gone": gone, "what": thing, "bears": bears_n}
                level = _loss_level(gone, bears_n)
                line = line_of(Found("loss", level, part, values, thing), id)
                if thing not in worst or _urgency(line) < _urgency(worst[thing]):
                    worst[thing] = line
        return list(worst.values())

    def _bears(self, gone: Gone) -> float | None:
        """What the least of a catching line and its anchor bears, in newtons; None where nothing is known of them."""
        lines = {one.partition(":")[0] for one in gone.onto}
        nodes = [f"anchor:{line.anchor}:" for line in self.plan.lines if line.id in lines]
        mine = (*(f"{line}:" for line in lines), *nodes)
        rows = [part for parts in self.judged.parts.values() for part in parts if part.id.startswith(mine)]
        known = [part.strength_n.low for part in rows if part.gives == "breaks" and part.strength_n is not None]
        return min(known, default=None)

    def _props(self) -> list[Line]:
        """The pole under a floating point, judged like any other part, where it bears most."""
        worst: dict[str, Line] = {}
        for (id, name), state in self.judged.anchors.items():
            anchor = self.plan.anchor(name)
            prop = anchor.arrangement.prop
            if prop is None or state.states is None or id == "jammed" or id.startswith("goes:"):
                continue
            bears = prop_force(rig_anchor(self.plan, anchor.arrangement), state.asked)
            if bears.high < 1.0 or prop.holds_n.low / bears.high >= self.plan.rules.others_ratio:
                continue
            values = {"anchor": name, "bears": bears, "holds": prop.holds_n, "target": self.plan.rules.others_ratio}
            line = line_of(Found("prop-weak", "stop", f"anchor:{name}:point", values, name), id)
            if name not in worst or bears.high > worst[name].found.values["bears"].high:
                worst[name] = line
        return list(worst.values())

    def _legs(self) -> list[Line]:
        """Each leg of each anchor taken away, where the anchor is pulled hardest."""
        found = []
        for anchor in self.plan.anchors:
            pulled = [
                (state.force_n.high, id, state)
                for (id, name), state in self.judged.anchors.items()
                if name == anchor.id and id in _WORKING
            ]
            if not pulled:
                continue
            _, id, state = max(pulled, key=lambda row: row[0])
            solved = self.judged.states[id]
            assert isinstance(solved, Solved)
            for gone in legs_gone(self.plan, anchor, state, solved):
                level = _LEG_LEVELS.get(gone.outcome)
                if level is not None:
                    index = gone.leg.line.index
                    about = f"{anchor_node(anchor.id)}:leg:{index}"
                    values = {"anchor": anchor.id, "leg": gone}
                    found.append(line_of(Found("leg-goes", level, about, values, f"{anchor.id}:{index}"), id))
        return found

    def _single(self, thing: str, part: str, state: str, states: list[str]) -> Found:
        """One thing alone: where several ropes hang on it, it is named as what they share."""
        gone = self.standings[state].gone(part)
        values = {"part": part, "state": state, "states": states, "gone": gone, "what": self._what(thing)}
        bearing = [line.id for line in self.plan.lines if anchor_node(line.anchor) == part]
        if part.startswith("feature:"):
            return Found("shared-feature", "stop", part, {**values, "feature": part.removeprefix("feature:")}, part)
        if len(bearing) > 1:
            return Found("shared-plate", "stop", part, {**values, "lines": bearing}, part)
        return Found("single", "stop", part, values, thing)

    def _what(self, thing: str) -> str:
        """What the thing is made of: an acceptance holds as long as it stays that."""
        line = next((one for one in self.plan.lines if thing.startswith(f"{one.id}:")), None)
        if line is None:
            return thing
        place = thing.removeprefix(f"{line.id}:")
        made = {
            "rope": self.plan.rope(line.rope).kind, "device": line.lowering.device if line.lowering else "",
            "brake": line.lowering.brake_hitch if line.lowering else "", "ratchet": line.haul.capture if line.haul else "",
            "belay": line.belay.what if line.belay else "",
        }  # fmt: skip
        return made.get(place) or (line.haul.bends.get(place, line.haul.grab) if line.haul else place)

    # Margins, by the school in force

    def _margins(self) -> list[Line]:
        """Every part below the rule, once, where it is worst; what slips under the load itself."""
        worst: dict[str, tuple[float, str, Part]] = {}
        for id, parts in self.judged.parts.items():
            if id == "jammed":
                continue
            for part in parts:
                if part.verdict == "below" and part.margin is not None:
                    share = part.margin.low / part.target
                    if part.id not in worst or share < worst[part.id][0]:
                        worst[part.id] = (share, id, part)
        return [self._below(id, part) for _, id, part in worst.values()]

    def _below(self, state: str, part: Part) -> Line:
        assert part.margin is not None
        caught = isinstance(self.judged.states[state], Caught)
        under = part.gives == "slips" and part.margin.low < 1 and not caught
        # Under the peak of a catch no rule of the team speaks: it is loud only where the part may break.
        level: Literal["stop", "look"] = "look" if caught and part.margin.low >= 1 else "stop"
        values = {"part": part, "state": state, "school": self.plan.rules.school, "gone": self._slips(state, part)}
        return line_of(Found("slips-under-load" if under else "below", level, part.about, values, part.id), state)

    def _slips(self, state: str, part: Part) -> Gone | None:
        """What happens when a part that slips does."""
        standing = self.standings[state]
        return standing.gone(part.takes) if part.gives == "slips" and part.takes in standing.parts else None

    def _school(self) -> list[Line]:
        """Force limit: what slips first and at what force; what ties it off."""
        plan = self.plan
        if plan.rules.school != "force-limit":
            return []
        found: list[Line] = []
        slips: list[tuple[Range, Part, str]] = []
        for id, parts in self.judged.parts.items():
            for part in parts:
                if part.gives != "slips" or part.kind == "grab" or part.strength_n is None:
                    continue
                if tied_behind(plan, part):
                    line = part.takes.partition(":")[0]
                    found.append(
                        line_of(Found("cap-defeated", "stop", part.about, {"part": part, "line": line}, part.takes), id)
                    )
                else:
                    slips.append((part.strength_n, part, id))
        if not slips:
            return [*found, line_of(Found("no-cap", "stop", "load", {}), "held")]
        cap, part, id = min(slips, key=lambda row: row[0].high)
        values = {"part": part, "cap": cap, "margin": plan.rules.cap_margin}
        return [*found, line_of(Found("cap", "note", part.about, values), id)]


def thing_of(standing: Standing, part: str) -> str:
    """The thing that a part of a state's rig is of: pieces of one rope, a hitch and its cord, a device and its tie."""
    if part.startswith("tie of "):
        return thing_of(standing, part.removeprefix("tie of "))
    line, _, place = part.partition(":")
    if line in ("anchor", "feature"):
        return part
    if place.endswith(" cord"):
        belay = f"{line}:belay" in standing.lying.kinds
        return f"{line}:ratchet" if place == "ratchet cord" else f"{line}:belay" if belay else f"{line}:brake"
    if part in standing.lying.kinds:
        return part
    main = standing.rig.line(line).main
    return f"{line}:rope" if part in main or place.endswith(("behind", "tail")) else f"{line}:haul rope"


def line_of(found: Found, state: str) -> Line:
    return Line(found, _TOPICS.get(found.kind, "geometry"), state)


def _loss_level(gone: Gone, bears_n: float | None) -> Level:
    """A loss that ends on the ground or over an edge, that nothing stops, or that breaks what catches it, is stopped for."""
    if gone.further_m is None or gone.further_m > _FAR_M or {"ground", "edge"} & set(gone.meets):
        return "stop"
    if gone.caught is not None and (
        gone.caught.slid_m is None or (bears_n is not None and gone.caught.peak_n > bears_n)
    ):
        return "stop"
    return "look"


def gathered(lines: Iterable[Line]) -> list[Line]:
    """Lines, each thing once, most urgent first."""
    found: dict[str, Line] = {}
    for line in lines:
        known = found.get(line.id)
        if known is None or _urgency(line) < _urgency(known):
            found[line.id] = line
    order = list(found)
    if any(line.found.kind == "hands-alone" for line in found.values()):
        # It says the same, and that nothing else is there either.
        found = {id: one for id, one in found.items() if one.found.kind not in ("hands-off-lower", "hands-off-raise")}
    return sorted(found.values(), key=lambda line: (_urgency(line), order.index(line.id)))


def _unsaid_bend(found: Found) -> bool:
    """A bend nobody spoke of is one thing to ask, not two: what sits there, and what that holds."""
    return found.kind == "unknown" and found.values["part"].kind == "bend"


def _urgency(line: Line) -> int:
    return URGENCY.index(line.found.level)


def by_hands(plan: Plan) -> list[str]:
    """Belay lines that hold only while somebody holds them."""
    devices = catalogue().devices
    return [
        line.id for line in plan.lines
        if line.belay and line.belay.holds == "device" and not devices[line.belay.what].self_locking
    ]  # fmt: skip
