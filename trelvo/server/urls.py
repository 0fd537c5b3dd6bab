from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path

from trelvo.api import api

# What the logbook's screen asks first: the browser is told with the page, and asks while it still reads the program.
ASKED_FIRST = {"/logbook": "/api/logbook"}


def page(request: HttpRequest) -> HttpResponse:
    """The one page of the front end, whatever its address, so that addresses can be kept and reloaded."""
    file = settings.WEB_DIST / "index.html"
    if not file.exists():
        return HttpResponse(
            "The screens are not built yet. Start Trelvo with ./run.py serve or ./run.py demo.", status=503
        )
    headers = {"Cache-Control": "no-cache"}
    first = ASKED_FIRST.get(request.get_full_path())
    if first and (not settings.ACCOUNTS or request.user.is_authenticated):
        headers["Link"] = f"<{first}>; rel=preload; as=fetch; crossorigin=anonymous"
    return HttpResponse(file.read_bytes(), headers=headers)


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", page)]
