"""The built front end, served whole: under ASGI a response that is read piece by piece would block the others."""

from django.http import HttpRequest, HttpResponse
from whitenoise.middleware import WhiteNoiseMiddleware
from whitenoise.responders import StaticFile


class StaticFiles(WhiteNoiseMiddleware):
    """WhiteNoise, with each file as one answer; the largest is the script of the first view."""

    @staticmethod
    def serve(static_file: StaticFile, request: HttpRequest) -> HttpResponse:
        found = static_file.get_response(request.method, request.META)
        content = found.file.read() if found.file is not None else b""
        answer = HttpResponse(content, status=int(found.status))
        # Django's own content type would stand beside the file's.
        del answer["content-type"]
        for name, value in found.headers:
            answer[name] = value
        return answer
