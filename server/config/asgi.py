"""Entry point for the server: the application behind its doors."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
django.setup(set_prefix=False)

from asgiref.sync import sync_to_async  # noqa: E402  (Django has to be set up first)
from django.contrib.sessions.models import Session  # noqa: E402
from django.utils import timezone  # noqa: E402
from serving.doors import Doors  # noqa: E402
from serving.handler import Handler  # noqa: E402


def _signed_in(key: str) -> bool:
    found = Session.objects.filter(session_key=key, expire_date__gt=timezone.now()).first()
    return found is not None and "_auth_user_id" in found.get_decoded()


async def signed_in(key: str) -> bool:
    """Whether somebody has signed in with a session."""
    return await sync_to_async(_signed_in, thread_sensitive=False)(key)


# More threads than there are places behind the doors: whoever begins to listen has none of those.
application = Doors(Handler(threads=160), signed_in)
