from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

from trelvo.server.permissions import role_for

# The page itself and its files say nothing of the logbook; benches show their own token.
OPEN = ("/api/session", "/api/health", "/api/bench/")


class AccountsMiddleware:
    """Where Trelvo is served to other machines, its API answers to those who have signed in, as their role allows."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        guarded = request.path.startswith("/api/") and not request.path.startswith(OPEN)
        if settings.ACCOUNTS and guarded and not request.user.is_authenticated:
            return _refused("account", "Nobody is signed in here.", "Sign in.", 401)
        if (
            settings.ACCOUNTS
            and guarded
            and not request.user.is_staff
            and role_for(request.method or "", request.path) == "owner"
        ):
            what = "This account may log runs, not change or remove what is there."
            return _refused("account", what, "Ask an owner of this Trelvo to do it.", 403)
        return self.get_response(request)


def _refused(where: str, what: str, todo: str, status: int) -> JsonResponse:
    return JsonResponse({"problems": [{"where": where, "what": what, "todo": todo}]}, status=status)
