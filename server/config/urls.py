"""The API, and the built front end for every other path."""

from api.root import api
from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.urls import path, re_path


def front_end(_request: HttpRequest) -> HttpResponse:
    """The one page of the front end; it reads the path itself."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        raise Http404("The front end is not built: run make demo")
    return HttpResponse(page.read_bytes(), headers={"Cache-Control": "no-cache"})


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", front_end)]
