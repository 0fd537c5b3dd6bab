"""The application: short answers from a pool of threads that keep their database connections, streams from the event loop.

Django's own asynchronous handler takes a new thread and a new connection for every request; with benches that send twice
a second each, that was most of the work.
"""

import os
import re
from typing import Any, cast

from a2wsgi import WSGIMiddleware
from django.core.asgi import get_asgi_application
from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "trelvo.server.settings")
_streams = get_asgi_application()
_answers: Any = WSGIMiddleware(cast(Any, get_wsgi_application()), workers=8)

from trelvo.server.admission import refusal_before_body  # noqa: E402  Django's settings come first
from trelvo.server.bounds import BoundedBodies, Receive, Scope, Send  # noqa: E402

# health must answer while every worker is busy
STREAM = re.compile(r"/api/runs/\d+/stream|/api/health")


async def _by_kind(scope: Scope, receive: Receive, send: Send) -> None:
    if scope["type"] == "http" and STREAM.fullmatch(scope["path"]):
        await _streams(scope, receive, send)
    else:
        await _answers(scope, receive, send)


application = BoundedBodies(_by_kind, admit=refusal_before_body)
