"""What the program declares, as the screens read it."""

import pytest

from trelvo.core.registry.outcomes import OUTCOMES


@pytest.fixture
def registry(client, db):
    answer = client.get("/api/registry")
    assert answer.status_code == 200
    return answer.json()


def test_it_holds_what_forms_and_tables_choose_from(registry):
    assert [row["outcome"] for row in registry["outcomes"]] == list(OUTCOMES)
    assert {row["unit"] for row in registry["quantities"] if row["quantity"] == "power"} == {"W"}
    assert next(row for row in registry["goals"] if row["goal"] == "quiet")["label"] == "Cooler and quieter"
    assert [row["approach"] for row in registry["approaches"]][-1] == "statistical"
    assert registry["candidates"] == 6


def test_live_charts_come_in_the_order_a_person_looks_at_them(registry):
    assert [row["quantity"] for row in registry["live"]][:6] == [
        "core clock", "temperature", "power", "voltage", "frame time", "fan",
    ]  # fmt: skip
    assert {row["quantity"] for row in registry["live"]} == {row["quantity"] for row in registry["quantities"]} | {
        "frame time"
    }


def test_limits_name_the_quantity_that_they_watch(registry):
    assert {row["kind"]: row["quantity"] for row in registry["limits"]} == {
        "temperature": "temperature", "voltage": "voltage", "power": "power", "current": "current", "hours": None,
        "fan floor": "fan", "voltage ceiling": None,
    }  # fmt: skip
