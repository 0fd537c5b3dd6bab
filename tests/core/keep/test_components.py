import pytest

from tests.core.keep.test_attribution import CARD, CHIP, GORGE, PARTS, at, noise
from tests.said import codes
from trelvo.core.keep.attribution import Brought, Effect, Together, brought
from trelvo.core.keep.components import decide_components, effect_of, sums_up
from trelvo.core.message import message
from trelvo.messages.texts import text_of

CHOSEN = {"card": 90.0, "chip": 100.0}
STOCK = at({}, [100, 100.3, 99.7], hours=5.0)
CARD_ALONE = at({"card": 90}, [104.5, 104.8, 104.2], hours=3.0)
BOTH = at(CHOSEN, [104.6, 105.0, 104.3], hours=3.0)


def decided(tried, chosen=CHOSEN, improve="overall speed", holds=None, **more):
    found, _ = brought(chosen, tried, PARTS, [GORGE], noise(*tried))
    return decide_components(chosen, found, improve, holds or {}, **more)


def test_the_card_is_kept_and_the_chip_goes_back():
    card, chip, ram = decided([STOCK, CARD_ALONE, BOTH])
    assert (card.decision, chip.decision, ram.decision) == ("keep", "back to stock", "not tuned")
    assert card.says.code == "brings_as_it_is"
    assert card.says.params["brings"].params["effect"].params["value"] == pytest.approx(4.5, abs=0.05)
    assert chip.says.code == "brings_not_shown"
    assert chip.settle.values == CHOSEN
    assert ram.says == message("stands_at_stock", part=message("the_memory"))


def test_what_is_known_to_be_too_little_needs_no_further_runs():
    fine = [100, 100.02, 99.98, 100.01, 99.99]
    tried = [at({}, fine), at({"card": 90}, [4.5 + one for one in fine]), at(CHOSEN, [4.6 + one for one in fine])]
    chip = decided(tried)[1]
    assert chip.decision == "back to stock"
    assert (chip.says.code, chip.says.params["least"]) == ("brings_too_little", 0.5)
    assert chip.settle is None


def test_a_component_that_costs_speed_goes_back():
    slower = at(CHOSEN, [101.6, 101.9, 101.3])
    chip = decided([STOCK, CARD_ALONE, slower])[1]
    assert (chip.decision, chip.says.code) == ("back to stock", "brings_loss")


def test_together_only_says_which_run_would_tell():
    card, chip, _ = decided([STOCK, BOTH])
    assert card.decision == chip.decision == "not known yet"
    assert card.settle.values == {"chip": 100.0}
    assert chip.settle.values == {"card": 90.0}
    assert card.says.code == "turned_with_others"
    # alone, but stock was never run
    alone = decided([at({}, []), CARD_ALONE], {"card": 90.0})[0]
    assert alone.says.code == "not_run_with_and_without"


def test_beyond_its_hold_it_is_kept_at_less():
    card = decided([STOCK, CARD_ALONE, BOTH], holds={"card": 75.0})[0]
    assert (card.decision, card.at_less) == ("keep at less", {"card": 75.0})
    assert "beyond_what_holds" in codes(card.says)
    assert card.says.params["values"][0].params["value"].startswith("+75")
    failed = at({"card": 90}, [104.5, 104.8, 104.2], failures=2, hours=3.0)
    card = decided([STOCK, failed, BOTH])[0]
    assert (card.decision, card.at_less) == ("keep at less", {"card": 75.0})
    assert card.says.params["why"] == message("failed_alone", failures=2)


def test_by_the_goals_own_measure():
    saving = Brought(
        PARTS[0], True, Effect(0.999, 0.995, 1.003, 9), Effect(1.22, 1.2, 1.24, 9), Effect(-36, -38, -34, 9)
    )
    by_power = decide_components({"card": -75.0}, [saving], "power", {})[0]
    assert (by_power.decision, text_of(by_power.says)) == ("keep", "It brings −18.0 % power (−19.4 to −16.7).")
    by_speed = decide_components({"card": -75.0}, [saving], "overall speed", {})[0]
    assert by_speed.decision == "back to stock"
    assert by_speed.says.params["brings"].params["watts"] == -36
    cooler = Brought(PARTS[0], True, degrees=Effect(-6.0, -7.0, -5.0, 9))
    by_heat = decide_components({"card": -75.0}, [cooler], "heat", {})[0]
    assert (by_heat.decision, text_of(by_heat.says)) == ("keep", "It brings −6.0 °C (−7.0 to −5.0).")


def test_the_price_of_a_gain_is_told():
    effect = Effect(1.005, 0.996, 1.014, 6)
    one = Brought(PARTS[1], True, effect, watts=Effect(8.0, 7.0, 9.0, 6))
    found = decide_components({"chip": 100.0}, [one], "overall speed", {})[0]
    assert (
        text_of(found.says)
        == "It brings +0.5 % (−0.4 to +1.4) for 8 W more: not shown; keep it at stock unless more runs show it."
    )
    assert text_of(effect_of(effect, "overall speed")) == "+0.5 % (−0.4 to +1.4)"


def test_what_the_shares_rest_on_is_said():
    found = brought(CHOSEN, [STOCK, CARD_ALONE, BOTH], PARTS, [GORGE], noise(STOCK, CARD_ALONE, BOTH))[0]
    assert sums_up(found, []) == [message("shares_multiply")]
    said = sums_up(found, [Together("graphics", "processor", 1.05, 1.04, 1.06)])
    assert [text_of(one) for one in said] == [
        "The graphics card and the processor bring +5.0 % more together than apart (+4.0 to +6.0)."
    ]
    assert sums_up(found[:1], []) == []


@pytest.mark.parametrize("knob", [CARD, CHIP])
def test_no_decision_without_runs(knob):
    found = decided([STOCK], chosen={knob.key: knob.step})
    assert {one.decision for one in found} == {"not known yet", "not tuned"}
