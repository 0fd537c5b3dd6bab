"""The report: every number as on the screens, nothing that a user typed becomes markup, one file that needs nothing else."""

import re

import pytest

from tests.drafts import run_draft
from trelvo.exchange.report import numbers
from trelvo.exchange.report.blocks import Drawing, Paragraph, Report, Section, Whisker, table
from trelvo.exchange.report.html import as_html, picture_of
from trelvo.exchange.report.markdown import as_markdown
from trelvo.logbook.commands.campaigns import WorkloadDraft, add_workloads, retire_workload
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign

HOSTILE = '<script>alert(1)</script>"><img src=x onerror=alert(1)> [x](javascript:alert(1)) | * `'


@pytest.fixture
def told(campaign, stock, gorge, now):
    """Stock and a tuned setting, three runs each."""
    campaign.workloads.set([gorge])
    tuned = add_setting(campaign, {"core": 90}, "", now)
    for setting, values in ((stock, (93.6, 93.5, 93.7)), (tuned, (98.6, 98.7, 98.5))):
        for value in values:
            log_run(campaign, setting, gorge, run_draft("completed", now, value, duration_s=1800), now)
    return campaign


def report(client, campaign, kind):
    answer = client.get(f"/api/campaigns/{campaign.pk}/report.{kind}")
    assert answer.status_code == 200
    return answer.content.decode()


def test_the_numbers_are_those_of_the_screens(client, told):
    goal = client.get(f"/api/campaigns/{told.pk}/goal").json()["goal"]
    best = goal["judged"][0]["speed"]
    said = numbers.with_range(best["ratio"], best["low"], best["high"])
    baseline = client.get(f"/api/campaigns/{told.pk}/baseline").json()
    mean = baseline["workloads"][0]["summary"]["mean"]
    compared = client.get(f"/api/campaigns/{told.pk}/compare").json()["versus"]["candidates"][0]["column"]
    for text in (report(client, told, "html"), report(client, told, "md")):
        for words in (said, numbers.plain(mean), goal["words"]["text"][1:], compared["overall_verdict"]["word"]):
            assert words in text
        assert text.count("core clock +90") >= 3
    # every run is in it
    assert len(re.findall(r"<td>Gorge</td>", report(client, told, "html"))) >= 6


def test_how_often_stock_was_run_is_said_as_it_was(client, told, stock, gorge, now):
    assert "Every workload was run 3 times at stock." in report(client, told, "md")
    (fjord,) = add_workloads([WorkloadDraft("Fjord", "frame rate", "fps", True, 2)])
    told.workloads.add(fjord)
    log_run(told, stock, fjord, run_draft("completed", now, 71.0), now)
    assert "The workloads were run 1 to 3 times at stock." in report(client, told, "md")
    retire_workload(told, gorge)
    assert "Every workload was run once at stock." in report(client, told, "md")


def test_a_setting_that_did_not_start_has_a_failure(client, told, gorge, now):
    far = add_setting(told, {"core": 240}, "", now)
    log_run(told, far, gorge, run_draft("no start", now, None), now)
    (row,) = [line for line in report(client, told, "md").splitlines() if line.startswith("| core clock +240")]
    cells = [cell.strip() for cell in row.strip("|").split("|")]
    assert cells[-1] == "1"


def test_one_file_that_asks_for_nothing_else(client, story):
    campaign = Campaign.objects.get(name__contains="summer")
    text = report(client, campaign, "html")
    assert "<script" not in text
    assert not re.findall(r'(?:src|href)="(?!#)', text)
    assert "@import" not in text
    assert "url(" not in text
    assert text.count("<svg") == 1
    assert not re.search(r"NaN|Infinity|None|undefined", text)


def test_nothing_that_was_typed_becomes_markup(client, told, stock, gorge, now):
    add_build(
        told.rig,
        BuildDraft((PartDraft(HOSTILE[:60], HOSTILE[:160], HOSTILE[:120]),), *[HOSTILE[:100]] * 5, HOSTILE),
        now,
    )
    told.name, told.aim = HOSTILE[:150], HOSTILE[:200]
    told.save()
    told.rig.name = HOSTILE[:110]
    told.rig.save()
    gorge.workload.name = HOSTILE[:100]
    gorge.workload.save()
    log_run(told, stock, gorge, run_draft("completed", now, 93.6, note=HOSTILE), now)
    html, markdown = report(client, told, "html"), report(client, told, "md")
    assert "&lt;script&gt;" in html
    for bad in ("<script", "<img", "onerror=alert(1)>"):
        assert bad not in html
    # in Markdown the signs are escaped, so that neither HTML nor a link nor a further cell comes of them
    assert not re.search(r"(?<!\\)<script|(?<!\\)<img|(?<!\\)\]\(javascript", markdown)
    assert r"\[x\](javascript" in markdown
    assert not re.search(r"alert\(1\)\) \|", markdown)
    short = client.get(f"/api/campaigns/{told.pk}/report").json()
    assert "<script" not in short["svg"]


def test_the_short_form_is_short(client, story):
    for campaign in Campaign.objects.all():
        short = client.get(f"/api/campaigns/{campaign.pk}/report").json()
        assert 3 <= len(short["lines"]) <= 12
        assert short["lines"][0] == campaign.name


def test_a_campaign_without_a_run_has_a_report(client, campaign):
    text = report(client, campaign, "html")
    assert "All 0 runs" in text
    assert client.get(f"/api/campaigns/{campaign.pk}/report").json()["svg"] == ""


def test_a_drawing_holds_every_whisker():
    drawing = Drawing((Whisker("a", 4.0, 3.0, 5.0), Whisker("b", -2.0, None, None)), "%", "Two.")
    found = picture_of(drawing)
    first, second = found.marks
    assert first.low < first.x < first.high
    assert second.x < found.zero < first.low
    assert (second.low, second.high) == (None, None)
    # on one scale: a percent is as wide everywhere
    assert (first.high - first.low) / 2 == pytest.approx((first.x - second.x) / 6)
    assert all(440 <= tick.x <= 880 for tick in found.ticks)
    alone = Report("t", "l", (Section("s", (drawing, Paragraph("p"), table(("h",), [("c",)], (0,)))),), (), "f")
    assert "−2.0" in as_html(alone)
    assert "| a | 4.00 | 3.00 to 5.00 |" in as_markdown(alone)


@pytest.mark.parametrize(
    ("said", "expected"),
    [
        (numbers.gain(1.0412), "+4.1 %"),
        (numbers.gain(0.9996), "±0.0 %"),
        (numbers.gain(0.918), "−8.2 %"),
        (numbers.plain(8421.4), "8421"),
        (numbers.plain(93.684), "93.68"),
        (numbers.often(0.02), "once in 50 h"),
        (numbers.often(2.04), "2.0 an hour"),
        (numbers.often(90), "at once"),
        (numbers.number(None), "–"),
    ],
)
def test_numbers_are_written_as_the_screens_write_them(said, expected):
    """The same examples as web/src/ui/words/format.ts carries in its comments and tests."""
    assert said == expected
