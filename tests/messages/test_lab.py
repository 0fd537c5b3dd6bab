import pytest

from trelvo.core.laws.heat_finding import HeatFinding
from trelvo.core.problems import Problem
from trelvo.messages.lab import heat_text


@pytest.mark.parametrize(
    ("finding", "text"),
    [
        (
            HeatFinding("settled", 71.24, 0.4, 212.3, known=True),
            "Settled: it is within 0.5 °C of 71.2 °C ± 0.4 at 212 W.",
        ),
        (
            HeatFinding("settles", 71.24, 0.4, 212.3, 7, known=True),
            "The end is known closely enough to stop. "
            "Settles at 71.2 °C ± 0.4 at 212 W; about 7 min more to be within 0.5 °C of that.",
        ),
        (
            HeatFinding("settles", 71.24, 2.0, None, 7),
            "Settles at 71.2 °C ± 2.0, if its power stays as it is (it was not read); "
            "about 7 min more to be within 0.5 °C of that.",
        ),
        (
            HeatFinding("does_not_fit", misfit_c=3.21),
            "Where it settles cannot be told. The readings lie 3.2 °C from any warming at the power read: fan, room or power "
            "changed in a way that the log does not show, or the sensor jumps.",
        ),
        (
            HeatFinding("unreadable", problems=(Problem("temperature", "too_few_temperatures"),)),
            "The log holds too few temperatures. Log the part's temperature, once a second.",
        ),
    ],
)
def test_what_a_heat_forecast_says(finding, text):
    assert heat_text(finding) == text
