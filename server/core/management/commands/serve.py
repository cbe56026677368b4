"""Serve the application: threads enough for every device to listen live while others write; plain, or by the team's own certificate."""

import threading
from typing import Any

from cheroot.wsgi import Server
from config import tls
from config.wsgi import application
from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from readings import watching

# A device that listens holds a thread, and so does whoever connects and sends half a request, until the time is up: a team's devices, and
# many to spare.
_THREADS, _PATIENCE_S = 320, 15


def _server(listen: str, app: Any, threads: int = _THREADS, shift: int = 0) -> Server:
    host, _, port = listen.rpartition(":")
    one = Server((host, int(port) + shift), app, numthreads=threads, server_name="", request_queue_size=128)
    one.timeout = _PATIENCE_S
    return one


class Command(BaseCommand):
    help = "Serves the application and its live word to devices. With OUTRIGGER_HTTPS=1 by the team's own certificate."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--listen", default="127.0.0.1:8000", help="host:port")

    def handle(self, *_args: Any, listen: str, **_options: Any) -> None:
        main = _server(listen, application)
        threading.Thread(target=watching.guard, daemon=True).start()
        if settings.HTTPS:
            made = tls.certificate()
            settings.ALLOWED_HOSTS += tls.names()
            main.ssl_adapter = tls.adapter(made)
            # How to trust it is read before it is trusted: on a plain port of its own, and nothing else there.
            told = _server(listen, tls.trust_page(made, listen), threads=4, shift=1)
            # Bound before anything is served: a port that is taken is said at the start, not missed by a phone.
            told.prepare()
            threading.Thread(target=told.serve, daemon=True).start()
            host, _, port = listen.rpartition(":")
            self.stdout.write(f"How other devices come to trust it: http://{host}:{int(port) + 1}  print {made.print}")
        main.safe_start()
