"""What somebody keeps of what they practised: by the scheduler, from everything they did on whatever device."""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from datetime import datetime

from accounts.models import Membership, Team
from django.contrib.auth.models import User
from django.db.models import Count, Max, Sum
from operations.composing import begun
from operations.models import Run
from plans.models import TableTop

from practice.models import Answered, Tied
from practice.schemas import (
    EveningOut,
    Fellows,
    PersonPractised,
    PracticeOut,
    RunNeeded,
    SkillOut,
    TableTopRow,
    TeamPractised,
    TyingOut,
)
from practice.table_tops import met_in
from rigging.document import Plan as Document
from rigging.learning.drills.drill import Level
from rigging.learning.keeping import Done, Kept, kept
from rigging.learning.knots import knots
from rigging.learning.needs import knots_needed, skills_needed
from rigging.telling.learning.drills import NAMES

# So many skills make an evening.
_EVENING = 8
# So many runs are looked back at.
_RUNS = 5


# What somebody keeps, worked out anew where they have answered since, or an hour has gone.
_worked_out: dict[int, tuple[tuple[object, ...], dict[str, Kept]]] = {}


def _kept(person: User, now: datetime) -> dict[str, Kept]:
    rows = Answered.objects.filter(person=person)
    stands = (
        *rows.aggregate(Count("id"), Max("at"), Sum("seed"), Sum("right"), Sum("took_s")).values(),
        now.replace(minute=0, second=0, microsecond=0),
    )
    known = _worked_out.get(person.pk)
    if known is not None and known[0] == stands:
        return known[1]
    done: dict[str, list[Done]] = defaultdict(list)
    for one in rows:
        level: Level = 1 if one.level == 1 else 2 if one.level == 2 else 3
        done[one.skill].append(Done(one.right, one.took_s, one.at, level))
    found = {skill: keeps for skill, each in done.items() if (keeps := kept(each, now))}
    _worked_out[person.pk] = stands, found
    return found


def _skills(person: User, now: datetime) -> list[SkillOut]:
    """Every skill, what is due first, then what was never done, then what is due later."""
    found = _kept(person, now)

    def told(skill: str) -> SkillOut:
        name, about = NAMES[skill]
        one = found.get(skill)
        if one is None:
            return SkillOut(skill=skill, name=name, about=about, due=None, level=1, done=0, right=0, last=None, knows=None)  # fmt: skip
        return SkillOut(
            skill=skill, name=name, about=about, due=one.due, is_due=one.due <= now, level=one.level, done=one.done, right=one.right, last=one.last, knows=round(one.knows, 3)
        )  # fmt: skip

    def order(one: SkillOut) -> tuple[int, float]:
        if one.due is None:
            return 1, 0.0
        return (0 if one.is_due else 2), one.due.timestamp()

    return sorted((told(skill) for skill in NAMES), key=order)


def _tying(rows: Iterable[Tied], now: datetime) -> list[TyingOut]:
    by_knot: dict[str, list[Tied]] = defaultdict(list)
    for one in rows:
        by_knot[one.knot].append(one)
    found = []
    for id, knot in knots().items():
        tied = by_knot[id]
        keeps = kept([Done(one.right, one.took_s, one.at) for one in tied], now)
        right = [one.took_s for one in tied if one.right]
        found.append(
            TyingOut(
                knot=id, name=knot.name, stages=[stage.do for stage in knot.stages], due=keeps.due if keeps else None, done=len(tied), right=len(right),
                quickest_s=min(right, default=None), last=keeps.last if keeps else None,
            )
        )  # fmt: skip
    return sorted(found, key=lambda one: one.name)


def _fellows(person: User) -> list[Fellows]:
    found: dict[int, list[str]] = {}
    rows = Membership.objects.filter(team__membership__user=person).exclude(user=person).order_by("user__username")
    for team, name in rows.values_list("team_id", "user__username"):
        found.setdefault(team, []).append(name)
    return [Fellows(team=team, names=names) for team, names in found.items()]


def practised(person: User, now: datetime) -> PracticeOut:
    skills = _skills(person, now)
    return PracticeOut(
        due=sum(one.is_due for one in skills), fellows=_fellows(person), skills=skills, tying=_tying(Tied.objects.filter(person=person), now)
    )  # fmt: skip


def team_practised(team: Team, now: datetime) -> TeamPractised:
    """Everybody of a team, by name."""
    members = Membership.objects.filter(team=team).select_related("user").order_by("user__username")
    people = []
    for member in members:
        found = practised(member.user, now)
        done = [one.last for one in found.skills if one.last] + [one.last for one in found.tying if one.last]
        people.append(
            PersonPractised(
                name=member.user.get_username(), skills=found.skills, tying=[one for one in found.tying if one.done], last=max(done, default=None)
            )
        )  # fmt: skip
    return TeamPractised(people=people, evening=_evening(people), needed=list(_needed(team)))


def _needed(team: Team) -> Iterator[RunNeeded]:
    """Of the team's last runs, what each needed that nobody had practised by then."""
    members = Membership.objects.filter(team=team).values("user")
    runs = Run.objects.filter(plan__team=team, plan__table_top=None).select_related("plan", "revision")
    for run in runs.order_by("-begun_at")[:_RUNS]:
        document = Document.model_validate_json(run.revision.document)
        procedures = {one["key"].partition("/")[0].partition(":")[0] for one in run.done}
        skills = skills_needed(document, procedures, run.plan.cells.exists())
        before = {"person__in": members, "at__lt": run.begun_at}
        answered = set(Answered.objects.filter(**before, skill__in=skills).values_list("skill", flat=True))
        tied = set(Tied.objects.filter(**before).values_list("knot", flat=True))
        missing = [NAMES[one][0] for one in skills if one not in answered]
        untied = [knots()[one].name for one in knots_needed(document) if one not in tied]
        if missing or untied:
            yield RunNeeded(plan=run.plan_id, title=document.title, begun_at=run.begun_at, skills=missing, knots=untied)


def rows_of(team: Team) -> list[TableTopRow]:
    """A team's table-tops, the newest first."""
    found = TableTop.objects.filter(plan__team=team).select_related("plan__team", "made_by").order_by("-pk")
    return [_row(one) for one in found]


def _row(top: TableTop) -> TableTopRow:
    run = begun(top.plan)
    met = met_in(top, run)
    return TableTopRow(
        plan=top.plan_id, title=top.plan.title, made_by=top.made_by.get_username(), begun_at=run.begun_at, ended=run.status == Run.Status.ENDED,
        rigged=top.rigged, happened=len(met), missed=sum(one.met_after_s is None for one in met),
    )  # fmt: skip


def _evening(people: list[PersonPractised]) -> list[EveningOut]:
    """The skills that most are due in, or have never done."""
    due: dict[str, list[str]] = defaultdict(list)
    for person in people:
        for one in person.skills:
            if one.due is None or one.is_due:
                due[one.skill].append(person.name)
    ranked = sorted(due, key=lambda skill: (-len(due[skill]), list(NAMES).index(skill)))
    return [EveningOut(skill=skill, name=NAMES[skill][0], who=due[skill]) for skill in ranked[:_EVENING]]
