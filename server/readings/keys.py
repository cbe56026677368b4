"""A cell that sends by itself, with a key of its own."""

import secrets
from typing import Any

from accounts.models import Role
from accounts.permissions import role_of
from django.http import HttpRequest
from ninja.security import HttpBearer
from plans.selectors import was_handed_over
from storing.canonical import sha256

from readings.models import Cell, CellKey


class CellSends(HttpBearer):
    """Whoever sends a cell's key; `request.auth` is that key. It ends with its maker's place in the team."""

    def authenticate(self, request: HttpRequest, token: str) -> CellKey | None:
        found = CellKey.objects.select_related("cell__plan__team", "made_by").filter(token_sha256=sha256(token)).first()
        if found is None or not found.made_by.is_active or was_handed_over(found.cell.plan):
            return None
        return found if role_of(found.made_by, found.cell.plan.team) in (Role.LEADER, Role.MEMBER) else None


def made(cell: Cell, user: Any) -> str:
    """A fresh key for a cell, told once; one of before is void."""
    token = secrets.token_urlsafe(24)
    CellKey.objects.update_or_create(cell=cell, defaults={"token_sha256": sha256(token), "made_by": user})
    return token
