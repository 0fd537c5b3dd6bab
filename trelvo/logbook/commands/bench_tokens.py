"""Lets real machines in: a token for one rig, shown once, kept as its digest."""

import hashlib
import secrets
from datetime import datetime, timedelta

from django.db import transaction

from trelvo.core.problems import Problem, Refused
from trelvo.logbook.models import BenchToken, Rig


def digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


@transaction.atomic
def make_token(rig: Rig, name: str, now: datetime) -> tuple[BenchToken, str]:
    """A new token and its words; they cannot be shown again."""
    if not name.strip():
        raise Refused(Problem("name", "bench_without_name"))
    words = secrets.token_urlsafe(24)
    return BenchToken.objects.create(rig=rig, name=name.strip(), digest=digest(words), created_at=now), words


def find_token(words: str) -> BenchToken | None:
    """The token with these words, unless it was withdrawn."""
    return BenchToken.objects.select_related("rig").filter(digest=digest(words), revoked_at__isnull=True).first()


def known_token(words: str, now: datetime) -> BenchToken | None:
    """The token with these words, unless it was withdrawn; notes at most once a minute that it was used."""
    token = find_token(words)
    if token and (token.heard_at is None or now - token.heard_at > timedelta(minutes=1)):
        token.heard_at = now
        token.save(update_fields=["heard_at"])
    return token


@transaction.atomic
def withdraw_token(token: BenchToken, now: datetime) -> None:
    """From now on nobody is let in with it."""
    token.revoked_at = token.revoked_at or now
    token.save(update_fields=["revoked_at"])
