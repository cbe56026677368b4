"""What a leader asks of the bags: without one of them, with other people, were a feature no good, with one more of something."""

from __future__ import annotations

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.quantities.faults import refuse


def asked(
    plan: Plan,
    *,
    without: str | None = None,
    people: int | None = None,
    no_good: str | None = None,
    one_more: str | None = None,
) -> tuple[Plan, tuple[Edit, ...]]:
    """The plan to search in, and the edits that belong to every rig found in it: people there and what is no good are so, what is in the bags is
    only supposed.

    Raises
    ------
    Refused
        If no bag has that name, no feature that id, or no bend is of that kind.
    """
    edits: list[Edit] = []
    if people is not None:
        edits.append(Edit("replace", "/team/haulers", people))
    if no_good is not None:
        number = next((n for n, one in enumerate(plan.features) if one.id == no_good), None)
        if number is None:
            raise refuse("no_good", f"names {no_good!r}, which is not listed", "name a feature's id")
        edits += [
            Edit("add", f"/features/{number}/verdict", "reject"),
            Edit("add", f"/features/{number}/reason", "asked without it"),
        ]
    found = plan_edited(plan, edits) if edits else plan
    if without is not None:
        found = _without(found, without)
    if one_more is not None:
        found = _with(found, one_more)
    return found, tuple(edits)


def _without(plan: Plan, bag: str) -> Plan:
    names = [one.name for one in plan.bags.packed]
    if bag not in names:
        raise refuse(
            "without",
            f"no bag has the name {bag!r}",
            f"one of {', '.join(names) or 'none: none is listed under Size-up, Bags'}",
        )
    packed = [one for one in plan.bags.packed if one.name != bag]
    return plan.model_copy(update={"bags": plan.bags.model_copy(update={"packed": packed})})


def _with(plan: Plan, bend: str) -> Plan:
    if bend not in catalogue().bends:
        raise refuse("one_more", f"{bend!r} is no kind of bend", f"one of {', '.join(catalogue().bends)}")
    loose = dict(plan.bags.bends or {})
    return plan.model_copy(
        update={"bags": plan.bags.model_copy(update={"bends": {**loose, bend: loose.get(bend, 0) + 1}})}
    )
