"""The server is killed in the middle of live runs: the file stays whole, no run is lost, each is found and asked about.

`./run.py bench -k kill` does the same fifty times and counts what is missing.
"""

import random
import time

from tests.server.process import Served, standin_campaign, wait_for


def killed_rounds(folder, rounds, seed):
    """Seconds of bench time that were missing after each kill, and what Trelvo asked about after each start."""
    chance, missing, asked = random.Random(seed), [], []
    with Served(folder) as server:
        campaign, stock, workloads = standin_campaign(server)
        body = {"setting_id": stock, "workload_id": workloads["Kiln"], "speed": 1}
        for done in range(rounds):
            run = server.ask(f"/api/campaigns/{campaign['id']}/live", body)["run_id"]

            def elapsed(run=run):
                return server.ask(f"/api/runs/{run}/live")["standing"]["elapsed_s"]

            began = time.monotonic() - wait_for(elapsed)
            time.sleep(chance.uniform(0.0, 2.0))
            seen = elapsed()
            server.kill()
            lasted = time.monotonic() - began
            assert server.integrity() == ([("ok",)], [])
            server.start()
            lives = server.ask("/api/live")
            found = next(live for live in lives if live["run_id"] == run)
            assert len(server.ask(f"/api/campaigns/{campaign['id']}/runs")) == done + 1
            assert found["standing"]["elapsed_s"] >= seen
            missing.append(lasted - found["standing"]["elapsed_s"])
            asked.append((found["standing"]["state"], found["likely"]["outcome"], len(lives)))
            if done % 2:
                for live in lives:
                    server.ask(f"/api/runs/{live['run_id']}/live/end", {"outcome": "contact lost"})
        runs = server.ask(f"/api/campaigns/{campaign['id']}/runs")
        for number, run in enumerate(runs):
            # what had come in before the kill lies beside each run that was answered
            if run["live_state"] == "ended":
                assert run["series"][0]["rows"] > 0, number
    return missing, asked


def test_killed_in_the_middle_of_a_run(tmp_path):
    _, asked = killed_rounds(tmp_path, 2, seed=5)
    assert asked == [("lost", "contact lost", 1), ("lost", "contact lost", 2)]
