import numpy as np
import pytest
import ruptures
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.problems import Refused
from trelvo.core.watch.held_back import first_pass, held_back, levels_of
from trelvo.core.watch.limit_flags import limit_flag
from trelvo.core.watch.limiter import Limits


def two_limits(rng, first_s=28, lasts_s=300, every_s=0.5):
    """A processor that starts high and falls back when its long limit counts."""
    t = np.arange(0, lasts_s, every_s)
    early = t < first_s
    clock = np.where(early, 2700, 1800) + rng.normal(0, 8, t.size)
    power = np.where(early, 142, 105) + rng.normal(0, 0.3, t.size)
    return t, {"core clock": clock, "power": power, "load": np.full(t.size, 100.0)}


def test_a_fall_back_is_found_and_said():
    t, readings = two_limits(np.random.default_rng(1))
    found = held_back(t, readings, Limits())
    assert [round(level.mean, -1) for level in found.levels] == [2700, 1800]
    assert found.levels[0].to_s == pytest.approx(28, abs=1.5)
    assert first_pass(found.levels).ahead == pytest.approx(0.5, abs=0.01)
    # a trace that runs flat at a round number of watts is a limit: common practice
    assert found.flat_w == pytest.approx([142, 105], abs=0.2)
    assert found.shares[0].what == "power limit"
    assert found.shares[0].share == 1.0


def test_a_noisy_power_reading_hides_no_limit_where_the_clock_tells_it():
    rng = np.random.default_rng(4)
    t, readings = two_limits(rng)
    noisy = readings | {"power": readings["power"] + rng.normal(0, 5, t.size), "temperature": np.full(t.size, 61.0)}
    found = held_back(t, noisy, Limits(temp_c=95))
    assert found.flat_w == []
    assert [(band.what, band.from_s) for band in found.bands] == [
        ("the clock set", 0.0),
        ("power limit", pytest.approx(28, abs=1.5)),
    ]
    # without its heat nobody can say which limit it is
    cold = {key: values for key, values in noisy.items() if key != "temperature"}
    assert held_back(t, cold, Limits()).shares[0].what == "not known"


def test_the_logs_own_flag_goes_before_every_rule():
    t, readings = two_limits(np.random.default_rng(5))
    found = held_back(t, readings, Limits(), {"heat": np.where(t >= 150, 1.0, 0.0)})
    assert {share.what: round(share.share, 2) for share in found.shares} == {"heat": 0.5, "power limit": 0.5}
    assert next(share.limiter.code for share in found.shares if share.what == "heat") == "said_by_the_log"


@pytest.mark.parametrize(
    ("header", "what"),
    [
        ("Thermal Throttling [Yes/No]", "heat"), ("Core 0 thermal limit exceeded", "heat"), ("PROCHOT", "heat"),
        ("Package power limit exceeded [Yes/No]", "power limit"), ("PL1 limit", "power limit"), ("Current limit", "power limit"),
        # a limit's own number, both at once, or none of them
        ("Limit reasons: power or thermal", None), ("Package temperature [°C]", None), ("Throttling", None),
    ],
)  # fmt: skip
def test_which_limit_a_flag_is_about(header, what):
    assert limit_flag(header) == what


def test_change_points_are_those_of_the_library():
    # checked against ruptures.Pelt (l2) on a made signal with known points
    rng = np.random.default_rng(2)
    values = np.concatenate([np.full(80, 2600.0), np.full(120, 2200.0), np.full(60, 2450.0)]) + rng.normal(0, 10, 260)
    levels = levels_of(np.arange(261.0), values)
    by_library = ruptures.Pelt(model="l2", min_size=5).fit(values.reshape(-1, 1)).predict(pen=9 * 100 * np.log(260))
    assert [level.to_s for level in levels] == by_library == [80, 200, 260]


def test_each_second_has_its_limiter():
    t = np.arange(0, 90.0)
    readings = {
        "power": np.where(t < 30, 179.0, 120.0),
        "temperature": np.where(t >= 60, 83.5, 60.0),
        "load": np.full(t.size, 99.0),
    }
    found = held_back(t, readings, Limits(power_w=180, temp_c=84))
    assert [band.what for band in found.bands] == ["power limit", "the clock set", "heat"]
    assert {share.what: round(share.share, 1) for share in found.shares} == {
        "power limit": 0.3,
        "the clock set": 0.3,
        "heat": 0.3,
    }
    assert found.flat_w == []


def test_noise_and_a_slow_slide_are_no_levels():
    rng = np.random.default_rng(3)
    t = np.arange(0, 600.0)
    assert len(held_back(t, {"core clock": 2400 + rng.normal(0, 12, t.size)}, Limits()).levels) == 1
    # within one level's share
    assert len(held_back(t, {"core clock": 2400 - t * 0.02 + rng.normal(0, 3, t.size)}, Limits()).levels) == 1


def test_a_log_without_what_is_needed():
    t = np.arange(0, 60.0)
    found = held_back(t, {"temperature": np.full(t.size, 50.0)}, Limits())
    assert [share.what for share in found.shares] == ["not known"]
    assert found.levels == []
    with pytest.raises(Refused, match="too_short_for_held_back"):
        held_back(t[:5], {}, Limits())
    assert held_back(t, {"core clock": np.full(t.size, np.nan)}, Limits()).levels == []


@given(seed=st.integers(0, 200), first=st.integers(8, 200), gap=st.booleans())
def test_bands_cover_the_log_and_shares_come_to_one(seed, first, gap):
    t, readings = two_limits(np.random.default_rng(seed), first_s=first)
    if gap:
        readings["power"][50:200] = np.nan
    found = held_back(t, readings, Limits(power_w=110))
    assert sum(share.share for share in found.shares) == pytest.approx(1)
    assert found.bands[0].from_s == t[0]
    assert found.bands[-1].to_s == t[-1]
    assert all(a.to_s == b.from_s and a.what != b.what for a, b in zip(found.bands, found.bands[1:], strict=False))
