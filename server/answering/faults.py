"""Every refusal in one form: which field, what is wrong, what would be right."""

import errno
import json
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db import OperationalError
from django.dispatch import Signal
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.parser import Parser
from pydantic import BaseModel

from rigging.quantities.faults import Fault, Refused, found_in, merged

# Somebody who is signed in asked for what is not theirs: `request`.
forbidden = Signal()

UNREADABLE = Fault(
    "body", "not JSON that can be read", "send one JSON object in UTF-8; JSON knows no NaN and no Infinity"
)


class FaultOut(BaseModel):
    path: str
    problem: str
    right: str


class FaultsOut(BaseModel):
    """Why a request was refused."""

    faults: list[FaultOut]


REFUSED = {status: FaultsOut for status in (400, 401, 403, 404, 408, 413, 422, 429, 507)}


def answer_in_faults(status: int, path: str, problem: str, right: str) -> HttpResponse:
    """A refusal of what never came to an endpoint, or went wrong there."""
    return JsonResponse({"faults": [{"path": path, "problem": problem, "right": right}]}, status=status)


def _no_number(name: str) -> None:
    raise ValueError(f"{name} is not JSON")


class CarefulParser(Parser):
    """JSON whose text can be stored: no lone surrogates, no nesting past all bounds."""

    def parse_body(self, request: HttpRequest) -> Any:
        try:
            content = json.loads(request.body, parse_constant=_no_number)
            json.dumps(content, ensure_ascii=False).encode("utf-8")
        except (ValueError, RecursionError) as error:
            raise ValueError(UNREADABLE.problem) from error
        return content


def _answer(api: NinjaAPI, request: HttpRequest, status: int, faults: list[Fault]) -> HttpResponse:
    return api.create_response(request, {"faults": [vars(fault) for fault in faults]}, status=status)


def _named(loc: tuple[Any, ...]) -> tuple[Any, ...]:
    """A field's own path: a body is one argument of its own, a question in the address has its name right away."""
    return loc[2:] if loc and loc[0] == "body" else loc[1:]


def add_handlers(api: NinjaAPI) -> None:
    """Answer every refusal with its faults, never with a trace."""

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        # The first steps of the path say where in the request the field was: the reader knows only its name.
        faults = merged(fault for item in error.errors for fault in found_in({**item, "loc": _named(item["loc"])}))
        return _answer(api, request, 422, faults)

    @api.exception_handler(Refused)
    def refused(request: HttpRequest, error: Refused) -> HttpResponse:
        return _answer(api, request, 422, list(error.faults))

    @api.exception_handler(RequestDataTooBig)
    def too_big(request: HttpRequest, _error: RequestDataTooBig) -> HttpResponse:
        fault = Fault("body", "larger than 2 MB", "send a smaller document: a plan takes a few kilobytes")
        return _answer(api, request, 413, [fault])

    @api.exception_handler(OSError)
    @api.exception_handler(OperationalError)
    def no_room(request: HttpRequest, error: Exception) -> HttpResponse:
        full = getattr(error, "errno", None) in (errno.ENOSPC, errno.EDQUOT) or "disk is full" in str(error)
        if not full:
            raise error
        fault = Fault("disk", "full: this was not kept; what was kept before is there", "make room, then send it again")
        return _answer(api, request, 507, [fault])

    @api.exception_handler(AuthenticationError)
    def stranger(request: HttpRequest, _error: AuthenticationError) -> HttpResponse:
        return _answer(api, request, 401, [Fault("session", "not signed in", "sign in first")])

    @api.exception_handler(HttpError)
    def http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
        if error.status_code == 403:
            forbidden.send(sender=None, request=request)
        fault = Fault("request", str(error), "reload the page and try again")
        return _answer(api, request, error.status_code, [UNREADABLE if error.status_code == 400 else fault])
