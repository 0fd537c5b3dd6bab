from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse

from trelvo.messages.problems import problems_body
from trelvo.server.refusing import refusal_of


class AccountsMiddleware:
    """Where Trelvo is served to other machines, its API answers to those who have signed in, as their role allows."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        refusal = refusal_of(request)
        if refusal is None:
            return self.get_response(request)
        return JsonResponse(problems_body(refusal.problem), status=refusal.status)
