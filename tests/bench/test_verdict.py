"""False claims, coverage and power of verdicts on benches that are not like the stand-in; ./run.py bench verdict."""

import math

import pytest

from tests.bench.verdict_study import (
    SD,
    Bench,
    share_best_of,
    share_claimed,
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
    for order, (claimed, covered) in found.items():
        plain, _ = share_claimed(made, order, runs, COMPARISONS, timed=False)
        print(f"verdict, {name}, {order}, n={runs}: false {claimed:.1%} (before {plain:.1%}), coverage {covered:.1%}")
    for order in WITHOUT.get(name, ()):
        claimed, _ = share_claimed(made, order, runs, COMPARISONS)
        print(f"verdict, {name}, {order}, n={runs}, no controls: false {claimed:.1%}")
    # three runs say too little of a side's own scatter: said in docs/methods.md, and five are asked for
    if not (name == "three times noisier" and runs == 3):
        assert max(claimed for claimed, _ in found.values()) <= ALLOWED
        assert min(covered for _, covered in found.values()) >= 0.93 - 0.013


@pytest.mark.parametrize("runs", [3, 5, 10])
def test_power_is_kept(benchmark, runs):
    difference = 3.1 * SD * math.sqrt(2 / runs)

    def shares():
        now = [share_claimed(Bench(), order, runs, COMPARISONS, difference)[0] for order in ("blocks", "A B B A")]
        return [*now, share_claimed(Bench(), "blocks", runs, COMPARISONS, difference, timed=False)[0]]

    blocks, interleaved, before = benchmark.pedantic(shares, rounds=1)
    print(f"power, n={runs}: blocks {blocks:.1%}, A B B A {interleaved:.1%}, without times {before:.1%}")
    assert min(blocks, interleaved) >= before - 0.05


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
