from django.db.models import Q
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import build_numbered, found_campaign, one_of
from trelvo.api.schema import Schema
from trelvo.core.compare.choices import SideChoice, named_candidates, side_choices
from trelvo.core.compare.service import Versus
from trelvo.core.compare.sides import REFERENCE, Side
from trelvo.core.compare.traps import Trap
from trelvo.core.goal.comparison import compared
from trelvo.core.goal.service import best_settings
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.cases import cases_alone, cases_of
from trelvo.logbook.models import Campaign

router = Router(tags=["compare"])


class VersusOut(Schema):
    """The answer, and whether Trelvo chose the candidates itself because none were named."""

    chosen_by_trelvo: bool
    versus: Versus
    traps: tuple[Trap, ...]


@router.get("/campaigns/{int:campaign_id}/compare", response={200: VersusOut, 404: Problems, 422: Problems})
def show_comparison(
    request: HttpRequest,
    campaign_id: int,
    reference: Query[int | None] = None,
    candidates: Query[str] = "",
    holm: Query[bool] = True,
    looks: Query[bool] = True,
    reference_build: Query[int | None] = None,
) -> VersusOut:
    """Up to six candidates (setting numbers, separated by commas) against a reference (stock if none is named).

    candidates: from this campaign or any other, on this rig or another; "12@2" is setting 12 under its rig's second build
    holm: correct for several candidates and workloads at once; looks: be stricter where runs were added after a first look
    reference_build: the reference's runs from another build, by number
    """
    named = named_candidates(candidates)
    own = found_campaign(campaign_id)
    campaigns = Campaign.objects.present().filter(settings__in=[pk for pk, _ in named]).exclude(pk=own.id)
    every = cases_of([own, *campaigns.select_related("rig").distinct()])
    case = every[own.pk]
    base = one_of(case.campaign.settings, reference) if reference else case.campaign.stock
    build = build_numbered(case.campaign, reference_build) if reference_build else case.campaign.judged_build
    there = {setting.id: (where, setting) for where in every.values() for setting in where.campaign.settings}
    sides: list[Side] = []
    for pk, number in named or [(setting.id, None) for setting in best_settings(case)]:
        if pk not in there:
            raise Refused(Problem("candidates", "no_such_setting", {"setting": pk}))
        where, setting = there[pk]
        under = where.campaign.judged_build if number is None else build_numbered(where.campaign, number)
        sides.append(Side(len(sides) + 1, where, setting, under))
    answer = compared(Side(REFERENCE, case, base, build), sides, timezone.now(), correct=holm, careful=looks)
    return VersusOut(chosen_by_trelvo=not named, versus=answer.versus, traps=answer.traps)


@router.get("/campaigns/{int:campaign_id}/sides", response={200: list[SideChoice], 404: Problems})
def list_sides(request: HttpRequest, campaign_id: int) -> list[SideChoice]:
    """Settings of every campaign that share a workload with this one, each under the builds it was measured in.

    shared: how many of this campaign's workloads it has runs of
    """
    own = found_campaign(campaign_id)
    measured = own.workloads.values("pk")
    rows = Campaign.objects.present().filter(Q(pk=own.pk) | Q(runs__variant__in=measured)).distinct()
    cases = cases_alone(list(rows.select_related("rig")))
    return side_choices(next(case for case in cases if case.campaign.id == own.pk), cases)
