"""What the accounts app listens to."""

from typing import Any

from django.apps import AppConfig
from django.http import HttpRequest


class AccountsConfig(AppConfig):
    name = "accounts"

    def ready(self) -> None:
        from answering.faults import forbidden

        forbidden.connect(_noted, weak=False)


def _noted(request: HttpRequest, **_more: Any) -> None:
    """Written down once in a while for each: whoever goes on trying is one line."""
    from accounts import attempts
    from accounts.events import note
    from accounts.models import SecurityEvent

    name, address = request.user.get_username(), request.META.get("REMOTE_ADDR", "")
    if name and attempts.is_first_refusal(address, f"may not: {name}"):
        note(request, SecurityEvent.Kind.MAY_NOT, name, said=f"{request.method} {request.path}")
