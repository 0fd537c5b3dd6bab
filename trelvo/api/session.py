"""Signing in and out, where Trelvo is served to other machines."""

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.api.sign_in_guard import Guard
from trelvo.core.problems import Problem, Refused

router = Router(tags=["session"])

guard = Guard()


class SessionOut(Schema):
    """needed: whether one has to sign in here at all; name: who has, or empty; owner: may delete, restore and let others in."""

    needed: bool
    name: str
    owner: bool


class SignIn(Schema):
    name: str = Field(min_length=1, max_length=150)
    password: str = Field(min_length=1, max_length=200)


def session_of(request: HttpRequest) -> SessionOut:
    name = request.user.get_username() if request.user.is_authenticated else ""
    owner = not settings.ACCOUNTS or bool(getattr(request.user, "is_staff", False))
    return SessionOut(needed=settings.ACCOUNTS, name=name, owner=owner)


@router.get("/session", response=SessionOut)
def show_session(request: HttpRequest) -> SessionOut:
    """Who is signed in."""
    return session_of(request)


@router.post("/session", response={200: SessionOut, 422: Problems})
def sign_in(request: HttpRequest, body: SignIn) -> SessionOut:
    """Signs in with an account of Django's."""
    address = str(request.META.get("REMOTE_ADDR", ""))
    if (wait_s := guard.begin(address, body.name)) > 0:
        raise Refused(Problem("password", "too_many_wrong_passwords", {"wait_s": wait_s}))
    user = authenticate(request, username=body.name, password=body.password)
    if user is None:
        raise Refused(Problem("password", "wrong_password"))
    guard.right(address, body.name)
    login(request, user)
    return session_of(request)


@router.delete("/session", response=SessionOut)
def sign_out(request: HttpRequest) -> SessionOut:
    """Signs out."""
    logout(request)
    return session_of(request)
