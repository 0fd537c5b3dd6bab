import re
from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

# The page itself and its files say nothing of the logbook; benches show their own token.
OPEN = ("/api/session", "/api/health", "/api/bench/")
# What only an owner may do, besides every DELETE: who is let in, and what replaces or takes away the logbook.
FOR_OWNERS = re.compile(
    r"/api/(accounts|copies|database|campaigns/\d+/(delete|undelete|archived)|rigs/\d+/bench-tokens|bench-tokens)(/|$)"
)
# Of these everyone may take back what is their own.
OWN = ("/api/session", "/api/account/")


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
            and needs_owner(request.method or "", request.path)
        ):
            what = "This account may log runs, not delete or replace anything."
            return _refused("account", what, "Ask an owner of this Trelvo to do it.", 403)
        return self.get_response(request)


def needs_owner(method: str, path: str) -> bool:
    """Whether an account that may only log is refused."""
    if path.startswith(OWN):
        return False
    return method == "DELETE" or bool(FOR_OWNERS.match(path))


def _refused(where: str, what: str, todo: str, status: int) -> JsonResponse:
    return JsonResponse({"problems": [{"where": where, "what": what, "todo": todo}]}, status=status)
