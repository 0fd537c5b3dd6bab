import re
import tempfile
from typing import IO, cast
from uuid import UUID

from django.http import FileResponse, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router, Status, UploadedFile

from trelvo.api.errors import Problems
from trelvo.api.found import found_campaign, found_case
from trelvo.api.schema import Schema
from trelvo.exchange.archive.merge import ImportPlan, import_archive, plan_of
from trelvo.exchange.archive.read import read_archive
from trelvo.exchange.archive.write import write_archive
from trelvo.exchange.files.runs_csv import runs_csv
from trelvo.exchange.report.blocks import Report
from trelvo.exchange.report.html import as_html, drawing_svg
from trelvo.exchange.report.markdown import as_markdown
from trelvo.exchange.report.story import campaign_report
from trelvo.logbook.answers.kept_settings import kept_setting_views
from trelvo.logbook.models import Campaign, KeptSetting

router = Router(tags=["files"])


# An archive larger than this is put together on the disk.
IN_MEMORY = 32 * 1024**2


def plain_name(name: str) -> str:
    """A name as a file can bear it anywhere."""
    return re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "campaign"


def download(content: bytes, content_type: str, name: str, suffix: str) -> HttpResponse:
    headers = {"Content-Disposition": f'attachment; filename="{plain_name(name)}{suffix}"'}
    return HttpResponse(content, content_type=content_type, headers=headers)


@router.get("/campaigns/{int:campaign_id}/runs.csv", include_in_schema=False)
def export_csv(request: HttpRequest, campaign_id: int) -> HttpResponse:
    """The campaign's runs as CSV."""
    campaign = found_campaign(campaign_id)
    return download(runs_csv(campaign), "text/csv; charset=utf-8", campaign.name, "-runs.csv")


def _report(campaign_id: int) -> Report:
    data = found_case(campaign_id)
    kept_settings = KeptSetting.objects.filter(campaign_id=campaign_id, taken_back_at=None)
    now = timezone.now()
    return campaign_report(data, kept_setting_views(kept_settings, now), now)


@router.get("/campaigns/{int:campaign_id}/report.html", include_in_schema=False)
def export_report(request: HttpRequest, campaign_id: int) -> HttpResponse:
    """The campaign's story as one HTML file."""
    report = _report(campaign_id)
    return download(as_html(report).encode(), "text/html; charset=utf-8", report.title, "-report.html")


@router.get("/campaigns/{int:campaign_id}/report.md", include_in_schema=False)
def export_markdown(request: HttpRequest, campaign_id: int) -> HttpResponse:
    """The campaign's story as Markdown."""
    report = _report(campaign_id)
    return download(as_markdown(report).encode(), "text/markdown; charset=utf-8", report.title, "-report.md")


class ShortReport(Schema):
    """Twelve lines at most, for a post; and the drawing that goes with them, as SVG. title: of the campaign"""

    title: str
    lines: list[str]
    svg: str


@router.get("/campaigns/{int:campaign_id}/report", response={200: ShortReport, 404: Problems})
def show_short_report(request: HttpRequest, campaign_id: int) -> ShortReport:
    """The short form of the campaign's story."""
    report = _report(campaign_id)
    return ShortReport(title=report.title, lines=list(report.short), svg=drawing_svg(report))


@router.get("/archive.zip", include_in_schema=False)
def export_archive(request: HttpRequest, campaign_id: int | None = None) -> FileResponse:
    """The archive of the whole logbook, or of one campaign."""
    rows = Campaign.objects.present().select_related("rig").order_by("id")
    campaigns = [found_campaign(campaign_id)] if campaign_id is not None else list(rows)
    # on disk once it is large; the answer closes it
    file = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115
    try:
        write_archive(campaigns, cast(IO[bytes], file), timezone.now(), whole=campaign_id is None)
    except BaseException:
        file.close()
        raise
    file.seek(0)
    name = f"{plain_name(campaigns[0].name)}.zip" if campaign_id is not None else "trelvo-logbook.zip"
    return FileResponse(file, as_attachment=True, filename=name, content_type="application/zip")


@router.post("/archive/plan", response={200: ImportPlan, 413: Problems, 422: Problems})
def plan_archive(request: HttpRequest, file: File[UploadedFile]) -> ImportPlan:
    """What importing an archive would do: what is new, what is there already, what differs. Nothing is written."""
    now = timezone.now()
    return plan_of(read_archive(file, now))


@router.post("/archive/import", response={201: ImportPlan, 413: Problems, 422: Problems})
def import_archive_file(
    request: HttpRequest,
    file: File[UploadedFile],
    copies: Form[list[UUID]] = [],  # noqa: B006
) -> Status[ImportPlan]:
    """Store what is new in an archive, all of it or nothing; what is there already is not changed.

    copies: campaigns that are there already, to be stored as copies
    """
    now = timezone.now()
    return Status(201, import_archive(read_archive(file, now), now, copies))
