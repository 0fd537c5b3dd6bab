import pytest

from trelvo.core.base.texts import chance_words


@pytest.mark.parametrize(
    ("share", "words"),
    [(1.0, "more than 99 %"), (0.995, "more than 99 %"), (0.9949, "99 %"), (0.5, "50 %"), (0.0, "less than 1 %")],
)
def test_what_is_nearly_sure_is_never_said_to_be_wholly_so(share, words):
    assert chance_words(share) == words
