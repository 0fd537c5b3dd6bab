import math
from dataclasses import replace
from itertools import product

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf

from trelvo.core.base.knobs import Knob
from trelvo.core.base.runs import RunFacts
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.keep.attribution import TriedSetting, brought, components_of
from trelvo.core.stats.noise import pool

GORGE, KILN = (WorkloadFacts(k, name, "frame rate", "fps", True) for k, name in ((1, "Gorge"), (2, "Kiln")))
CARD = Knob("card", "Card clock", "MHz", 0, 15, 0, 300, 1, "core clock", "graphics")
CHIP = Knob("chip", "Chip clock", "MHz", 0, 25, 0, 300, 1, "core clock", "processor")
RAM = Knob("ram", "Memory clock", "MHz", 0, 50, 0, 1000, 1, "memory clock", "memory")
PARTS = components_of([CARD, CHIP, RAM])


def runs(values, workload=1, **read):
    return [
        RunFacts(number, 1, workload, "completed", value, read_by={"power_w": "clamp"}, **read)
        for number, value in enumerate(values)
    ]


def at(values, numbers, workload=1, **more):
    return TriedSetting(values, runs(numbers, workload), **more)


def noise(*tried, workload=1):
    return {workload: pool([[run.value for run in one.runs if run.workload_id == workload] for one in tried])}


def test_a_component_is_the_part_that_is_kept_or_taken_back():
    assert [(one.key, [knob.key for knob in one.knobs]) for one in PARTS] == [
        ("graphics", ["card"]),
        ("processor", ["chip"]),
        ("memory", ["ram"]),
    ]
    # the memory on a card is the card's; memory beside a processor sits in slots of its own
    vram = Knob("vram", "Memory clock", "MHz", 0, 50, 0, 1000, 1, "memory clock", "graphics")
    assert [one.key for one in components_of([CARD, vram])] == ["graphics"]
    core, memory = (
        Knob(k, k, "MHz", 0, 15, 0, 300, 1, role) for k, role in (("c", "core clock"), ("m", "memory clock"))
    )
    assert [one.key for one in components_of([core, memory])] == ["tuned part"]
    multiplier = Knob("x", "Multiplier", "x", 40, 1, 40, 50, 1, "multiplier")
    assert [one.key for one in components_of([multiplier, memory])] == ["tuned part", "memory"]


def test_a_user_joins_and_parts_components():
    joined = components_of([replace(CHIP, component="graphics"), CARD, RAM])
    assert [(one.key, [knob.key for knob in one.knobs]) for one in joined] == [
        ("graphics", ["chip", "card"]),
        ("memory", ["ram"]),
    ]
    vram = Knob("vram", "Memory clock", "MHz", 0, 50, 0, 1000, 1, "memory clock", "graphics", component="Memory clock")
    assert [one.key for one in components_of([CARD, vram])] == ["graphics", "Memory clock"]
    same = [at({}, [100, 100.2]), at({"card": 15}, [110, 110.2]), at({"card": 15, "vram": 50}, [121, 121.2])]
    found, _ = brought({"card": 15, "vram": 50}, same, components_of([CARD, vram]), [GORGE], noise(*same))
    assert [round(one.speed.value, 2) for one in found] == [1.10, 1.10]
    as_one, _ = brought(
        {"card": 15, "vram": 50}, same, components_of([CARD, replace(vram, component="")]), [GORGE], noise(*same)
    )
    assert [round(one.speed.value, 2) for one in as_one] == [1.21]


def test_a_workload_run_at_both_ends_only_takes_nothing_from_those_that_tell():
    """Six settings of one benchmark tell the three parts apart; a title was run at stock and at the end only."""
    gains = {"card": 1.137, "chip": 1.080, "ram": 1.069}
    settings = [(), ("card",), ("card", "chip"), ("card", "chip", "ram"), ("chip",), ("ram",)]
    rng = np.random.default_rng(3)
    tried = []
    for names in settings:
        value = 100.0 * math.prod(gains[name] for name in names)
        numbers = list(value * np.exp(rng.normal(0, 0.001, 3)))
        found = runs(numbers)
        if len(names) in (0, 3):
            found += runs([60.0, 60.1] if not names else [71.0, 71.2], 2)
        tried.append(TriedSetting(dict.fromkeys(names, 100.0), found))
    pooled = noise(*tried) | noise(*tried, workload=2)
    chosen = {"card": 100, "chip": 100, "ram": 100}
    parts, _ = brought(chosen, tried, PARTS, [GORGE, KILN], pooled)
    for part in parts:
        name = part.component.knobs[0].key
        assert part.speed.value == pytest.approx(gains[name], rel=0.003), name
        assert (part.speed.workloads, part.speed.measured) == (1, 2)


def test_main_effects_of_the_pilot_plant():
    """Box, Hunter and Hunter's 2^3 pilot plant (design/checks): 60 72 54 68 52 83 45 80, main effects 23, -5 and 1.5.

    The yields are in for watts, which are taken as they are.
    """
    yields = [60, 72, 54, 68, 52, 83, 45, 80]
    tried = []
    for (c, b, a), number in zip(product((0, 1), repeat=3), yields, strict=True):
        values = {key: 100.0 for key, on in (("card", a), ("chip", b), ("ram", c)) if on}
        one = RunFacts(1, 1, 1, "completed", 100.0, power_w=float(number), read_by={"power_w": "clamp"})
        tried.append(TriedSetting(values, [one]))
    found, _ = brought({"card": 100, "chip": 100, "ram": 100}, tried, PARTS, [GORGE], {})
    assert [one.watts.value for one in found] == pytest.approx([23, -5, 1.5])
    # nothing was repeated
    assert [one.watts.low for one in found] == [None, None, None]


def test_the_same_as_ordinary_least_squares():
    """Against statsmodels: its coefficients; its errors, with the variance of repeats in place of what is left."""
    rng = np.random.default_rng(7)
    made = [
        (card, chip, 100 * 1.04 ** (card / 90) * 1.01 ** (chip / 100) * math.exp(rng.normal(0, 0.005)))
        for card, chip, count in ((0, 0, 5), (90, 0, 3), (60, 0, 2), (90, 100, 4), (0, 50, 2))
        for _ in range(count)
    ]
    frame = pd.DataFrame(made, columns=["card", "chip", "value"])
    ols = smf.ols("np.log(value) ~ C(card) + C(chip)", frame).fit()
    tried = [
        at({"card": card, "chip": chip}, list(some["value"])) for (card, chip), some in frame.groupby(["card", "chip"])
    ]
    pooled = noise(*tried)
    (card, chip, ram), together = brought({"card": 90, "chip": 100}, tried, PARTS, [GORGE], pooled)
    for one, name in ((card, "C(card)[T.90]"), (chip, "C(chip)[T.100]")):
        assert math.log(one.speed.value) == pytest.approx(ols.params[name])
        error = ols.bse[name] * pooled[1].sd_log / math.sqrt(ols.mse_resid)
        half = math.log(one.speed.high / one.speed.value)
        assert half == pytest.approx(error * 2.200985, rel=1e-4)  # t of 11 degrees of freedom, 97.5 %
    assert not ram.tuned
    assert together == []


def test_what_was_only_ever_turned_together_is_not_told_apart():
    tried = [at({}, [100, 100.5, 99.5]), at({"card": 90, "chip": 100}, [105, 105.4, 104.8])]
    (card, chip, _), _ = brought({"card": 90, "chip": 100}, tried, PARTS, [GORGE], noise(*tried))
    assert card.tuned
    assert card.speed is None
    assert chip.speed is None
    # one of the two alone settles both
    more = [*tried, at({"card": 90}, [104.6, 104.9])]
    (card, chip, _), _ = brought({"card": 90, "chip": 100}, more, PARTS, [GORGE], noise(*more))
    assert card.speed.value == pytest.approx(math.sqrt(104.6 * 104.9) / 100, rel=2e-3)
    assert chip.speed.low < 1 < chip.speed.high < 1.02


def test_two_that_help_each_other_are_noticed():
    """Card and chip bring 2 % each, and 9 % together: each then adds to the other what it adds."""
    rng = np.random.default_rng(3)
    truth = {(0, 0): 1.0, (90, 0): 1.02, (0, 100): 1.02, (90, 100): 1.09}
    tried = [
        at({"card": card, "chip": chip}, list(100 * ratio * np.exp(rng.normal(0, 0.003, 4))))
        for (card, chip), ratio in truth.items()
    ]
    (card, chip, _), together = brought({"card": 90, "chip": 100}, tried, PARTS, [GORGE], noise(*tried))
    assert [(one.first, one.second) for one in together] == [("graphics", "processor")]
    assert together[0].low < 1.09 / 1.02**2 < together[0].high
    assert card.speed.low < 1.09 / 1.02 < card.speed.high
    assert chip.speed.value == pytest.approx(1.09 / 1.02, rel=5e-3)


def test_failures_belong_to_what_was_turned():
    tried = [
        at({}, [100, 101], hours=10.0),
        at({"card": 90}, [104, 104.2], hours=5.0),
        at({"card": 90, "chip": 100}, [105, 105.2], failures=2, hours=3.0),
        at({"card": 75, "chip": 100}, [104, 104.2], failures=1, hours=1.0),
    ]
    card, chip, _ = brought({"card": 90, "chip": 100}, tried, PARTS, [GORGE], noise(*tried))[0]
    assert (card.failures_alone, card.hours_alone, card.failures, card.hours) == (0, 5.0, 2, 8.0)
    assert (chip.failures_alone, chip.hours_alone, chip.failures, chip.hours) == (0, 0.0, 3, 4.0)


def test_workloads_count_as_they_are_weighed():
    heavy = WorkloadFacts(1, "Gorge", "frame rate", "fps", True, weight=3.0)
    tried = [
        TriedSetting({}, [*runs([100, 100.2], 1), *runs([50, 50.1], 2)]),
        TriedSetting({"card": 90}, [*runs([104, 104.2], 1), *runs([50, 50.1], 2)]),
    ]
    both = noise(*tried) | noise(*tried, workload=2)
    card = brought({"card": 90}, tried, PARTS, [heavy, KILN], both)[0][0]
    assert math.log(card.speed.value) == pytest.approx(0.75 * math.log(math.sqrt(104 * 104.2 / 100 / 100.2)))


def test_the_interval_holds_the_truth_as_often_as_it_says():
    """Unbalanced runs, 300 times: 95 % within the reach of chance (binomial, 99.9 %)."""
    rng = np.random.default_rng(11)
    held = 0
    plan = (((0, 0), 4), ((60, 0), 2), ((90, 0), 2), ((90, 100), 3), ((60, 100), 1))
    for _ in range(300):
        tried = [
            at(
                {"card": card, "chip": chip},
                list(100 * 1.04 ** (card / 90) * 1.01 ** (chip / 100) * np.exp(rng.normal(0, 0.006, count))),
            )
            for (card, chip), count in plan
        ]
        chip = brought({"card": 90, "chip": 100}, tried, PARTS, [GORGE], noise(*tried))[0][1]
        held += chip.speed.low <= 1.01 <= chip.speed.high
    assert 272 <= held <= 297


def test_what_another_instrument_read_is_not_put_with_the_rest():
    """Degrees over room fall by ten at the card's clock; a second thermometer, which reads 30 less, took two of the runs."""

    def read(hottest, by, values):
        one = RunFacts(1, 1, 1, "completed", 100.0, temp_max_c=hottest, room_c=20.0, read_by={"temp_max_c": by})
        return TriedSetting(values, [one])

    tuned = {"card": 100.0}
    usual = [read(70.0, "probe", {}), read(71.0, "probe", {}), read(60.0, "probe", tuned), read(61.0, "probe", tuned)]
    other = [read(40.0, "gun", tuned), read(41.0, "gun", {})]
    found, _ = brought(tuned, [*usual, *other], PARTS, [GORGE], {})
    assert next(one for one in found if one.component.key == "graphics").degrees.value == pytest.approx(-10)
