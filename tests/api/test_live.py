"""Live runs and the run protocol over the API, by contract."""

import json
import uuid
from functools import partial

import pytest
from django.test import AsyncClient

from tests.drafts import run_draft
from tests.moment import NOW
from trelvo.bench.rigs import knobs_for, workloads_for
from trelvo.core.problems import Refused
from trelvo.logbook.commands.bench_tokens import make_token
from trelvo.logbook.commands.campaigns import create_campaign, remove_deleted
from trelvo.logbook.commands.rigs import BuildDraft, create_rig
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.models import Campaign, LiveRun, Run

CHANNELS = [{"name": "die", "quantity": "temperature"}, {"name": "board", "quantity": "power", "point": "wall"}]


def ask(client, method, path, body=None, token=None):
    headers = {"Authorization": f"Bearer {token}"} if token else {}
    call = getattr(client, method)
    if body is None:
        return call(path, headers=headers)
    text = body if isinstance(body, str) else json.dumps(body)
    return call(path, text, content_type="application/json", headers=headers)


@pytest.fixture
def token(campaign):
    return make_token(campaign.rig, "desk", NOW)[1]


@pytest.fixture
def bench(client, campaign, token):
    """Asks as the bench does: bench("post", "/batches", body)."""
    opening = {
        "uid": str(uuid.uuid4()),
        "bench": "desk",
        "campaign_id": campaign.pk,
        "workload": "gorge",
        "channels": CHANNELS,
    }
    opened = ask(client, "post", "/api/bench/runs", opening, token)
    assert opened.status_code == 201, opened.json()

    def say(path, body, shown=token):
        return ask(client, "post", f"/api/bench/runs/{opened.json()['run_id']}{path}", body, shown)

    say.run_id, say.opened, say.opening = opened.json()["run_id"], opened.json(), opening
    return say


def rows(number, **more):
    return {
        "sequence": number,
        "time_s": [number, number + 0.5],
        "values": {"die": [60, 61], "board": [150, None]},
        **more,
    }


def test_a_run_from_opening_to_its_end(client, campaign, bench):
    assert bench.opened["planned_s"] == 90
    assert bench.opened["possible"]["temperature"] == [-200, 150]
    assert bench("/batches", rows(1)).json() == {"through": 1, "missing": [], "stop": ""}
    assert bench("/batches", rows(3)).json()["missing"] == [2]
    assert bench("/batches", rows(3)).status_code == 200
    assert bench("/marks", {"text": "a flicker", "at_s": 1.5}).status_code == 201
    assert bench("/heartbeat", {}).json()["through"] == 1
    assert bench("/finish", {"outcome": "completed", "value": 91.2}).json()["stop"] == "ended: completed"
    run = client.get(f"/api/runs/{bench.run_id}").json()
    assert (run["outcome"], run["value"], run["live_state"]) == ("completed", 91.2, "ended")
    assert [one["instrument"] for one in run["figures"] if one["quantity"] == "power"] == ["Meter at the wall"]
    assert run["series"][0]["rows"] == 4


METERS = ({"name": "meter", "kind": "wall meter"}, {"name": "clamp", "kind": "clamp"})


def test_a_channel_names_its_instrument_and_two_of_them_are_set_against_each_other(client, campaign, bench, token):
    meter, clamp = (
        ask(client, "post", f"/api/rigs/{campaign.rig_id}/instruments", one | {"quantity": "power"}).json()
        for one in METERS
    )
    listed = ask(client, "get", "/api/bench/campaigns", token=token).json()[0]["instruments"]
    assert [one["name"] for one in listed] == ["clamp", "meter"] or [one["name"] for one in listed] == [
        "meter",
        "clamp",
    ]
    channels = [{"name": one, "quantity": "power", "instrument": one} for one in ("Meter", "clamp")]
    opening = bench.opening | {"uid": str(uuid.uuid4()), "channels": channels}
    wrong = opening | {"channels": [channels[0] | {"instrument": "tape measure"}]}
    refused = ask(client, "post", "/api/bench/runs", wrong, token).json()["problems"][0]
    assert (refused["where"], refused["todo"][:7]) == ("channels.0.instrument", "One of:")
    run = ask(client, "post", "/api/bench/runs", opening, token).json()["run_id"]
    level = [150 + 40 * (n // 20 % 2) for n in range(120)]
    sent = {
        "sequence": 1,
        "time_s": list(range(120)),
        "values": {"Meter": [w + 12 + n % 3 for n, w in enumerate(level)], "clamp": level},
    }
    assert ask(client, "post", f"/api/bench/runs/{run}/batches", sent, token).status_code == 200
    ask(client, "post", f"/api/bench/runs/{run}/finish", {"outcome": "completed", "value": 90.0}, token)
    by = {one["instrument"] for one in client.get(f"/api/runs/{run}").json()["figures"] if one["quantity"] == "power"}
    assert by == {"meter", "clamp"}
    found = client.get(f"/api/instruments/{meter['id']}/agreement?second={clamp['id']}").json()
    assert (found["by"], found["could"], found["agreement"]["pairs"]) == ("moments", ["runs", "moments"], 23)
    assert found["agreement"]["offset"] == pytest.approx(13, abs=0.2)
    assert found["says"] == "Each pair is a mean over 5 s, from one log."


@pytest.mark.parametrize(
    ("body", "where", "says"),
    [
        (rows(1, values={"colour": [1, 2]}), "values.colour", "no channel colour"),
        (rows(1, values={"die": [60]}), "values.die", "1 readings for 2 times"),
        (rows(1, values={"die": [60, 6000]}), "values.die.1", "that cannot be"),
        (rows(0), "sequence", "This is too little: the least is 1"),
        (
            '{"sequence": 1, "time_s": [0, 1], "values": {"die": [60, NaN]}}',
            "values.die.1",
            "no number that can be counted with",
        ),
        ('{"sequence": 1, "time_s": [0, Infinity]}', "time_s.1", "no number that can be counted with"),
        ('{"sequence": 1, "time_s"', "request", "Cannot parse"),
    ],
)
def test_a_bad_batch_is_refused_by_name_and_leaves_no_trace(bench, body, where, says):
    answer = bench("/batches", body)
    assert answer.status_code in (400, 422)
    problem = answer.json()["problems"][0]
    assert problem["where"] == where
    assert says in problem["what"]
    live = LiveRun.objects.get()
    assert (live.chunks.count(), live.through, live.elapsed_s) == (0, 0, 0)
    assert bench("/batches", rows(1)).status_code == 200


def test_after_finish_new_readings_are_refused_in_words(bench):
    bench("/batches", rows(1))
    bench("/finish", {"outcome": "program crash"})
    answer = bench("/batches", rows(2))
    assert answer.status_code == 422
    assert "has ended: program crash" in answer.json()["problems"][0]["what"]
    assert bench("/batches", rows(1)).status_code == 200


def test_without_the_right_token_nothing_is_there(client, campaign, bench):
    for shown in (None, "wrong"):
        answer = bench("/batches", rows(1), shown)
        assert (answer.status_code, answer.json()["problems"][0]["where"]) == (401, "token")
    _, other = make_token(create_rig("Elsewhere", BuildDraft(), NOW), "other", NOW)
    assert bench("/batches", rows(1), other).status_code == 404
    assert ask(client, "post", "/api/bench/runs", bench.opening | {"uid": str(uuid.uuid4())}, other).status_code == 404
    assert ask(client, "get", "/api/bench/campaigns", token=other).json() == []
    assert LiveRun.objects.count() == 1


def test_a_setting_is_found_or_becomes_a_setting(client, campaign, bench, token):
    for setting, count in (({"core": 30}, 2), ({"core": 30, "power": 100}, 2)):
        body = bench.opening | {"uid": str(uuid.uuid4()), "setting": setting}
        assert ask(client, "post", "/api/bench/runs", body, token).status_code == 201
        assert campaign.settings.count() == count
    answer = ask(
        client, "post", "/api/bench/runs", bench.opening | {"uid": str(uuid.uuid4()), "setting": {"core": 31}}, token
    )
    assert "off the grid" in answer.json()["problems"][0]["what"]
    answer = ask(client, "post", "/api/bench/runs", bench.opening | {"uid": str(uuid.uuid4()), "workload": "x"}, token)
    assert "One of: Gorge, Render" in answer.json()["problems"][0]["todo"]


def test_what_is_open_is_listed_and_a_lost_run_is_answered(client, campaign, bench):
    bench("/batches", rows(1))
    (live,) = client.get("/api/live").json()
    assert (live["standing"]["state"], live["likely"]) == ("open", None)
    LiveRun.objects.update(state="lost")
    (live,) = client.get("/api/live").json()
    assert live["likely"]["outcome"] == "system crash"
    answer = ask(client, "post", f"/api/runs/{bench.run_id}/live/end", {"outcome": "system crash", "note": "dark"})
    assert answer.json()["standing"]["state"] == "ended"
    assert client.get("/api/live").json() == []
    assert Run.objects.get().marks.last().text == "System crash: dark"


def test_a_deleted_campaign_takes_no_run_and_loses_none(client, campaign, bench, token):
    """What is acknowledged is not destroyed at the next start: deletion waits for a bench that may still send."""
    delete = partial(ask, client, "post", f"/api/campaigns/{campaign.pk}/delete", {"name": campaign.name})
    assert "going on" in delete().json()["problems"][0]["what"]
    LiveRun.objects.update(state="lost")
    assert "lost contact" in delete().json()["problems"][0]["what"]
    # even one that was marked before is kept by a start while a run has not ended
    Campaign.objects.filter(pk=campaign.pk).update(deleted_at=NOW)
    assert remove_deleted() == 0
    assert bench("/batches", rows(1)).status_code == 200
    assert Run.objects.filter(pk=bench.run_id).exists()
    # nothing new is opened there, and benches are not told of it
    again = {**bench.opening, "uid": str(uuid.uuid4())}
    assert ask(client, "post", "/api/bench/runs", again, token).status_code == 404
    assert ask(client, "get", "/api/bench/campaigns", token=token).json() == []
    Campaign.objects.filter(pk=campaign.pk).update(deleted_at=None)
    assert bench("/finish", {"outcome": "completed", "value": 93.0}).status_code == 200
    assert delete().status_code == 200


def test_a_run_typed_while_its_campaign_is_deleted_is_refused(campaign, stock, gorge, now):
    Campaign.objects.filter(pk=campaign.pk).update(deleted_at=NOW)
    with pytest.raises(Refused, match="campaign_deleted"):
        log_run(campaign, stock, gorge, run_draft("completed", now, 93.6), now)


def test_safety_limits_are_told_with_what_cannot_be_watched(client, campaign, bench):
    body = {"safety_limits": [{"kind": "temperature", "limit": 80}, {"kind": "current", "limit": 20}]}
    assert ask(client, "put", f"/api/campaigns/{campaign.pk}/safety-limits", body).status_code == 200
    live = client.get(f"/api/runs/{bench.run_id}/live").json()
    assert [safety_limit["kind"] for safety_limit in live["unwatched"]] == ["current"]
    assert "80 °C" in bench("/batches", rows(1, values={"die": [79, 80.2]})).json()["stop"]
    body["safety_limits"][0]["limit"] = 4000
    answer = ask(client, "put", f"/api/campaigns/{campaign.pk}/safety-limits", body)
    assert answer.json()["problems"][0]["where"] == "safety_limits.0.limit"
    assert client.get(f"/api/campaigns/{campaign.pk}/safety-limits").json()["safety_limits"][0]["limit"] == 80


@pytest.fixture
def simulator(client, db):
    rig = create_rig("Card", BuildDraft(), NOW, "dome", 71)
    return create_campaign(rig, "Up", "speed", "", knobs_for("dome"), workloads_for("dome"), NOW)


def test_starting_on_the_simulator_and_its_ceiling(client, simulator):
    stock, gorge = simulator.settings.get(), simulator.workloads.first()
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "speed": 60}
    assert client.get(f"/api/campaigns/{simulator.pk}/ceiling?setting_id={stock.pk}").json() == {"words": ""}
    safety_limits = {"safety_limits": [{"kind": "voltage ceiling", "limit": -25, "channel": "voltage"}]}
    ask(client, "put", f"/api/campaigns/{simulator.pk}/safety-limits", safety_limits)
    words = client.get(f"/api/campaigns/{simulator.pk}/ceiling?setting_id={stock.pk}").json()["words"]
    answer = ask(client, "post", f"/api/campaigns/{simulator.pk}/live", body)
    assert answer.json()["problems"][0]["where"] == "confirmation"
    answer = ask(client, "post", f"/api/campaigns/{simulator.pk}/live", body | {"confirmation": words})
    assert (answer.status_code, answer.json()["standing"]["left_real_s"]) == (201, 1.5)
    answer = ask(client, "post", f"/api/runs/{answer.json()['run_id']}/live/notes", {"text": "humming"})
    assert answer.status_code == 201


def test_the_queue_over_the_api(client, simulator):
    stock, gorge = simulator.settings.get(), simulator.workloads.first()
    path = f"/api/campaigns/{simulator.pk}/queue"
    assert client.get(path).json()["items"] == []
    body = {"setting_ids": [stock.pk], "workload_ids": [gorge.pk], "repeats": 3, "speed": 10}
    queue = ask(client, "post", path, body).json()
    assert (queue["waiting"], queue["left_s"]) == (3, pytest.approx(27 + 3 * 1.5))
    assert client.post(f"{path}/pause").json()["paused"]
    assert not client.post(f"{path}/resume").json()["paused"]
    assert [item["state"] for item in client.post(f"{path}/cancel").json()["items"]] == ["left out"] * 3
    assert ask(client, "post", path, body | {"repeats": 0}).status_code == 422


def test_the_simulators_rigs_can_begin_a_campaign(client, db):
    kinds = client.get("/api/simulator").json()
    assert [kind["key"] for kind in kinds] == ["dome", "annexe", "loft", "lectern", "relic"]
    for kind in kinds:
        body = {
            "name": kind["name"],
            "goal": "speed",
            "rig": {"name": kind["name"], "build": {}, "simulator": kind["key"], "simulator_seed": 3},
            "knobs": kind["knobs"],
            "workloads": kind["workloads"],
        }
        answer = ask(client, "post", "/api/campaigns", body)
        assert (answer.status_code, answer.json()["simulator"]) == (201, kind["key"])
    body["rig"] |= {"name": "x", "simulator": "moon"}
    assert "no rig “moon”" in ask(client, "post", "/api/campaigns", body).json()["problems"][0]["what"]


def test_tokens_are_shown_once(client, campaign):
    path = f"/api/rigs/{campaign.rig_id}/bench-tokens"
    made = ask(client, "post", path, {"name": "desk"}).json()
    assert len(made["words"]) > 30
    (token,) = client.get(path).json()
    assert made["words"] not in json.dumps(token)
    assert client.post(f"/api/bench-tokens/{token['id']}/withdraw").json()["revoked_at"]
    assert ask(client, "get", "/api/bench/campaigns", token=made["words"]).status_code == 401


@pytest.mark.django_db(transaction=True)
def test_the_stream_tells_all_then_the_end_and_goes_on_from_where_one_was(client, bench):
    """Server-sent events as they go over the line."""
    import asyncio
    from concurrent.futures import ThreadPoolExecutor

    for number in (1, 2, 3):
        bench("/batches", rows(number))
    bench("/finish", {"outcome": "completed", "value": 90})

    async def read(after):
        answer = await AsyncClient().get(f"/api/runs/{bench.run_id}/stream", headers={"Last-Event-ID": str(after)})
        return [chunk async for chunk in answer.streaming_content]

    with ThreadPoolExecutor(1) as elsewhere:
        events = elsewhere.submit(asyncio.run, read(0)).result(timeout=300)
    assert len(events) == 1
    head, kind, data = events[0].decode().strip().split("\n")
    assert (head.startswith("id: "), kind) == (True, "event: news")
    assert json.loads(data.removeprefix("data: "))["standing"]["state"] == "ended"
