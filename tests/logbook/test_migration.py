"""A database and a campaign file of the version before: every number and every verdict is the same in this one."""

import copy
import gzip
import json
import math
import os
import re
import sqlite3
import subprocess
import sys
from collections import Counter
from pathlib import Path

import pytest
from django.test import Client

from tests.server.process import ROOT, Served
from trelvo.exchange.archive.json_file import from_json
from trelvo.exchange.archive.restore import restore
from trelvo.logbook.cases import case_alone
from trelvo.logbook.models import Campaign, Run, Variant

KEPT = Path(__file__).parents[1] / "kept"
# Words that had another form then: in names of fields, and as values.
FIELDS_NOW = {
    "rung": "setting",
    "fitting": "build",
    "schools": "approaches",
    "school": "approach",
    "battery": "test_suite",
}
VALUES_NOW = {
    "odd numbers": "artifacts",
    "program closed": "program crash",
    "machine down": "system crash",
    "stopped by a guard rail": "safety limit",
    "contact lost": "connection lost",
    "halving": "bisection",
}


def in_todays_words(said):
    """An answer of then with the fields and values of today."""
    if isinstance(said, dict):
        names = {name: re.sub("|".join(FIELDS_NOW), lambda word: FIELDS_NOW[word[0]], name) for name in said}
        return {names[name]: in_todays_words(value) for name, value in said.items()}
    if isinstance(said, list):
        return [in_todays_words(one) for one in said]
    return VALUES_NOW.get(said, said) if isinstance(said, str) else said


ANSWERS = in_todays_words(json.loads(gzip.decompress((KEPT / "version-1.answers.json.gz").read_bytes())))
SAME = ("baseline",)
# What is concluded from runs that drift, remember each other or lie on different days follows better rules today.
CONCLUDED = {"gain", "axis_low", "axis_high", "efficiency_ratio", "comparison", "verdict", "sentence", "adjusted_p"}
CONCLUDED |= {"scaling", "overall", "overall_verdict", "overall_sentence", "note"}
# what carries other words or another name today, and no number
RENAMED = {
    "reference",
    "candidate",
    "name",
    "setting_id",
    "closed",
    "noise",
    "traps",
    "workload_id",
    "reasons",
    "load_id",
    "key",
    "chosen_by_trelvo",
    # what has to be run in one go is run whole
    "run_minutes",
}


@pytest.fixture(scope="module")
def kept(tmp_path_factory):
    """The kept database, opened by this version's own program; answers by address."""
    folder = tmp_path_factory.mktemp("kept")
    (folder / "trelvo.sqlite3").write_bytes(gzip.decompress((KEPT / "version-1.db.gz").read_bytes()))
    with Served(folder) as server:
        yield folder, {path: server.ask(f"/api/campaigns/{path}{as_then(path)}") for path in ANSWERS}


def as_then(path):
    """Asks for the candidates, or the climb, that the version before chose by itself: others are chosen by the goal today."""
    if path.endswith("/compare"):
        chosen = [str(one["setting_id"]) for one in ANSWERS[path]["versus"]["candidates"]]
        return f"?candidates={','.join(chosen)}"
    if path.endswith("/climb"):
        climb = ANSWERS[path]["climb"]
        return f"?knob={climb['knob']['key']}&base_id={climb['settings'][0]}"
    return ""


def same(was, now, path=""):
    """Differences in what was told before; what is told besides today does not matter."""
    if isinstance(was, dict) and isinstance(now, dict):
        pairs = [(key, now.get(key, now.get("says")) if key in ("sentence", "words") else now.get(key)) for key in was]
        return [one for key, other in pairs if key not in RENAMED for one in same(was[key], other, f"{path}.{key}")]
    if isinstance(was, str) and isinstance(now, dict) and "text" in now:
        # a sentence may be worded better today; the numbers that it is about are compared by themselves
        return [] if bool(was) == bool(now["text"]) else [(path, was, now)]
    if isinstance(was, list) and isinstance(now, list):
        if len(was) != len(now):
            return [(path, len(was), len(now))]
        return [one for i, pair in enumerate(zip(was, now, strict=True)) for one in same(*pair, f"{path}[{i}]")]
    if isinstance(was, str) and was.startswith("load-"):
        return []
    if isinstance(was, float) and isinstance(now, float):
        # sums in another order differ in the last digit
        return [] if math.isclose(was, now, rel_tol=1e-12) else [(path, was, now)]
    return [] if was == now else [(path, was, now)]


@pytest.mark.parametrize("path", [path for path in ANSWERS if path.split("/")[-1] in SAME])
def test_every_baseline_is_the_same(kept, path):
    assert same(ANSWERS[path], kept[1][path]) == []


@pytest.mark.parametrize("path", [path for path in ANSWERS if path.split("/")[-1] in ("ladder", "compare")])
def test_every_figure_that_verdicts_rest_on_is_the_same(kept, path):
    was = copy.deepcopy(ANSWERS[path])
    for setting in was.get("ladder", {}).get("settings", []):
        # runs are named there; what they read is looked at below
        setting["runs"] = [{field: run[field] for field in ("id", "outcome", "set_aside")} for run in setting["runs"]][
            -20:
        ]
    found = same(was, kept[1][path])
    assert [one for one in found if not CONCLUDED & set(re.split(r"[.\[\]\d]+", one[0]))] == []


@pytest.mark.parametrize("path", [path for path in ANSWERS if path.endswith("/climb")])
def test_every_trial_of_a_climb_is_the_same(kept, path):
    """What is concluded from them is another matter: the rules of the climb are better today."""
    was, now = ANSWERS[path]["climb"], kept[1][path]["climb"]
    for field in ("base", "base_title", "tested_to", "settings"):
        assert same(was[field], now[field]) == []
    counts = Counter(one["value"] for one in was["trials"])
    assert {one["value"]: one["runs"] for one in now["runs_at"]} == counts
    # of many at one value the last few are named
    named = {one["run_id"] for one in now["trials"]}
    old = [one for one in was["trials"] if one["run_id"] in named]
    assert same([{k: v for k, v in one.items() if k not in ("stress", "timed")} for one in old], now["trials"]) == []
    # how much nearer the edge a workload takes it: the same order, in decades instead of steps
    stresses = [(one["stress"], two["stress"]) for one, two in zip(old, now["trials"], strict=True)]
    assert all(before <= 0 and new <= 0 for before, new in stresses)
    assert all(new == 0 for before, new in stresses if before == 0)


@pytest.mark.parametrize("path", [path for path in ANSWERS if path.endswith("/proof")])
def test_every_proof_counts_the_same_time(kept, path):
    for field in ("rate", "setting_id", "title"):
        assert same(ANSWERS[path].get(field), kept[1][path].get(field)) == []
    for was, now in zip(ANSWERS[path]["approaches"][:3], kept[1][path]["approaches"][:3], strict=True):
        # words may be better today; what loads the whole system is distinguished from graphics and processor
        was_items, now_items = ([one for one in it["proof"]["items"] if one["key"] != "whole"] for it in (was, now))
        found = same(was_items, now_items)
        assert [one for one in found if not one[0].endswith(".why")] == []


@pytest.mark.parametrize("path", [path for path in ANSWERS if path.endswith("/runs")])
def test_every_number_is_the_same(kept, path):
    fields = (
        "low_1_fps",
        "low_01_fps",
        "power_w",
        "temp_max_c",
        "temp_mean_c",
        "room_c",
        "core_mhz",
        "memory_mhz",
        "voltage_v",
    )
    points = {"software": "The part's own report", "cables": "Clamp on the cables", "wall": "Meter at the wall"}
    for was, now in zip(ANSWERS[path], kept[1][path]["runs"], strict=True):
        read = {one["word"]: one for one in now["figures"] if not one["replaced"]}
        assert {field: read[field]["value"] if field in read else None for field in fields} == {
            f: was[f] for f in fields
        }
        for field in ("id", "value", "duration_s", "outcome", "fan", "note", "started_at", "set_aside_reason"):
            assert now[field] == was[field]
        if was["power_w"] is not None:
            assert read["power_w"]["instrument"] == points[was["power_point"]]


def test_a_copy_is_made_before_anything_is_changed(kept):
    copies = list(kept[0].glob("copies/before-*.sqlite3"))
    assert len(copies) == 1
    with sqlite3.connect(copies[0]) as copy:
        assert "power_w" in [column[1] for column in copy.execute("PRAGMA table_info(logbook_run)")]
    copy.close()


def test_the_same_workload_on_two_rigs_is_one_now(kept):
    loft, desk = (kept[1][str(number)] for number in (4, 5))
    assert [one["id"] for one in loft["workloads"]] == [one["id"] for one in desk["workloads"]]
    assert {knob["key"]: knob["role"] for knob in kept[1]["3"]["knobs"]} == {
        "power": "power limit", "core": "core clock", "memory": "memory clock", "voltage": "voltage",
    }  # fmt: skip


@pytest.mark.django_db
def test_a_campaign_file_of_the_version_before_opens_with_the_same_numbers(client: Client, now):
    data = gzip.decompress((KEPT / "campaign-version-2.trelvo.json.gz").read_bytes())
    campaign = restore(from_json(data), now)
    shown = client.get(f"/api/campaigns/{campaign.pk}/ladder").json()["ladder"]["settings"]
    was = ANSWERS["3/ladder"]["ladder"]["settings"]
    for old, new in zip(was, shown, strict=True):
        for field in ("title", "watts_saved", "temp_max_c", "low_1_fps", "summary"):
            assert new[field] == old[field]
    assert [run.value for run in case_alone(campaign).campaign.runs] == [run["value"] for run in ANSWERS["3/runs"]]
    # the same file again, as a copy, brings no second workload
    before = Variant.objects.count()
    restore(from_json(data), now, as_copy=True)
    assert (Variant.objects.count(), Campaign.objects.count()) == (before, 2)
    assert Run.objects.count() == 2 * len(ANSWERS["3/runs"])


def test_a_database_of_a_newer_version_is_refused_in_words(tmp_path):
    with Served(tmp_path):
        pass
    with sqlite3.connect(tmp_path / "trelvo.sqlite3") as file:
        file.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('logbook', '9999_later', '2031-01-01')"
        )
    file.close()
    call = [sys.executable, "-m", "trelvo.server", "serve", "--port", "0", "--no-browser"]
    ended = subprocess.run(
        call, cwd=ROOT, capture_output=True, text=True, timeout=300, env=os.environ | {"TRELVO_DATA": str(tmp_path)}
    )
    assert ended.returncode != 0
    assert "was written by a newer Trelvo" in ended.stderr
    assert "Traceback" not in ended.stderr


def test_campaigns_begun_before_stay_as_sure_as_they_were(kept):
    """90 % was usual when they were kept; new ones begin with 95."""
    answers = [one for path, one in kept[1].items() if path.endswith("/proof")]
    assert answers
    assert {answer["sure"] for answer in answers} == {0.9}
