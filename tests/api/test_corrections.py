"""A run that was written down wrongly is asked about as it is typed, and corrected afterwards; what stood there stays."""

import pytest

from tests.drafts import run_draft
from trelvo.core.problems import Refused
from trelvo.logbook.commands.corrections import Correction, correct_run
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.models import LiveRun, Run


def post(client, address, body):
    return client.post(f"/api/{address}", body, content_type="application/json")


@pytest.fixture
def known(campaign, stock, gorge, now):
    for value in (93.4, 93.6, 98.7):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    return campaign


def test_a_result_far_from_all_that_is_known_is_asked_about(client, known, stock, gorge):
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 9.34}
    answer = post(client, f"campaigns/{known.pk}/runs", body)
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["where"] == "sure"
    assert "93.4 perhaps?" in answer.json()["problems"][0]["what"]
    assert known.runs.count() == 3
    assert post(client, f"campaigns/{known.pk}/runs", body | {"sure": True}).status_code == 201


def test_the_quick_line_asks_as_well(client, known):
    body = {"line": "stock gorge 9,34 ok"}
    answer = post(client, f"campaigns/{known.pk}/quick-line", body)
    assert answer.json()["problems"][0]["where"] == "sure"
    assert post(client, f"campaigns/{known.pk}/quick-line", body | {"sure": True}).json()["value"] == 9.34


def test_a_run_is_corrected_and_what_stood_there_is_kept(client, known):
    run = known.runs.first()
    body = {"outcome": "completed", "value": 94.3, "duration_s": None, "why": "digits swapped"}
    corrected = post(client, f"runs/{run.pk}/correct", body).json()
    assert corrected["value"] == 94.3
    assert corrected["corrections"] == ["Result corrected from 93.4 to 94.3: digits swapped"]


def test_the_answer_to_what_happened_needs_no_other_reason(client, known, stock, gorge, now):
    lost = log_run(known, stock, gorge, run_draft("connection lost", now), now)
    assert client.get(f"/api/campaigns/{known.pk}").json()["next"]["step"]["run_id"] == lost.pk
    answered = post(client, f"runs/{lost.pk}/correct", {"outcome": "system crash"}).json()
    assert answered["outcome"] == "system crash"
    assert client.get(f"/api/campaigns/{known.pk}").json()["next"]["step"]["act"] != "answer"


@pytest.mark.parametrize(
    ("body", "where"),
    [
        ({"outcome": "completed", "value": 93.4, "why": "none"}, ["run"]),
        ({"outcome": "completed", "value": 94.0}, ["why"]),
        ({"outcome": "completed", "value": -1, "why": "a slip"}, ["value"]),
        ({"outcome": "completed", "value": None, "why": "a slip"}, ["value"]),
        ({"outcome": "no start", "value": 93.4, "why": "a slip"}, ["value"]),
    ],
)
def test_nonsense_corrects_nothing(client, known, body, where):
    run = known.runs.first()
    answer = post(client, f"runs/{run.pk}/correct", body)
    assert answer.status_code == 422
    assert [one["where"] for one in answer.json()["problems"]] == where
    assert Run.objects.get(pk=run.pk).value == 93.4


def test_a_run_that_goes_on_is_not_corrected(known):
    run = known.runs.first()
    run.live = LiveRun(run=run, state="open")
    with pytest.raises(Refused, match="run_not_ended"):
        correct_run(run, Correction({"value": 90.0}, "a slip"), run.started_at)


def test_every_figure_setting_workload_and_time_can_be_corrected(client, known, stock, now):
    body = {
        "setting_id": stock.pk,
        "workload_id": known.workloads.get(workload__name="Gorge").pk,
        "outcome": "completed",
        "value": 93.5,
        "figures": [
            {"quantity": "power", "value": 1419.0},
            {"quantity": "temperature", "statistic": "highest", "value": 71},
        ],
    }
    run = post(client, f"campaigns/{known.pk}/runs", body).json()
    watts, degrees = (
        next(one["id"] for one in run["figures"] if one["quantity"] == q) for q in ("power", "temperature")
    )
    other = post(client, f"campaigns/{known.pk}/settings", {"values": {"core": 60}}).json()
    render = known.workloads.get(workload__name="Render")
    fix = {
        "figures": [{"figure_id": watts, "value": 419.0}, {"figure_id": degrees, "value": None}],
        "added": [{"quantity": "noise", "part": "whole machine", "value": 38.0}],
        "setting_id": other["id"],
        "workload_id": render.pk,
        "started_at": "2024-05-01T16:30:00Z",
        "why": "typed for the wrong run",
    }
    corrected = post(client, f"runs/{run['id']}/correct", fix).json()
    standing = {one["word"]: one["value"] for one in corrected["figures"] if not one["replaced"]}
    assert standing == {"power_w": 419.0, "noise_dba": 38.0}
    assert {one["value"] for one in corrected["figures"] if one["replaced"]} == {1419.0, 71.0}
    assert (corrected["setting_id"], corrected["workload_id"]) == (other["id"], render.pk)
    assert corrected["started_at"].startswith("2024-05-01T16:30")
    told = " ".join(corrected["corrections"])
    for words in ("Mean power corrected from 1419 W to 419 W", "from 71 °C to nothing", "Setting corrected from stock",
                  "Workload corrected from Gorge", "Noise added: 38 dB(A)"):  # fmt: skip
        assert words in told


@pytest.mark.parametrize(
    ("body", "where"),
    [
        ({"figures": [{"figure_id": 1, "value": 5.0}], "why": "wrong"}, "figures"),
        ({"added": [{"quantity": "power", "value": -5}], "why": "wrong"}, "power_w"),
        ({"started_at": "2090-01-01T00:00:00Z", "why": "wrong"}, "started_at"),
        ({"added": [{"quantity": "frame rate", "part": "whole machine", "statistic": "1 % low", "value": 200}],
          "why": "wrong"}, "low_1_fps"),
        ({"setting": 5, "why": "wrong"}, "setting"),
    ],
)  # fmt: skip
def test_a_correction_that_cannot_be_is_refused_whole(client, known, body, where):
    run = known.runs.first()
    answer = post(client, f"runs/{run.pk}/correct", {"value": 94.0, **body})
    assert answer.status_code == 422
    assert where in [problem["where"] for problem in answer.json()["problems"]]
    run.refresh_from_db()
    assert run.value == 93.4
    assert run.marks.count() == 0


def test_any_figure_far_from_what_is_known_is_asked_about(client, known, stock, gorge):
    def typed(watts, **more):
        body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.5, **more}
        return post(client, f"campaigns/{known.pk}/runs", {**body, "figures": [{"quantity": "power", "value": watts}]})

    assert [typed(watts).status_code for watts in (419, 421)] == [201, 201]
    asked = typed(1419).json()["problems"]
    assert [one["where"] for one in asked] == ["sure"]
    assert "Mean power" in asked[0]["what"]
    assert "419 perhaps?" in asked[0]["what"]
    assert typed(1419, sure=True).status_code == 201


def test_a_field_that_nobody_knows_is_refused(client, known, stock, gorge):
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.5}
    for more, where in (({"power_w": 200}, "power_w"), ({"figures": [{"quantity": "power", "value": 1, "of": "card"}]},
                                                        "figures.0.of")):  # fmt: skip
        answer = post(client, f"campaigns/{known.pk}/runs", {**body, **more})
        assert answer.status_code == 422
        assert [one["where"] for one in answer.json()["problems"]] == [where]
    assert known.runs.count() == 3


def test_a_low_above_its_mean_is_refused(client, known, stock, gorge):
    figures = [{"quantity": "frame rate", "part": "whole machine", "statistic": "1 % low", "value": 130}]
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.5, "figures": figures}
    answer = post(client, f"campaigns/{known.pk}/runs", body)
    assert [one["where"] for one in answer.json()["problems"]] == ["low_1_fps"]


def test_watts_typed_in_either_way_are_by_the_instrument_that_counts(client, known, stock, gorge):
    for name in ("old meter", "clamp"):
        made = post(
            client, f"rigs/{known.rig_id}/instruments", {"name": name, "kind": "clamp", "quantity": "power"}
        ).json()
    put = {"counting": {"power": made["id"]}}
    client.put(f"/api/campaigns/{known.pk}/counting", put, content_type="application/json")
    assert client.get(f"/api/campaigns/{known.pk}").json()["power_reader"] == made["id"]
    line = post(client, f"campaigns/{known.pk}/quick-line", {"line": "stock gorge 93 212w ok"}).json()
    assert [one["instrument"] for one in line["figures"]] == ["clamp"]
