"""Who is let in where Trelvo is served to other machines, what each may do, and one's own password."""

from datetime import datetime
from typing import Any, Literal

from django.contrib.auth import get_user_model, logout, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.api.session import SessionOut, session_of
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import BenchAccount, BenchToken, Rig

router = Router(tags=["accounts"])

AccountRole = Literal["owner", "bench"]


class AccountOut(Schema):
    """role: an owner may do everything, a bench may log and not delete; signed_in: in how many browsers; let_in: not withdrawn

    rig_id: the only rig that a bench may log on, None: on every rig
    """

    id: int
    name: str
    role: AccountRole
    let_in: bool
    last_sign_in: datetime | None
    signed_in: int
    rig_id: int | None


class BenchLetIn(Schema):
    """A bench that may send runs of one rig. heard_at: when it was last heard of"""

    name: str
    rig: str
    heard_at: datetime | None


class LetIn(Schema):
    """Everyone and everything that is let in."""

    accounts: list[AccountOut]
    benches: list[BenchLetIn]


class AccountChange(Schema):
    """rig_id: the only rig that a bench may log on from now on, None: every rig; left out it stays as it is"""

    role: AccountRole | None = None
    let_in: bool | None = None
    rig_id: int | None = None


class NewPassword(Schema):
    old: str = Field(min_length=1, max_length=200)
    new: str = Field(min_length=1, max_length=200)


def _sessions() -> dict[str, list[Session]]:
    """The sessions that are still good, by the number of whose they are."""
    found: dict[str, list[Session]] = {}
    for session in Session.objects.filter(expire_date__gt=timezone.now()):
        if number := session.get_decoded().get("_auth_user_id"):
            found.setdefault(str(number), []).append(session)
    return found


def _out(user: Any, sessions: dict[str, list[Session]]) -> AccountOut:
    return AccountOut(
        id=user.pk,
        name=user.get_username(),
        role="owner" if user.is_staff else "bench",
        let_in=user.is_active,
        last_sign_in=user.last_login,
        signed_in=len(sessions.get(str(user.pk), [])),
        rig_id=BenchAccount.objects.filter(user=user).values_list("rig_id", flat=True).first(),
    )


@router.get("/accounts", response=LetIn)
def list_let_in(request: HttpRequest) -> LetIn:
    """Everyone who has an account, and every bench that has a token."""
    sessions = _sessions()
    accounts = [_out(user, sessions) for user in get_user_model().objects.order_by("username")]
    tokens = BenchToken.objects.filter(revoked_at=None).select_related("rig").order_by("rig__name", "name")
    benches = [BenchLetIn(name=token.name, rig=token.rig.name, heard_at=token.heard_at) for token in tokens]
    return LetIn(accounts=accounts, benches=benches)


@router.post("/accounts/{int:account_id}", response={200: AccountOut, 404: Problems, 422: Problems})
def change_account(request: HttpRequest, account_id: int, change: AccountChange) -> AccountOut:
    """Another role, another rig, or letting someone in no longer. There is always an owner left."""
    with transaction.atomic():
        user: Any = get_object_or_404(get_user_model(), pk=account_id)
        user.is_staff = change.role == "owner" if change.role is not None else user.is_staff
        user.is_active = change.let_in if change.let_in is not None else user.is_active
        user.save()
        if not get_user_model().objects.filter(is_staff=True, is_active=True).exists():
            raise Refused(Problem("role", "last_owner"))
        _bind(user, change)
    if not user.is_active:
        for session in _sessions().get(str(user.pk), []):
            session.delete()
    return _out(user, _sessions())


def _bind(user: Any, change: AccountChange) -> None:
    """Let a bench log on one rig only, or on every rig again; an owner is bound to none."""
    if user.is_staff and change.rig_id is not None:
        raise Refused(Problem("rig_id", "owner_logs_everywhere"))
    if user.is_staff or ("rig_id" in change.model_fields_set and change.rig_id is None):
        BenchAccount.objects.filter(user=user).delete()
    elif change.rig_id is not None:
        rig = Rig.objects.filter(pk=change.rig_id).first()
        if rig is None:
            raise Refused(Problem("rig_id", "no_such_rig", {"rig": change.rig_id}))
        BenchAccount.objects.update_or_create(user=user, defaults={"rig": rig})


@router.post("/account/password", response={200: SessionOut, 422: Problems})
def change_password(request: HttpRequest, wish: NewPassword) -> SessionOut:
    """One's own password; signed-in browsers elsewhere have to sign in again."""
    user = _me(request)
    if not user.check_password(wish.old):
        raise Refused(Problem("old", "wrong_old_password"))
    try:
        validate_password(wish.new, user)
    except ValidationError as trouble:
        raise Refused(Problem("new", "password_refused", {"reasons": " ".join(trouble.messages)})) from trouble
    user.set_password(wish.new)
    user.save()
    update_session_auth_hash(request, user)
    return session_of(request)


@router.post("/account/sign-out-everywhere", response={200: SessionOut, 422: Problems})
def sign_out_everywhere(request: HttpRequest) -> SessionOut:
    """Signs one's own account out in every browser, this one too."""
    for session in _sessions().get(str(_me(request).pk), []):
        session.delete()
    logout(request)
    return session_of(request)


def _me(request: HttpRequest) -> Any:
    if not request.user.is_authenticated:
        raise Refused(Problem("account", "nobody_signed_in"))
    return request.user
