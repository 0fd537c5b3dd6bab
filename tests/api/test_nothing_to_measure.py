"""A workload that gives no result, such as an everyday run or a stress test: only figures, and whether it ended well."""

import pytest

from tests.api.test_contract import BODY, places, post

OVEN = {
    "name": "Oven", "measure": "nothing", "unit": "", "higher_is_better": True, "minutes": 30, "options": {},
    "cap_fps": None, "kind": "stress test", "parts": ["processor"], "techniques": [],
}  # fmt: skip


@pytest.fixture
def made(client, db):
    """A campaign with a title and a stress test, made as the form makes it."""
    answer = post(client, "/campaigns", {**BODY, "workloads": [*BODY["workloads"], OVEN]})
    assert answer.status_code == 201, answer.json()
    return answer.json()


def typed(client, campaign, line):
    answer = post(client, f"/campaigns/{campaign['id']}/quick-line", {"line": line})
    assert answer.status_code == 201, answer.json()


def test_its_watts_and_degrees_count_and_once_at_stock_is_enough(client, made):
    for value in (93.4, 93.6, 93.5):
        typed(client, made, f"gorge {value} 180w ok")
    stages = client.get(f"/api/campaigns/{made['id']}").json()["standing"]["stages"]
    assert stages[1]["note"]["text"] == "Still short: Oven (0 of 1)."
    typed(client, made, "stock oven 30min 210w 78c ok")
    stages = client.get(f"/api/campaigns/{made['id']}").json()["standing"]["stages"]
    assert "Oven" not in stages[1]["note"]["text"]
    typed(client, made, "core 30 oven 30min 216w 80c ok")
    typed(client, made, "core 30 gorge 94.6 184w ok")
    (candidate,) = client.get(f"/api/campaigns/{made['id']}/compare").json()["versus"]["candidates"]
    oven = next(cell for cell in candidate["column"]["cells"] if cell["workload_id"] == made["workloads"][1]["id"])
    assert oven["comparison"] is None
    assert oven["side"]["power"]["mean_w"] == 216
    assert [(one["quantity"], one["reference"], one["candidate"], one["more"]) for one in oven["parts"]] == [
        ("power", 210, 216, 6), ("temperature", 78, 80, 2),
    ]  # fmt: skip
    assert oven["sentence"]["text"] == (
        "Oven: no result to compare; mean power 216.0 W (+6.0 W), highest temperature 80.0 °C (+2.0 °C)."
    )
    # the overall ratio rests on the title alone, and nothing is missing from it
    assert "measured" not in candidate["column"]["overall_sentence"]


def test_a_result_is_refused_there_and_a_unit_is_asked_for_elsewhere(client, made):
    answer = post(client, f"/campaigns/{made['id']}/quick-line", {"line": "oven 812 ok"})
    assert answer.status_code == 422
    unnamed = {**BODY["workloads"][0], "unit": " "}
    other = {**BODY, "rig": {**BODY["rig"], "name": "Cellar"}, "workloads": [unnamed]}
    assert places(post(client, "/campaigns", other)) == ["workloads.0.unit"]


def test_it_can_be_added_to_a_campaign_as_the_form_adds_it(client, made):
    further = {**OVEN, "name": "Browsing", "kind": "everyday"}
    answer = post(client, f"/campaigns/{made['id']}/workloads", {"workload": further})
    assert answer.status_code == 200, answer.json()
    assert [one["name"] for one in answer.json()["workloads"]] == ["Gorge", "Oven", "Browsing"]
