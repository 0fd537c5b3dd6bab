"""What is asked before a log is kept."""

import numpy as np
import pytest

from trelvo.core.logs.doubts import Pair, log_doubts
from trelvo.core.logs.figures import rows_behind
from trelvo.messages.problems import problem_text


def test_a_log_that_goes_with_its_run_is_not_doubted():
    pairs = [Pair("Mean power", "W", "power", 205, 212), Pair("Highest temperature", "°C", "temperature", 71, 74)]
    assert log_doubts(600, 590, 600, 1.0, 2.0, pairs) == []
    assert log_doubts(600, None, 300, 1.0, 2.0, []) == []


@pytest.mark.parametrize(
    ("args", "says"),
    [
        ((59, 240, 240, 1, 1, []), "The log covers 59 s; you typed 4.0 min for the run."),
        ((3540, None, 59, 60, 60, []), "The log covers 59.0 min; the workload takes about 59 s."),
        ((600, 600, 600, 1, 120, []), "There is a gap of 2.0 min between two readings; usual are 1 s."),
        (
            (60, 60, 60, 1, 1, [Pair("Mean power", "W", "power", 0.21, 212)]),
            "Mean power: the log gives 0.21 W, you typed 212 W.",
        ),
        (
            (60, 60, 60, 1, 1, [Pair("Highest temperature", "°C", "temperature", 48, 71)]),
            "Highest temperature: the log gives 48 °C, you typed 71 °C.",
        ),
        (
            (60, 60, 60, 1, 1, [Pair("Result", "points", None, 0, 8421)]),
            "Result: the log gives 0 points, you typed 8421 points.",
        ),
    ],
)
def test_what_does_not_go_together_is_said(args, says):
    assert [problem_text(doubt).what for doubt in log_doubts(*args)] == [says]


def test_the_rows_behind_a_figure():
    values = np.array([np.nan, 50.0, 72.0, np.nan, 60.0])
    assert rows_behind(values, "highest") == rows_behind(values[:3], "highest")
    found = {s: rows_behind(values, s) for s in ("highest", "lowest", "at start", "at end", "mean")}
    assert {s: (r.first, r.last, r.count) for s, r in found.items()} == {
        "highest": (2, 2, 1), "lowest": (1, 1, 1), "at start": (1, 1, 1), "at end": (4, 4, 1), "mean": (1, 4, 3),
    }  # fmt: skip
    assert rows_behind(np.array([np.nan]), "mean") is None
