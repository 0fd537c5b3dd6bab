"""Batches as they arrive: in their own units or refused by name, and nothing in between."""

import numpy as np
import pytest

from trelvo.core.problems import Refused
from trelvo.exchange.limits import BATCH_ROWS, LIVE_CHANNELS
from trelvo.exchange.protocol.messages import declared_channels, read_batch

DECLARED = declared_channels(
    [
        {"name": "clock", "quantity": "core clock", "unit": "GHz"},
        {"name": "die", "quantity": "temperature", "unit": "°F"},
        {"name": "board", "quantity": "power", "point": "cables"},
        {"name": "mood", "quantity": "other", "unit": "smiles"},
    ]
)


def test_readings_come_out_in_each_quantitys_own_unit():
    batch = read_batch(DECLARED, 1, [0.0, 0.5], {"clock": [2.4, None], "die": [212, 32], "mood": [3, 4]}, [13.9])
    assert batch.values[0, 0] == pytest.approx(2400)
    assert np.isnan(batch.values[1, 0])
    # water boils at 212 °F, 100 °C, and freezes at 32 °F, 0 °C
    assert batch.values[:, 1].tolist() == pytest.approx([100, 0])
    assert np.isnan(batch.values[:, 2]).all()
    assert DECLARED[3]["unit"] == "smiles"
    assert batch.frames_ms.tolist() == [13.9]


@pytest.mark.parametrize(
    ("channel", "says"),
    [
        ({"name": "die", "quantity": "temperature", "unit": "furlongs"}, "unit_not_of_quantity"),
        ({"name": "die", "quantity": "warmth"}, "unknown_channel_quantity"),
        ({"name": " ", "quantity": "other"}, "channel_name_taken"),
        ({"name": "time_s", "quantity": "other"}, "channel_name_taken"),
        ({"name": "p", "quantity": "power", "point": "roof"}, "unknown_point"),
        ({"name": "t", "quantity": "temperature", "point": "wall"}, "unknown_point"),
    ],
)
def test_a_channel_that_cannot_be_declared(channel, says):
    with pytest.raises(Refused, match=says):
        declared_channels([channel])


def test_two_channels_of_one_name_and_too_many():
    with pytest.raises(Refused, match="channel_name_taken"):
        declared_channels([{"name": "a", "quantity": "other"}, {"name": "A", "quantity": "other"}])
    with pytest.raises(Refused, match="too_many_channels"):
        declared_channels([{"name": str(i), "quantity": "other"} for i in range(LIVE_CHANNELS + 1)])


@pytest.mark.parametrize(
    ("times", "values", "frames", "says"),
    [
        ([0, 1], {"colour": [1, 2]}, [], "no_such_channel"),
        ([0, 1], {"clock": [1.0]}, [], "readings_differ_in_number"),
        ([1, 0], {}, [], "times_out_of_order"),
        ([-1, 0], {}, [], "times_out_of_order"),
        ([0, 1], {"clock": [2.4, 2400]}, [], "reading_impossible"),
        ([0, 1], {"die": [60, 9999]}, [], "reading_impossible"),
        ([0], {}, [0.0], "frame_ms_impossible"),
        ([0.0] * (BATCH_ROWS + 1), {}, [], "batch_too_long"),
    ],
)
def test_a_batch_that_cannot_be(times, values, frames, says):
    with pytest.raises(Refused, match=says):
        read_batch(DECLARED, 1, times, values, frames)
