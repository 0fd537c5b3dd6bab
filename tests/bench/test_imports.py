"""Logs from a known truth in 2,400 dresses: how many are right without help, asked about, or silently wrong."""

import sys
from collections import Counter

import numpy as np

from tests.exchange.log_dresses import judge, make_dress, make_truth, needs_help, write
from trelvo.exchange.logs.guess import About

DRESSES = 2400


def study():
    told, wrong = Counter(), []
    for seed in range(10_000, 10_000 + DRESSES):
        rng = np.random.default_rng(seed)
        truth, dress = make_truth(rng), make_dress(rng)
        about = About("graphics", float(truth.time_s[-1]) if seed % 2 else None)
        verdict, why = judge(truth, dress, write(truth, dress, rng), about)
        told[verdict, needs_help(truth, dress)] += 1
        if verdict == "wrong":
            wrong.append((seed, why))
    return told, wrong


def test_no_dress_is_silently_wrong(benchmark):
    told, wrong = benchmark.pedantic(study, rounds=1)
    plain = told["right", False] + told["asked", False]
    share = told["right", False] / plain
    sys.stdout.write(
        f"\n{DRESSES} dresses: {dict(told)}; right without help {share:.1%}; silently wrong {len(wrong)}\n"
    )
    assert wrong == []
    assert share >= 0.95
