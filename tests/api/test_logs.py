"""Dropping a log: what the preview says, what is asked, and looking a figure up down to its rows."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.drafts import run_draft
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.models import Series

HEADER = "time s,graphics temp °C,hot spot °C,graphics power W,power limit W\n"
LOG = HEADER + "".join(f"{n},{50 + n % 7},{61 + n % 9},{200 + n % 3},450\n" for n in range(300))


@pytest.fixture
def run(campaign, stock, gorge, now):
    return log_run(campaign, stock, gorge, run_draft("completed", now, 60.0), now)


def preview(client, run, text, **more):
    return client.post(
        "/api/logs/preview", {"file": SimpleUploadedFile("a.csv", text.encode()), "run_id": run.pk, **more}
    )


def give(client, run, text, choice, **more):
    file = SimpleUploadedFile("a.csv", text.encode())
    return client.post(f"/api/runs/{run.pk}/logs", {"file": file, "choice": json.dumps(choice), **more})


def test_the_preview_says_what_and_why(client, run):
    seen = {one["header"]: one for one in preview(client, run, LOG).json()["columns"]}
    temp = seen["graphics temp °C"]
    assert (temp["taken"], temp["lowest"], temp["highest"]) == ("temperature", 50, 56)
    assert "°C in its name" in temp["why"]["text"]
    assert "kept beside “graphics temp °C”" in seen["hot spot °C"]["why"]["text"]
    assert seen["power limit W"]["taken"] == "other"
    assert seen["time s"]["why"]["text"] == "the header says seconds"


def test_which_part_is_tuned_is_asked_where_a_log_reads_both(client, run):
    both = LOG.replace("hot spot", "processor temp")
    found = preview(client, run, both).json()
    assert found["asks_tuned"]
    asked = give(client, run, both, found["choice"])
    assert asked.status_code == 422
    assert "Which part it reads" in asked.json()["problems"][0]["what"]
    said = preview(client, run, both, tuned="processor").json()
    assert {c["header"]: c["part"] for c in said["choice"]["columns"]}["processor temp °C"] == "tuned part"


def test_a_log_that_does_not_go_with_its_run_is_asked_about(client, run):
    run.duration_s = 60.0
    run.save()
    choice = preview(client, run, LOG).json()["choice"]
    check = give(client, run, LOG, choice).json()
    assert check["doubts"] == ["The log covers 5.0 min; you typed 60 s for the run."]
    refused = give(client, run, LOG, choice, store=True)
    assert (refused.status_code, refused.json()["problems"][0]["where"]) == (422, "sure")
    assert not Series.objects.exists()
    assert give(client, run, LOG, choice, store=True, sure=True).json()["stored"]


def test_the_same_log_twice_is_noticed_in_any_line_ends(client, campaign, run, stock, gorge, now):
    choice = preview(client, run, LOG).json()["choice"]
    assert give(client, run, LOG, choice, store=True, sure=True).json()["stored"]
    again = give(client, run, LOG.replace("\n", "\r\n"), choice)
    assert "already kept with this run" in again.json()["problems"][0]["what"]
    other = log_run(campaign, stock, gorge, run_draft("completed", now), now)
    assert f"kept with run {run.pk}" in give(client, other, LOG, choice).json()["doubts"][0]


def test_a_figure_is_looked_up_down_to_its_rows(client, run):
    choice = preview(client, run, LOG).json()["choice"]
    give(client, run, LOG, choice, store=True, sure=True)
    sources = {one["name"]: one for one in client.get(f"/api/runs/{run.pk}/log-figures").json()}
    highest = sources["Highest temperature"]
    # the seventh reading is the first of 56 °C, on line 8 of the file
    assert (highest["column"], highest["line"], highest["at_s"], highest["readings"]) == ("graphics temp °C", 8, 6, 1)
    assert (sources["Mean temperature"]["line"], sources["Mean temperature"]["last_line"]) == (2, 301)
    lasted = sources["Lasted"]
    assert (lasted["value"], lasted["how"]) == (299, "first reading to last")
    assert (lasted["line"], lasted["last_line"]) == (2, 301)
    rows = client.get(f"/api/series/{highest['series_id']}/rows?first_row=6&most=1").json()
    assert (rows["lines"], rows["values"][0][0], rows["total"]) == ([8], 56, 300)
    assert client.get(f"/api/series/{highest['series_id']}/rows?first_row=5000").json()["values"] != []
    assert client.get("/api/series/99/rows").status_code == 404


def test_what_a_log_of_frames_says_of_the_run_is_looked_up_too(client, run):
    frames = "frame time ms\n" + "10\n" * 600 + "20\n" * 100
    choice = preview(client, run, frames).json()["choice"]
    assert give(client, run, frames, choice, store=True, sure=True, take_over="value").json()["stored"]
    sources = {one["name"]: one for one in client.get(f"/api/runs/{run.pk}/log-figures").json()}
    # 600 of 10 ms and 100 of 20 ms: 700 frames in 8 s
    assert (sources["Result"]["value"], sources["Result"]["unit"]) == (87.5, "fps")
    assert sources["Result"]["how"] == "700 frames over the sum of their times"
    assert (sources["Lasted"]["value"], sources["Frames"]["value"]) == (8.0, 700)
    assert {(source["line"], source["last_line"], source["column"]) for source in sources.values()} == {
        (2, 701, "frame time ms")
    }
    # corrected afterwards it is no longer the log's
    body = {"outcome": "completed", "value": 90.0, "duration_s": 8.0, "why": "the counter stood still"}
    assert client.post(f"/api/runs/{run.pk}/correct", body, content_type="application/json").status_code == 200
    assert "Result" not in {one["name"] for one in client.get(f"/api/runs/{run.pk}/log-figures").json()}
