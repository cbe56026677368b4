"""The API, and the built front end for every other path."""

from answering.faults import answer_in_faults
from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.urls import path, re_path

from config.api import api
from config.openapi import published


def front_end(_request: HttpRequest) -> HttpResponse:
    """The one page of the front end; it reads the path itself."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        raise Http404("The front end is not built: run make demo")
    return HttpResponse(page.read_bytes(), headers={"Cache-Control": "no-cache"})


def openapi(request: HttpRequest) -> HttpResponse:
    """The OpenAPI of every endpoint, for whoever is signed in."""
    if not request.user.is_authenticated:
        return answer_in_faults(401, "session", "not signed in", "sign in first")
    return JsonResponse(published())


urlpatterns = [path("api/openapi.json", openapi), path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", front_end)]


def nothing_there(_request: HttpRequest, exception: Exception) -> HttpResponse:
    return answer_in_faults(404, "address", "nothing is here", "reload the page and try again")


def went_wrong(_request: HttpRequest) -> HttpResponse:
    return answer_in_faults(
        500,
        "request",
        "this went wrong on the server, and nothing of it was kept",
        "try again, and tell whoever keeps it",
    )


handler404, handler500 = nothing_there, went_wrong
