"""Logs as tired people drop them: idle around the run, a crash in the middle, odd cells, long form. Common practice."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.drafts import run_draft
from trelvo.core.problems import Refused
from trelvo.exchange.logs.guess import guess_choice
from trelvo.exchange.logs.long_format import read_any_table
from trelvo.exchange.logs.reading import FrameLog, read_log
from trelvo.logbook.commands.runs import log_run


def taken(text):
    data = text if isinstance(text, bytes) else text.encode()
    table = read_any_table(data)
    return table, read_log(table, guess_choice(table).choice)


def rows(cells, count=40, head="time s,temp °C,power W\n"):
    return head + "".join(f"{cells(n)}\n" for n in range(count))


@pytest.mark.parametrize(
    "text",
    [
        rows(lambda n: f"{n},{60 + n % 3},{200 + n % 5},,"),
        rows(lambda n: f"{n},{60 + n % 3},{200 + n % 5}{',' if n % 7 == 3 else ''}"),
        rows(lambda n: f"{n},{60 + n % 3},{'inf' if n == 7 else 200 + n % 5}"),
        rows(lambda n: f"{n},{60 + n % 3},{200 + n % 5}").encode() + b"\0" * 300,
    ],
)
def test_odd_cells_and_ends_are_read(text):
    _, log = taken(text)
    assert log.time_s[-1] == 39
    assert [channel.quantity for channel in log.channels] == ["temperature", "power"]


def test_zero_bytes_in_the_middle_are_still_no_text():
    with pytest.raises(Refused, match="not_a_text_file"):
        read_any_table(b"time s,temp\n1,\0\0\n2,60\n")


def test_yes_and_no_are_read_as_a_flag():
    _, log = taken(rows(lambda n: f"{n},{60 + n % 3},{'Yes' if n >= 30 else 'No'}", head="time s,temp °C,throttling\n"))
    assert log.channels[1].values.tolist() == [0.0] * 30 + [1.0] * 10


def test_long_form_becomes_a_column_for_each_sensor():
    text = "time s,sensor,unit,value\n" + "".join(
        f"{n},{name},{unit},{value}\n"
        for n in range(30)
        for name, unit, value in (("card temperature", "°C", 60 + n % 3), ("card power", "W", 200 + n % 5))
    )
    table, log = taken(text)
    assert {channel.quantity: channel.values[1] for channel in log.channels} == {"temperature": 61, "power": 201}
    assert log.time_s.size == 30
    # a reading is looked up at the line of its time
    assert table.line(1) == 4


def test_marks_that_clash_in_one_column_are_one_number_or_asked():
    table, log = taken("time s;clock MHz\n" + "".join(f"{n};{'1.905' if n % 2 else '1,905'}\n" for n in range(20)))
    assert set(log.channels[0].values.tolist()) == {1905.0}
    table = read_any_table(
        ("time s;flow\n" + "".join(f"{n};{'1.905' if n % 2 else '1,905'}\n" for n in range(20))).encode()
    )
    choice = guess_choice(table).choice
    choice.columns[0].mark = None
    with pytest.raises(Refused, match="mark_ambiguous"):
        read_log(table, choice)


def test_times_of_frames_under_a_foreign_name_are_no_clock():
    _, log = taken("number;Dauer\n" + "".join(f"{n};{16 + n % 3}.{n % 10}\n" for n in range(400)))
    assert isinstance(log, FrameLog)
    assert log.frame_times_ms[0] == 16.0


@pytest.fixture
def run(campaign, stock, gorge, now):
    return log_run(campaign, stock, gorge, run_draft("completed", now, 60.0), now)


def give(client, run, text, choice, **more):
    file = SimpleUploadedFile("a.csv", text.encode())
    return client.post(f"/api/runs/{run.pk}/logs", {"file": file, "choice": json.dumps(choice), **more})


IDLE = rows(lambda n: f"{n},{40 if n < 30 or n >= 230 else 68},{12 if n < 30 or n >= 230 else 190}", 260)


def preview(client, run, text):
    return client.post(
        "/api/logs/preview", {"file": SimpleUploadedFile("a.csv", text.encode()), "run_id": run.pk}
    ).json()


def test_figures_are_those_of_the_loaded_stretch_which_is_shown_and_can_be_moved(client, run):
    choice = preview(client, run, IDLE)["choice"]
    figures = {}
    for name, change in (
        ("loaded", {}), ("whole", {"stretch": "whole"}), ("given", {"stretch": "given", "from_s": 100, "to_s": 150}),
    ):  # fmt: skip
        check = give(client, run, IDLE, {**choice, **change}).json()
        figures[name] = {one["mark"]: one["value"] for one in check["figures"]}
        figures[name]["stretch"] = check["stretch"]
    assert figures["loaded"]["power_w@software"] == pytest.approx(190, abs=0.5)
    assert figures["whole"]["power_w@software"] < 160
    assert figures["loaded"]["stretch"]["from_s"] == pytest.approx(30, abs=2)
    assert figures["loaded"]["duration_s"] == pytest.approx(200, abs=4)
    assert figures["given"]["duration_s"] == pytest.approx(50, abs=1)
    assert figures["whole"]["stretch"] is None
    wrong = give(client, run, IDLE, {**choice, "stretch": "given", "from_s": 300, "to_s": 400})
    assert wrong.json()["problems"][0]["where"] == "stretch"


def test_what_held_the_part_back_is_told_of_the_loaded_stretch_by_the_logs_own_flag(client, run):
    def cells(n):
        loaded = 30 <= n < 230
        return f"{n},{68 if loaded else 40},{190 if loaded else 12},{'Yes' if 130 <= n < 230 else 'No'}"

    text = rows(cells, 260, "time s,temp °C,power W,Thermal throttling\n")
    answer = give(client, run, text, preview(client, run, text)["choice"], store=True, sure=True)
    assert answer.json()["stored"], answer.json()
    series = run.series.get()
    found = client.get(f"/api/series/{series.pk}/held-back").json()
    assert {one["what"]: one["share"] for one in found["shares"]}["heat"] == pytest.approx(0.5, abs=0.02)
    # its times are those of the log, idle at the ends left out
    assert found["bands"][0]["from_s"] == pytest.approx(30, abs=2)
    assert found["bands"][-1]["to_s"] == pytest.approx(230, abs=2)


def test_a_lone_reading_is_asked_about_before_it_becomes_the_highest(client, run):
    text = rows(lambda n: f"{n},{122 if n == 20 else 58 + n % 3},{190}")
    choice = preview(client, run, text)["choice"]
    problem = give(client, run, text, choice).json()["problems"][0]
    assert (problem["where"], "stands alone" in problem["what"]) == ("row 22, column temp °C", True)
    for answer, highest in (("leave out", 60), ("keep", 122)):
        check = give(client, run, text, {**choice, "jumps": answer}).json()
        assert next(one["value"] for one in check["figures"] if one["mark"] == "temp_max_c") == highest


def test_what_was_said_for_another_part_does_not_decide_here(client, campaign, stock, gorge, now):
    """A processor's campaign told both columns; in a card's campaign the processor's watts are the processor's."""
    both = "time s,GPU power W,CPU power W\n" + "".join(f"{n},{180 + n % 3},{62 + n % 2}\n" for n in range(60))
    first = log_run(campaign, stock, gorge, run_draft("completed", now, 60.0), now)
    said = client.post(
        "/api/logs/preview",
        {"file": SimpleUploadedFile("a.csv", both.encode()), "run_id": first.pk, "tuned": "processor"},
    ).json()["choice"]
    assert give(client, first, both, said, store=True).json()["stored"]
    # the same campaign is not asked again
    again = log_run(campaign, stock, gorge, run_draft("completed", now, 61.0), now)
    found = {one["header"]: one["part"] for one in preview(client, again, both)["choice"]["columns"]}
    assert found == {"GPU power W": "graphics", "CPU power W": "tuned part"}
    campaign.knobs.update(part="graphics")
    other = client.post(
        f"/api/campaigns/{campaign.pk}/settings", {"values": {"core": 30}}, content_type="application/json"
    )
    assert other.status_code == 201


def test_another_campaign_tells_nothing_of_whose_readings_they_are(client, campaign, stock, gorge, now):
    from tests.conftest import CORE, GORGE
    from trelvo.logbook.commands.campaigns import create_campaign

    both = "time s,GPU power W,CPU power W\n" + "".join(f"{n},{180 + n % 3},{62 + n % 2}\n" for n in range(60))
    first = log_run(campaign, stock, gorge, run_draft("completed", now, 60.0), now)
    said = client.post(
        "/api/logs/preview",
        {"file": SimpleUploadedFile("a.csv", both.encode()), "run_id": first.pk, "tuned": "processor"},
    ).json()["choice"]
    assert give(client, first, both, said, store=True).json()["stored"]
    from dataclasses import replace

    card = create_campaign(campaign.rig, "Card", "speed", "", [replace(CORE, part="graphics")], [GORGE], now)
    run = log_run(card, card.settings.get(fingerprint=""), card.workloads.get(), run_draft("completed", now, 60.0), now)
    found = {one["header"]: one["part"] for one in preview(client, run, both)["choice"]["columns"]}
    assert found == {"GPU power W": "tuned part", "CPU power W": "processor"}
