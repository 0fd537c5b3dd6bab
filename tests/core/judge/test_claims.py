"""Claims: the usual mistakes, each recognised by the figure it gives, and none forced."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.problems import Refused
from trelvo.core.judge.claim_words import parse_claim
from trelvo.core.judge.claims import Claim, check_claim


@pytest.mark.parametrize(
    ("text", "mistake", "truth"),
    [
        # common practice: percent difference called a gain; 30.8 becomes 26.7 or 26.8 by rounding of the values
        ("8421 to 9105, 7.8 % faster", "percent difference", 8.12),
        ("100 to 130.8, 26.7 % faster", "percent difference", 30.8),
        ("8421 to 9105, 7.5 % faster", "divided by the tuned value", 8.12),
        ("40 to 50, 10 % more", "points taken for percent", 25),
        ("two steps, 17.9 and 8.9, together 26.8", "percentages added", 28.39),
        ("steps of 17.0 and 8.5, together 25.5", "percentages added", 26.95),
        # common practice: 14 % less time is 16 % faster
        ("100 s to 86 s, 14 % faster", "time saved called speed", 16.28),
        ("100 s to 86 s, 16.3 % less time", "speed called time saved", 14),
        ("60 to 80, 200 to 210, 11.5 % more", "values added", 18.32),
        ("60 to 80, 200 to 210, 19.2 % more", "arithmetic mean of ratios", 18.32),
        ("60 to 80, 200 to 210, 33 % more", "only the best title", 18.32),
    ],
)
def test_mistakes_are_recognised(text, mistake, truth):
    finding = check_claim(parse_claim(text))
    assert not finding.right
    assert finding.true_percent == pytest.approx(truth, abs=0.01)
    assert mistake in [one.mistake for one in finding.explanations]
    assert mistake in finding.sentence or len(finding.explanations) > 1


@pytest.mark.parametrize(
    "text",
    [
        "8421 to 9105, 8.1 % faster",
        "8421 to 9105, 8 % faster",
        "7 to 8, 14.3 % more",
        "120 s to 103 s, 16.5 % faster",
        "120 s to 103 s, 14.2 % less time",
        "17.9 and 8.9, together 28.4",
        "8421 → 9105: 8,1 %",
        "100 to 97, 3 % slower",
    ],
)
def test_what_is_right_is_called_right(text):
    finding = check_claim(parse_claim(text))
    assert finding.right
    assert finding.explanations == ()
    assert finding.sentence.startswith("Right")


def test_no_explanation_is_forced():
    finding = check_claim(parse_claim("8421 to 9105, 11.3 % faster"))
    assert (finding.right, finding.explanations) == (False, ())
    assert "No usual mistake" in finding.sentence


def test_a_guess_in_the_head_is_set_right():
    # common practice: a seventh more called "about 10 %"
    finding = check_claim(parse_claim("7 to 8, 10 % more"))
    assert finding.true_percent == pytest.approx(14.29, abs=0.01)
    assert not finding.right


@pytest.mark.parametrize(
    ("text", "what"),
    [
        ("it is much faster", "No claimed figure"),
        ("8421 to 9105", "No claimed figure"),
        ("faster by 7.8", "Values or steps are missing"),
        ("8421 to 9105, 7.8 or 8.1 % faster", "2 figures stand beside"),
        ("0 to 100, 50 %", "not above zero"),
    ],
)
def test_what_cannot_be_checked_says_why(text, what):
    with pytest.raises(Refused, match=what):
        check_claim(parse_claim(text))
    with pytest.raises(Refused, match="nothing to check"):
        check_claim(Claim(5, 0))


@pytest.mark.parametrize(
    ("text", "truth"),
    [
        ("100 to 92, 8 % faster", -8.0),
        ("100 to 108, 8 % slower", 8.0),
        ("100 s to 108 s, 8 % less time", -8.0),
        ("9105 -> 8421, 7.5 % up", -7.51),
    ],
)
def test_a_claim_the_wrong_way_round_is_never_right(text, truth):
    finding = check_claim(parse_claim(text))
    assert not finding.right
    assert finding.true_percent == pytest.approx(truth, abs=0.01)
    assert [one.mistake for one in finding.explanations] == ["turned round"]


@pytest.mark.parametrize(
    "text",
    [
        "8421 vs 9105, 8.1 %",
        "9105 vs 8421, 8.1 % faster",
        "9105 against 8421: 8.1 % more",
        "8421 against 9105, 7.5 % slower",
        "12 ms to 10 ms, 20 % faster",
        "from 100 s to 86 s, 14 % shorter",
        "100 s to 110 s, 10 % longer",
    ],
)
def test_values_set_against_each_other_are_a_pair(text):
    assert check_claim(parse_claim(text)).right


@pytest.mark.parametrize(
    ("text", "what"),
    [
        ("8,421 to 9,105, 8.1 % faster", "8,421 may be 8421 or 8.4210"),
        ("8421 to 9105, 1.2x", "1.2x is a factor"),
        ("8421 to 9105 roughly, 8 %", "“roughly” is not understood"),
        ("100 to 110 to 121, 21 %", "Three values stand in one chain"),
        ("100 fps to 9 ms, 8 %", "different units"),
        ("8421 9105 8.1", "Values or steps are missing"),
        ("100 to 110, 10 % more and less", "more and less at once"),
    ],
)
def test_what_is_not_understood_is_refused(text, what):
    with pytest.raises(Refused, match=what):
        parse_claim(text)


@given(st.floats(1, 1e5), st.floats(1.001, 3), st.integers(0, 2))
def test_the_truth_is_never_called_a_mistake(before, ratio, decimals):
    said = round((ratio - 1) * 100, decimals)
    finding = check_claim(Claim(said, decimals, ((before, before * ratio),)))
    assert finding.right
    assert finding.explanations == ()


@given(st.text(max_size=60))
def test_any_text_is_understood_or_refused(text):
    try:
        claim = parse_claim(text)
    except Refused as refusal:
        assert refusal.problems[0].todo  # noqa: PT017
    else:
        assert claim.pairs or claim.steps_percent
