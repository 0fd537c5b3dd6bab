"""The guard itself: it finds what differs, asks for everything, and an answer depends on nothing that was asked before it."""

import json
import subprocess
import sys
from pathlib import Path

from tests.drafts import run_draft
from tests.guard.answers import addresses, answers_of
from tests.guard.differences import differences
from tests.guard.synthetic import TRAPS, make
from tests.server.templates import fill
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.store import empty_store

ROOT = Path(__file__).parents[2]


def test_differences_name_the_field_and_both_values():
    old = {"a": [1, {"b": 2.0}], "c": "x", "gone": 1}
    new = {"a": [1, {"b": 2.5}], "d": "x", "new": float("nan")}
    assert list(differences(old, new, renamed={"c": "d"})) == ["/a/1/b: 2.0 -> 2.5", "/gone: gone", "/new: new"]
    assert list(differences({"x": float("nan")}, {"x": float("nan")})) == []
    assert list(differences([1], [1, 2])) == [": [1] -> [1, 2]"]


def test_every_answer_is_the_same_whatever_was_asked_before(client, campaign, stock, gorge, now):
    tuned = add_setting(campaign, {"core": 60}, "", now)
    for setting, values in ((stock, (93.4, 93.6, 93.5)), (tuned, (97.0, 97.3))):
        for value in values:
            log_run(campaign, setting, gorge, run_draft("completed", now, value, 600, power_w=210.0), now)
    asked = addresses(client)
    assert len(asked) > 60
    found = []
    for order in (asked, asked[::-1]):
        empty_store()
        found += [answers_of(client, order), answers_of(client, order)]
    for other in found[1:]:
        assert list(differences(json.loads(json.dumps(found[0])), json.loads(json.dumps(other)))) == []


def test_it_is_run_on_a_file_and_compares_two(tmp_path):
    fill(tmp_path, demo=False)
    for name in ("old", "new"):
        call = [sys.executable, "-m", "tests.guard", "write", str(tmp_path / name), str(tmp_path / "trelvo.sqlite3")]
        subprocess.run(call, cwd=ROOT, check=True, capture_output=True, timeout=300)
    call = [sys.executable, "-m", "tests.guard", "compare", str(tmp_path / "old"), str(tmp_path / "new")]
    ended = subprocess.run(call, cwd=ROOT, check=True, capture_output=True, text=True, timeout=300)
    assert ended.stdout.startswith("0 fields differ in ")


def test_what_is_made_up_shows_what_the_demo_does_not(client, db, now):
    traps, reasons = set(), set()
    for campaign in make(now):
        settings = [str(setting.pk) for setting in campaign.settings.all() if setting.values]
        found = client.get(f"/api/campaigns/{campaign.pk}/compare", {"candidates": ",".join(settings)}).json()
        versus = found["versus"]
        traps |= {trap["name"] for trap in found["traps"]}
        reasons |= {
            cell["verdict"]["reason"]["code"]
            for one in versus["candidates"]
            for cell in one["column"]["cells"]
            if cell["verdict"]
        }
    assert TRAPS - traps == set()
    assert "seen_once_it_would_stand" in reasons
