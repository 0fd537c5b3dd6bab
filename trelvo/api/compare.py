import re
from collections import defaultdict

from django.db.models import Q
from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.found import fitting_numbered, found_campaign, one_of
from trelvo.api.schema import Schema
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.compare.service import Versus, side_key
from trelvo.core.compare.sides import REFERENCE, Side
from trelvo.core.goal.service import best_settings
from trelvo.logbook.answers.compare import compared
from trelvo.logbook.cases import cases_alone, cases_of
from trelvo.logbook.models import Campaign

router = Router(tags=["compare"])

MOST_CANDIDATES = 6


class VersusOut(Schema):
    """The answer, and whether Trelvo chose the candidates itself because none were named."""

    chosen_by_trelvo: bool
    versus: Versus


@router.get("/campaigns/{int:campaign_id}/compare", response={200: VersusOut, 404: Problems, 422: Problems})
def show_comparison(
    request: HttpRequest,
    campaign_id: int,
    reference: Query[int | None] = None,
    candidates: Query[str] = "",
    holm: Query[bool] = True,
    looks: Query[bool] = True,
    reference_fitting: Query[int | None] = None,
) -> VersusOut:
    """Up to six candidates (setting numbers, separated by commas) against a reference (stock if none is named).

    candidates: from this campaign or any other, on this rig or another; "12@2" is setting 12 under its rig's second fitting
    holm: correct for several candidates and workloads at once; looks: be stricter where runs were added after a first look
    reference_fitting: the reference's runs from another fitting, by number
    """
    words = list(dict.fromkeys(word for word in candidates.split(",") if word))
    if not all(re.fullmatch(r"\d{1,9}(@\d{1,4})?", word) for word in words):
        raise Refused(Problem("candidates", "Candidates are setting numbers.", "Choose them from the list of rungs."))
    if len(words) > MOST_CANDIDATES:
        raise Refused(
            Problem("candidates", f"{len(words)} candidates were chosen.", f"Choose at most {MOST_CANDIDATES} at once.")
        )
    named = [(int(word.split("@")[0]), int(word.split("@")[1]) if "@" in word else None) for word in words]
    own = found_campaign(campaign_id)
    campaigns = Campaign.objects.present().filter(settings__in=[pk for pk, _ in named]).exclude(pk=own.id)
    every = cases_of([own, *campaigns.select_related("rig").distinct()])
    case = every[own.pk]
    base = one_of(case.campaign.settings, reference) if reference else case.campaign.stock
    fitting = fitting_numbered(case.campaign, reference_fitting) if reference_fitting else case.campaign.judged_fitting
    there = {setting.id: (where, setting) for where in every.values() for setting in where.campaign.settings}
    sides: list[Side] = []
    for pk, number in named or [(setting.id, None) for setting in best_settings(case)]:
        if pk not in there:
            raise Refused(Problem("candidates", f"There is no setting {pk} (any more).", "Choose from the list again."))
        where, setting = there[pk]
        under = where.campaign.judged_fitting if number is None else fitting_numbered(where.campaign, number)
        sides.append(Side(len(sides) + 1, where, setting, under))
    answer = compared(Side(REFERENCE, case, base, fitting), sides, timezone.now(), correct=holm, careful=looks)
    return VersusOut(chosen_by_trelvo=not words, versus=answer)


class SideChoice(Schema):
    """A setting that can be compared. key: names it as a candidate; runs: how many of its runs count"""

    key: str
    title: str
    campaign_id: int
    campaign_name: str
    rig_name: str
    fitting_number: int | None
    shared: int
    runs: int


@router.get("/campaigns/{int:campaign_id}/sides", response={200: list[SideChoice], 404: Problems})
def list_sides(request: HttpRequest, campaign_id: int) -> list[SideChoice]:
    """Settings of every campaign that share a workload with this one, each under the fittings it was measured in.

    shared: how many of this campaign's workloads it has runs of
    """
    own = found_campaign(campaign_id)
    measured = set(own.workloads.values_list("pk", flat=True))
    rows = Campaign.objects.present().filter(Q(pk=own.id) | Q(runs__variant__in=measured)).distinct()
    choices = []
    for case in cases_alone(list(rows.select_related("rig"))):
        numbers = {fitting.id: fitting for fitting in case.campaign.fittings}
        counted: dict[tuple[int, int], list[int]] = defaultdict(list)
        for run in case.campaign.runs:
            if case.campaign.was_made(run) and run.variant_id in measured:
                counted[run.setting_id, run.fitting_id].append(run.variant_id)
        settings = {setting.id: setting for setting in case.campaign.settings}
        for (setting_id, fitting_id), variants in counted.items():
            side = Side(1, case, settings[setting_id], numbers[fitting_id])
            choices.append(
                SideChoice(
                    key=side_key(side),
                    title=side.title,
                    campaign_id=case.campaign.id,
                    campaign_name=case.campaign.name,
                    rig_name=case.campaign.rig.name,
                    fitting_number=numbers[fitting_id].number,
                    shared=len(set(variants)),
                    runs=len(variants),
                )
            )
    return sorted(choices, key=lambda one: one.campaign_id != own.id)
