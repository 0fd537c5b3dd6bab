import pytest

from trelvo.core.message import message
from trelvo.core.registry.goals import GOALS
from trelvo.core.terms import Cap, contradictions, in_words, refusals, terms_from, usual_terms
from trelvo.messages.texts import text_of


def test_each_goal_begins_with_its_own_numbers():
    assert usual_terms("efficiency").least_speed == 0.99
    assert usual_terms("quiet").least_speed == 0.98
    assert usual_terms("frame rate").frames == 60
    assert not usual_terms("record").stable
    assert usual_terms("speed").least_speed is None


def test_what_was_said_counts_where_the_goal_asks_for_it():
    terms = terms_from("efficiency", {"least_speed": 0.97, "frames": 72.0, "hours": 100.0})
    assert (terms.least_speed, terms.frames, terms.hours) == (0.97, None, 100.0)


def test_a_goal_in_words():
    assert in_words(usual_terms("target")).params["parts"][0] == message("target_reached")
    assert text_of(in_words(usual_terms("efficiency"))) == (
        "the least power, keeping at least 99 % of stock's speed, lows too, at most one failure in 50 h"
    )
    assert "72 fps held in every workload, lows too, at most 150 W" in text_of(
        in_words(terms_from("frame rate", {"frames": 72.0, "low_frames": 72.0, "most_power_w": 150.0}))
    )


@pytest.mark.parametrize("goal", GOALS)
def test_every_goal_says_what_it_is(goal):
    assert text_of(in_words(usual_terms(goal)))
    assert refusals(usual_terms(goal)) == []


def test_numbers_that_cannot_be_are_named():
    terms = terms_from("efficiency", {"least_speed": 0.0, "shown": 1.0, "hours": -3.0, "most_temp_c": 900.0})
    assert [problem.where for problem in refusals(terms)] == ["least_speed", "most_temp_c", "shown", "hours"]


def test_a_goal_that_contradicts_itself_is_told_why():
    budget = terms_from("power budget", {"most_power_w": 20.0})
    assert contradictions(budget, idle_w=25.0) == [message("budget_below_idle", most_w=20.0, idle_w=25.0)]
    assert contradictions(usual_terms("power budget")) == [message("budget_without_watts")]
    assert contradictions(terms_from("frame rate", {"frames": 144.0}), [Cap("Show", 120.0)]) == [
        message("frames_above_cap", frames=144.0, workload="Show", cap_fps=120.0)
    ]
    assert contradictions(terms_from("speed", {"most_temp_c": 20.0}), room_c=24.0) != []
    assert contradictions(terms_from("frame rate", {"frames": 60.0}), [Cap("Show", 120.0)], 10.0, 20.0) == []
