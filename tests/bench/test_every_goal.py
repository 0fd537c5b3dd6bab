"""Every goal from baseline to its end by the one step alone, over the API, on the stand-in: ./run.py bench every_goal."""

import time

import pytest

from tests.server.process import Served

MOST_ACTS, SEED = 90, 28

# Goal, kind of rig, knobs, workloads, the goal's numbers.
GOALS = (
    ("speed", "dome", ["core"], ["Gorge flythrough", "Kiln"], {"hours": 5}),
    ("efficiency", "dome", ["voltage", "power"], ["Gorge flythrough", "Kiln"], {"hours": 5, "lows_too": False}),
    ("quiet", "loft", ["cap"], ["Orbit tables", "Small dome", "Millrace"], {"hours": 5, "lows_too": False}),
    ("power budget", "loft", ["cap"], ["Small dome", "Millrace"], {"hours": 5, "most_power_w": 18.0}),
    ("target", "dome", ["core"], ["Gorge flythrough", "Kiln"], {"hours": 5}),
    ("frame rate", "dome", ["core"], ["Gorge flythrough", "Kiln"], {"hours": 5, "frames": 92, "low_frames": None}),
    ("record", "dome", ["core"], ["Gorge flythrough"], {}),
    ("revive", "relic", ["bus"], ["Orrery", "Tide sums"], {"hours": 5}),
    ("decide", "dome", ["core"], ["Gorge flythrough", "Kiln"], {"hours": 5}),
)
# A lower cap on this specimen takes speed before it takes noise or degrees that count: the honest end is stock.
AT_STOCK = ("quiet",)


def _turned(knob, goal):
    """A power limit comes down where power is to be saved, as the form for a new campaign has it."""
    return knob | {"away": -1} if goal == "efficiency" and knob["role"] == "power limit" else knob


def begun(server, goal, rig, knobs, workloads, terms):
    kind = next(one for one in server.ask("/api/standin") if one["key"] == rig)
    campaign = server.ask(
        "/api/campaigns",
        {
            "name": f"By the one step: {goal}",
            "goal": goal,
            "rig": {"name": f"Rig for {goal}", "fitting": {}, "standin": rig, "standin_seed": SEED},
            "knobs": [_turned(knob, goal) for knob in kind["knobs"] if knob["key"] in knobs],
            "workloads": [one for one in kind["workloads"] if one["name"] in workloads],
        },
    )
    if terms:
        server.ask(f"/api/campaigns/{campaign['id']}/terms", terms, method="PUT")
    if goal == "target":
        gorge = next(one["id"] for one in campaign["workloads"] if one["name"] == "Gorge flythrough")
        target = {"name": "The next one up", "results": {str(gorge): 92.5}}
        server.ask(f"/api/campaigns/{campaign['id']}/targets", target)
    return campaign["id"]


def run_out(server, campaign_id, step, setting_id, workload_id):
    timed = step["minutes"] if step["act"] in ("climb", "prove") else None
    body = {"setting_id": setting_id, "workload_id": workload_id, "minutes": timed, "speed": 600, "confirmation": ""}
    run = server.ask(f"/api/campaigns/{campaign_id}/live", body)["run_id"]
    while (found := server.ask(f"/api/runs/{run}"))["live_state"] not in ("ended", "lost"):
        time.sleep(0.1)
    if found["live_state"] == "lost":
        likely = server.ask(f"/api/runs/{run}/live")["likely"]["outcome"]
        server.ask(f"/api/runs/{run}/live/end", {"outcome": likely, "value": None, "note": ""})


def followed(server, campaign_id):
    """Does what the one step says until there is nothing more to do; the last step and how many there were."""
    for acts in range(1, MOST_ACTS):
        step = server.ask(f"/api/campaigns/{campaign_id}/next")["step"]
        if step["act"] in ("keep", "stop", "describe"):
            return step, acts
        setting_id = step["setting_id"]
        if not setting_id:
            made = server.ask(f"/api/campaigns/{campaign_id}/settings", {"values": step["values"], "note": ""})
            setting_id = made["id"]
        for workload_id in step["workload_ids"] or [step["workload_id"]]:
            for _ in range(max(step["runs"], 1)):
                run_out(server, campaign_id, step, setting_id, workload_id)
    raise AssertionError(f"no end after {MOST_ACTS} acts: {step['title']}")


@pytest.fixture(scope="module")
def standin_server(tmp_path_factory):
    with Served(tmp_path_factory.mktemp("goals")) as running:
        yield running


@pytest.mark.parametrize(("goal", "rig", "knobs", "workloads", "terms"), GOALS)
def test_a_goal_comes_to_its_end(benchmark, standin_server, goal, rig, knobs, workloads, terms):
    campaign_id = begun(standin_server, goal, rig, knobs, workloads, terms)
    step, acts = benchmark.pedantic(lambda: followed(standin_server, campaign_id), rounds=1)
    best = standin_server.ask(f"/api/campaigns/{campaign_id}/goal")["goal"]["best"]
    print(f"goal {goal}: {acts} acts; {step['title']} {step['why']}")
    if goal in AT_STOCK:
        assert step["title"] == "Keep stock.", step
        return
    assert step["act"] == "keep", step
    assert best["standing"] == "meets it"
    assert {one["state"] for one in best["conditions"]} <= {"shown"}
