"""The people of an operation: who has which duty in a step, who is left to haul, and what they are too few for."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from rigging.catalogue import catalogue
from rigging.catalogue.haul import bends
from rigging.lines.parts import minded
from rigging.lines.people import haulers_needed
from rigging.mechanics.holds import HANDS
from rigging.procedures.asked import Asked
from rigging.procedures.begin import Ground
from rigging.procedures.operation import Asks, Lacks, Planned, Section
from rigging.procedures.run import Step, gives_of
from rigging.site.conditions import sustained_n

# The leader decides and does not pull; who writes has both hands full.
KEPT_FREE = frozenset({"leader", "writer"})
# Who holds in a rope team, and who comes to help: no roles that anybody has otherwise.
_ON_ROPE = ("arrester", "second")


class Crew:
    """The people there: who has which duty, and who is left to haul."""

    def __init__(self, ground: Ground):
        self.plan = ground.plan
        self.people = {one.name: one.role for one in self.plan.team.people}
        # Of a rope everybody works, whoever leads; what a step says somebody hauls, they haul themselves.
        self.rope_team = self.plan.operation.begins in ("arrested", "belayed")
        self.on_rope = dict(zip(_ON_ROPE, self.people, strict=False)) if self.rope_team else {}
        self.kept_free = frozenset[str]() if self.rope_team or len(self.people) == 1 else KEPT_FREE
        named = sum(role in ("haul", "other") for role in self.people.values())
        # Haulers who are there but not named.
        self.others = max(0, self.plan.team.haulers - named)
        haul, belay = ground.line("raising").haul, self.plan.line("belay")
        self.minds_ratchet = bool(haul and haul.capture) and not (
            haul and minded(haul) and not haul.capture_minder.strip()
        )
        holds = belay.belay if belay else None
        self.minds_belay = (
            holds is not None
            and holds.holds != "tied"
            and not (holds.holds == "device" and catalogue().devices[holds.what].self_locking)
        )

    def asks(self, procedure: str, step: Step) -> Asks:
        """Everybody that a step needs at once: those it names, and those who can not leave their place meanwhile."""
        absent = {"haul"} if self.plan.line("belay") else {"haul", "belay"}
        wanted = [role for role in step.given.who if role not in absent] + self._standing(procedure, step.after)
        duties: dict[str, str | None] = {}
        free = dict(self.people)
        for role in dict.fromkeys(wanted):
            who = self.on_rope.get(role) or next((name for name, has in free.items() if has == role), None)
            duties[role] = who
            if who is not None:
                del free[who]
        for role, who in duties.items():
            if who is None and role not in _ON_ROPE:
                spare = next((name for name, has in free.items() if has in ("other", "haul")), None)
                spare = spare or next((name for name, has in free.items() if has not in self.kept_free), None)
                if spare is not None:
                    del free[spare]
                duties[role] = spare
        unnamed = self.others - sum(who is None for who in duties.values())
        duties = self._by_others(duties)
        pulling = tuple(name for name, has in free.items() if has not in self.kept_free)
        if self.rope_team and step.hands:
            pulling = (*(who for role in step.given.who if (who := duties.get(role))), *pulling)
        needed = step.hands.haulers if step.hands else 1 if "haul" in step.given.who else 0
        return Asks(duties, needed, len(pulling) + max(0, unnamed), pulling)

    def _by_others(self, duties: dict[str, str | None]) -> dict[str, str | None]:
        """Duties that somebody who is there without a name can take."""
        left = self.others
        found: dict[str, str | None] = {}
        for role, who in duties.items():
            takes = who is None and left > 0
            left -= takes
            found[role] = "one of the haulers" if takes else who
        return found

    def _standing(self, procedure: str, after: Asked) -> list[str]:
        """Duties that go on while something else is done."""
        loaded = not after.state.grounded
        up = procedure in ("raise", "knot-pass-raising", "straight-lift")
        hauling = after.state.stroke_m is not None
        found = ["main"] if loaded and not hauling and HANDS in after.on and not self.rope_team else []
        found += ["belay"] if loaded and self.minds_belay else []
        found += ["ratchet"] if loaded and up and self.minds_ratchet else []
        return found + (["edge"] if loaded and self.plan.site.edges and not self.rope_team else [])


def lacks(ground: Ground, sections: Iterable[Section]) -> Iterator[Lacks]:
    """Each thing that is missing, once, with the steps that it is missing in."""
    short: dict[str, list[Planned]] = {}
    for section in sections:
        for one in section.steps:
            for duty in one.asks.missing:
                short.setdefault(duty, []).append(one)
    for duty, rows in short.items():
        worst = max(rows, key=lambda one: one.asks.haul_needed - one.asks.haul_there)
        keys = tuple(one.key for one in rows)
        if duty == "haul":
            there = worst.asks.haul_there
            yield Lacks(duty, keys, worst.asks.haul_needed, there, tuple(_lighter(ground, _hardest_n(rows), there)))
        else:
            yield Lacks(duty, keys, 1, 0)


def _hardest_n(rows: Iterable[Planned]) -> float:
    """The hardest pull of those on the haul, the system whole."""
    hands = [one.step.hands.hand_n for one in rows if one.step.hands and one.step.given.pulls == "haul"]
    return max(hands, default=0.0)


def _lighter(ground: Ground, hand_n: float, there: int) -> Iterator[tuple[str, int]]:
    """Systems of the catalogue that as many as are there could haul, on the best of what sits at the bends now; the least
    advantage first."""
    haul = ground.line("raising").haul
    if not hand_n or haul is None or there < 1:
        return
    shelf = catalogue().bends
    best = max(
        (shelf[kind] for kind in haul.bends.values()), key=lambda one: one.eta.expected, default=shelf["carabiner"]
    )
    mine = gives_of(haul.system, haul.bends)
    rows = []
    for system in catalogue().systems.values():
        gives = gives_of(system, {place.id: best.id for place in bends(system)})
        people = haulers_needed(
            hand_n * mine.actual.expected / gives.actual.expected, sustained_n(ground.plan).expected
        )
        if people <= there and not system.out_of_one:
            rows.append((gives.actual.expected, f"{system.name} on {best.name.lower()}s", people))
    yield from ((name, people) for _, name, people in sorted(rows)[:2])
