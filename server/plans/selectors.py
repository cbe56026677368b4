"""Plans and revisions found."""

from dataclasses import dataclass
from typing import cast

from django.contrib.auth.base_user import AbstractBaseUser
from django.contrib.auth.models import AnonymousUser
from django.db.models import Count, OuterRef, Q, QuerySet, Subquery
from django.utils import timezone

from plans.models import ObserverLink, Plan, Revision
from plans.schemas import Ran
from rigging.quantities.faults import Fault, Refused


def readable(user: int) -> "QuerySet[Plan]":
    """The plans of somebody's teams, and those that they were let in to; what is only played on is none of them."""
    mine = Q(team__membership__user_id=user)
    read = Q(observer_links__reader_id=user, observer_links__ends_at__gt=timezone.now())
    return Plan.objects.filter(mine | read, table_top=None).distinct()


@dataclass(frozen=True)
class Listed:
    """A plan as a list shows it: its latest revision, entries of its log, signatures among them, its last run and who is on it."""

    revision: Revision
    entries: int
    signed: int
    run: Ran | None
    here: list[str]


def listed(user: int) -> list[Listed]:
    """Somebody's plans, last saved first, in a few queries however many there are."""
    plans = readable(user)
    newest = Revision.objects.filter(plan=OuterRef("plan")).order_by("-number").values("pk")[:1]
    latest = (
        Revision.objects.filter(plan__in=plans, pk=Subquery(newest))
        .select_related("plan__team", "plan__handed_over")
        .annotate(
            entries=Count("plan__log", distinct=True),
            signed=Count("plan__log", filter=Q(plan__log__kind="signed"), distinct=True),
        )
    )
    # The later of two runs comes last, and stays.
    begun = plans.filter(runs__isnull=False).order_by("runs__begun_at")
    runs = {pk: (status, here) for pk, status, here in begun.values_list("pk", "runs__status", "runs__here")}
    found = []
    for one in latest.order_by("-saved_at"):
        status, here = runs.get(one.plan_id, (None, {}))
        found.append(Listed(one, one.entries, one.signed, cast(Ran | None, status), sorted(here)))
    return found


def revision_of(plan: Plan, number: int) -> Revision:
    # Numbers past what the database holds are as absent as any other.
    found = list(plan.revisions.filter(number=number)) if 0 < number < 2**31 else []
    if not found:
        raise Refused([Fault("revision", f"this plan has no revision {number}", f"1 to {plan.latest.number}")])
    return found[0]


def was_handed_over(plan: Plan) -> bool:
    return hasattr(plan, "handed_over")


def is_played(plan: Plan) -> bool:
    """Whether it is a table-top's."""
    return hasattr(plan, "table_top")


def reads_until(user: AbstractBaseUser | AnonymousUser, plan: Plan) -> ObserverLink | None:
    """The link by which somebody may read a plan now."""
    return plan.observer_links.filter(reader_id=user.pk, ends_at__gt=timezone.now()).first() if user.pk else None
