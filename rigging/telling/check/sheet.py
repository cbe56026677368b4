"""The check sheet: a line for every state, and every finding with its mends, each with the answer that is signed."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass, field, fields
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from rigging.catalogue import catalogue, origins_in
from rigging.checks import mends_of
from rigging.checks.found import Found, Level, Topic
from rigging.checks.gathered import Listed, at_place, everywhere
from rigging.checks.holding.falls import Falls
from rigging.checks.holding.hands_alone import HandsAlone
from rigging.checks.holding.loss import Loss
from rigging.checks.holding.shared_feature import SharedFeature
from rigging.checks.holding.shared_plate import SharedPlate
from rigging.checks.holding.single import Single
from rigging.checks.identity import mark_of, mark_of_row
from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.judging.margins import Part
from rigging.judging.removal import Gone
from rigging.procedures.run import ProcedureGiven
from rigging.quantities.progress import Tell, silent
from rigging.quantities.units import Wording
from rigging.study.place import AtPlace, Row
from rigging.study.whole import Study
from rigging.telling.check.holding import Said
from rigging.telling.figures.shapes import CAUTION
from rigging.telling.learning.drawn import DrawnAs, drawings_of
from rigging.telling.sheet.rule import rule_text
from rigging.telling.words import told
from rigging.telling.words.mends import mend_label
from rigging.telling.words.names import sentence, short_name, state_name, upper_first, why_missing

_SOURCE_LETTERS = 80
_TRADE = "Common practice, no source"
# What nobody can take on: nothing holds, or hands alone.
_NEVER = (Falls, HandsAlone)
TOPICS: dict[Topic, str] = {
    "parts": "Every part taken away", "hands-off": "Hands off", "margins": "Margins", "jam": "Stuck load", "release": "Let off under load",
    "geometry": "How it lies", "ground": "People and ground",
}  # fmt: skip


@dataclass(slots=True)
class EditOut:
    """One edit of the document (JSON Patch, RFC 6902)."""

    op: Literal["add", "replace", "remove"]
    path: str
    value: Any = None


@dataclass(slots=True)
class MendReport:
    """A change that would mend it, as its button says it."""

    label: str
    edits: list[EditOut]


@dataclass(slots=True)
class Accepted:
    """Who accepted a line as it is, and why."""

    by: str
    reason: str


@dataclass(slots=True)
class CheckRow:
    """One state in one line of words. `answer` stands for what it says: what is signed; `words` for how it says it. `up_m`: how far up its way the load is where
    the weakest part is so (None: where it starts)."""

    id: str
    state: str
    name: str
    level: Level
    holds_on: str
    behind: str
    hands_off: str
    weakest: str
    why_not: str
    answer: str
    words: str
    up_m: float | None = None

    def said(self) -> str:
        if self.why_not:
            return f"{self.name}: {self.why_not}"
        return f"{self.name}: holds on {self.holds_on}; behind it {self.behind}; hands off: {self.hands_off}; weakest {self.weakest}"


@dataclass(slots=True)
class CheckLine:
    """One line of the check: what, how much, why; what would mend it. `source` is where its rule or value comes from; `gone` is the part to be taken away to see it;
    `lapsed` says that it was accepted and what that hung on has changed. `open`: it stands in the way of loading. `answer`, `words`: as of a row. `where`: how far up its way
    the load is, in metres, or the step's id (None: where it starts). `drawn`: how what it speaks of is tied."""

    id: str
    topic: Topic
    level: Level
    text: str
    mend: str
    source: str
    about: str
    state: str
    state_name: str
    gone: str | None
    acceptable: bool
    accepted: Accepted | None
    lapsed: bool
    open: bool
    answer: str
    words: str
    mends: list[MendReport]
    where: float | str | None = None
    drawn: list[DrawnAs] = field(default_factory=list)


class CheckReport(BaseModel):
    """The whole check of one plan document. `stops` are the loud lines that nobody accepted."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    caution: str
    rule: str
    rows: list[CheckRow]
    lines: list[CheckLine]
    topics: dict[str, str]
    stops: int
    unknowns: int

    def signable(self) -> dict[str, dict[str, str]]:
        """What a second person can put their name under: every line that does not stand in the way, with its answer."""
        rows = [(one.id, one.answer, one.said()) for one in self.rows if one.level != "stop"]
        lines = [(one.id, one.answer, one.text) for one in self.lines if not one.open]
        return {id: {"answer": answer, "text": text} for id, answer, text in (*rows, *lines)}


def check(
    plan: Plan, say: Wording | None = None, tell: Tell = silent, own: dict[str, ProcedureGiven] | None = None
) -> CheckReport:
    """The check of a plan: where its load starts, over its whole way and at every step of its operation. `tell`: how far it has come; `own`: the
    team's own procedures.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    study = Study(plan, tell, own)
    return _Telling(study.start, study.rows, everywhere(study), say or Wording()).report()


def check_here(plan: Plan, say: Wording | None = None) -> CheckReport:
    """The check of a plan where its load starts, and nowhere else: what a finger waits for, never what is signed.

    Raises
    ------
    Refused
        If the plan can not be laid out.
    """
    here = AtPlace(judge(plan))
    return _Telling(here, here.rows, at_place(here), say or Wording()).report()


class _Telling:
    """Tells one checked plan."""

    def __init__(self, here: AtPlace, rows: list[Row], lines: list[Listed], say: Wording):
        self.here, self.plan, self.say = here, here.plan, say
        self.rows, self.lines = rows, lines

    def report(self) -> CheckReport:
        lines = [self._line(line) for line in self.lines]
        return CheckReport(
            caution=CAUTION, rule=rule_text(self.plan.rules),
            rows=[self._row(row) for row in self.rows], lines=lines, topics=dict(TOPICS),
            stops=sum(one.level == "stop" and one.open for one in lines), unknowns=sum(one.level == "unknown" for one in lines),
        )  # fmt: skip

    def _row(self, row: Row) -> CheckRow:
        id, name = f"state:{row.state}", state_name(self.plan, row.state)
        if row.standing is None:
            moment = self.here.states[row.state].moment
            why = sentence(why_missing(moment, row.missing.faults if row.missing else ()))
            return CheckRow(
                id, row.state, name, "look", "", "", "", "", why, mark_of_row(row, "look"), worded(id, "look", why)
            )
        shown, signed = self._said(row, self.say), self._said(row, Wording())
        falls = row.standing.found.drop_m is None or row.standing.hands_off_m is None
        weak = row.weakest is not None and row.weakest.verdict == "below"
        level: Level = "stop" if falls else "look" if weak or row.standing.behind.far_m is None else "note"
        return CheckRow(
            id, row.state, name, level, *shown, "", mark_of_row(row, level), worded(id, level, *signed), row.up_m
        )

    def _said(self, row: Row, say: Wording) -> tuple[str, str, str, str]:
        assert row.standing is not None
        said, standing = Said(row.standing, say), row.standing
        if standing.found.drop_m is None:
            return "nothing: the load falls", "nothing", "it falls", ""
        far = standing.behind.far_m
        behind = "nothing" if far is None else f"{said.taken(standing.behind.onto)}, {said.after(far)}"
        weakest = ""
        if row.weakest is not None and row.weakest.margin is not None:
            weakest = f"{Wording.ratio(row.weakest.margin.low)} : 1, {short_name(row.weakest)}"
            weakest += f", {say.length(row.up_m)} up" if row.up_m else ""
        return _brief(said.holds_on()) or "what is tied", _brief(behind), said.hands_off(), weakest

    def _line(self, line: Listed) -> CheckLine:
        found, plan = line.found, self.plan
        text, mend = self._told(line, self.say)
        answer, words = mark_of(found), worded(found.id, found.level, *self._told(line, Wording()))
        acceptance = next((one for one in plan.accepted if one.check == found.id), None)
        holds = acceptance is not None and acceptance.answer in (answer, words)
        accepted = Accepted(acceptance.by, acceptance.reason) if acceptance and holds else None
        gone = getattr(found, "gone", None)
        return CheckLine(
            id=found.id, topic=found.topic, level=found.level, text=text, mend=mend, source=_source(found), about=found.about, state=found.state,
            state_name=state_name(plan, found.state) if found.state else "", gone=gone.part if isinstance(gone, Gone) else None,
            acceptable=found.level in ("stop", "look") and not isinstance(found, _NEVER), accepted=accepted,
            lapsed=acceptance is not None and not holds, open=found.level in ("stop", "unknown") and accepted is None, answer=answer, words=words,
            mends=[
                MendReport(mend_label(one, self.say), [EditOut(e.op, e.path, e.value) for e in one.edits])
                for one in mends_of(found, plan)
            ],
            where=found.at_step or line.up_m, drawn=drawings_of(getattr(found, one.name) for one in fields(found)),
        )  # fmt: skip

    def _told(self, line: Listed, say: Wording) -> tuple[str, str]:
        text, mend = self._here(line, say)
        return (f"{say.length(line.up_m)} up: {text}" if line.up_m else text), mend

    def _here(self, line: Listed, say: Wording) -> tuple[str, str]:
        found = line.found
        text, mend = told(found, self.plan, say)
        gone = getattr(found, "gone", None)
        if not isinstance(gone, Gone) or isinstance(found, SharedPlate | SharedFeature):
            return text, mend
        said = Said(line.at.standings[found.state], say)
        if isinstance(found, Single):
            made = _made_of(found.what)
            text = (
                f"One thing alone: {said.name(gone.part)}{f' ({made})' if made else ''}. If it goes, {said.then(gone)}."
            )
            return text, mend
        if isinstance(found, Loss):
            bears = found.bears_n
            harder = bears is not None and gone.caught is not None and gone.caught.peak_n > bears
            more = (
                f", more than the {say.force(bears)} that the least of what catches it bears"
                if harder and bears
                else ""
            )
            return f"{upper_first(said.name(gone.part))} goes: {said.then(gone)}{more}.", mend
        return f"{text} If it slips, {said.then(gone)}.", mend


def _source(found: Found) -> str:
    """Where a line's rule or value comes from: what its part was rated by, the catalogue's origin of the rule, or the trade."""
    part = getattr(found, "part", None)
    named = [one.source for one in part.symbols] if isinstance(part, Part) else [found.source]
    texts = [one.text for one in origins_in(*named) if one.kind not in ("G", "C")]
    return "; ".join(_cut(one) for one in texts) or _TRADE


def _cut(text: str) -> str:
    """The beginning of an origin, for one line; all of it is told with the figure's working."""
    if len(text) <= _SOURCE_LETTERS:
        return text
    return f"{text[:_SOURCE_LETTERS].rsplit(' ', 1)[0].rstrip(',;:(')} …"


def _brief(text: str) -> str:
    """Without articles, and without what a thing is made of: for a narrow table."""
    return re.sub(r"\bthe | \([^)]*\)", "", text)


def _made_of(what: str) -> str:
    """The name of a thing in the catalogue."""
    shelf = catalogue()
    for table in (shelf.ropes, shelf.devices, shelf.hitches, shelf.bends):
        if what in table:
            return upper_first(table[what].name)
    return ""


def worded(*said: str) -> str:
    """What is said, in one short mark: what signatures and acceptances went by before they went by kinds and values. Those given then
    hold as long as the same is said."""
    return hashlib.sha256("\n".join(said).encode()).hexdigest()[:16]
