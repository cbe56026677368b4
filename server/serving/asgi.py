"""Entry point for the server: the application behind its doors."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
django.setup(set_prefix=False)

from accounts import sessions  # noqa: E402  (Django has to be set up first)
from asgiref.sync import sync_to_async  # noqa: E402

from serving.doors import Doors  # noqa: E402
from serving.handler import Handler  # noqa: E402


def _signed_in(key: str) -> bool:
    return any(sessions.signed_in(key))


async def signed_in(key: str) -> bool:
    """Whether somebody has signed in with a session."""
    return await sync_to_async(_signed_in, thread_sensitive=False)(key)


# More threads than there are places behind the doors: whoever begins to listen has none of those.
application = Doors(Handler(threads=160), signed_in)
