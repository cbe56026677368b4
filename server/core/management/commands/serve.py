"""Serve the application: threads enough for every device to listen live while others write."""

from typing import Any

from config.wsgi import application
from django.core.management.base import BaseCommand, CommandParser

# A device that listens holds a thread; a team's devices and some to spare.
_THREADS = 64


class Command(BaseCommand):
    help = "Serves the application and its live word to devices."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--listen", default="127.0.0.1:8000", help="host:port")

    def handle(self, *_args: Any, listen: str, **_options: Any) -> None:
        import waitress

        waitress.serve(application, listen=listen, threads=_THREADS, channel_timeout=3600, ident=None)
