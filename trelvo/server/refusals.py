"""Refusals that Django itself gives, in the API's form where the API was asked."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase

WORDS = {
    400: ("The request cannot be read.", "Send it again, corrected."),
    403: ("This is not allowed.", "Open Trelvo at the address it printed when it started."),
    404: ("There is nothing at this address.", "See /api/openapi.json for what there is."),
    405: ("This address is not asked in this way.", "See /api/openapi.json for how."),
    500: (
        "Trelvo made a mistake; what happened is in its log.",
        "Try again; if it comes again, report it with the log.",
    ),
}


class PlainRefusals:
    """Turns an answer of Django's own, which is a page, into problems."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        in_words = response.headers.get("Content-Type", "").startswith("application/json")
        if request.path.startswith("/api/") and response.status_code in WORDS and not in_words:
            plain = in_problems(response.status_code)
            if allowed := response.headers.get("Allow"):
                plain["Allow"] = allowed
            return plain
        return response


def in_problems(status: int) -> HttpResponse:
    what, todo = WORDS[status]
    return JsonResponse({"problems": [{"where": "address", "what": what, "todo": todo}]}, status=status)
