"""Answers made smaller on their way; what is told live goes out as it comes."""

from typing import Any

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware


class Smaller(GZipMiddleware):
    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> Any:
        live = response.headers.get("Content-Type", "").startswith("text/event-stream")
        return response if live else super().process_response(request, response)
