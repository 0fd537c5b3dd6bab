"""A campaign on the simulator played through by the one step alone, over the API: with a server, or in this process at once."""

import json
import time
from datetime import timedelta

from django.utils import timezone

from trelvo.bench.driver import Driver
from trelvo.logbook.commands.live import lose_silent

MOST_ACTS = 90
# of a tenth of a second each with a server: ten minutes
MOST_WAITS = 6000


class AtOnce:
    """Asks the API in this process; the simulator works as fast as it can, and nobody waits for a clock."""

    def __init__(self, client):
        self.client, self.driver = client, Driver()

    def ask(self, path, body=None, method=None):
        call = getattr(self.client, (method or ("GET" if body is None else "POST")).lower())
        answer = call(path) if body is None else call(path, json.dumps(body), content_type="application/json")
        assert answer.status_code < 400, answer.json()
        return answer.json()

    def wait(self):
        self.driver.step(1.0)
        if not self.driver.sessions:
            # a machine that went down says nothing more, and nobody waits until its silence is noticed
            lose_silent(timezone.now() + timedelta(minutes=10))


class Over:
    """Asks a server that runs in a process of its own."""

    def __init__(self, server):
        self.ask = server.ask

    def wait(self):
        time.sleep(0.1)


def _turned(knob, goal):
    """A power limit comes down where power is to be saved, as the form for a new campaign has it."""
    return knob | {"away": -1} if goal == "efficiency" and knob["role"] == "power limit" else knob


def begun(trelvo, goal, rig, knobs, workloads, terms, seed, most_minutes=60.0):
    """A campaign on a fresh rig, its workloads at most so long; its number."""
    kind = next(one for one in trelvo.ask("/api/simulator") if one["key"] == rig)
    campaign = trelvo.ask(
        "/api/campaigns",
        {
            "name": f"By the one step: {goal}",
            "goal": goal,
            "rig": {"name": f"Rig {seed} for {goal}", "build": {}, "simulator": rig, "simulator_seed": seed},
            "knobs": [_turned(knob, goal) for knob in kind["knobs"] if knob["key"] in knobs],
            "workloads": [
                one | {"minutes": min(one["minutes"], most_minutes)}
                for one in kind["workloads"]
                if one["name"] in workloads
            ],
        },
    )
    if terms:
        trelvo.ask(f"/api/campaigns/{campaign['id']}/terms", terms, method="PUT")
    if goal == "target":
        gorge = next(one["id"] for one in campaign["workloads"] if one["name"] == "Gorge flythrough")
        target = {"name": "The next one up", "results": {str(gorge): 92.5}}
        trelvo.ask(f"/api/campaigns/{campaign['id']}/targets", target)
    return campaign["id"]


def run_out(trelvo, campaign_id, setting_id, workload_id, minutes=None):
    """One run to its end; what fell silent is said to have ended as it probably did."""
    body = {"setting_id": setting_id, "workload_id": workload_id, "minutes": minutes, "speed": 1800, "confirmation": ""}
    run = trelvo.ask(f"/api/campaigns/{campaign_id}/live", body)["run_id"]
    for _ in range(MOST_WAITS):
        if (found := trelvo.ask(f"/api/runs/{run}"))["live_state"] in ("ended", "lost"):
            break
        trelvo.wait()
    else:
        raise AssertionError(f"run {run} does not end")
    if found["live_state"] != "lost":
        return found
    likely = trelvo.ask(f"/api/runs/{run}/live")["likely"]["outcome"]
    trelvo.ask(f"/api/runs/{run}/live/end", {"outcome": likely, "value": None, "note": ""})
    return trelvo.ask(f"/api/runs/{run}")


def work_through(trelvo, campaign_id, setting_id, workload_ids, repeats):
    """Runs lined up as a queue, to the end of it; the runs."""
    path = f"/api/campaigns/{campaign_id}/queue"
    body = {"setting_ids": [setting_id], "workload_ids": workload_ids, "repeats": max(repeats, 1), "speed": 1800}
    lined_up = {one["id"] for one in trelvo.ask(path, body)["items"] if one["state"] == "waiting"}
    for _ in range(MOST_WAITS):
        if (found := trelvo.ask(path))["left_s"] is None:
            break
        trelvo.wait()
    else:
        raise AssertionError("the queue is not worked through")
    return [
        trelvo.ask(f"/api/runs/{one['run_id']}") for one in found["items"] if one["id"] in lined_up and one["run_id"]
    ]


def followed(trelvo, campaign_id):
    """Does what the one step says until there is nothing more to do; the steps that it told, the last one included."""
    told = []
    while len(told) < MOST_ACTS:
        step = trelvo.ask(f"/api/campaigns/{campaign_id}/next")["step"]
        told.append(step)
        if step["act"] in ("keep", "stop", "describe"):
            return told
        setting_id = step["setting_id"]
        if not setting_id:
            made = trelvo.ask(f"/api/campaigns/{campaign_id}/settings", {"values": step["values"], "note": ""})
            setting_id = made["id"]
        workload_ids = step["workload_ids"] or [step["workload_id"]]
        if step["runs"] > 1 or len(workload_ids) > 1:
            work_through(trelvo, campaign_id, setting_id, workload_ids, step["runs"])
        else:
            minutes = step["minutes"] if step["act"] in ("climb", "prove") else None
            run_out(trelvo, campaign_id, setting_id, workload_ids[0], minutes)
    raise AssertionError(f"no end after {MOST_ACTS} acts: {told[-1]['title']}")
