"""Whether the account that a request comes from may make it: asked before a large body is read, and before it is answered."""

import re
from dataclasses import dataclass

from django.conf import settings
from django.db.models import QuerySet
from django.http import HttpRequest

from trelvo.core.problems import Problem
from trelvo.logbook.models import BenchAccount, Campaign, KeptSetting, Run, UseEntry
from trelvo.server.permissions import role_for

# The page itself, its files and what the program declares say nothing of the logbook; benches show their own token.
OPEN = ("/api/session", "/api/health", "/api/registry", "/api/bench/")
_READS = ("GET", "HEAD", "OPTIONS")


@dataclass(frozen=True)
class Refusal:
    """Why a request is not let through. status: of HTTP"""

    status: int
    problem: Problem


def refusal_of(request: HttpRequest) -> Refusal | None:
    """Return why the account that a request comes from may not make it; None where it may, or where nobody has to sign in."""
    if not settings.ACCOUNTS or not request.path.startswith("/api/") or request.path.startswith(OPEN):
        return None
    if not request.user.is_authenticated:
        return Refusal(401, Problem("account", "not_signed_in"))
    if request.user.is_staff:
        return None
    method = request.method or ""
    if role_for(method, request.path) == "owner":
        return Refusal(403, Problem("account", "account_only_logs"))
    own = BenchAccount.objects.select_related("rig").filter(user_id=request.user.pk).first()
    rig_id = None if own is None or method in _READS else _rig_of(request.path)
    if own is not None and rig_id not in (None, own.rig_id):
        return Refusal(403, Problem("account", "account_logs_one_rig", {"rig": own.rig.name}))
    return None


def _rig_of(path: str) -> int | None:
    """The rig that an address is about; None where it is about none, or where there is no such thing."""
    found = re.match(r"/api/(campaigns|rigs|runs|kept_settings|use)/(\d+)", path)
    if found is None:
        return None
    kind, number = found.group(1), int(found.group(2))
    if kind == "rigs":
        return number
    rows: dict[str, tuple[QuerySet[Campaign] | QuerySet[Run] | QuerySet[KeptSetting] | QuerySet[UseEntry], str]] = {
        "campaigns": (Campaign.objects.all(), "rig_id"), "runs": (Run.objects.all(), "campaign__rig_id"),
        "kept_settings": (KeptSetting.objects.all(), "rig_id"), "use": (UseEntry.objects.all(), "kept_setting__rig_id"),
    }  # fmt: skip
    asked, column = rows[kind]
    rig_id: int | None = asked.filter(pk=number).values_list(column, flat=True).first()
    return rig_id
