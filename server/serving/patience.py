"""Connections, and how long they are waited for: whoever says nothing, or half of something, is let go, and takes nobody else's place."""

import asyncio
from collections import OrderedDict, defaultdict
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

# Until the head of a request is there; how large it may be; how many connections one address has before those of its own that do nothing go.
HEAD_S, LARGEST_HEAD, OF_ONE_ADDRESS = 10.0, 64 * 1024, 1500


class Patient(HttpToolsProtocol):
    """HTTP with a time and a size for a request's head, and room for everybody: an address that has more connections than it could use loses
    the one that has been still for longest, whoever asks anew is heard."""

    _by_address: "defaultdict[str, OrderedDict[Patient, None]]" = defaultdict(OrderedDict)

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._address = self.client[0] if self.client else ""
        of_address = self._by_address[self._address]
        of_address[self] = None
        if len(of_address) > OF_ONE_ADDRESS:
            still = next((one for one in of_address if one.is_still), None)
            if still is not None:
                still.transport.abort()
        self._head = 0
        self._in_time: asyncio.TimerHandle | None = None
        self._hurry()

    @property
    def is_still(self) -> bool:
        """Whether nothing that was asked on this connection is being answered."""
        return self.cycle is None or self.cycle.response_complete

    def _hurry(self) -> None:
        if self._in_time is None:
            self._in_time = self.loop.call_later(HEAD_S, self.transport.abort)

    def _there(self) -> None:
        self._head = 0
        if self._in_time is not None:
            self._in_time.cancel()
            self._in_time = None

    def data_received(self, data: bytes) -> None:
        if self._in_time is not None:
            self._head += len(data)
        super().data_received(data)
        if self._in_time is not None and self._head > LARGEST_HEAD:
            self.transport.abort()

    def on_message_begin(self) -> None:
        self._hurry()
        super().on_message_begin()

    def on_headers_complete(self) -> None:
        self._there()
        super().on_headers_complete()

    def connection_lost(self, exc: Exception | None) -> None:
        self._there()
        of_address = self._by_address[self._address]
        of_address.pop(self, None)
        if not of_address:
            del self._by_address[self._address]
        super().connection_lost(exc)


def answer_of(status: int, body: bytes, kind: str = "application/json") -> list[dict[str, Any]]:
    """What an ASGI application sends for a whole answer."""
    headers = [
        (b"content-type", kind.encode()),
        (b"content-length", str(len(body)).encode()),
        (b"cache-control", b"no-store"),
    ]
    return [
        {"type": "http.response.start", "status": status, "headers": headers},
        {"type": "http.response.body", "body": body},
    ]
