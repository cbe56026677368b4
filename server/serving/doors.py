"""What stands before the application: a request is taken in whole, within its limits of time and size, before it takes up any place; and each
kind of question has its own places, so that none keeps a STOP from being heard."""

import asyncio
import json
import re
import tempfile
from collections.abc import Awaitable, Callable
from dataclasses import dataclass, field
from typing import IO, Any

from serving.handler import STOP
from serving.patience import answer_of

Scope = dict[str, Any]
Message = dict[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Asgi = Callable[[Scope, Receive, Send], Awaitable[None]]

MB = 1024 * 1024
# From somebody who has not signed in; from somebody who has; by what it is sent to.
OF_A_STRANGER, OF_THE_TEAM = 64 * 1024, 2 * MB
_LARGER = [
    (re.compile(r"^/api/plans/[^/]+/photographs$"), 13 * MB),
    (re.compile(r"^/api/plans/[^/]+/readings(/|$)"), 24 * MB),
    (re.compile(r"^/api/survey/(read|bags)$"), 10 * MB),
    (re.compile(r"^/api/plans/[^/]+/(cells/[^/]+/)?table$"), 256 * MB),
    (re.compile(r"^/api/(handover|bundles?)(/|$)"), 512 * MB),
]
# A body comes without a pause longer than this, and at least as fast as this in all.
PAUSE_S, AT_LEAST_BYTES_A_S = 15.0, 4 * 1024
# An answer that is not taken for so long goes to nobody.
UNTAKEN_S = 30.0
_IN_MEMORY, _AT_ONCE = 512 * 1024, 64 * 1024

# Where a cell sends by its own key.
_CELL = "/api/readings"
_ACTS = re.compile(r"^/api/plans/[^/]+/run$")
# What a finger waits for, and what is worked out while somebody looks.
_ENGINE = re.compile(r"^/api/(analyse|anchors|working|holds|decided|lead|haul)(/|$)")
_LONG = re.compile(r"^/api/(check|way|best|asks|choices)(/|$)")
_HEAVY = re.compile(
    r"/(papers|bundle|handover|bundles|backup|survey|import|table|readings\.csv|log\.csv)(/|$)|^/api/survey"
)
_LISTENS = re.compile(r"^/api/(live|plans/[^/]+/events)$")


@dataclass
class Doors:
    """An application behind its doors. `signed_in` says of a session's key whether somebody has signed in with it."""

    app: Asgi
    signed_in: Callable[[str], Awaitable[bool]]
    acts: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(48))
    engine: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(24))
    long: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(16))
    heavy: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(2))
    rows: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(32))

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return
        with tempfile.SpooledTemporaryFile(_IN_MEMORY) as body:
            refused = await self._taken_in(scope, receive, body)
            if refused is not None:
                for message in refused:
                    await send(message)
                return
            body.seek(0)
            place = self._place(scope, body)
            if place is None:
                scope = {**scope, STOP: not _LISTENS.match(scope["path"])}
                await self.app(scope, _again(body, receive if _LISTENS.match(scope["path"]) else _never), _taken(send))
                return
            async with place:
                await self.app(scope, _again(body, _never), _taken(send))

    async def _taken_in(self, scope: Scope, receive: Receive, body: IO[bytes]) -> list[Message] | None:
        """The body written down; what is answered where it is not."""
        limit = OF_A_STRANGER
        said = next((value for name, value in scope["headers"] if name == b"content-length"), b"0")
        expected = int(said) if said.isdigit() else 0
        size, loop = 0, asyncio.get_running_loop()
        began = loop.time()
        while True:
            if max(size, expected) > limit:
                limit = await self._limit(scope)
                if max(size, expected) > limit:
                    return _refusal(413, "body", f"larger than {_mb(limit)}", _smaller(limit))
            try:
                async with asyncio.timeout(PAUSE_S):
                    message = await receive()
            except TimeoutError:
                return _refusal(408, "body", "it did not come", "send it again")
            if message["type"] == "http.disconnect":
                return []
            chunk = message.get("body", b"")
            size += len(chunk)
            body.write(chunk)
            if not message.get("more_body", False):
                return None if size <= limit else _refusal(413, "body", f"larger than {_mb(limit)}", _smaller(limit))
            if loop.time() - began > PAUSE_S + size / AT_LEAST_BYTES_A_S:
                return _refusal(408, "body", "it comes too slowly", "send it again on a better line")

    async def _limit(self, scope: Scope) -> int:
        cookies = b"; ".join(value for name, value in scope["headers"] if name == b"cookie").decode("latin-1")
        if scope["path"] == _CELL and any(name == b"authorization" for name, _ in scope["headers"]):
            return OF_THE_TEAM
        keys = re.findall(r"(?:^|;\s*)(?:__Host-)?sessionid=([^;]+)", cookies)
        if not keys or not await self.signed_in(keys[-1]):
            return OF_A_STRANGER
        return next((limit for path, limit in _LARGER if path.search(scope["path"])), OF_THE_TEAM)

    def _place(self, scope: Scope, body: IO[bytes]) -> asyncio.Semaphore | None:
        """Where a request waits its turn: a STOP and whoever listens nowhere."""
        path = scope["path"]
        if _LISTENS.match(path):
            return None
        if _ACTS.match(path) and scope["method"] == "POST":
            return None if _is_stop(body) else self.acts
        if _ENGINE.match(path):
            return self.engine
        if _LONG.match(path):
            return self.long
        return self.heavy if _HEAVY.search(path) else self.rows


def _is_stop(body: IO[bytes]) -> bool:
    """Whether an act is a stop; the body is read from its beginning afterwards."""
    text = body.read(_AT_ONCE)
    body.seek(0)
    try:
        act = json.loads(text)
    except ValueError:
        return False
    return isinstance(act, dict) and act.get("act") == "stop"


async def _never() -> Message:
    """What was asked is done, whether or not whoever asked still waits: a connection that breaks leaves nothing half done."""
    never: asyncio.Future[Message] = asyncio.get_running_loop().create_future()
    return await never


def _again(body: IO[bytes], receive: Receive) -> Receive:
    """The body as it was taken in, and then what becomes of the connection, as `receive` says."""
    ended = False

    async def told() -> Message:
        nonlocal ended
        if ended:
            return await receive()
        chunk = body.read(_AT_ONCE)
        ended = len(chunk) < _AT_ONCE
        return {"type": "http.request", "body": chunk, "more_body": not ended}

    return told


def _taken(send: Send) -> Send:
    """Sends as far as somebody takes it."""

    async def told(message: Message) -> None:
        async with asyncio.timeout(UNTAKEN_S):
            await send(message)

    return told


def _refusal(status: int, path: str, problem: str, right: str) -> list[Message]:
    told = answer_of(status, json.dumps({"faults": [{"path": path, "problem": problem, "right": right}]}).encode())
    # What is still on its way of the body is not read as the next request.
    told[0]["headers"].append((b"connection", b"close"))
    return told


def _mb(size: int) -> str:
    return f"{size // MB} MB" if size >= MB else f"{size // 1024} kB"


def _smaller(limit: int) -> str:
    return "sign in first, or send less" if limit == OF_A_STRANGER else "send less: a plan takes a few kilobytes"
