import re

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router, Status, UploadedFile

from trelvo.api.campaigns import CampaignOut, campaign_out
from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign
from trelvo.exchange.files.campaign_file import campaign_file, from_json, to_json
from trelvo.exchange.files.campaign_restore import restore
from trelvo.exchange.files.runs_csv import runs_csv

router = Router(tags=["files"])


def download(content: bytes, content_type: str, name: str, suffix: str) -> HttpResponse:
    plain = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "campaign"
    headers = {"Content-Disposition": f'attachment; filename="{plain}{suffix}"'}
    return HttpResponse(content, content_type=content_type, headers=headers)


@router.get("/campaigns/{int:campaign_id}/export.json", include_in_schema=False)
def export_json(request: HttpRequest, campaign_id: int) -> HttpResponse:
    """The campaign file."""
    campaign = found_campaign(campaign_id)
    return download(to_json(campaign_file(campaign, timezone.now())), "application/json", campaign.name, ".trelvo.json")


@router.get("/campaigns/{int:campaign_id}/runs.csv", include_in_schema=False)
def export_csv(request: HttpRequest, campaign_id: int) -> HttpResponse:
    """The campaign's runs as CSV."""
    campaign = found_campaign(campaign_id)
    return download(runs_csv(campaign), "text/csv; charset=utf-8", campaign.name, "-runs.csv")


@router.post("/campaigns/import", response={201: CampaignOut, 413: Problems, 422: Problems})
def import_campaign(request: HttpRequest, file: File[UploadedFile], as_copy: Form[bool] = False) -> Status[CampaignOut]:
    """Puts a campaign file into this logbook."""
    return Status(201, campaign_out(restore(from_json(file.read()), timezone.now(), as_copy=as_copy)))
