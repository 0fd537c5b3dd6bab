"""Every goal from baseline to its end by the one step alone, over the API, on the simulator: ./run.py bench every_goal.

And how near the one step comes to the least power that a card could draw at its speed: ./run.py bench -k thrift
"""

import statistics

import pytest

from tests.one_step import Over, begun, followed
from tests.server.process import Served
from tests.thrift import Card

SEED = 28

# Goal, kind of rig, knobs, workloads, the goal's numbers.
EVERY_GOAL = (
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
GOALS = EVERY_GOAL
# A lower cap on this specimen takes speed before it takes noise or degrees that count: the honest end is stock.
AT_STOCK = ("quiet",)


@pytest.fixture(scope="module")
def simulator_server(tmp_path_factory):
    with Served(tmp_path_factory.mktemp("goals")) as running:
        yield Over(running)


@pytest.mark.parametrize(("goal", "rig", "knobs", "workloads", "terms"), GOALS)
def test_a_goal_comes_to_its_end(benchmark, simulator_server, goal, rig, knobs, workloads, terms):
    campaign_id = begun(simulator_server, goal, rig, knobs, workloads, terms, SEED)
    told = benchmark.pedantic(lambda: followed(simulator_server, campaign_id), rounds=1)
    step, acts = told[-1], len(told)
    best = simulator_server.ask(f"/api/campaigns/{campaign_id}/goal")["goal"]["best"]
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


def test_thrift_of_the_one_step(benchmark, simulator_server):
    """Clock, voltage and power limit free, the same speed for less power, on cards that their limit holds at everything."""

    def study():
        short, unsafe, at_stock = [], 0, 0
        for seed in SPECIMENS:
            terms = {"hours": HOURS, "lows_too": False}
            knobs = ["core", "voltage", "power"]
            campaign_id = begun(simulator_server, "efficiency", "dome", knobs, THRIFTY, terms, seed, 5)
            told = followed(simulator_server, campaign_id)
            step, acts = told[-1], len(told)
            best = simulator_server.ask(f"/api/campaigns/{campaign_id}/goal")["goal"]["best"]
            kept = step["act"] == "keep"
            settings = simulator_server.ask(f"/api/campaigns/{campaign_id}/settings")
            values = (
                next(setting["values"] for setting in settings if setting["id"] == best["setting_id"]) if kept else {}
            )
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
    assert max(short) <= 0.05
    assert at_stock == 0
