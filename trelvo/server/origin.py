from collections.abc import Callable
from urllib.parse import urlsplit

from django.http import HttpRequest, HttpResponse, JsonResponse

from trelvo.core.problems import Problem
from trelvo.messages.problems import problems_body

SAFE = {"GET", "HEAD", "OPTIONS"}


class SameOriginMiddleware:
    """Refuses changes asked for by a page from elsewhere. Without accounts, this is what guards the local server."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        host = request.get_host()  # refuses a name that is not this machine's, whatever the method
        origin = request.headers.get("Origin")
        if request.method not in SAFE and origin and urlsplit(origin).netloc != host:
            problem = Problem("request", "page_from_elsewhere", {"origin": origin})
            return JsonResponse(problems_body(problem), status=403)
        return self.get_response(request)
