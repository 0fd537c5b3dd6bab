import logging

from django.contrib.sessions.middleware import SessionMiddleware
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

from trelvo.api.errors import database_trouble

log = logging.getLogger(__name__)


class Sessions(SessionMiddleware):
    """Django's sessions; one that cannot be stored, as while a backup is restored, is refused as any other write is."""

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        try:
            return super().process_response(request, response)
        except OperationalError as trouble:
            log.error("%s %s: %s", request.method, request.path, trouble)
            problem, headers = database_trouble(trouble)
            return JsonResponse({"problems": [problem]}, status=503, headers=headers)
