"""Claims in fields: what is true with the rounding of the values, and mistakes recognised, none forced.

The arithmetic is next to each; job.md's facts of the trade are common practice.
"""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.compare.claims import Claim, Prefilled, Typed, check_claim, prefill, typed_number
from trelvo.core.problems import Refused


def number(text):
    return typed_number(text, "n")


def claim(kind, before, after, claimed, figure="percent", way="more"):
    return Claim(kind, figure, number(claimed), way, ((number(before), number(after)),))


@pytest.mark.parametrize(
    ("said", "truth"),
    [
        (claim("rate", "8421", "9105", "8.1"), (9105 / 8421 - 1) * 100),
        (claim("rate", "100", "97", "3", way="less"), -3),
        (claim("rate", "50", "100", "2", "factor"), 2),
        (claim("rate", "100", "50", "2", "factor", "less"), 0.5),
        (claim("rate", "93.6", "99.1", "5.5", "amount"), 5.5),
        (claim("time", "120", "103", "16.5"), (120 / 103 - 1) * 100),
        (claim("time", "120", "103", "14.2", "saved"), (1 - 103 / 120) * 100),
        (claim("time", "60", "54", "10", "saved"), 10),
        (claim("time", "60", "54", "11.1"), (60 / 54 - 1) * 100),
        (claim("time", "16", "14", "2", "amount", "less"), -2),
        (claim("watts", "300", "240", "20", "saved"), 20),
        (claim("watts", "300", "240", "20", way="less"), -20),
        (claim("degrees", "72", "65", "7", "amount", "less"), -7),
        (claim("noise", "42", "36", "6", "amount", "less"), -6),
    ],
)
def test_what_is_right(said, truth):
    found = check_claim(said)
    assert found.right, found.sentence
    assert found.truth == pytest.approx(truth)
    assert found.low <= found.truth <= found.high


@pytest.mark.parametrize(
    ("before", "after", "claimed", "low", "high", "right"),
    [
        ("120", "135", "13", 11.6, 13.4, True),
        ("120", "135", "14", 11.6, 13.4, False),
        ("24", "27", "16", 8.2, 17.0, True),
        ("24", "27", "8", 8.2, 17.0, True),
        ("24", "27", "20", 8.2, 17.0, False),
        # more digits leave less room
        ("120.0", "135.0", "13", 12.4, 12.6, True),
        ("120.00", "135.00", "12.6", 12.49, 12.51, False),
    ],
)
def test_the_rounding_of_the_values_counts(before, after, claimed, low, high, right):
    found = check_claim(claim("rate", before, after, claimed))
    assert (found.low, found.high) == (pytest.approx(low, abs=0.06), pytest.approx(high, abs=0.06))
    assert found.right is right


@pytest.mark.parametrize(
    ("said", "mistake"),
    [
        # 30.8 % becomes 26.7 %: the change over the mean of both
        (claim("rate", "100.0", "130.8", "26.7"), "percent difference"),
        (claim("time", "120.0", "103.0", "14.2"), "time saved called speed"),
        (claim("time", "120.0", "103.0", "16.5", "saved"), "speed called time saved"),
        (claim("rate", "8421", "9105", "7.5"), "divided by the wrong end"),
        (claim("rate", "8421", "9105", "108"), "ratio told as percent"),
        (claim("rate", "93.6", "99.1", "5.5"), "points taken for percent"),
        (claim("rate", "100.0", "122.9", "22"), "cut off, not rounded"),
        (claim("rate", "100.0", "120.0", "0.2", "factor"), "gain told as a factor"),
        (claim("rate", "100.0", "200.0", "3", "factor"), "one too many"),
        (claim("rate", "100.0", "92.0", "8.0"), "turned round"),
        (claim("noise", "42", "36", "14", "saved"), "percent of decibels"),
        (claim("degrees", "72", "65", "10", "saved"), "percent of degrees"),
        (Claim("rate", "percent", number("26.8"), steps=(number("17.9"), number("8.9"))), "percentages added"),
        (
            Claim("rate", "percent", number("30"), values=(number("200.0"), number("240.0"), number("264.0"))),
            "percentages added",
        ),
        (Claim("rate", "percent", number("0.0"), steps=(number("-10.0"), number("10.0"))), "percentages added"),
    ],
)
def test_a_mistake_is_named(said, mistake):
    found = check_claim(said)
    assert not found.right
    assert mistake in [explanation.mistake for explanation in found.explanations]


def test_a_chain_counts_from_end_to_end():
    found = check_claim(Claim("rate", "percent", number("32"), values=tuple(map(number, ("200", "240", "264")))))
    assert found.right
    assert found.truth == pytest.approx(32)
    lost = check_claim(Claim("rate", "percent", number("1"), "less", steps=(number("-10"), number("10"))))
    assert lost.right
    assert lost.truth == pytest.approx(-1)


def test_several_titles_are_averaged_as_ratios():
    """Fleming and Wallace 1986 (from memory): the geometric mean of ratios."""
    pairs = ((number("60.0"), number("80.0")), (number("200.0"), number("210.0")))
    whole = (math.sqrt(80 / 60 * 210 / 200) - 1) * 100
    assert check_claim(Claim("rate", "percent", number(f"{whole:.1f}"), pairs=pairs)).right
    for text, mistake in (
        ("11.5", "values added"),
        ("19.2", "arithmetic mean of ratios"),
        ("16.7", "percent differences averaged"),
    ):
        found = check_claim(Claim("rate", "percent", number(text), pairs=pairs))
        assert mistake in [explanation.mistake for explanation in found.explanations], text


@pytest.mark.parametrize(
    ("said", "where"),
    [
        (Claim("rate", "percent", Typed(5)), "pairs"),
        (claim("rate", "0", "5", "5"), "pairs"),
        (Claim("rate", "percent", Typed(5), values=(Typed(5),)), "values"),
        (Claim("rate", "percent", Typed(5), steps=(Typed(-100),)), "steps"),
        (Claim("rate", "amount", Typed(5), steps=(Typed(10),)), "figure"),
        (claim("rate", "5", "6", "0", "factor"), "claimed"),
        (Claim("rate", "percent", Typed(5), pairs=((Typed(1), Typed(2)),), steps=(Typed(5),)), "pairs"),
    ],
)
def test_what_cannot_be_checked_is_refused(said, where):
    with pytest.raises(Refused) as refused:
        check_claim(said)
    assert refused.value.problems[0].where == where


@pytest.mark.parametrize("text", ["", "abc", "1e5", "1.2.3", "--5", "5 %"])
def test_text_that_is_no_number(text):
    with pytest.raises(Refused, match="typed_not_a_number"):
        number(text)


def test_numbers_as_typed():
    assert number("8 421,50") == Typed(8421.5, 2)
    assert number("−3") == Typed(-3, 0)
    assert number("93.60").half == 0.005


@pytest.mark.parametrize(
    ("text", "fields"),
    [
        ("8421 to 9105, 8.1 % faster", Prefilled("rate", "percent", "more", "8421", "9105", "8.1")),
        ("120 s to 103 s, 14 % less time", Prefilled("time", "saved", "less", "120", "103", "14")),
        ("300 W → 240 W: 20% less power", Prefilled("watts", "saved", "less", "300", "240", "20")),
        ("8421 to 9105, 1.08x", Prefilled("rate", "factor", "more", "8421", "9105", "1.08")),
        # what is not certain is typed into the form
        ("60 s to 54 s, 10 % better", None),
        ("16 ms to 14 ms, 2 ms faster", None),
        ("lost 10 %, then gained 10 %", None),
        ("42 dB to 36 dB, 14 % quieter", None),
        ("8421 W to 9105 fps, 8 % faster", None),
        ("much faster", None),
    ],
)
def test_a_pasted_line_fills_the_form_only_where_it_is_certain(text, fields):
    assert prefill(text) == fields


@given(
    st.sampled_from(["rate", "time", "watts"]), st.sampled_from(["percent", "saved", "factor"]),
    st.integers(10, 5000), st.integers(10, 5000), st.integers(0, 2),
)  # fmt: skip
def test_the_truth_told_exactly_is_always_right(kind, figure, before, after, decimals):
    first = check_claim(claim(kind, str(before), str(after), "5", figure))
    text = f"{first.truth:.{max(decimals, 3)}f}"
    if figure == "factor" and float(text) <= 0:
        return
    assert check_claim(claim(kind, str(before), str(after), text, figure)).right
