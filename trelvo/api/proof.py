from typing import Annotated

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Query, Router
from pydantic import Field

from trelvo.api.campaigns import CampaignOut, campaign_out
from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign, found_case, one_of
from trelvo.api.rigs import WorkloadIn
from trelvo.api.runs import found_run
from trelvo.api.schema import Schema
from trelvo.core.prove.after_failure import TriageView, triage_view
from trelvo.core.prove.service import ProofView, proof_view
from trelvo.logbook.commands.campaigns import set_test_suite
from trelvo.logbook.models import LiveRun, Variant

router = Router(tags=["proof"])


class TestSuiteIn(Schema):
    """What the campaign proves with besides its own workloads: some that the rig has, and new ones."""

    workload_ids: list[int] = Field(default_factory=list, max_length=60)
    workloads: list[WorkloadIn] = Field(default_factory=list, max_length=60)


@router.get("/campaigns/{int:campaign_id}/proof", response={200: ProofView, 404: Problems, 422: Problems})
def show_proof(
    request: HttpRequest,
    campaign_id: int,
    setting_id: Query[int | None] = None,
    minutes: Annotated[float | None, Query(ge=0, le=100_000)] = None,
) -> ProofView:
    """A setting's proof by every approach: done, missing, failed, and what it says.

    minutes: bench time there is, to see what of it fits; the accepted risk is the campaign's
    """
    case = found_case(campaign_id)
    if setting_id is not None:
        one_of(case.campaign.settings, setting_id)
    terms = case.terms
    return proof_view(case, setting_id, 1 / terms.hours, terms.sure, minutes)


@router.post("/campaigns/{int:campaign_id}/test-suite", response={200: CampaignOut, 404: Problems, 422: Problems})
def choose_test_suite(request: HttpRequest, campaign_id: int, body: TestSuiteIn) -> CampaignOut:
    """Sets what the campaign proves with besides its own workloads."""
    campaign = found_campaign(campaign_id)
    kept = [get_object_or_404(Variant, pk=pk) for pk in dict.fromkeys(body.workload_ids)]
    set_test_suite(campaign, kept, [workload.draft() for workload in body.workloads])
    return campaign_out(campaign)


@router.get("/runs/{int:run_id}/triage", response={200: TriageView, 404: Problems, 422: Problems})
def show_triage(request: HttpRequest, run_id: int) -> TriageView:
    """What to do after this run failed, in order."""
    run = found_run(run_id)
    live = LiveRun.objects.filter(run_id=run_id).first()
    limit_c = live.limits.get("temp_c") if live else None
    return triage_view(found_case(run.campaign_id), run.id, limit_c)
