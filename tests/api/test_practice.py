"""Practice on hidden specimens: answered at once, bounded by time, the same again by seed, the truth only at the end."""

import pytest

from trelvo.simulator.practice import HiddenChip


def post(client, path, body):
    return client.post(f"/api/practice{path}", body, content_type="application/json")


@pytest.fixture
def begin(client, db):
    def start(seed=7, **more):
        return post(client, "", {"seed": seed, **more}).json()

    return start


def test_a_practice_from_beginning_to_truth(client, begin):
    practice = begin()
    assert (practice["minutes_left"], practice["truth"]) == (120, None)
    tested = post(client, f"/{practice['id']}/test", {"value": 30, "minutes": 5}).json()
    # five minutes and one to set up
    assert tested["minutes_left"] == pytest.approx(114)
    assert tested["truth"] is None
    failed = post(client, f"/{practice['id']}/test", {"value": 300, "minutes": 5}).json()
    assert failed["tests"][1]["failed"]
    assert failed["minutes_left"] <= 114 - 5
    ended = post(client, f"/{practice['id']}/keep", {"value": 15}).json()
    truth = ended["truth"]
    chip = HiddenChip.of(7)
    assert chip.past_edge_mhz(truth["edge"] - truth["edge"] % 15) <= 0
    assert chip.failures_per_h(truth["best"]) <= 1 / 50 < chip.failures_per_h(truth["best"] + 15)
    you, *others = truth["results"]
    assert (you["who"], you["kept"], you["failures"], you["tests"]) == ("you", 15, 1, 2)
    assert you["short_steps"] == (truth["best"] - 15) / 15
    assert [other["who"] for other in others] == ["fixed steps", "coarse then fine", "bisection", "adaptive"]
    assert [one["mine"] for one in truth["results"]] == [True, False, False, False, False]
    # a failure in the last test still costs its restart
    assert all(other["minutes"] <= 120 + 4 + 1 for other in others)
    again = post(client, f"/{practice['id']}/test", {"value": 30, "minutes": 5})
    assert "has ended" in again.json()["problems"][0]["what"]


def test_the_same_seed_is_the_same_chip_with_the_same_luck(client, begin):
    tests = [(60, 5), (120, 5), (150, 10), (90, 20)]
    told = []
    for _ in range(2):
        practice = begin(seed=12)
        for value, minutes in tests:
            shown = post(client, f"/{practice['id']}/test", {"value": value, "minutes": minutes}).json()
        told.append([(one["value"], one["minutes"], one["outcome"]) for one in shown["tests"]])
    assert told[0] == told[1]


def test_by_advice_alone(client, begin):
    practice = begin(seed=21)
    for _ in range(60):
        advice = next(one for one in practice["climb"]["steps"] if one["strategy"] == "adaptive")["advice"]
        if advice["act"] == "hold":
            break
        body = {"value": advice["value"], "minutes": advice["minutes"], "advised": True}
        practice = post(client, f"/{practice['id']}/test", body).json()
    you, *_, numbers = post(client, f"/{practice['id']}/keep", {"value": advice["value"]}).json()["truth"]["results"]
    # the user who followed every word did what the strategy alone does
    assert you["who"] == "you, by the advice"
    for key in ("kept", "failures", "tests"):
        assert you[key] == numbers[key]
    assert you["minutes"] == pytest.approx(numbers["minutes"])
    assert you["within"]


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"value": 31, "minutes": 5}, "off the grid"),
        ({"value": 900, "minutes": 5}, "outside the range"),
        ({"value": 30, "minutes": 0}, "no length"),
        ({"value": 30, "minutes": 500}, "are left"),
    ],
)
def test_nonsense_is_refused_in_words(client, begin, body, says):
    answer = post(client, f"/{begin()['id']}/test", body)
    assert answer.status_code == 422
    assert says in answer.json()["problems"][0]["what"]


def test_a_budget_that_is_no_time(client, db):
    assert post(client, "", {"seed": 1, "budget_minutes": 2}).status_code == 422
    assert client.get("/api/practice").json() == []
