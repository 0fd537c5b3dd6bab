"""A goal from baseline to "meets it", following the one step only, by keyboard only; then held against the stand-in's truth."""

import re
from statistics import fmean

import pytest
from playwright.sync_api import expect

from tests.e2e.following import step_said, take_step
from tests.server.process import Served, ask, wait_for
from trelvo.standin.bench import true_edge_mhz
from trelvo.standin.rigs import draw_rig
from trelvo.standin.silicon import hazard_per_h

WARM_C, HOURS, SEED = 64.0, 5, 28
MOST_ACTS = 70


@pytest.fixture(scope="module")
def server(new_folder):
    with Served(new_folder()) as running:
        yield running


def begin(server, goal, knobs, workloads, terms, rig="dome"):
    """A campaign on a fresh rig; its workloads at most five minutes long, so that an evening is played through in a minute."""
    kind = next(one for one in server.ask("/api/standin") if one["key"] == rig)
    campaign = server.ask(
        "/api/campaigns",
        {
            "name": f"One voice: {goal}",
            "goal": goal,
            "rig": {"name": f"Rig for {goal}", "fitting": {}, "standin": rig, "standin_seed": SEED},
            "knobs": [knob for knob in kind["knobs"] if knob["key"] in knobs],
            "workloads": [
                one | {"minutes": min(one["minutes"], 5)} for one in kind["workloads"] if one["name"] in workloads
            ],
        },
    )
    server.ask(f"/api/campaigns/{campaign['id']}/terms", {"hours": HOURS} | terms, method="PUT")
    return campaign["id"]


def follow(page, server, campaign_id):
    """Presses `a` until there is something to keep; answers what it is asked; the acts it took."""
    page.goto(f"{server.address}/campaigns/{campaign_id}/climb")
    acts = []
    while len(acts) < MOST_ACTS:
        said = step_said(page)
        if said.startswith("Keep"):
            return acts, said
        if take_step(page):
            acts.append(said)
    raise AssertionError(f"nothing to keep after {MOST_ACTS} acts: {acts[-5:]}")


@pytest.mark.parametrize(
    ("goal", "knob", "terms"),
    [
        ("speed", "core", {}),
        ("efficiency", "voltage", {"lows_too": False}),
        ("frame rate", "core", {"frames": 92, "low_frames": None}),
    ],
)
def test_a_goal_is_met_by_pressing_one_key(page, server, goal, knob, terms):
    page.add_init_script("localStorage.setItem('trelvo-speed', '1800')")
    campaign_id = begin(server, goal, [knob], ["Gorge flythrough", "Kiln"], terms)
    if goal == "efficiency":
        # the card is at its power limit, where less voltage saves little: to this user less than the usual least counts
        kept = server.ask(f"/api/campaigns/{campaign_id}")
        counts = {word: kept[word] for word in ("wished_resolution", "stale_days")} | {"smallest_gain": 0.002}
        server.ask(f"/api/campaigns/{campaign_id}/what-counts", counts, method="PUT")
    _, best = met(page, server, campaign_id)
    # the truth of the stand-in agrees
    rig = draw_rig("dome", SEED)
    past = true_edge_mhz(rig, values_of(server, campaign_id, best), rig.design.loads["Kiln"], WARM_C)
    # not past the edge; how often a kept value keeps the accepted risk itself is counted over many specimens in the benchmark
    assert hazard_per_h(past, rig.chip.decade_mhz) <= 1
    if goal == "frame rate":
        # the means of further runs there are what was said to be held
        assert mean_of_more_runs(server, campaign_id, best, "Gorge flythrough") >= 0.99 * terms["frames"]
    assert [complaint for complaint in page.complaints if "422" not in complaint] == []


def test_a_power_budget_is_met_with_the_cap_no_lower_than_needed(page, server):
    page.add_init_script("localStorage.setItem('trelvo-speed', '1800')")
    budget_w = 18.0
    workloads = ["Small dome", "Millrace"]
    campaign_id = begin(server, "power budget", ["cap"], workloads, {"most_power_w": budget_w}, rig="loft")
    acts, best = met(page, server, campaign_id)
    assert len(acts) <= 12
    # what the sensor of that specimen shows is the power that was asked for, and a higher cap would have passed it
    drawn = max(mean_of_more_runs(server, campaign_id, best, name, "power_w") for name in workloads)
    assert 0.85 * budget_w <= drawn <= 1.01 * budget_w


@pytest.mark.parametrize(
    ("goal", "rig", "knobs", "workloads", "terms"),
    [
        ("quiet", "loft", ["cap"], ["Small dome", "Millrace"], {"lows_too": False}),
        ("target", "dome", ["core"], ["Gorge flythrough", "Kiln"], {}),
        ("record", "dome", ["core"], ["Gorge flythrough"], {}),
        ("revive", "relic", ["bus"], ["Orrery", "Tide sums"], {}),
        ("decide", "dome", ["core"], ["Gorge flythrough", "Kiln"], {}),
    ],
)
def test_every_other_goal_comes_to_its_end_by_one_key(page, server, goal, rig, knobs, workloads, terms):
    page.add_init_script("localStorage.setItem('trelvo-speed', '1800')")
    campaign_id = begin(server, goal, knobs, workloads, terms, rig)
    if goal == "target":
        gorge = next(one for one in server.ask(f"/api/campaigns/{campaign_id}")["workloads"] if one["kind"] == "title")
        target = {"name": "The next one up", "results": {str(gorge["id"]): 92.5}}
        server.ask(f"/api/campaigns/{campaign_id}/targets", target)
    acts, said = follow(page, server, campaign_id)
    assert acts[0].startswith("Run ")
    best = server.ask(f"/api/campaigns/{campaign_id}/goal")["goal"]["best"]
    if goal == "quiet":
        # a lower cap on this specimen takes speed before it takes degrees that count: the honest end is stock
        assert said == "Keep stock."
        return
    assert said == f"Keep {best['title']}."
    assert best["standing"] == "meets it"
    assert {one["state"] for one in best["conditions"]} <= {"shown"}


def test_a_run_that_has_ended_says_what_comes_next_in_the_same_words(page, demo_address):
    # a machine that is logged by hand: the step begins its line there, too
    run = ask(f"{demo_address}/api/campaigns/5/runs")["runs"][0]
    page.goto(f"{demo_address}/runs/{run['id']}")
    assert step_said(page) == ask(f"{demo_address}/api/campaigns/5/next")["step"]["title"]
    page.keyboard.press("a")
    line = page.get_by_label(re.compile("^Quick line"))
    expect(line).to_have_value(ask(f"{demo_address}/api/campaigns/5")["lines"][0])
    page.keyboard.press("Escape")
    page.keyboard.press("3")
    page.wait_for_url(re.compile("/campaigns/5/climb"))


def met(page, server, campaign_id):
    """Follows the one step until there is something to keep; the acts, and the best setting as it is said to stand."""
    acts, said = follow(page, server, campaign_id)
    assert said != "Keep stock.", acts
    best = server.ask(f"/api/campaigns/{campaign_id}/goal")["goal"]["best"]
    assert best["standing"] == "meets it"
    assert said == f"Keep {best['title']}."
    assert {one["state"] for one in best["conditions"]} == {"shown"}
    # the whole baseline is one act, and the first
    assert acts[0].startswith("Run 2 workloads at stock, 3 times each")
    assert len(acts) <= 42
    return acts, best


def values_of(server, campaign_id, best):
    settings = server.ask(f"/api/campaigns/{campaign_id}/settings")
    return next(one["values"] for one in settings if one["id"] == best["setting_id"])


def mean_of_more_runs(server, campaign_id, best, name, word="value"):
    """Mean of six further runs at a setting: results, or a figure."""
    campaign = server.ask(f"/api/campaigns/{campaign_id}")
    workload = next(one["id"] for one in campaign["workloads"] if one["name"] == name)
    body = {"setting_ids": [best["setting_id"]], "workload_ids": [workload], "repeats": 6, "speed": 600}
    before = {one["id"] for one in server.ask(f"/api/campaigns/{campaign_id}/runs")["runs"]}
    server.ask(f"/api/campaigns/{campaign_id}/queue", body)
    wait_for(lambda: server.ask(f"/api/campaigns/{campaign_id}/queue")["left_s"] is None, 240)
    runs = [
        one
        for one in server.ask(f"/api/campaigns/{campaign_id}/runs")["runs"]
        if one["id"] not in before and one["outcome"] == "completed" and one["workload_name"] == name
    ]
    assert len(runs) >= 4
    if word == "value":
        return fmean(one["value"] for one in runs)
    # the part's own report comes before the meter at the wall, which sees the rest of the machine as well
    return fmean(min(figure["value"] for figure in one["figures"] if figure["word"] == word) for one in runs)
