"""Sessions in which somebody is signed in now."""

from collections.abc import Iterator

from django.contrib.sessions.models import Session
from django.utils import timezone


def signed_in(key: str | None = None) -> Iterator[tuple[int, Session]]:
    """Who is signed in, by number, with the session: in every session, or in the one of a key."""
    there = Session.objects.filter(expire_date__gt=timezone.now())
    for one in there if key is None else there.filter(session_key=key):
        user = one.get_decoded().get("_auth_user_id")
        if user is not None:
            yield int(user), one
