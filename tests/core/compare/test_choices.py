"""Which settings an address names, and what is refused in it."""

import pytest

from trelvo.core.compare.choices import MOST_CANDIDATES, named_candidates
from trelvo.core.problems import Refused


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ("", []),
        ("12", [(12, None)]),
        ("12,14@2", [(12, None), (14, 2)]),
        ("12,,12", [(12, None)]),
        ("12,12@1", [(12, None), (12, 1)]),
    ],
)
def test_settings_are_named_by_id_and_build(text, named):
    assert named_candidates(text) == named


@pytest.mark.parametrize("text", ["stock", "12;14", "12@", "@2", "12@2@3", "-1", "1e3", " 12", "9" * 10])
def test_anything_else_is_refused(text):
    with pytest.raises(Refused):
        named_candidates(text)


def test_no_more_than_fit_on_the_screen():
    assert len(named_candidates(",".join(str(one) for one in range(MOST_CANDIDATES)))) == MOST_CANDIDATES
    with pytest.raises(Refused, match="too_many_candidates"):
        named_candidates(",".join(str(one) for one in range(MOST_CANDIDATES + 1)))
