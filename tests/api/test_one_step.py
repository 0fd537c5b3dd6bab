"""Every goal from baseline to its end by the one step alone, in this process; then held against the simulator's truth."""

from statistics import fmean

import pytest

from tests.one_step import AtOnce, begun, followed, work_through
from trelvo.simulator.bench import true_edge_mhz
from trelvo.simulator.rigs import draw_rig
from trelvo.simulator.silicon import hazard_per_h

WARM_C, HOURS, SEED, MOST_MINUTES = 64.0, 5, 28, 5
CARD = ["Gorge flythrough", "Kiln"]


@pytest.fixture
def trelvo(client, db):
    return AtOnce(client)


def played(trelvo, goal, rig, knobs, workloads, terms):
    """The campaign's number, the steps told, and the best setting as it then stands."""
    campaign_id = begun(trelvo, goal, rig, knobs, workloads, {"hours": HOURS} | terms, SEED, MOST_MINUTES)
    if goal == "efficiency":
        # the card is at its power limit, where less voltage saves little: to this user less than the usual least counts
        kept = trelvo.ask(f"/api/campaigns/{campaign_id}")
        counts = {word: kept[word] for word in ("wished_resolution", "stale_days")} | {"smallest_gain": 0.002}
        trelvo.ask(f"/api/campaigns/{campaign_id}/what-counts", counts, method="PUT")
    told = followed(trelvo, campaign_id)
    return campaign_id, told, trelvo.ask(f"/api/campaigns/{campaign_id}/goal")["goal"]["best"]


@pytest.mark.parametrize(
    ("goal", "rig", "knobs", "workloads", "terms"),
    [
        ("speed", "dome", ["core"], CARD, {}),
        ("efficiency", "dome", ["voltage"], CARD, {"lows_too": False}),
        ("frame rate", "dome", ["core"], CARD, {"frames": 92, "low_frames": None}),
        ("power budget", "loft", ["cap"], ["Small dome", "Millrace"], {"most_power_w": 18.0}),
        ("quiet", "loft", ["cap"], ["Small dome", "Millrace"], {"lows_too": False}),
        ("target", "dome", ["core"], CARD, {}),
        ("record", "dome", ["core"], ["Gorge flythrough"], {}),
        ("revive", "relic", ["bus"], ["Orrery", "Tide sums"], {}),
        ("decide", "dome", ["core"], CARD, {}),
    ],
)
def test_a_goal_comes_to_its_end(trelvo, goal, rig, knobs, workloads, terms):
    campaign_id, told, best = played(trelvo, goal, rig, knobs, workloads, terms)
    # the whole baseline is one act, and the first
    assert told[0]["title"]["text"].startswith("Run ")
    assert (told[0]["runs"], len(told[0]["workload_ids"])) == (3, len(workloads))
    assert len(told) <= 42
    if goal == "quiet":
        # a lower cap on this specimen takes speed before it takes degrees that count: the honest end is stock
        assert told[-1]["title"]["text"] == "Keep stock."
        return
    assert told[-1]["title"]["text"] == f"Keep {best['title']}."
    assert best["standing"] == "meets it"
    assert {one["state"] for one in best["conditions"]} <= {"shown"}
    values = next(
        one["values"] for one in trelvo.ask(f"/api/campaigns/{campaign_id}/settings") if one["id"] == best["setting_id"]
    )
    if rig == "dome" and goal != "record":
        # the truth of the simulator agrees: not past the edge; how often a kept value keeps the accepted risk itself is counted
        # over many specimens in the benchmark
        drawn = draw_rig("dome", SEED)
        past = true_edge_mhz(drawn, values, drawn.design.loads["Kiln"], WARM_C)
        assert hazard_per_h(past, drawn.chip.decade_mhz) <= 1
    if goal == "frame rate":
        # the means of further runs there are what was said to be held
        assert mean_of_more_runs(trelvo, campaign_id, best, "Gorge flythrough") >= 0.99 * terms["frames"]
    if goal == "power budget":
        assert len(told) <= 12
        # what the sensor of that specimen shows is the power that was asked for, and a higher cap would have passed it
        drawn_w = max(mean_of_more_runs(trelvo, campaign_id, best, name, "power_w") for name in workloads)
        assert 0.85 * terms["most_power_w"] <= drawn_w <= 1.01 * terms["most_power_w"]


def mean_of_more_runs(trelvo, campaign_id, best, name, word=""):
    """Mean of six further runs at a setting: results, or a figure."""
    campaign = trelvo.ask(f"/api/campaigns/{campaign_id}")
    workload = next(one["id"] for one in campaign["workloads"] if one["name"] == name)
    runs = work_through(trelvo, campaign_id, best["setting_id"], [workload], 6)
    runs = [run for run in runs if run["outcome"] == "completed"]
    assert len(runs) >= 4
    if not word:
        return fmean(run["value"] for run in runs)
    # the part's own report comes before the meter at the wall, which sees the rest of the machine as well
    return fmean(min(figure["value"] for figure in run["figures"] if figure["word"] == word) for run in runs)
