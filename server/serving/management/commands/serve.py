"""Serve the application: nobody who listens or is slow takes anybody else's place; plain, or by the team's own certificate."""

import asyncio
import contextlib
import resource
import socket
import threading
from collections.abc import Coroutine
from typing import Any

import uvicorn
from core import engine
from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.utils import autoreload
from readings import watching
from sealing import heads

from serving import tls
from serving.asgi import application
from serving.patience import Patient

# Until hands are shaken; a connection that stays silent is let go.
_SHAKEN_S = 10.0
# Listeners and whoever stands at the door, each a file to the system.
_FILES, _WAITING = 16_384, 2048


def _bound(listen: str, shift: int = 0) -> socket.socket:
    host, _, port = listen.rpartition(":")
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # Said to be TCP, so that what is answered in two pieces does not wait for the first to be acknowledged.
    one = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    one.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    one.bind((host.strip("[]"), int(port) + shift))
    one.listen(_WAITING)
    return one


def _server(app: Any, **more: Any) -> uvicorn.Server:
    config = uvicorn.Config(
        app, http=Patient, ws="none", lifespan="off", log_level="warning", access_log=False, server_header=False, proxy_headers=False,
        timeout_keep_alive=75, timeout_graceful_shutdown=2, backlog=_WAITING, **more,
    )  # fmt: skip
    return uvicorn.Server(config)


class _Beside(uvicorn.Server):
    """A server beside the main one, which alone hears that all is to end."""

    @contextlib.contextmanager
    def capture_signals(self) -> Any:
        yield


class _Hurried(asyncio.SelectorEventLoop):
    """A loop that waits for nobody's handshake for long."""

    async def create_server(self, *given: Any, **more: Any) -> asyncio.Server:
        shaken = {"ssl_handshake_timeout": _SHAKEN_S} if more.get("ssl") else {}
        made: asyncio.Server = await super().create_server(*given, **more, **shaken)  # type: ignore[call-overload]
        return made


def _run(serving: Coroutine[Any, Any, None]) -> None:
    with asyncio.Runner(loop_factory=_Hurried) as runner:
        runner.run(serving)


def _room_for_many() -> None:
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = _FILES if hard == resource.RLIM_INFINITY else min(_FILES, hard)
    resource.setrlimit(resource.RLIMIT_NOFILE, (max(soft, wanted), hard))


async def _both(main: uvicorn.Server, at: socket.socket, beside: uvicorn.Server, there: socket.socket) -> None:
    told = asyncio.create_task(beside.serve([there]))
    await main.serve([at])
    beside.should_exit = True
    await told


class Command(BaseCommand):
    help = "Serves the application and its live word to devices. With OUTRIGGER_HTTPS=1 by the team's own certificate."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--listen", default="127.0.0.1:8000", help="host:port")
        parser.add_argument(
            "--reload", action="store_true", help="begin again when a file changes: for whoever works on it"
        )

    def handle(self, *_args: Any, listen: str, reload: bool = False, **_options: Any) -> None:
        if reload:
            autoreload.run_with_reloader(self.serve, listen)
        else:
            self.serve(listen)

    def serve(self, listen: str) -> None:
        _room_for_many()
        engine.begin()
        heads.begin()
        threading.Thread(target=watching.guard, daemon=True).start()
        if not settings.HTTPS:
            _run(_server(application).serve([_bound(listen)]))
            return
        made = tls.certificate()
        settings.ALLOWED_HOSTS += tls.names()
        main = _server(application, ssl_certfile=str(made.server), ssl_keyfile=str(made.server))
        # How to trust it is read before it is trusted: on a plain port of its own, and nothing else there. Both are bound before anything is
        # served: a port that is taken is said at the start, not missed by a phone.
        beside = _Beside(_server(tls.trust_page(made, listen)).config)
        at, there = _bound(listen), _bound(listen, shift=1)
        host, _, port = listen.rpartition(":")
        self.stdout.write(f"How other devices come to trust it: http://{host}:{int(port) + 1}  print {made.print}")
        _run(_both(main, at, beside, there))
