from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path

from trelvo.api import api


def page(request: HttpRequest) -> HttpResponse:
    """The one page of the front end, whatever its address, so that addresses can be kept and reloaded."""
    file = settings.WEB_DIST / "index.html"
    if not file.exists():
        return HttpResponse(
            "The screens are not built yet. Start Trelvo with ./run.py serve or ./run.py demo.", status=503
        )
    return HttpResponse(file.read_bytes(), headers={"Cache-Control": "no-cache"})


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", page)]
