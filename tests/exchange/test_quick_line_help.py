"""The quick line takes every word that its help sheet shows."""

import pytest

from trelvo.core.base.knobs import Knob
from trelvo.exchange.quick_line.grammar import LineWorkload, read_quick_line
from trelvo.exchange.quick_line.help import HELP

KNOBS = [Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1)]
LOADS = [
    LineWorkload(1, "Gorge flythrough", "fps", measure="frame rate"),
    LineWorkload(2, "Shadow hall", "fps", ("2560 × 1440", "ray tracing"), "frame rate"),
    LineWorkload(3, "Shadow hall", "fps", ("1920 × 1080", "ray tracing"), "frame rate"),
]
# Whole lines with the words of one row of the help in them.
LINES = {
    "core +135": ["core +135 gorge 84 ok"],
    "stock": ["stock gorge 84 ok"],
    "gorge": ["gorge 84 ok", "flythrough 84 ok"],
    "shadow 1440 ray": ["shadow 1440 ray 84 ok"],
    "8421": ["gorge 8421 ok", "gorge 84,21 ok"],
    "72c 212w 1.05v": ["gorge 84 72c 212w 1.05v ok"],
    "own cables wall": [f"gorge 84 212w {word} ok" for word in ("own", "cables", "wall")],
    "2475mhz memclock 9900": ["gorge 84 2475mhz memclock 9900 ok"],
    "avg 105 min 75 max 130": ["gorge avg 105 min 75 max 130 ok"],
    "1% 84  0.1% 61  low 84": ["gorge 99 1% 84 0.1% 61 ok", "gorge 99 low 84 ok"],
    "12min 1.5h 90sec": [f"gorge 84 {word} ok" for word in ("12min", "1.5h", "90sec")],
    "room 24 noise 38 41dB fan 60 1450rpm": ["gorge 84 room 24 noise 38 fan 60 1450rpm ok", "gorge 84 41dB ok"],
    "ok odd closed down nostart safety stopped lost": [
        "gorge 84 ok", *(f"gorge {word}" for word in ("odd", "closed", "down", "nostart", "safety", "stopped", "lost")),
    ],
    "# words": ["gorge 84 ok # side panel off"],
}  # fmt: skip


def test_every_row_of_the_help_is_tried():
    assert [row.examples for row in HELP] == list(LINES)


@pytest.mark.parametrize("line", [line for lines in LINES.values() for line in lines])
def test_a_line_with_the_words_of_the_help_is_taken(line):
    assert read_quick_line(line, KNOBS, LOADS, {}).problems == []
