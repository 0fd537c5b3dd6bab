"""Every trap in words, in one place: a change of wording shows as a difference in `compare.txt`."""

import os
from pathlib import Path
from typing import get_args

import pytest

from trelvo.core.compare import traps
from trelvo.core.compare.traps import Trap
from trelvo.messages.compare import trap_text

TEXTS = Path(__file__).with_name("compare.txt")
# Typical and extreme numbers of each.
SHOWN = (
    traps.InsideNoise(0.0037, -0.0041, 0.0116, False, 2),
    traps.InsideNoise(-0.012, -0.024, 0.001, True, None),
    traps.OneRun(),
    traps.SeveralKnobs(("Core clock", "Voltage")),
    traps.SeveralKnobs(tuple(f"A knob with a name as long as names may be, number {i}" for i in range(5))),
    traps.Capped(71.65, 72.0, 0.0014),
    traps.Drift(-0.0196, -0.0231, -0.0162, 144.0),
    traps.SuddenChange(0.0102, 0.0081, 0.0123),
    traps.MixedPoints(("software",), ("A meter", "wall")),
    traps.StaleBaseline(40.2),
    traps.StaleBaseline(None),
    traps.FirstRun(90.4, 93.675, 93.02),
    traps.FarOff((41.9,), 418.0, 421.5),
    traps.FarOff((41.9, 4190.0), 418.0, 421.5),
    traps.ShortPass(0.5, 28.0, 60.0, 0.2333, 1400.0),
    traps.ScoreFalls(600.0, 0.06, 900.0, 0.03),
    traps.FewFrames(7, 7800, 0.001, 10_000),
    traps.WarmStart(52.0, 24.0),
    traps.ClockNotGot(90.0, 12.0),
    traps.ClockNotGot(90.0, -3.0),
)


def test_every_code_is_rendered():
    assert {type(one) for one in SHOWN} == set(get_args(traps.Shown))
    assert len({one.code for one in SHOWN}) == len(get_args(traps.Shown))


def test_the_words_are_those_in_the_file():
    texts = [(one, trap_text(Trap("Gorge, core clock +90 MHz", one))) for one in SHOWN]
    told = "\n".join(
        f"{one.code}\n{t.name}. {t.evidence}\nThe usual claim: {t.claims}\n{t.truth}\n" for one, t in texts
    )
    if os.environ.get("WRITE_TEXTS"):
        TEXTS.write_text(told, encoding="utf-8")
    assert told == TEXTS.read_text(encoding="utf-8")


@pytest.mark.parametrize("one", SHOWN)
def test_a_text_is_whole_sentences(one):
    text = trap_text(Trap("Gorge", one, (7, 9)))
    for sentence in (text.evidence, text.claims, text.truth):
        assert sentence.endswith("."), sentence
        assert sentence[0].isupper() or not sentence[0].isalpha(), sentence
        assert "None" not in sentence
        assert "nan" not in sentence
