"""What the API answers is kept by nobody on the way: no cache but the application's own."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class Private:
    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]):
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        told = self.answer(request)
        if request.path.startswith("/api/"):
            told.headers.setdefault("Cache-Control", "no-store")
        return told
