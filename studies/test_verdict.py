"""False claims, coverage and power of verdicts on benches that are not like the simulator; ./run.py bench verdict."""

import math

import pytest

from tests.core.stats.made_benches import (
    SD,
    Bench,
    share_best_of,
    share_claimed,
    share_claimed_before,
    share_overall,
    share_until_settled,
)

COMPARISONS = 3000
# Three standard errors of a share of 6 % from so many.
ALLOWED = 0.06 + 3 * math.sqrt(0.06 * 0.94 / COMPARISONS)
CELLS = {
    "independent": (Bench(), ("blocks", "A B B A")),
    "remember 0.3": (Bench(rho=0.3), ("blocks", "A B B A")),
    "remember 0.6": (Bench(rho=0.6), ("blocks", "A B B A")),
    "drift 1 % in 20": (
        Bench(drift=0.01),
        ("A B B A", "blocks, control after", "baseline 20 runs earlier, control after"),
    ),
    "three times noisier": (Bench(noisy=3), ("blocks", "A B B A")),
}
WITHOUT = {"drift 1 % in 20": ("blocks", "baseline 20 runs earlier")}


@pytest.mark.parametrize("runs", [3, 5, 10])
@pytest.mark.parametrize("name", CELLS)
def test_false_claims_and_coverage(benchmark, name, runs):
    made, orders = CELLS[name]

    def all_orders():
        return {order: share_claimed(made, order, runs, COMPARISONS) for order in orders}

    found = benchmark.pedantic(all_orders, rounds=1)
    for order, shares in found.items():
        plain = share_claimed_before(made, order, runs, COMPARISONS)
        print(
            f"verdict, {name}, {order}, n={runs}: false {shares.claimed:.1%} (unasked {shares.unasked:.1%}, before {plain:.1%}), "
            f"coverage {shares.covered:.1%}, asked for more {shares.asked:.1%}"
        )
    for order in WITHOUT.get(name, ()):
        print(
            f"verdict, {name}, {order}, n={runs}, no controls: false {share_claimed(made, order, runs, COMPARISONS).claimed:.1%}"
        )
    assert max(shares.claimed for shares in found.values()) <= ALLOWED
    # the interval of three runs is too narrow where one side scatters more: that is why it is asked to be confirmed
    if not (name == "three times noisier" and runs == 3):
        assert min(shares.covered for shares in found.values()) >= 0.93 - 0.013


@pytest.mark.parametrize("runs", [3, 5, 10])
def test_power_is_kept(benchmark, runs):
    difference = 3.1 * SD * math.sqrt(2 / runs)

    def shares():
        return [share_claimed(Bench(), order, runs, COMPARISONS, difference) for order in ("blocks", "A B B A")]

    blocks, interleaved = benchmark.pedantic(shares, rounds=1)
    before = share_claimed_before(Bench(), "blocks", runs, COMPARISONS, difference)
    print(
        f"power, n={runs}: blocks {blocks.claimed:.1%}, A B B A {interleaved.claimed:.1%}, without times {before:.1%}; "
        f"asked for more {blocks.asked:.1%}"
    )
    assert interleaved.claimed >= before - 0.05
    # what three runs tell in blocks is confirmed by two more, which costs two points more than was wanted: docs/methods.md
    assert blocks.claimed >= before - (0.08 if runs == 3 else 0.05)


def test_looking_again_and_many_candidates(benchmark):
    settled = benchmark.pedantic(share_until_settled, (Bench(), COMPARISONS), rounds=1)
    careless = share_until_settled(Bench(), COMPARISONS, careful=False)
    print(f"verdict, runs added until settled, 3 to 20: false {settled:.1%}, by the plain way {careless:.1%}")
    best, uncorrected = share_best_of(20, COMPARISONS, True), share_best_of(20, COMPARISONS, False)
    print(f"verdict, best of 20 equal candidates: false {best:.1%}, without correction {uncorrected:.1%}")
    assert max(settled, best) <= ALLOWED


def test_overall_with_a_day_that_all_workloads_share(benchmark):
    def shares():
        return [share_overall(COMPARISONS, controls, True) for controls in (True, False)]

    controlled, apart = benchmark.pedantic(shares, rounds=1)
    before = share_overall(COMPARISONS, False, False)
    print(f"overall, days of 0.5 %: false {controlled:.1%} with controls, {apart:.1%} without, before {before:.1%}")
    assert max(controlled, apart) <= ALLOWED
