"""Whose figures count where a run has figures of several parts. Common practice: a card's own watts are not the processor's."""

import pytest

from trelvo.core.base.figures import BY_WORD, FigureKey
from trelvo.core.base.instruments import Counted
from trelvo.core.base.knobs import Knob
from trelvo.core.base.parts import keys_for, part_order, standing_for

CORE = Knob("core", "Core clock", "MHz", 0, 15, 0, 300, 1, "core clock", "graphics")
MULTIPLIER = Knob("mult", "Multiplier", "x", 40, 1, 40, 50, 1, "multiplier", "processor")
UNSAID = Knob("power", "Power limit", "%", 100, 1, 60, 120, 1, "power limit")
WATTS = BY_WORD["power_w"].key


def standing(knobs, readings, chosen="tuned part", key=WATTS):
    found = {
        FigureKey(key.quantity, part, key.statistic): Counted(value, None, False) for part, value in readings.items()
    }
    own = standing_for(found, keys_for(key, part_order(knobs, chosen)))
    return own and (own[0], own[1].value)


@pytest.mark.parametrize(
    ("knobs", "readings", "chosen", "expected"),
    [
        # both are tuned and read: the first that is turned, said as what it is
        ([CORE, MULTIPLIER], {"graphics": 190.0, "processor": 62.0}, "tuned part", ("graphics", 190.0)),
        ([CORE, MULTIPLIER], {"graphics": 190.0, "processor": 62.0}, "processor", ("processor", 62.0)),
        ([CORE, MULTIPLIER], {"graphics": 190.0}, "processor", None),
        ([CORE, MULTIPLIER], {"whole machine": 330.0}, "tuned part", ("whole machine", 330.0)),
        # one part is tuned: its figures are those of the tuned part, whichever way they were named
        ([CORE], {"graphics": 190.0, "processor": 62.0}, "tuned part", ("graphics", 190.0)),
        ([CORE], {"tuned part": 188.0, "graphics": 190.0}, "tuned part", ("tuned part", 188.0)),
        ([UNSAID], {"processor": 62.0}, "tuned part", ("processor", 62.0)),
        ([UNSAID], {}, "tuned part", None),
    ],
)
def test_whose_watts_count(knobs, readings, chosen, expected):
    assert standing(knobs, readings, chosen) == expected


def test_a_processor_campaign_takes_the_processors_figures_although_its_knobs_name_no_part():
    knobs = [Knob("mult", "Multiplier", "x", 40, 1, 40, 50, 1, "multiplier")]
    assert standing(knobs, {"graphics": 20.0, "processor": 88.0}) == ("processor", 88.0)
    assert part_order(knobs).named("processor") == ""
    assert part_order([CORE, MULTIPLIER]).named("processor") == "processor"


def test_the_whole_machine_stands_in_for_watts_only():
    hot = BY_WORD["temp_max_c"].key
    assert standing([UNSAID], {"whole machine": 70.0}, key=hot) is None
