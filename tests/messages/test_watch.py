from typing import get_args

import pytest

from trelvo.core.watch.held_back import Level
from trelvo.core.watch.limiter import Limiter, Reason
from trelvo.messages.watch import REASONS, levels_text, limiter_text


def test_every_reason_has_its_sentence():
    assert set(REASONS) == set(get_args(Reason))
    for code in get_args(Reason):
        assert limiter_text(Limiter("not known", code, 31.7, 180.0, 0.255, 42.0)).endswith(".")


@pytest.mark.parametrize(
    ("limiter", "text"),
    [
        (Limiter("heat", "at_temperature_limit", 83.5, 84.0), "84 °C of 84 °C allowed."),
        (
            Limiter("one busy thread", "one_thread_full", 13.0, 8.0),
            "Busy 13 % of 8 threads: one is full, and the work waits for it.",
        ),
        (
            Limiter("power limit", "fallen_by_power_limit", 31.7, fallen=0.255, under_c=42.0),
            "Busy, and 26 % below the clock that it reached before, 42 °C under its limit of heat: a power limit, at 32 W.",
        ),
        (
            Limiter("power limit", "fallen_by_power_limit", fallen=0.255, under_c=42.0),
            "Busy, and 26 % below the clock that it reached before, 42 °C under its limit of heat: a power limit.",
        ),
    ],
)
def test_what_holds_a_part_back(limiter, text):
    assert limiter_text(limiter) == text


def test_the_way_of_a_clock():
    first, held = Level(0, 28, 2700.0), Level(28, 300, 1800.0)
    assert levels_text([held]) == ""
    assert levels_text([first, held]) == (
        "2700 MHz for 28 s, then 1800 MHz: the start runs 50 % above what it holds, so a short first pass flatters."
    )
    assert levels_text([held, first]) == "1800 MHz for 5 min, then 2700 MHz."
    many = [first, held, first, held]
    assert levels_text(many).startswith("2700 MHz for 28 s, then 1800 MHz for 5 min, then … 1800 MHz at the end")
