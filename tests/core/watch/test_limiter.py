import pytest

from trelvo.core.watch.limiter import Limits, limiter_now

LIMITS = Limits(power_w=180, temp_c=84, cap_fps=72)


@pytest.mark.parametrize(
    ("latest", "what"),
    [
        ({"power": 179, "temperature": 60, "load": 100}, "power limit"),
        ({"power": 179, "temperature": 83.5, "load": 100}, "heat"),
        ({"power": 120, "temperature": 60, "frame rate": 71.9, "load": 80}, "frame cap"),
        ({"power": 120, "temperature": 60, "frame rate": 65, "load": 70}, "something else in the rig"),
        ({"power": 150, "temperature": 60, "frame rate": 65, "load": 99}, "the clock set"),
        ({"power": 150}, "not known"),
        ({}, "not known"),
    ],
)
def test_the_limiter_by_the_newest_readings(latest, what):
    found = limiter_now(latest, LIMITS)
    assert found.what == what


@pytest.mark.parametrize(
    ("load", "what"), [(13, "one busy thread"), (16, "one busy thread"), (40, "something else in the rig")]
)
def test_one_full_thread_of_eight_is_named(load, what):
    assert limiter_now({"power": 40, "temperature": 50, "load": load}, Limits(power_w=180, threads=8)).what == what
    assert (
        limiter_now({"power": 40, "temperature": 50, "load": load}, Limits(power_w=180)).what
        == "something else in the rig"
    )


def test_without_limits_nothing_is_blamed_on_them():
    assert limiter_now({"power": 400, "temperature": 99, "load": 100}, Limits()).what == "the clock set"


def test_a_clock_that_has_fallen_under_full_load_is_held_down():
    def told(limits=LIMITS, **latest):
        return limiter_now({"core clock": 2900, "load": 99, "temperature": 56} | latest, limits, 3893.0)

    cool = told(Limits(temp_c=98), power=31.7)
    assert cool.what == "power limit"
    assert (cool.code, cool.reading, cool.under_c) == ("fallen_by_power_limit", 31.7, 42)
    assert cool.fallen == pytest.approx(1 - 2900 / 3893)
    # nothing is said of a limit that may be heat, of one that is known and not reached, or of a part that idles
    assert told(Limits(), power=31.7).what == "not known"
    assert told(Limits(temp_c=60)).what == "not known"
    assert told(Limits(temp_c=98, power_w=60), power=31.7).what == "not known"
    assert told(Limits(temp_c=98), load=20).what == "something else in the rig"
    assert told(Limits(temp_c=98), **{"core clock": 3800}).what == "the clock set"


@pytest.mark.parametrize(
    ("limits", "code"),
    [
        (Limits(power_w=300, temp_c=95), "below_both_limits"),
        (Limits(temp_c=95), "below_temperature_limit"),
        (Limits(power_w=300), "below_power_limit"),
        (Limits(), "limits_not_known"),
    ],
)
def test_only_limits_that_are_known_are_said_to_be_far(limits, code):
    assert limiter_now({"power": 200, "temperature": 60, "load": 99}, limits).code == code
