import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.base.knobs import Knob
from trelvo.core.laws.energy import joules, yearly
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.linear_model import fit_line
from trelvo.core.laws.power_model import PowerPoint, fit_power
from trelvo.core.laws.power_prediction import fit_model, knob_costs, predict
from trelvo.core.laws.untried import Untried, scaling, speed_at, worth_trying
from trelvo.core.problems import Refused

LIMIT = Knob("power", "Power limit", "%", 100, 1, 50, 120, -1, "power limit")
CORE = Knob("core", "Core clock", "MHz", 0, 15, -300, 300, 1, "core clock")
VOLT = Knob("voltage", "Voltage", "mV", 0, 5, -150, 0, -1, "voltage")
KNOBS = (LIMIT, CORE, VOLT)


def watts(mhz, volt, base=40.0, factor=130.0):
    return base + factor * mhz / 2300 * volt**2


def at(setting, values, rng=None, limit_w=None, workload=1):
    """A made part: its voltage falls with the voltage knob, its clock follows the core knob, a limit lowers both."""
    mhz, volt = 2300 + values.get("core", 0), 1.0 + values.get("voltage", 0) / 1000
    power = watts(mhz, volt)
    if limit_w and power > limit_w * values.get("power", 100) / 100:
        while watts(mhz, volt) > limit_w * values.get("power", 100) / 100:
            mhz, volt = mhz - 1, volt * (1 - 0.6 / mhz)
        power = watts(mhz, volt)
    return PowerPoint(setting, workload, mhz, volt, power * (1 + (rng.normal(0, 0.004) if rng else 0)))


def test_a_wide_belief_is_ordinary_least_squares():
    # checked against statsmodels OLS
    rng = np.random.default_rng(1)
    x = sm.add_constant(rng.normal(0, 1, 60))
    y = x @ [3.0, -2.0] + rng.normal(0, 0.5, 60)
    found, theirs = fit_line(x, y, np.zeros(2), np.full(2, 1e6), 0.5), sm.OLS(y, x).fit()
    assert found.mean == pytest.approx(theirs.params, abs=1e-6)
    assert np.sqrt(np.diag(found.covariance)) == pytest.approx(theirs.bse, rel=0.03)
    assert found.coefficient(1).low == pytest.approx(theirs.conf_int()[1][0], abs=0.02)


def test_the_law_is_recovered_from_made_settings():
    # CMOS dynamic power, any VLSI textbook: 15 % less voltage and frequency, 0.85^3 = 0.614 of the dynamic part
    rng = np.random.default_rng(2)
    settings = [{}, {"voltage": -50}, {"voltage": -100}, {"core": 120}, {"core": -200, "voltage": -150}, {"core": -300}]
    law = fit_power([at(i, values, rng) for i, values in enumerate(settings) for _ in range(2)])
    assert law.fits
    # all of these lie within a band: the base is known only as far as they tell it apart
    assert law.base_w.low < 40 < law.base_w.high
    less = law.watts(1, 0.85 * 2300, 0.85).value - law.base_w.value
    assert less / (law.watts(1, 2300, 1.0).value - law.base_w.value) == pytest.approx(0.614, abs=1e-3)
    assert law.watts(1, 2000, 0.9).value == pytest.approx(watts(2000, 0.9), rel=0.02)


def test_workloads_have_their_own_constant():
    points = [at(i, {"voltage": -40 * i}) for i in range(4)]
    light = [
        PowerPoint(point.setting_id, 2, point.core_mhz, point.voltage_v, 40 + 0.5 * (point.power_w - 40))
        for point in points
    ]
    law = fit_power([*points, *light])
    assert law.watts(2, 2300, 1.0).value == pytest.approx(40 + 65, rel=0.02)
    with pytest.raises(KeyError):
        law.watts(3, 2300, 1.0)


def test_leakage_is_told_where_the_heat_differs():
    rng = np.random.default_rng(3)
    points = []
    for i, values in enumerate([{}, {"voltage": -50}, {"voltage": -100}, {"core": 100}]):
        for temp in (45.0, 60.0, 75.0):
            plain = at(i, values, rng)
            points.append(PowerPoint(i, 1, plain.core_mhz, plain.voltage_v, plain.power_w + 0.4 * (temp - 60), temp))
    law = fit_power(points)
    assert law.leaks
    assert law.line.coefficient(2).value == pytest.approx(0.4, abs=0.05)


def test_what_is_no_such_law_does_not_fit():
    wild = [PowerPoint(i, 1, 2300, 1.0 - 0.02 * i, 150 + 40 * (-1) ** i) for i in range(6)]
    assert not fit_power(wild).fits


@pytest.mark.parametrize(
    ("points", "says"),
    [
        ([PowerPoint(1, 1, 2300, 1.0, 0.0)], "run_without_power_voltage_clock"),
        ([PowerPoint(1, 1, 2300, 0.0, 100.0)], "run_without_power_voltage_clock"),
        ([at(1, {}), at(2, {"voltage": -50})], "too_few_settings_with_power"),
    ],
)
def test_too_little_is_refused(points, says):
    with pytest.raises(Refused, match=says):
        fit_power(points)


def model_of(settings, limit_w=None, known=None, seed=4):
    rng = np.random.default_rng(seed)
    points = [at(i, values, rng, limit_w) for i, values in enumerate(settings) for _ in range(2)]
    return fit_model(fit_power(points), points, dict(enumerate(settings)), KNOBS, known)


def test_an_untried_setting_is_predicted_within_four_percent():
    model = model_of([{}, {"voltage": -25}, {"voltage": -50}, {"core": 60}])
    for values in ({"voltage": -75}, {"core": 90, "voltage": -50}, {"core": -60}):
        found, truth = predict(model, 1, values), at(0, values)
        assert found.power_w.value == pytest.approx(truth.power_w, rel=0.04)
        assert found.power_w.low <= truth.power_w <= found.power_w.high
        assert found.core_mhz.value == pytest.approx(truth.core_mhz, rel=0.01)


def test_a_limit_that_was_seen_to_hold_is_predicted():
    model = model_of([{}, {"power": 90}, {"power": 80}, {"voltage": -25}], limit_w=160)
    assert model.cap.shown
    found = predict(model, 1, {"power": 70})
    assert found.held
    assert found.power_w.value == pytest.approx(0.7 * 160, rel=0.02)
    assert found.core_mhz.value == pytest.approx(at(0, {"power": 70}, limit_w=160).core_mhz, rel=0.03)


def test_a_limit_that_nobody_has_seen_hold_is_not_guessed():
    model = model_of([{}, {"voltage": -25}, {"voltage": -50}])
    found = predict(model, 1, {"power": 80})
    assert found.power_w is None
    assert [problem.code for problem in found.why] == ["limit_not_seen_to_hold"]
    # where its watts are known, it is
    known = model_of([{}, {"voltage": -25}, {"voltage": -50}], known=180.0)
    assert predict(known, 1, {"power": 60}).power_w.value == pytest.approx(108, rel=0.05)


def test_what_a_step_costs():
    costs = {
        one.key: one for one in knob_costs(model_of([{}, {"voltage": -25}, {"voltage": -50}, {"core": 60}]), 1, {})
    }
    assert costs["core"].watts == pytest.approx(watts(2315, 1.0) - watts(2300, 1.0), abs=0.3)
    assert costs["voltage"].watts == pytest.approx(watts(2300, 0.995) - watts(2300, 1.0), abs=0.3)
    assert costs["core"].core_mhz == pytest.approx(15, abs=3)


def test_a_years_energy():
    # arithmetic: 100 W for 3 h a day, 365 days
    assert yearly(100, 3, 0.3).kwh == pytest.approx(109.5)
    assert yearly(100, 3, 0.3).cost == pytest.approx(32.85)
    assert yearly(100, 3, None).cost is None
    assert yearly(100, 3, None).half_kwh == 0
    assert yearly(100, 3, None, half_w=4).half_kwh == pytest.approx(0.04 * 109.5)
    assert joules(50, 120) == 6000
    with pytest.raises(Refused, match="hours_a_day_out_of_range"):
        yearly(100, 25, None)
    with pytest.raises(Refused, match="price_impossible"):
        yearly(100, 3, -1)


def test_speed_follows_the_clock_as_learnt():
    line = scaling([1.0, 1.05, 0.95, 0.9], [1.0, 1.05**0.6, 0.95**0.6, 0.9**0.6])
    found = speed_at(line, Interval(0.85, 0.84, 0.86))
    assert found.value == pytest.approx(0.85**0.6, rel=0.01)
    assert found.low < 0.85**0.6 < found.high


def test_only_what_beats_everything_is_worth_a_run():
    def one(name, power, ratio):
        return Untried({name: 1.0}, Interval(power, power - 2, power + 2), Interval(ratio, ratio - 0.01, ratio + 0.01))

    candidates = [
        one("a", 150, 1.0),
        one("b", 150, 0.95),
        one("c", 130, 0.97),
        one("d", 120, 0.97),
        one("e", 170, 1.02),
    ]
    found = worth_trying(candidates, [(172, 1.0), (165, 1.03)], 0.99, 4)
    # thrift that keeps the speed first; b and c are beaten by others, e by what was measured
    assert [next(iter(each.values)) for each in found] == ["a", "d"]


@given(volt=st.floats(0.7, 1.1), mhz=st.floats(1500, 2600))
def test_more_voltage_or_clock_never_draws_less(volt, mhz):
    law = fit_power([at(i, {"voltage": -30 * i, "core": 20 * i}) for i in range(5)])
    here = law.watts(1, mhz, volt).value
    assert law.watts(1, mhz, volt * 1.02).value >= here
    assert law.watts(1, mhz * 1.02, volt).value >= here


def fixed_limit(values, setting, limit_w=150.0):
    """A part under a limit that no knob turns."""
    found = at(setting, values, limit_w=limit_w)
    return PowerPoint(setting, 1, found.core_mhz, found.voltage_v, found.power_w * (1 + 0.001 * (-1) ** setting))


def test_a_limit_that_no_knob_turns_is_seen_where_different_settings_draw_the_same():
    settings = [
        {},
        {"core": 60},
        {"core": 90},
        {"voltage": -30},
        {"core": -300, "voltage": -120},
        {"core": -300, "voltage": -90},
    ]
    points = [fixed_limit(values, i) for i, values in enumerate(settings)]
    knobs = (CORE, VOLT)
    model = fit_model(fit_power(points), points, dict(enumerate(settings)), knobs)
    assert model.cap is not None
    assert model.cap.knob is None
    assert model.held == {0, 1, 2, 3}
    # a little less voltage is turned into clock, not into watts
    found = predict(model, 1, {"voltage": -15})
    assert found.held
    assert found.power_w.value == pytest.approx(150, rel=0.01)
    far = predict(model, 1, {"core": -300, "voltage": -105})
    assert not far.held
    assert far.power_w.value == pytest.approx(watts(2000, 0.895), rel=0.03)
    # the limit is no knob, so it has no price
    assert {one.key for one in knob_costs(model, 1, {})} <= {"core", "voltage"}


def test_settings_that_draw_nearly_the_same_by_chance_are_no_limit():
    settings = [{}, {"core": 15}, {"core": 30}, {"voltage": -5}]
    points = [at(i, values) for i, values in enumerate(settings)]
    assert fit_model(fit_power(points), points, dict(enumerate(settings)), (CORE, VOLT)).cap is None


def test_a_limit_on_one_part_alone_is_not_predicted():
    own = Knob("graphics", "Graphics' own cap", "W", 45, 1, 4, 45, -1, "power limit", "graphics")
    settings = [{}, {"core": 60}, {"voltage": -30}, {"graphics": 10}]
    points = [at(i, {k: v for k, v in values.items() if k != "graphics"}) for i, values in enumerate(settings)]
    model = fit_model(fit_power(points), points, dict(enumerate(settings)), (CORE, VOLT, own))
    assert model.cap is None
    assert predict(model, 1, {"graphics": 12}).power_w is None
    assert predict(model, 1, {"graphics": 12}).why[0].code == "told_by_the_budget"
    assert predict(model, 1, {"voltage": -10}).power_w is not None


STARVED = [{}, {"voltage": -20}, {"voltage": -40}, {"voltage": -20, "core": 30}, {"voltage": -20, "power": 90}]


def test_where_the_limit_held_every_run_the_part_is_followed_along_its_own_curve():
    model = model_of(STARVED, limit_w=140)
    assert not model.free
    # the made part's voltage follows its clock by 0.6 of it
    assert model.curve.slope == pytest.approx(0.6, abs=0.1)
    for values in ({"voltage": -30}, {"power": 85}, {"power": 88, "voltage": -35}, {"core": -15, "voltage": -20}):
        found, truth = predict(model, 1, values), at(0, values, limit_w=140)
        assert found.held
        assert found.power_w.low <= truth.power_w <= found.power_w.high
        assert found.core_mhz.low <= truth.core_mhz <= found.core_mhz.high
        assert found.core_mhz.value == pytest.approx(truth.core_mhz, rel=0.01)


def test_what_such_a_part_would_reach_without_its_limit_is_not_told():
    model = model_of(STARVED, limit_w=140)
    # so low a clock, and so low a voltage, the limit no longer holds
    for values in ({"core": -750}, {"voltage": -180}):
        assert at(0, values, limit_w=140).power_w < 130
        found = predict(model, 1, values)
        assert (found.power_w, found.core_mhz) == (None, None)
        assert [problem.code for problem in found.why] == ["unlimited_not_seen"]
    assert predict(model, 1, {"power": 10}).why[0].code == "limit_below_least_draw"
    free = model_of([*STARVED, {"core": -700}], limit_w=140)
    assert free.free
    assert predict(free, 1, {"core": -750}).power_w.value == pytest.approx(watts(1550, 1.0), rel=0.04)


def test_a_voltage_knob_in_volts_moves_as_much_as_one_in_millivolts():
    volts = Knob("volt", "Voltage", "V", 1.0, 0.005, 0.85, 1.0, -1, "voltage")
    settings = [{}, {"volt": 0.975}, {"volt": 0.95}, {"core": 60}]
    points = [at(i, {"voltage": (one.get("volt", 1.0) - 1) * 1000, **one}) for i, one in enumerate(settings)]
    model = fit_model(fit_power(points), points, dict(enumerate(settings)), (LIMIT, CORE, volts))
    assert predict(model, 1, {"volt": 0.9}).voltage_v.value == pytest.approx(0.9, abs=0.005)
    assert predict(model, 1, {"volt": 0.9}).power_w.value == pytest.approx(watts(2300, 0.9), rel=0.03)


def test_a_workload_that_is_clear_of_the_limit_is_predicted_where_it_holds_others():

    def light_at(setting, volt):
        return PowerPoint(setting, 2, 2300.0, volt, watts(2300, volt, factor=25))

    light = [light_at(i, 1 + one.get("voltage", 0) / 1000) for i, one in enumerate(STARVED[:3])]
    heavy = [at(i, values, limit_w=140) for i, values in enumerate(STARVED) for _ in range(2)]
    model = fit_model(fit_power([*heavy, *light]), [*heavy, *light], dict(enumerate(STARVED)), KNOBS)
    assert model.free == {2}
    found = predict(model, 2, {"voltage": -60})
    assert not found.held
    assert found.core_mhz.value == pytest.approx(2300, rel=0.01)
    assert found.power_w.value == pytest.approx(light_at(0, 0.94).power_w, rel=0.04)
    assert predict(model, 1, {"voltage": -30}).held


def unlike(setting, values, limit_w=150):
    """A part made otherwise: a bent curve with a floor, and what does not follow the clock grows with voltage cubed."""
    more_v, more_mhz, own = values.get("voltage", 0) / 1000, values.get("core", 0), 2500.0

    def volt():
        return max(0.78, 0.45 + 0.55 * (own / 2300) ** 2.2) + more_v

    def power():
        return 30 * volt() ** 3 + 140 * (own + more_mhz) / 2300 * volt() ** 2

    while power() > limit_w * values.get("power", 100) / 100:
        own -= 1
    return PowerPoint(setting, 1, own + more_mhz, volt(), power())


@pytest.mark.parametrize(
    "values", [{"power": 85}, {"power": 70}, {"power": 60}, {"voltage": -30, "power": 85}, {"voltage": -50}]
)
def test_a_starved_part_that_is_made_otherwise_is_predicted_too(values):
    settings = [{}, {"voltage": -20}, {"voltage": -40}, {"voltage": -20, "power": 90}, {"power": 80}]
    points = [unlike(i, one) for i, one in enumerate(settings) for _ in range(2)]
    model = fit_model(fit_power(points), points, dict(enumerate(settings)), KNOBS)
    found, truth = predict(model, 1, values), unlike(0, values)
    assert found.power_w.low <= truth.power_w <= found.power_w.high
    assert found.core_mhz.low <= truth.core_mhz <= found.core_mhz.high
    assert found.core_mhz.value == pytest.approx(truth.core_mhz, rel=0.006)
