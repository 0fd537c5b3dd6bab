from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.logbook.commands.bench_tokens import make_token, withdraw_token
from trelvo.logbook.models import BenchToken, Rig

router = Router(tags=["bench tokens"])


class TokenIn(Schema):
    name: str = Field(max_length=80)


class TokenOut(Schema):
    id: int
    name: str
    created_at: datetime
    heard_at: datetime | None
    revoked_at: datetime | None


class NewToken(Schema):
    """words: the token itself, shown this once."""

    token: TokenOut
    words: str


@router.get("/rigs/{int:rig_id}/bench-tokens", response={200: list[TokenOut], 404: Problems})
def list_tokens(request: HttpRequest, rig_id: int) -> list[BenchToken]:
    """Tokens of a rig, withdrawn ones too."""
    return list(get_object_or_404(Rig, pk=rig_id).bench_tokens.all())


@router.post("/rigs/{int:rig_id}/bench-tokens", response={201: NewToken, 404: Problems, 422: Problems})
def new_token(request: HttpRequest, rig_id: int, body: TokenIn) -> Status[NewToken]:
    """A token for the agent on one machine."""
    token, words = make_token(get_object_or_404(Rig, pk=rig_id), body.name, timezone.now())
    return Status(201, NewToken(token=TokenOut.from_orm(token), words=words))


@router.post("/bench-tokens/{int:token_id}/withdraw", response={200: TokenOut, 404: Problems})
def withdraw(request: HttpRequest, token_id: int) -> BenchToken:
    """Nobody is let in with this token any more."""
    token = get_object_or_404(BenchToken, pk=token_id)
    withdraw_token(token, timezone.now())
    return token
