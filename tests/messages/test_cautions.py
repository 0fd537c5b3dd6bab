from typing import get_args

import pytest

from trelvo.core.laws.cautions import Caution, CautionKey, connector_load, oxygen_after
from trelvo.messages.cautions import TEXTS, agreed_text, caution_text, connectors_text, oxygen_text


def test_every_caution_says_why_and_what_people_do():
    assert set(TEXTS) == set(get_args(CautionKey))
    for text in TEXTS.values():
        assert text.title
        assert text.why.endswith(".")
        assert text.people.endswith(".")


def test_a_yes_is_kept_with_what_was_read():
    caution = Caution("supply", never=True)
    text = caution_text(caution)
    assert agreed_text(caution) == f"{text.title}. {text.why} {text.people}"


@pytest.mark.parametrize(
    ("watts", "slot_w", "text"),
    [
        (200, 0.0, "200 W through cables rated for 300 W: 16.7 A at 12 V, 67 %."),
        (
            300,
            0.0,
            "300 W through cables rated for 300 W: 25.0 A at 12 V, 100 %. High: look at seating and bends, and feel for heat.",
        ),
        (
            400,
            80.0,
            "320 W through cables rated for 300 W: 26.7 A at 12 V, 107 %. More than they are rated for: do not run this. "
            "The slot is rated for 75 W.",
        ),
    ],
)
def test_the_load_of_connectors(watts, slot_w, text):
    assert connectors_text(connector_load(watts, ["8-pin", "8-pin"], slot_w)) == text


def test_oxygen_left():
    assert oxygen_text(oxygen_after(40, 5)) == "19.1 % oxygen would be left: below the usual alarm limit of 19.5 %."
    assert oxygen_text(oxygen_after(100, 1)) == "20.8 % oxygen would be left; the usual alarm limit is 19.5 %."
