"""The run report: what was done, decided and read, by whom, why, on which plan, as the log has it."""

import json
from collections.abc import Iterator
from datetime import timedelta

from debrief.changes import changes_of
from gear.api import signed_gear
from gear.schemas import SignedPiece
from gear.went_through import gear_of
from operations import photos
from operations.composing import composed_of
from operations.models import LogEntry, Run
from plans.models import Plan
from readings.models import unpacked
from readings.watching import along, place_in
from reportlab.lib.units import mm
from reportlab.platypus import Flowable
from sealing import keys
from sealing.seals import broken_seals

from papers.sheet import gap, heading, pdf, said, table
from papers.tagged import Picture
from rigging.document import Plan as Document
from rigging.quantities.units import Wording
from rigging.readings.places import places
from rigging.telling.words.names import lower_first
from rigging.telling.work.gear import GearReport

_TIME = "%Y-%m-%d %H:%M:%S"
_KINDS = {
    "decision": "decided", "observation": "seen", "imported": "read in", "stop": "STOP", "go": "going on", "contingency": "something else",
    "photo": "photograph", "here": "people", "plan": "plan changed", "conflict": "two at once", "alarm": "load cell",
}  # fmt: skip


def run_report(plan: Plan, run: Run) -> bytes:
    """A run as paper; everything in it is in the log, the plan's revisions and the readings."""
    rows = list(plan.log.select_related("author", "revision", "corrects").order_by("sequence"))
    here = [
        one
        for one in rows
        if one.time >= run.begun_at and (run.ended_at is None or one.time <= run.ended_at + timedelta(hours=12))
    ]
    document = Document.model_validate_json(run.revision.document)
    story: list[Flowable] = [
        *([said(document.place)] if document.place else []),
        said(f"Begun {run.begun_at:{_TIME}} UTC" + (f", ended {run.ended_at:{_TIME}} UTC." if run.ended_at else ", not ended yet.")),
        said(_verified(plan)),
        heading("People"),
        table(("who", "as", "came in on a device"), _people(document, run), (60, 60, 60)),
        heading("Decisions"),
        table(
            ("time, UTC", "who", "decided", "because", "what else was considered", "plan"),
            (
                (f"{one.time:%H:%M:%S}", one.author.get_username(), one.decision, one.reason, one.considered, f"revision {one.revision.number}")
                for one in rows
                if one.kind in (LogEntry.Kind.DECISION, LogEntry.Kind.CORRECTION)
            ),
            (17, 17, 55, 40, 32, 19),
        ),
        heading("The plan, revision by revision"),
        table(("number", "saved, UTC", "by", "what was changed", "because", "SHA-256"), _revisions(plan), (14, 22, 17, 57, 38, 32)),
        heading("Steps planned and done"),
        table(("step", "done, UTC", "by"), _steps(plan, run), (120, 35, 25)),
        heading("Measured and predicted"),
        table(("cell", "where", "readings", "peak", "mean", "predicted, coming up", "with the load stuck"), _cells(plan, run), (24, 50, 17, 17, 17, 28, 27)),
        heading("What the gear went through"),
        table(
            ("piece", "highest load", "went through", "proposed", "found and signed"),
            _gear(gear_of(plan, run), signed_gear(plan, run)),
            (46, 25, 38, 38, 33),
        ),
        heading("Timeline"),
        table(("entry", "time, UTC", "who", "what", "said"), _timeline(here), (12, 20, 20, 22, 106)),
        *_photographs(here),
        heading("Seals"),
        said("Each entry of the log is bound to the one before by the SHA-256 over all that it says; this is the chain as it stood when the report was made.", "small"),
        said(f"Key print of this installation, by which its bundles are signed: {keys.print_of(keys.public_key())}"),
        table(("entry", "SHA-256"), ((str(one.sequence), one.hash) for one in rows), (14, 160)),
    ]  # fmt: skip
    return pdf(f"Run report: {document.title}", run.revision, story)


def _people(document: Document, run: Run) -> Iterator[tuple[str, ...]]:
    """Those whom the plan names, and those who came in on a device, each as they said."""
    for one in document.team.people:
        yield one.name, one.role, ""
    for who, said_of in run.here.items():
        yield who, said_of["role"], f"{said_of['at'][11:16]} UTC"


def _verified(plan: Plan) -> str:
    broken = list(broken_seals(plan))
    return (
        f"NOT AS IT WAS WRITTEN: {'; '.join(broken)}" if broken else f"{plan.log.count()} log entries, every seal fits."
    )


def _revisions(plan: Plan) -> Iterator[tuple[str, ...]]:
    for one in changes_of(plan):
        text = "; ".join([one.text, *one.effects])
        yield str(one.revision), f"{one.at:{_TIME}}", one.by, text, "; ".join(one.why), one.sha256


def _gear(report: GearReport, signed: dict[str, SignedPiece]) -> Iterator[tuple[str, ...]]:
    for one in report.pieces:
        how = "read" if one.measured else "worked out"
        bore = [f"{one.loaded_min:g} min under load"] if one.loaded_min else ["hung ready"]
        by = signed.get(one.id)
        yield (
            one.name, f"{one.highest_text}, {how}" if one.loaded_min else "none", "; ".join([*bore, *one.edges]),
            ": ".join([one.becomes_text, *map(lower_first, one.why)]), f"{by.found} ({by.by}, {by.at:%H:%M})" if by else "not signed",
        )  # fmt: skip


def _steps(plan: Plan, run: Run) -> Iterator[tuple[str, ...]]:
    """Every step of the operation in its order, with when it was done and by whom."""
    made = composed_of(plan, run.revision, run)
    done = {one["key"]: one for one in run.done}
    for step in made.report.steps:
        one = done.get(step.key)
        yield step.do, one["at"][:19].replace("T", " ") if one else "not done", one["by"] if one else ""


def _cells(plan: Plan, run: Run) -> Iterator[tuple[str, ...]]:
    steps, say = composed_of(plan, run.revision, run).operation.steps, Wording()
    runs_m = tuple(dict.fromkeys(run_m for one in steps if "raising" in one.motions for run_m in one.runs_m)) or (0.0,)
    found = along(run.revision.document, runs_m)
    words = places(found.halfway.plan)
    for cell in plan.cells.all():
        _, forces = unpacked(cell.blocks.all())
        if not len(forces):
            continue
        peak, mean = float(forces.max()), float(forces.mean())
        where = place_in(run.revision.document, cell.place)
        up, stuck = found.band(where, "raising"), found.at(where, "jammed")
        told = [say.force(one) if one else "not planned" for one in (up, stuck)]
        yield cell.name, words[cell.place], str(len(forces)), say.force(peak), say.force(max(mean, 0.0)), *told


def _timeline(rows: list[LogEntry]) -> Iterator[tuple[str, ...]]:
    for one in rows:
        text = one.decision
        text += f"\nbecause {one.reason}" if one.reason else ""
        text += f"\nconsidered: {one.considered}" if one.considered else ""
        text += f"\nputs right entry {one.corrects.sequence}" if one.corrects else ""
        yield str(one.sequence), f"{one.time:%H:%M:%S}", one.author.get_username(), _KINDS.get(one.kind, one.kind), text


def _photographs(rows: list[LogEntry]) -> Iterator[Flowable]:
    taken = [(one, json.loads(one.data)) for one in rows if one.kind == LogEntry.Kind.PHOTO]
    if not taken:
        return
    yield heading("Photographs")
    for one, about in taken:
        file = photos.file_of(about, small=True)
        if file.exists():
            yield Picture(str(file), width=50 * mm, height=50 * mm, kind="proportional", hAlign="LEFT")
        yield said(
            f"Entry {one.sequence}, {one.time:{_TIME}} UTC, {one.author.get_username()}: {one.decision}. SHA-256 {about['sha256']}",
            "small",
        )
        yield gap()
