"""Refusals that Django itself gives, in the API's form where the API was asked."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase

from trelvo.core.problems import Problem
from trelvo.messages.problems import problems_body

CODES = {
    400: "unreadable_request",
    403: "not_allowed",
    404: "no_such_address",
    405: "no_such_method",
    500: "program_fault_logged",
}


class PlainRefusals:
    """Turns an answer of Django's own, which is a page, into problems."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        in_words = response.headers.get("Content-Type", "").startswith("application/json")
        if request.path.startswith("/api/") and response.status_code in CODES and not in_words:
            plain = in_problems(response.status_code)
            if allowed := response.headers.get("Allow"):
                plain["Allow"] = allowed
            return plain
        return response


def in_problems(status: int) -> HttpResponse:
    return JsonResponse(problems_body(Problem("address", CODES[status])), status=status)
