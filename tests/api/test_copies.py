"""Copies over the API, against a real server; and what is answered when nothing can be written."""

import json

import pytest
from django.db import OperationalError
from django.test import Client

from tests.server.process import Served, simulator_campaign
from trelvo.api import health


def test_a_copy_is_made_looked_into_downloaded_and_put_back(tmp_path):
    with Served(tmp_path) as server:
        server.ask("/api/rigs", {"name": "First", "build": {}})
        made = server.ask("/api/copies", {})
        server.ask("/api/rigs", {"name": "Second", "build": {}})
        listed = server.ask("/api/copies")
        assert [one["name"] for one in listed["copies"]] == [made["name"]]
        assert (made["why"], listed["working"]) == ("made when asked for", None)
        assert server.ask(f"/api/copies/{made['name']}/contents") == {"campaigns": 0, "runs": 0, "newest": ""}
        server.ask("/api/copies/restore", {"name": made["name"]})
        assert [one["name"] for one in server.ask("/api/rigs")] == ["First"]
        # what was there is kept, and can be restored in turn
        kept = server.ask("/api/copies")["copies"][0]
        assert kept["why"] == "what was there before a copy was put back"
        server.ask("/api/copies/restore", {"name": kept["name"]})
        assert {one["name"] for one in server.ask("/api/rigs")} == {"First", "Second"}
        assert server.ask("/api/database/check", {})["campaigns"] == 0
        assert server.integrity() == ([("ok",)], [])


def test_nothing_is_put_back_while_a_run_goes_on(tmp_path):
    with Served(tmp_path) as server:
        campaign, stock, workloads = simulator_campaign(server)
        made = server.ask("/api/copies", {})
        body = {"setting_id": stock, "workload_id": workloads["Kiln"], "speed": 1}
        server.ask(f"/api/campaigns/{campaign['id']}/live", body)
        with pytest.raises(Exception, match="422"):
            server.ask("/api/copies/restore", {"name": made["name"]})
        assert server.ask(f"/api/campaigns/{campaign['id']}/runs")["total"] == 1


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ("database or disk is full", "the disk is full"),
        ("database is locked", "another program holds the database"),
        ("attempt to write a readonly database", "read-only"),
        ("unable to open database file", "the database refuses"),
    ],
)
def test_what_cannot_be_written_is_said_and_worth_another_try(db, monkeypatch, said, words):
    def fail(*args, **more):
        raise OperationalError(said)

    monkeypatch.setattr("trelvo.api.rigs.create_rig", fail)
    answer = Client().post("/api/rigs", json.dumps({"name": "A", "build": {}}), content_type="application/json")
    assert (answer.status_code, answer["Retry-After"]) == (503, "5")
    assert words in answer.json()["problems"][0]["what"]


def test_a_fault_of_trelvos_own_is_an_answer_in_words(db, monkeypatch):
    def fail(*args, **more):
        raise KeyError("surprise")

    monkeypatch.setattr("trelvo.api.rigs.create_rig", fail)
    client = Client(raise_request_exception=False)
    answer = client.post("/api/rigs", json.dumps({"name": "A", "build": {}}), content_type="application/json")
    assert (answer.status_code, answer.json()["problems"][0]["where"]) == (500, "server")
    assert "surprise" not in answer.content.decode()


def test_health_says_what_is_wrong(db, monkeypatch, tmp_path, settings):
    def looked():
        health._last = None
        return Client().get("/api/health").json()

    settings.DATA = tmp_path
    assert looked()["status"] == "ready"
    monkeypatch.setattr(health, "_write", lambda folder: (_ for _ in ()).throw(OSError(28, "No space left on device")))
    full = looked()
    assert (full["status"], full["writable"]) == ("not writable", False)
    assert "No space left" in full["words"]
    monkeypatch.undo()
    settings.DATA = tmp_path
    monkeypatch.setattr(health, "LOW_BYTES", 10**18)
    assert (looked()["status"], looked()["writable"]) == ("low on room", True)
    # what was found here is no answer for others
    health._last = None


def test_what_ships_names_its_licences(db):
    found = Client().get("/api/licences").json()
    names = {one["name"].lower() for one in found}
    assert {"django", "numpy", "scipy", "polars"} <= names
    assert all(one["version"] and one["licence"] for one in found)
