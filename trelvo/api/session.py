"""Signing in and out, where Trelvo is served to other machines."""

import threading
import time

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.core.base.problems import Problem, Refused

router = Router(tags=["session"])

# Guessing is slowed down by name: after so many wrong words within the time, nobody is let in under it for a while.
MOST_TRIES = 5
WAIT_S = 60.0
_tries: dict[str, list[float]] = {}
_lock = threading.Lock()


class SessionOut(Schema):
    """needed: whether one has to sign in here at all; name: who has, or empty."""

    needed: bool
    name: str


class SignIn(Schema):
    name: str = Field(min_length=1, max_length=150)
    password: str = Field(min_length=1, max_length=200)


def session_of(request: HttpRequest) -> SessionOut:
    name = request.user.get_username() if request.user.is_authenticated else ""
    return SessionOut(needed=settings.ACCOUNTS, name=name)


@router.get("/session", response=SessionOut)
def show_session(request: HttpRequest) -> SessionOut:
    """Who is signed in."""
    return session_of(request)


@router.post("/session", response={200: SessionOut, 422: Problems})
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut:
    """Signs in with an account of Django's."""
    now, key = time.monotonic(), body.name.casefold()
    with _lock:
        recent = [at for at in _tries.get(key, []) if now - at < WAIT_S]
        _tries[key] = recent
    if len(recent) >= MOST_TRIES:
        what = "Too many wrong passwords under this name."
        raise Refused(Problem("password", what, f"Try again in {WAIT_S:.0f} seconds."))
    user = authenticate(request, username=body.name, password=body.password)
    if user is None:
        with _lock:
            _tries[key] = [*recent, now]
        raise Refused(Problem("password", "Name and password do not belong together.", "Check both."))
    with _lock:
        _tries.pop(key, None)
    login(request, user)
    return session_of(request)


@router.delete("/session", response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    """Signs out."""
    logout(request)
    return session_of(request)
