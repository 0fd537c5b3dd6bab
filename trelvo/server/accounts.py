from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

# The page itself and its files say nothing of the logbook; benches show their own token.
OPEN = ("/api/session", "/api/health", "/api/bench/")


class AccountsMiddleware:
    """Where Trelvo is served to other machines, its API answers only to those who have signed in."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        guarded = request.path.startswith("/api/") and not request.path.startswith(OPEN)
        if settings.ACCOUNTS and guarded and not request.user.is_authenticated:
            problem = {"where": "account", "what": "Nobody is signed in here.", "todo": "Sign in."}
            return JsonResponse({"problems": [problem]}, status=401)
        return self.get_response(request)
