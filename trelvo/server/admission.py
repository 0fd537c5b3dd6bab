"""Whether a large body may be sent at all: asked before any of it is read, so that strangers fill neither memory nor disk."""

import asyncio
import io
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user
from django.contrib.sessions.middleware import SessionMiddleware
from django.core.handlers.asgi import ASGIRequest
from django.db import DatabaseError, connections
from django.http import HttpResponse

from trelvo.core.problems import Problem
from trelvo.logbook.commands.bench_tokens import find_token
from trelvo.server.refusing import Refusal, refusal_of

# A body of this size or less is read from anyone: a sign-in, a form.
SMALL_BYTES = 64 * 1024
# Two threads of its own, so that it is answered while every worker is busy.
_threads = ThreadPoolExecutor(2, thread_name_prefix="admission")
_sessions = SessionMiddleware(lambda request: HttpResponse())


async def refusal_before_body(scope: dict[str, Any]) -> Refusal | None:
    """Return why the body of a request is not read; None where it is small, or comes from somebody who may send it."""
    if not settings.ACCOUNTS or _announced(scope) <= SMALL_BYTES:
        return None
    return await asyncio.get_running_loop().run_in_executor(_threads, _refusal, scope)


def _announced(scope: dict[str, Any]) -> float:
    """The size of the body in bytes; endless where none was announced."""
    headers = dict(scope.get("headers", ()))
    length = headers.get(b"content-length", b"")
    return float(length) if length.isdigit() and b"transfer-encoding" not in headers else float("inf")


def _refusal(scope: dict[str, Any]) -> Refusal | None:
    try:
        return _refusal_by_database(scope)
    except DatabaseError:
        # the answer itself says what is wrong with the database
        return None
    finally:
        connections.close_all()


def _refusal_by_database(scope: dict[str, Any]) -> Refusal | None:
    request = ASGIRequest(scope, io.BytesIO())
    if request.path.startswith("/api/bench/"):
        kind, _, words = request.headers.get("Authorization", "").partition(" ")
        if kind.lower() == "bearer" and find_token(words.strip()):
            return None
        return Refusal(401, Problem("token", "unknown_token"))
    if not request.path.startswith("/api/") or request.path.startswith("/api/session"):
        return Refusal(413, Problem("file", "nothing_large_taken_here"))
    _sessions.process_request(request)
    request.user = get_user(request)
    return refusal_of(request)
