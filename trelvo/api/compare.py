from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Query, Router, Schema

from trelvo.api.errors import Problems
from trelvo.core.base.problems import Problem, Refused
from trelvo.logbook.answers.compare import Versus, versus_of
from trelvo.logbook.models import Campaign, Setting
from trelvo.logbook.rows.facts import judged_fitting, ladder_of, stock_of

router = Router(tags=["compare"])

MOST_CANDIDATES = 6


class VersusOut(Schema):
    """The answer, and whether Trelvo chose the candidates itself because none were named."""

    chosen_by_trelvo: bool
    versus: Versus


def default_candidates(campaign: Campaign) -> list[Setting]:
    """The three rungs with the largest gains on the main workload that never failed, the largest first."""
    ladder = ladder_of(campaign, campaign.workloads.all()[0], judged_fitting(campaign))
    safe = [
        (rung.gain.ratio, rung) for rung in ladder.rungs if rung.gain and not rung.failures + rung.failures_elsewhere
    ]
    best = [rung.setting_id for _, rung in sorted(safe, key=lambda pair: -pair[0])[:3]]
    found = campaign.settings.in_bulk(best)
    return [found[setting_id] for setting_id in best]


@router.get("/campaigns/{int:campaign_id}/compare", response={200: VersusOut, 404: Problems, 422: Problems})
def show_comparison(
    request: HttpRequest,
    campaign_id: int,
    reference: Query[int | None] = None,
    candidates: Query[str] = "",
    holm: Query[bool] = True,
    reference_fitting: Query[int | None] = None,
) -> VersusOut:
    """Up to six candidates (setting ids, separated by commas) against a reference (stock if none is named).

    holm: correct for several workloads at once; reference_fitting: the reference's runs from another fitting, by number
    """
    campaign = get_object_or_404(Campaign.objects.whole(), pk=campaign_id)
    base = get_object_or_404(campaign.settings, pk=reference) if reference else stock_of(campaign)
    words = [word for word in candidates.split(",") if word]
    if not all(word.isdigit() for word in words):
        raise Refused(Problem("candidates", "Candidates are setting numbers.", "Choose them from the list of rungs."))
    if len(words) > MOST_CANDIDATES:
        raise Refused(
            Problem("candidates", f"{len(words)} candidates were chosen.", f"Choose at most {MOST_CANDIDATES} at once.")
        )
    found = campaign.settings.in_bulk([int(word) for word in words])
    if len(found) != len(set(words)):
        raise Refused(Problem("candidates", "A candidate belongs to another campaign.", "Choose rungs of this one."))
    chosen = [found[int(word)] for word in dict.fromkeys(words)] if words else default_candidates(campaign)
    fitting = get_object_or_404(campaign.rig.fittings, number=reference_fitting) if reference_fitting else None
    answer = versus_of(campaign, base, chosen, timezone.now(), correct=holm, reference_fitting=fitting)
    return VersusOut(chosen_by_trelvo=not words, versus=answer)
