from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase

# Scripts, fonts and data come from Trelvo alone. Styles may are in the page: the components write theirs there.
POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:",
        "font-src 'self' data:",
        "connect-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)


class ContentPolicyMiddleware:
    """Says to the browser what a page of Trelvo may load: nothing from elsewhere, no script in the page, no frame around it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response
