"""A story of the demo, played: what a team did, act after act, each at its own moment and through what a real team's acts go through."""

import json
import random
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any, Literal

from accounts.models import Team
from django.contrib.auth import get_user_model
from gear.went_through import gear_of
from operations import photos
from operations.acts import Act
from operations.checked import check_of
from operations.composing import begun, planned_now, under_way
from operations.models import LogEntry
from operations.runs import act_on
from operations.services import append, sign
from plans.models import Plan
from plans.services import create_plan, save_revision
from pydantic import AwareDatetime
from readings import watching
from readings.lessons import lesson_of
from readings.models import Cell
from readings.take import Batch, cell_made, take
from storing import clock
from storing.canonical import canonical

from rigging.document import Plan as Document
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Strict
from rigging.readings.cell import HERTZ, Event, at_work, levels_of
from rigging.readings.cell import Cell as Simulation
from rigging.readings.places import place
from rigging.telling.work.gear import BECOMES

# A bridge to a cell sends so much at once.
_SENDS_S = 30


class Scene(Strict):
    """One act of a story: so many minutes after the one before, by whom, and one of the things that somebody does; the rest belongs to it."""

    after_min: float = 1.0
    by: str = "rowan"
    decides: str = ""
    sees: str = ""
    because: str = ""
    considered: str = ""
    signs: Literal["", "check", "gear"] = ""
    finds: dict[str, str] = {}
    retires: list[str] = []
    act: str = ""
    text: str = ""
    data: dict[str, Any] = {}
    steps_to: str = ""
    each_min: float = 1.0
    photograph: str = ""
    shows: str = ""
    hangs_cell: str = ""
    at_place: str = ""
    cell: Event | Literal["", "over", "off"] = ""
    learns: bool = False


class Story(Strict):
    """When it was, who says so about a load on one thing, and what was done."""

    begins: AwareDatetime
    alone: str = "as planned; looked at by two"
    scenes: list[Scene] = []


@dataclass
class _Hung:
    """A cell that hangs in the rig and reads; `number`: of its next reading."""

    cell: Cell
    simulation: Simulation
    number: int = 0
    step: str = ""


class _Playing:
    def __init__(self, plan: Plan, story: Story, pictures: Path):
        self.plan, self.story, self.pictures = plan, story, pictures
        self.now, self.count = story.begins, 0
        self.hung: _Hung | None = None

    def fresh(self) -> uuid.UUID:
        self.count += 1
        return uuid.uuid5(self.plan.id, f"story {self.count}")

    def play(self, scene: Scene) -> None:
        self.passes(scene.after_min)
        user = get_user_model().objects.get(username=scene.by)
        with clock.told_at(self.now):
            for name, does in _DOES.items():
                if getattr(scene, name):
                    does(self, scene, user)

    def passes(self, minutes: float) -> None:
        """Time goes by; a cell that hangs in the rig reads on."""
        began, self.now = self.now, self.now + timedelta(minutes=minutes)
        if self.hung:
            self.reads(self.hung, began, round(minutes * 60 * HERTZ))

    def reads(self, hung: _Hung, began: datetime, ticks: int) -> None:
        run, revision = under_way(self.plan)
        if run is None:
            return
        step = f"{run.at}:{revision.pk}"
        moves = watching.moves_now(run, planned_now(self.plan, run))
        if step != hung.step:
            hung.step = step
            hung.simulation.comes_to(self.levels(hung.cell))
        for first in range(0, ticks, _SENDS_S * HERTZ):
            some = range(first, min(ticks, first + _SENDS_S * HERTZ))
            rows = [(n, force) for n in some if (force := hung.simulation.next(at_work(moves, n / HERTZ))) is not None]
            if not rows:
                continue
            times, values = [n * 1000 / HERTZ for n, _ in rows], [force / 1000 for _, force in rows]
            with clock.told_at(began + timedelta(seconds=some[-1] / HERTZ)):
                user = get_user_model().objects.get(username="ash")
                hung.number = take(self.plan, hung.cell, Batch(hung.number, began, times, values), user)

    def levels(self, cell: Cell) -> Any:
        stretch, _ = watching.stretch_now(self.plan, *under_way(self.plan))
        halfway = stretch.halfway
        return levels_of(halfway, place(halfway.plan, cell.place), random.Random(7))

    def says(self, scene: Scene, user: Any) -> None:
        going, revision = under_way(self.plan)
        kind = LogEntry.Kind.DECISION if scene.decides else LogEntry.Kind.OBSERVATION
        append(
            self.plan, user, id=self.fresh(), revision=revision, kind=kind, decision=scene.decides or scene.sees, reason=scene.because,
            considered=scene.considered, step=going.at if going else "",
        )  # fmt: skip

    def signs(self, scene: Scene, user: Any) -> None:
        if scene.signs == "check":
            latest = self.plan.latest
            lines = check_of(self.plan, latest.document).signable()
            sign(self.plan, user, id=self.fresh(), revision=latest, lines=lines)
            return
        run = begun(self.plan)
        lines = {
            one.id: {
                "answer": (becomes := "retire" if one.id in scene.retires else one.becomes),
                "text": f"{one.name}, {one.highest_text}",
                "found": f"{BECOMES[becomes]}{f'; {scene.finds[one.id]}' if one.id in scene.finds else ''}",
            }
            for one in gear_of(self.plan, run).pieces
        }
        sign(self.plan, user, id=self.fresh(), revision=run.revision, lines=lines, gear=True, step=run.at)

    def acts(self, scene: Scene, user: Any) -> None:
        act_on(self.plan, user, Act(self.fresh(), scene.act, text=scene.text, data=scene.data))

    def steps(self, scene: Scene, user: Any) -> None:
        """Step after step done, until one is the step now."""
        while begun(self.plan).at != scene.steps_to:
            with clock.told_at(self.now):
                try:
                    act_on(self.plan, user, Act(self.fresh(), "done"))
                except Refused as refused:
                    if refused.faults[0].path != "text":
                        raise
                    act_on(self.plan, user, Act(self.fresh(), "done", text=self.story.alone))
            self.passes(scene.each_min)

    def photographs(self, scene: Scene, user: Any) -> None:
        going, revision = under_way(self.plan)
        said = photos.keep((self.pictures / scene.photograph).read_bytes(), scene.photograph)
        append(
            self.plan, user, id=self.fresh(), revision=revision, kind=LogEntry.Kind.PHOTO, decision=scene.shows,
            data=canonical(said), step=going.at if going else "",
        )  # fmt: skip

    def hangs(self, scene: Scene, user: Any) -> None:
        cell = cell_made(self.plan, self.fresh(), scene.hangs_cell, scene.at_place, "kN", self.now)
        self.hung = _Hung(cell, Simulation(self.levels(cell), seed=11))

    def cell_does(self, scene: Scene, user: Any) -> None:
        assert self.hung is not None, "no cell hangs in the rig"
        if scene.cell == "off":
            watching.put_away(self.hung.cell)
            self.hung = None
        elif scene.cell == "over":
            self.hung.simulation.over()
        elif scene.cell:
            self.hung.simulation.happens(scene.cell)

    def learns(self, scene: Scene, user: Any) -> None:
        """What the readings say is taken over into the plan."""
        latest = self.plan.latest
        found = lesson_of(self.plan, begun(self.plan)).found
        document = Document.model_validate_json(latest.document).model_copy(update={"found": found})
        save_revision(self.plan, user, document, latest.number, self.fresh())


_DOES: dict[str, Callable[[_Playing, Scene, Any], None]] = {
    "decides": _Playing.says,
    "sees": _Playing.says,
    "signs": _Playing.signs,
    "act": _Playing.acts,
    "hangs_cell": _Playing.hangs,
    "cell": _Playing.cell_does,
    "steps_to": _Playing.steps,
    "photograph": _Playing.photographs,
    "learns": _Playing.learns,
}


def played(team: Team, leader: Any, file: Path, story: Story | None) -> Plan:
    """The plan of a document, made once; with its story, where nothing stands in its log yet."""
    document = Document.model_validate(json.loads(file.read_text(encoding="utf-8")))
    with clock.told_at(story.begins if story else datetime.now(UTC)):
        plan = create_plan(team, leader, document, uuid.uuid5(uuid.NAMESPACE_URL, f"outrigger-demo/{file.stem}"))
    if story and not plan.log.exists():
        playing = _Playing(plan, story, file.parent / "photographs")
        for scene in story.scenes:
            playing.play(scene)
    return plan
