"""Tokens that tell whether something on which answers rest has changed. Every command that changes it replaces them."""

import secrets
from collections.abc import Iterable, Mapping

from trelvo.logbook.models import ChangeToken

# What two campaigns of one logbook share: what workloads are called, and how long they take.
WORKLOADS = "workloads"


def campaign_changed(campaign_id: int) -> None:
    """Call in the transaction that changed a campaign: its runs, settings, knobs, goal, limits, targets or kept settings."""
    _replace(f"campaign {campaign_id}")


def rig_changed(rig_id: int) -> None:
    """Call in the transaction that changed a rig: its builds, instruments or journal, or which workloads its campaigns use."""
    _replace(f"rig {rig_id}")


def workloads_changed() -> None:
    """Call in the transaction that added, changed or removed a workload or a variant of one."""
    _replace(WORKLOADS)


def read_tokens(campaigns: Iterable[tuple[int, int]]) -> Mapping[int, tuple[str, str, str]]:
    """By campaign, its own token, its rig's, and that of all workloads; in one query.

    campaigns: the ids of each campaign and of its rig. A token is empty where nothing has changed yet.
    """
    subjects = {
        campaign_id: (f"campaign {campaign_id}", f"rig {rig_id}", WORKLOADS) for campaign_id, rig_id in campaigns
    }
    wanted = {subject for some in subjects.values() for subject in some}
    tokens = dict(ChangeToken.objects.filter(subject__in=wanted).values_list("subject", "token"))
    return {
        campaign_id: (tokens.get(own, ""), tokens.get(rig, ""), tokens.get(every, ""))
        for campaign_id, (own, rig, every) in subjects.items()
    }


def _replace(subject: str) -> None:
    row = ChangeToken(subject=subject, token=secrets.token_hex(12))
    ChangeToken.objects.bulk_create([row], update_conflicts=True, unique_fields=["subject"], update_fields=["token"])
