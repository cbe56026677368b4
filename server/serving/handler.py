"""Django behind an event loop, its views in threads that stay: one hop into a thread for a request, one of its own for a STOP, none for a listener."""

import asyncio
import contextvars
from collections.abc import AsyncIterator, Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

from django.core import signals
from django.core.exceptions import RequestAborted
from django.core.handlers.asgi import ASGIHandler, get_script_prefix
from django.core.handlers.base import BaseHandler
from django.urls import set_script_prefix

T = TypeVar("T")
# Set by the doors on a request that waits for nothing.
STOP = "outrigger.stop"


class Handler(ASGIHandler):
    """All of the middleware as it is in threads, in one of `threads`; a STOP in one of a few that nothing else takes."""

    def __init__(self, threads: int) -> None:
        BaseHandler.__init__(self)
        self.load_middleware(is_async=False)
        self._threads = ThreadPoolExecutor(threads, thread_name_prefix="answers")
        self._stops = ThreadPoolExecutor(8, thread_name_prefix="stops")

    async def __call__(self, scope: Any, receive: Any, send: Any) -> None:
        threads = self._stops if scope.get(STOP) else self._threads
        with await self.read_body(receive) as body:
            request, error = self.create_request(scope, body)
            response: Any = error or await _in(threads, self._answered, scope, request)
            try:
                if response.streaming:
                    await self._while_somebody_listens(self.send_response(response, send), receive)
                else:
                    await self.send_response(response, send)
            finally:
                await _in(threads, response.close)

    def _answered(self, scope: Any, request: Any) -> Any:
        set_script_prefix(get_script_prefix(scope))
        signals.request_started.send(sender=self.__class__, scope=scope)
        response: Any = self.get_response(request)
        response._handler_class = self.__class__
        if response.streaming and not response.is_async:
            response.streaming_content = self._read(response.streaming_content)
        return response

    async def _read(self, parts: Iterable[bytes]) -> AsyncIterator[bytes]:
        """A file or a table, piece by piece: read in a thread, never all of it in memory."""
        pieces = iter(parts)
        while (piece := await _in(self._threads, next, pieces, None)) is not None:
            yield piece

    async def _while_somebody_listens(self, told: Any, receive: Any) -> None:
        """Sends until the other end is gone."""
        sending, gone = asyncio.ensure_future(told), asyncio.ensure_future(self._gone(receive))
        await asyncio.wait([sending, gone], return_when=asyncio.FIRST_COMPLETED)
        for one in (sending, gone):
            one.cancel()
        await asyncio.gather(sending, gone, return_exceptions=True)

    async def _gone(self, receive: Any) -> None:
        try:
            await self.listen_for_disconnect(receive)
        except RequestAborted:
            return


async def _in(threads: ThreadPoolExecutor, work: Callable[..., T], *given: Any) -> T:
    return await asyncio.get_running_loop().run_in_executor(threads, contextvars.copy_context().run, work, *given)
