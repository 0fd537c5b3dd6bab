"""Every goal from baseline to its end by the one step alone, over the API, on the stand-in: ./run.py bench every_goal.

And how near the one step comes to the least power that a card could draw at its speed: ./run.py bench -k thrift
"""

import statistics
import time

import pytest

from tests.server.process import Served
from tests.thrift import Card

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


def begun(server, goal, rig, knobs, workloads, terms, seed=SEED, most_minutes=60.0):
    kind = next(one for one in server.ask("/api/standin") if one["key"] == rig)
    campaign = server.ask(
        "/api/campaigns",
        {
            "name": f"By the one step: {goal}",
            "goal": goal,
            "rig": {"name": f"Rig {seed} for {goal}", "fitting": {}, "standin": rig, "standin_seed": seed},
            "knobs": [_turned(knob, goal) for knob in kind["knobs"] if knob["key"] in knobs],
            "workloads": [
                one | {"minutes": min(one["minutes"], most_minutes)}
                for one in kind["workloads"]
                if one["name"] in workloads
            ],
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
    body = {"setting_id": setting_id, "workload_id": workload_id, "minutes": timed, "speed": 1800, "confirmation": ""}
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


SPECIMENS = (5, 7, 12, 28, 41, 63, 77, 90)
THRIFTY = ("Gorge flythrough", "Kiln")
LOWEST_MV, HOURS = -150, 5


def test_thrift_of_the_one_step(benchmark, standin_server):
    """Clock, voltage and power limit free, the same speed for less power, on cards that their limit holds at everything."""

    def study():
        short, unsafe, at_stock = [], 0, 0
        for seed in SPECIMENS:
            terms = {"hours": HOURS, "lows_too": False}
            knobs = ["core", "voltage", "power"]
            campaign_id = begun(standin_server, "efficiency", "dome", knobs, THRIFTY, terms, seed, 5)
            step, acts = followed(standin_server, campaign_id)
            best = standin_server.ask(f"/api/campaigns/{campaign_id}/goal")["goal"]["best"]
            kept = step["act"] == "keep"
            settings = standin_server.ask(f"/api/campaigns/{campaign_id}/settings")
            values = next(one["values"] for one in settings if one["id"] == best["setting_id"]) if kept else {}
            card = Card(seed, THRIFTY, HOURS)
            least = card.least_power(LOWEST_MV, range(100, 79, -2))
            speed, power = card.against_stock(values)
            short.append(power / least - 1)
            rate = card.failures_per_h(values)
            unsafe += rate > 1 / HOURS
            at_stock += not kept
            print(
                f"thrift, specimen {seed}: {acts} acts, {step['title']} {power:.1%} of stock's power at {speed:.1%} of its "
                f"speed; least there is {least:.1%}; {rate:.2f} failures an hour"
            )
        return short, unsafe, at_stock

    short, unsafe, at_stock = benchmark.pedantic(study, rounds=1)
    print(
        f"thrift of the one step, {len(SPECIMENS)} specimens: short {statistics.median(short):.1%} (middle), "
        f"most {max(short):.1%}; {unsafe} unsafe, {at_stock} left at stock"
    )
    assert statistics.median(short) <= 0.03
    assert at_stock == 0
