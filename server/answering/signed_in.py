"""Who asks: somebody signed in, and where a device says under whose name it sends, that person and nobody else."""

import time
from typing import Any
from urllib.parse import unquote

from django.http import HttpRequest
from ninja.security import SessionAuth

_SEEN_S = 900
# However busy: then one signs in again.
_AT_MOST_S = 7 * 24 * 3600


class SignedIn(SessionAuth):
    """The session's sign-in. What a device did under one name is not sent under another, after somebody else has signed in there."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        user = super().authenticate(request, key)
        if user and time.time() - request.session.setdefault("since", round(time.time())) > _AT_MOST_S:
            request.session.flush()
            return None
        if user and time.time() - request.session.get("seen", 0) > _SEEN_S:
            # Whoever works stays signed in; whoever has done nothing for as long as a session lasts does not.
            request.session["seen"] = round(time.time())
        name = request.headers.get("X-Signed-In-As")
        return None if user and name is not None and unquote(name) != user.get_username() else user
