from dataclasses import replace

import pytest

from tests.said import codes
from trelvo.core.compare.fairness import Conditions, assess
from trelvo.messages.texts import text_of


def one(word):
    return frozenset({word})


STOCK = Conditions(
    one("41.5"), one("1.18"), one("System 12"), one("card, processor"), one("case"), one("air"), one("automatic"),
    one("as fixed"), one("software"), (24.0, 24.4), 3, True,
)  # fmt: skip


def test_like_for_like():
    answer = assess(STOCK, replace(STOCK, room_c=(25.0,)))
    assert (answer.grade, answer.reasons, answer.comparable) == ("fair", (), ("score", "watts", "degrees"))


@pytest.mark.parametrize(
    ("change", "reason", "comparable", "grade"),
    [
        ({"drivers": one("41.2")}, "Driver: 41.5 against 41.2.", ("degrees",), "not fair"),
        (
            {"systems": one("System 11")},
            "Operating system: System 12 against System 11.",
            ("watts", "degrees"),
            "not fair",
        ),
        # a score may be comparable when the watts are not
        ({"points": one("wall")}, "Power read by", ("score", "degrees"), "with reservations"),
        ({"coolings": one("water")}, "Cooling: air against water.", ("score", "watts"), "with reservations"),
        ({"fans": one("60 %")}, "Fan: automatic against 60 %.", ("score", "watts"), "with reservations"),
        ({"room_c": (27.0,)}, "Room temperature: 24.2 °C against 27.0 °C.", (), "not fair"),
        ({"parts": one("another card")}, "Parts", (), "not fair"),
        ({"warmed_up": False}, "Warm-up", ("watts", "degrees"), "not fair"),
        ({"runs": 1}, "Runs: 3 runs against 1 run.", ("score", "watts", "degrees"), "with reservations"),
        (
            {"drivers": frozenset()},
            "Driver: not noted on one side.",
            ("score", "watts", "degrees"),
            "with reservations",
        ),
        ({"drivers": frozenset({"41.5", "41.2"})}, "Driver: 41.5 against 41.2, 41.5.", ("degrees",), "not fair"),
    ],
)
def test_each_difference_touches_what_it_touches(change, reason, comparable, grade):
    answer = assess(STOCK, replace(STOCK, **change))
    assert text_of(answer.reasons[0]).startswith(reason)
    assert (answer.comparable, answer.grade) == (comparable, grade)


def test_room_within_two_degrees_is_the_same():
    assert assess(STOCK, replace(STOCK, room_c=(26.1,))).grade == "fair"


def test_the_three_heaviest_reasons_come_first():
    change = {"fans": one("60 %"), "drivers": one("41.2"), "parts": one("another"), "room_c": (30.0,), "runs": 1}
    answer = assess(STOCK, replace(STOCK, **change))
    assert [codes(reason)[:2] for reason in answer.reasons] == [
        ["differs", f"aspect_{key}"] for key in ("parts", "driver", "room")
    ]
    assert len(answer.aspects) == 12


def test_what_nobody_noted_is_unknown_and_not_the_same():
    empty = Conditions(*[frozenset()] * 9, (), 1, None)
    answer = assess(empty, empty)
    assert {aspect.state for aspect in answer.aspects if aspect.key != "runs"} == {"unknown"}
    assert answer.grade == "with reservations"
