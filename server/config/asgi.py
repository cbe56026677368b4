"""Entry point for the server: the application behind its doors."""

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
django = get_asgi_application()

from asgiref.sync import sync_to_async  # noqa: E402  (Django has to be set up first)
from django.contrib.sessions.models import Session  # noqa: E402
from django.utils import timezone  # noqa: E402
from serving.doors import Doors  # noqa: E402


@sync_to_async
def signed_in(key: str) -> bool:
    """Whether somebody has signed in with a session."""
    found = Session.objects.filter(session_key=key, expire_date__gt=timezone.now()).first()
    return found is not None and "_auth_user_id" in found.get_decoded()


application = Doors(django, signed_in)
