"""Compare, what counts, targets and claims at the API; and never NaN or Infinity in an answer."""

import json
import math
from datetime import timedelta

import numpy as np
import pytest
from scipy import stats

from tests.api.test_contract import places, post
from tests.drafts import run_draft
from trelvo.core.stats.noise import pool
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, Target

STOCK, SETTING = [93.6, 93.5, 94.0], [98.6, 98.9]


@pytest.fixture
def climbed(campaign, stock, gorge, now):
    """Stock three times, another setting twice, of one workload."""
    tuned = add_setting(campaign, {"core": 90}, "", now)
    for setting, values in ((stock, STOCK), (tuned, SETTING)):
        for value in values:
            draft = run_draft(
                "completed", now, value, power_w=200.0, power_point="software", room_c=24.0, temp_max_c=60.0
            )
            log_run(campaign, setting, gorge, draft, now)
    return campaign


def put(client, path, body):
    return client.put(f"/api{path}", json.dumps(body), content_type="application/json")


def versus(client, campaign, query=""):
    answer = client.get(f"/api/campaigns/{campaign.pk}/compare{query}")
    assert answer.status_code == 200
    assert not any(word in answer.content.decode() for word in ("NaN", "Infinity"))
    found = answer.json()
    return found["versus"] | {"traps": found["traps"]}


def test_the_best_settings_are_compared_until_the_user_chooses(client, climbed):
    column = versus(client, climbed)["candidates"][0]["column"]
    gain = column["cells"][0]["comparison"]
    pooled = pool([STOCK, SETTING])
    difference = np.log(SETTING).mean() - np.log(STOCK).mean()
    low, high = stats.t.interval(0.95, pooled.df, difference, pooled.sd_log * math.sqrt(1 / 3 + 1 / 2))
    assert (gain["low"], gain["high"]) == pytest.approx((math.exp(low), math.exp(high)))
    assert column["cells"][0]["verdict"]["word"] == "gain"
    assert column["cells"][1]["comparison"] is None


def test_settings_that_miss_the_goal_are_compared_where_none_meets_it(client, campaign, stock, gorge, now):
    campaign.goal, campaign.terms = "efficiency", {"least_speed": 0.99}
    campaign.save()
    slow = add_setting(campaign, {"power": 94}, "", now)
    for setting, values in ((stock, (93.6, 93.5, 93.7)), (slow, (79.6, 79.5, 79.7))):
        for value in values:
            log_run(campaign, setting, gorge, run_draft("completed", now, value, power_w=180 * value / 93.6), now)
    (column,) = [one["column"] for one in versus(client, campaign)["candidates"]]
    assert column["cells"][0]["verdict"]["word"] == "loss"


def test_a_goal_that_asks_for_no_gain_is_answered_by_its_condition_on_speed(client, campaign, stock, gorge, now):
    campaign.goal, campaign.terms = "efficiency", {"least_speed": 0.99}
    campaign.save()
    lower = add_setting(campaign, {"power": 94}, "", now)
    for setting, values in ((stock, (93.6, 93.0, 94.2)), (lower, (93.5, 93.1, 94.1))):
        for value in values:
            log_run(campaign, setting, gorge, run_draft("completed", now, value, power_w=180.0), now)
    (candidate,) = versus(client, campaign)["candidates"]
    assert candidate["column"]["overall_verdict"]["word"] == "too few runs"
    judged = client.get(f"/api/campaigns/{campaign.pk}/goal").json()["goal"]["judged"]
    conditions = next(one["conditions"] for one in judged if one["setting_id"] == lower.pk)
    assert candidate["kept_speed"] == next(condition for condition in conditions if condition["key"] == "speed")
    assert "too few runs" not in candidate["column"]["overall_sentence"]["text"]
    # the same is asked in each workload; with one it is the same answer
    kept, unmeasured = candidate["kept_speeds"]
    assert (kept, unmeasured) == (candidate["kept_speed"], None)
    assert candidate["column"]["cells"][0]["sentence"]["text"].endswith(
        f" on Gorge; {kept['name']['text']}: {kept['state']}. {kept['says']['text']}"
    )
    # against another setting the condition, which is about stock, says nothing
    turned = versus(client, campaign, f"?reference={lower.pk}&candidates={stock.pk}")["candidates"]
    assert [one["kept_speed"] for one in turned] == [None]


@pytest.mark.parametrize(
    ("query", "where", "status"),
    [
        ("?candidates=a", "candidates", 422),
        ("?candidates=1,2,3,4,5,6,7", "candidates", 422),
        ("?candidates=999", "candidates", 422),
        ("?reference=999", "address", 404),
        ("?reference_build=9", "address", 404),
    ],
)
def test_choices_that_cannot_be(client, climbed, query, where, status):
    answer = client.get(f"/api/campaigns/{climbed.pk}/compare{query}")
    assert answer.status_code == status
    assert places(answer) == [where]


def test_one_side_empty_missing_power_and_mixed_directions_are_clear_words(client, climbed, now):
    untried = add_setting(climbed, {"core": 120}, "", now)
    render = climbed.workloads.get(workload__name="Render")
    log_run(climbed, untried, render, run_draft("completed", now, 110.0), now)
    answer = versus(client, climbed, f"?candidates={untried.pk}")
    column = answer["candidates"][0]["column"]
    assert column["overall"] is None
    assert column["overall_sentence"]["text"] == "No workload was measured on both sides."
    assert [cell["sentence"]["text"] for cell in column["cells"]] == [
        "Gorge: not measured on both sides.", "Render: not measured on both sides.",
    ]  # fmt: skip


def test_stock_before_and_after_a_new_driver(client, climbed, stock, gorge, now):
    add_build(climbed.rig, BuildDraft(driver="41.5"), now)
    log_run(climbed, stock, gorge, run_draft("completed", now, 95.0), now)
    log_run(climbed, stock, gorge, run_draft("completed", now, 95.2), now)
    answer = versus(client, climbed, f"?candidates={stock.pk}&reference_build=1")
    candidate = answer["candidates"][0]
    assert (answer["reference_build_number"], answer["build_number"]) == (1, 2)
    assert candidate["column"]["cells"][0]["comparison"]["ratio"] == pytest.approx(1.0149, abs=5e-4)
    # the new driver is what is compared, so it spoils nothing; what else is not known of the new build is said
    assert "Driver: 41.2 against 41.5, which is what is compared." in [
        one["text"] for one in candidate["fairness"]["reasons"]
    ]
    assert "score" in candidate["fairness"]["comparable"]
    # the goal is judged in the new build, against stock there
    assert (answer["reference_is_goals"], candidate["goal_applies"]) == (False, True)
    back = versus(client, climbed, f"?candidates={stock.pk}@1")
    assert (back["reference_is_goals"], back["candidates"][0]["goal_applies"]) == (True, False)
    # two builds compared on purpose are no mistake
    assert "stale baseline" not in [trap["name"] for trap in answer["traps"]]


def test_two_sides_of_one_build_are_not_stale_because_there_is_a_later_build(client, climbed, now):
    add_build(climbed.rig, BuildDraft(driver="41.5"), now)
    traps = [trap["name"] for trap in versus(client, climbed)["traps"]]
    assert "stale baseline" not in traps


def test_another_setting_under_another_build_is_a_stale_baseline(client, climbed, stock, gorge, now):
    tuned = next(setting for setting in climbed.settings.all() if setting.values)
    add_build(climbed.rig, BuildDraft(driver="41.5"), now)
    log_run(climbed, tuned, gorge, run_draft("completed", now, 97.0), now)
    answer = versus(client, climbed, f"?candidates={tuned.pk}&reference_build=1")
    assert "stale baseline" in [trap["name"] for trap in answer["traps"]]


def test_speed_kept_is_asked_of_the_stock_that_the_goal_is_judged_against(client, climbed, stock, gorge, now):
    """The table's interval is against the old build's stock: a share of the new one's speed has no place beside it."""
    tuned = next(one for one in climbed.settings.all() if one.values)
    climbed.goal, climbed.terms = "quiet", {}
    climbed.save()
    add_build(climbed.rig, BuildDraft(driver="41.5"), now)
    for setting, fps in ((stock, 95.0), (tuned, 97.0)):
        log_run(climbed, setting, gorge, run_draft("completed", now, fps), now)
    kept = {
        number: versus(client, climbed, f"?candidates={tuned.pk}&reference_build={number}")["candidates"][0][
            "kept_speed"
        ]
        for number in (1, 2)
    }
    assert kept[1] is None
    assert kept[2]["key"] == "speed"


def test_two_specimens_of_a_model_are_not_the_same_part(client, climbed, stock, gorge, now):
    old = climbed.rig.builds.get(number=1)
    other = (PartDraft("Graphics card", old.parts.first().name, "second of two"),)
    add_build(climbed.rig, BuildDraft(parts=other, driver="41.2"), now)
    log_run(climbed, stock, gorge, run_draft("completed", now, 95.0), now)
    answer = versus(client, climbed, f"?candidates={stock.pk}&reference_build=1")
    aspects = {one["name"]: one for one in answer["candidates"][0]["fairness"]["aspects"]}
    assert aspects["Parts"]["state"] == "studied"
    assert "second of two" in aspects["Parts"]["candidate"]["text"]


def test_traps_are_told_with_their_evidence(client, climbed, now):
    both = add_setting(climbed, {"core": 150, "power": 110}, "", now)
    log_run(climbed, both, climbed.workloads.get(workload__name="Gorge"), run_draft("completed", now, 93.9), now)
    names = {trap["name"] for trap in versus(client, climbed, f"?candidates={both.pk}")["traps"]}
    assert {"several knobs turned at once", "one run only", "winner inside the noise"} <= names


def test_an_old_baseline_is_a_trap(client, campaign, stock, gorge, now):
    log_run(campaign, stock, gorge, run_draft("completed", now - timedelta(days=400), 93.6), now)
    assert versus(client, campaign)["traps"][0]["name"] == "stale baseline"


WHAT_COUNTS = {"smallest_gain": 0.01, "wished_resolution": 0.02, "stale_days": 7}


def test_what_counts_is_the_users(client, climbed, gorge):
    body = {**WHAT_COUNTS, "weights": {gorge.pk: 2}, "temp_limit_c": 84, "price": 240, "currency": "crowns"}
    answer = put(client, f"/campaigns/{climbed.pk}/what-counts", body).json()
    assert (answer["smallest_gain"], answer["weights"][str(gorge.pk)], answer["currency"]) == (0.01, 2, "crowns")
    assert versus(client, climbed)["smallest_gain"] == 0.01
    cards = client.get(f"/api/campaigns/{climbed.pk}/baseline").json()["workloads"][0]["cards"]
    assert (cards[0]["left"], cards[0]["state"]) == (24, "room")


@pytest.mark.parametrize(
    ("change", "where"),
    [
        ({"smallest_gain": 0}, "smallest_gain"),
        ({"wished_resolution": 0.9}, "wished_resolution"),
        ({"stale_days": 0}, "stale_days"),
        ({"temp_limit_c": -3}, "temp_limit_c"),
        ({"weights": {"999": 1}}, "weights.999"),
    ],
)
def test_what_cannot_count(client, climbed, change, where):
    assert places(put(client, f"/campaigns/{climbed.pk}/what-counts", {**WHAT_COUNTS, **change})) == [where]
    assert Campaign.objects.get(pk=climbed.pk).smallest_gain == 0.005


def test_weights_that_leave_nothing(client, climbed):
    weights = {str(workload.pk): 0 for workload in climbed.workloads.all()}
    assert places(put(client, f"/campaigns/{climbed.pk}/what-counts", {**WHAT_COUNTS, "weights": weights})) == [
        "weights"
    ]


def test_enough_can_be_said_and_taken_back(client, climbed, stock, now):
    log_run(climbed, stock, climbed.workloads.get(workload__name="Render"), run_draft("completed", now, 118.0), now)
    state = lambda answer: answer.json()["standing"]["stages"][1]["state"]  # noqa: E731
    path = f"/campaigns/{climbed.pk}/baseline/enough"
    assert state(post(client, path, {"enough": True})) == "done"
    assert state(post(client, path, {"enough": False})) == "under way"


def test_a_target_is_told_changed_and_taken_off(client, climbed, gorge):
    body = {"name": "Next model", "price": 330, "source": "a friend", "results": {str(gorge.pk): 108.0}}
    made = post(client, f"/campaigns/{climbed.pk}/targets", body).json()
    target = versus(client, climbed)["targets"][0]
    closed = next(iter(target["cells"][0]["closed"].values()))
    assert closed["low"] < closed["share"] < closed["high"]
    assert put(client, f"/targets/{made['id']}", {**body, "results": {str(gorge.pk): 120.0}}).status_code == 200
    assert versus(client, climbed)["targets"][0]["cells"][0]["value"] == 120
    assert client.delete(f"/api/targets/{made['id']}").status_code == 204
    assert not Target.objects.exists()


@pytest.mark.parametrize(
    ("change", "where"),
    [({"results": {}}, "results"), ({"results": {"999": 1}}, "results.999"), ({"price": -1}, "price")],
)
def test_targets_that_cannot_be(client, climbed, gorge, change, where):
    body = {"name": "Next model", "results": {str(gorge.pk): 108.0}, **change}
    assert places(post(client, f"/campaigns/{climbed.pk}/targets", body)) == [where]
    assert not Target.objects.exists()


@pytest.mark.django_db
def test_a_claim_is_checked(client):
    said = {"kind": "rate", "figure": "percent", "pairs": [{"before": "8421", "after": "9105"}], "claimed": "7.8"}
    answer = post(client, "/claims/check", said).json()
    assert answer["explanations"][0]["mistake"] == "percent difference"
    assert places(post(client, "/claims/check", said | {"claimed": "faster"})) == ["claimed"]
