"""Plans made and saved, one revision after another."""

import uuid
from typing import Any

from accounts.models import Team
from django.dispatch import Signal
from storing.canonical import canonical, sha256
from storing.writing import writing

from plans.models import Plan, Revision
from rigging.document import Plan as Document
from rigging.quantities.faults import refuse

# A revision was saved after the first: `plan`, `revision`, `author`.
revised = Signal()
# Sent before anybody waits for the writer's turn: what takes long is worked out then, so that a STOP never waits for it.
saving = Signal()


class Stale(Exception):
    """A save that started from a revision which is no longer the latest."""

    def __init__(self, latest: Revision):
        self.latest = latest


def create_plan(team: Team, author: Any, document: Document, client_id: uuid.UUID) -> Plan:
    """A new plan with its first revision, or the plan already made with this `client_id`."""
    with writing():
        known = Revision.objects.filter(client_id=client_id).select_related("plan").first()
        if known:
            return _sent_again(known, author, known.number == 1 and known.plan.team_id == team.pk).plan
        plan = Plan.objects.create(team=team)
        _add_revision(plan, 1, author, document, client_id)
        return plan


def save_revision(plan: Plan, author: Any, document: Document, base: int, client_id: uuid.UUID) -> Revision:
    """The next revision.

    Raises
    ------
    Stale
        If `base` is not the latest revision's number.
    """
    saving.send(Plan, plan=plan, document=document)
    with writing():
        known = Revision.objects.filter(client_id=client_id).first()
        if known:
            return _sent_again(known, author, known.number > 1 and known.plan_id == plan.pk)
        latest = plan.latest
        if latest.number != base:
            raise Stale(latest)
        saved = _add_revision(plan, base + 1, author, document, client_id)
        revised.send(Plan, plan=plan, revision=saved, author=author)
        return saved


def save_changed(plan: Plan, author: Any, base: int, client_id: uuid.UUID, **fields: Any) -> Revision:
    """The next revision, the latest but for some fields.

    Raises
    ------
    Refused
        If `base` is not the latest revision's number.
    """
    document = Document.model_validate_json(plan.latest.document).model_copy(update=fields)
    try:
        return save_revision(plan, author, document, base, client_id)
    except Stale as stale:
        said = f"revision {stale.latest.number} has been saved since"
        raise refuse("base", said, "look at it again, then do it on that") from stale


def _sent_again(known: Revision, author: Any, is_the_same: bool) -> Revision:
    """A revision that is there already under the id that a save came with.

    Raises
    ------
    Refused
        If it is another save, or somebody else's.
    """
    if known.author_id != author.pk or not is_the_same:
        raise refuse("id", "it is the id of another save", "make a new one for each")
    return known


def _add_revision(plan: Plan, number: int, author: Any, document: Document, client_id: uuid.UUID) -> Revision:
    text = canonical(document.model_dump(mode="json"))
    return Revision.objects.create(
        plan=plan, number=number, client_id=client_id, document=text, sha256=sha256(text), author=author
    )


def put_away(plan: Plan, archived: bool) -> None:
    """Into the archive, or back out of it."""
    Plan.objects.filter(pk=plan.pk).update(archived=archived)
