"""Every outcome, quantity, goal and approach has one row, and no two rows share what they are distinguished by."""

import re
from collections import Counter
from typing import get_args

import pytest

from trelvo.core.registry.approaches import APPROACHES, STRATEGIES, Approach, Strategy
from trelvo.core.registry.goals import GOALS, GoalWord
from trelvo.core.registry.outcomes import FAILURES, OUTCOMES, Outcome
from trelvo.core.registry.quantities import FRAME_TIME, QUANTITIES, Quantity
from trelvo.core.registry.roles import FACTS, Role


@pytest.mark.parametrize(
    ("words", "rows"),
    [
        (Outcome, OUTCOMES), (Quantity, QUANTITIES), (GoalWord, GOALS), (Approach, APPROACHES), (Strategy, STRATEGIES),
        (Role, FACTS),
    ],
    ids=["outcomes", "quantities", "goals", "approaches", "strategies", "roles"],
)  # fmt: skip
def test_every_word_has_one_row_in_the_same_order(words, rows):
    assert list(rows) == list(get_args(words))


def test_outcomes_are_told_apart_by_key_word_and_name():
    rows = OUTCOMES.values()
    said = [word for row in rows for word in (row.line_word, *row.said_as)]
    for told_by in ([row.key for row in rows], [row.short for row in rows], said):
        assert max(Counter(told_by).values()) == 1


def test_only_a_failure_sends_back_and_a_harder_one_further():
    assert {row.outcome for row in OUTCOMES.values() if row.steps_back} == FAILURES
    assert [OUTCOMES[one].steps_back for one in ("artifacts", "program crash", "system crash", "no start")] == [
        1,
        2,
        3,
        5,
    ]


def test_quantities_bound_what_is_usual_and_carry_their_own_unit_first():
    for row in (*QUANTITIES.values(), FRAME_TIME):
        assert row.low <= max(row.low, row.usual[0]) < row.usual[1]
        assert next(iter(row.units().items())) == (row.unit, (1.0, 0.0))


def test_headers_are_tried_one_after_the_other():
    ranks = [row.header_rank for row in QUANTITIES.values() if row.header]
    assert sorted(ranks) == list(range(1, len(ranks) + 1))
    for row in QUANTITIES.values():
        assert re.compile(row.header)
        assert bool(row.header) == (row.quantity != "other")


def test_live_charts_have_places_of_their_own():
    places = [row.live for row in (*QUANTITIES.values(), FRAME_TIME) if row.live != 99]
    assert sorted(places) == list(range(1, len(places) + 1))


def test_goals_that_save_keep_speed_or_a_budget():
    for row in GOALS.values():
        assert row.saves == (row.least_speed is not None or row.goal == "power budget")
