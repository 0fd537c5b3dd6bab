"""Logs from a known truth in 2,400 dresses: how many are right without help, asked about, or silently wrong."""

import sys

from tests.exchange.log_dresses import tried

DRESSES = 2400


def test_no_dress_is_silently_wrong(benchmark):
    told, wrong = benchmark.pedantic(tried, (range(10_000, 10_000 + DRESSES),), rounds=1)
    share = told["right", False] / (told["right", False] + told["asked", False])
    sys.stdout.write(
        f"\n{DRESSES} dresses: {dict(told)}; right without help {share:.1%}; silently wrong {len(wrong)}\n"
    )
    assert wrong == []
    assert share >= 0.95
