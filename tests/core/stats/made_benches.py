"""Made comparisons on benches that drift, remember, scatter or have days, to count what verdicts claim. Used by test_verdict."""

import math
from dataclasses import dataclass, replace

import numpy as np

from trelvo.core.stats.comparison import OWN_NOISE_RUNS, Comparison, compare, holm, judge, overall
from trelvo.core.stats.in_time import Timed, compare_in_time, interleaved
from trelvo.core.stats.looks import FIRST_LOOK_RUNS
from trelvo.core.stats.noise import pool
from trelvo.core.stats.time_series import BenchMemory, memory_of

SD = 0.01
RUN_H = 0.1


@dataclass(frozen=True)
class Bench:
    """How a made bench departs from independent runs. rho: lag-one correlation; drift: relative change over 20 runs

    day_sd: what a day shifts all results by; noisy: how much more the candidate scatters
    """

    rho: float = 0.0
    drift: float = 0.0
    day_sd: float = 0.0
    noisy: float = 1.0

    def series(self, count: int, rng: np.random.Generator, start: int = 0) -> np.ndarray:
        """Errors of so many runs in a row (ln), the first being the start-th of the session."""
        own = rng.normal(0, 1, count)
        made = np.empty(count)
        last = rng.normal()
        for place in range(count):
            last = self.rho * last + math.sqrt(1 - self.rho**2) * own[place]
            made[place] = last
        return SD * made + self.drift / 20 * (start + np.arange(count))


def earlier(bench: Bench, rng: np.random.Generator, settings: int = 8, repeats: int = 5) -> tuple[np.ndarray, ...]:
    """What the bench was run with before: settings in blocks in one session, on the days before."""
    labels = np.repeat(np.arange(settings), repeats)
    logs = bench.series(labels.size, rng) + bench.day_sd * rng.normal()
    return labels, np.arange(labels.size) * RUN_H - 100.0, logs


def memory(bench: Bench, rng: np.random.Generator, days: int = 0) -> tuple[BenchMemory, list[list[float]]]:
    """The bench's memory from earlier runs of four workloads, and the noise of the first; with control runs of one setting on so
    many earlier days."""
    parts = [earlier(bench, rng) for _ in range(4)]
    workloads = np.repeat(np.arange(4), parts[0][0].size)
    labels = np.concatenate([part[0] for part in parts])
    hours = np.concatenate([part[1] - 30.0 * place for place, part in enumerate(parts)])
    logs = np.concatenate([part[2] for part in parts])
    for day in range(days):
        shift = bench.day_sd * rng.normal()
        labels, workloads = np.append(labels, [0, 0]), np.append(workloads, [0, 0])
        hours = np.append(hours, [-324.0 - 24 * day, -323.9 - 24 * day])
        logs = np.append(logs, bench.series(2, rng) + shift)
    first = workloads == 0
    groups = [np.exp(logs[first & (labels == one) & (hours > -200)]).tolist() for one in range(8)]
    return memory_of(workloads, labels, hours, logs), groups


def drawn(order: list[str], bench: Bench, rng: np.random.Generator, difference: float = 0.0) -> tuple[Timed, Timed]:
    """Runs in an order of R and C, one after the other in one session."""
    errors = bench.series(len(order), rng)
    hours = np.arange(len(order)) * RUN_H
    sides = []
    for side, shift, scatter in (("R", 0.0, 1.0), ("C", difference, bench.noisy)):
        at = [place for place, one in enumerate(order) if one == side]
        sides.append(Timed(tuple(np.exp(errors[at] * scatter + shift)), tuple(hours[at])))
    return sides[0], sides[1]


def by_today(reference: Timed, candidate: Timed, groups: list[list[float]]) -> Comparison:
    """Without times: noise pooled over everything, as before."""
    pooled = pool([*groups, reference.values, candidate.values])
    return compare(reference.values, candidate.values, higher_is_better=True, pooled=pooled)


def in_time(reference: Timed, candidate: Timed, bench: BenchMemory, groups: list[list[float]]) -> Comparison:
    pooled = pool([*groups, reference.values, candidate.values])
    return compare_in_time(reference, candidate, bench, higher_is_better=True, pooled=pooled).comparison


ORDERS = {
    "blocks": lambda runs: ["R"] * runs + ["C"] * runs,
    "blocks, control after": lambda runs: ["R"] * runs + ["C"] * runs + ["R"] * runs,
    "A B B A": lambda runs: interleaved("R", "C", runs),
    "baseline 20 runs earlier": lambda runs: ["R"] * runs + ["."] * 20 + ["C"] * runs,
    "baseline 20 runs earlier, control after": lambda runs: ["R"] * runs + ["."] * 20 + ["C"] * runs + ["R"] * runs,
}


@dataclass(frozen=True)
class Shares:
    """Of comparisons: which claim a difference at 5 %; whose interval holds the truth; which asked for more runs first, as the
    verdict does where three cannot show a side's scatter; and which claim one without being asked"""

    claimed: float
    covered: float
    asked: float
    unasked: float


def share_claimed(made: Bench, order: str, runs: int, count: int, difference: float = 0.0, seed: int = 1) -> Shares:
    """Comparisons with their times, as the program makes them: what the verdict asks for is run, two more of each."""
    rng = np.random.default_rng(seed)
    claimed = covered = asked = unasked = 0
    for number in range(count):
        if number % 20 == 0:
            bench, groups = memory(made, rng)
        first = ORDERS[order](runs)
        more = max(OWN_NOISE_RUNS - runs, 0)
        # what is set is run on, then the other
        confirming = [side for side in (first[-1], "R" if first[-1] == "C" else "C") for _ in range(more)]
        reference, candidate = drawn([*first, *confirming], made, rng, difference)
        # what was run before anything was asked for
        found = in_time(
            *(side_until(side, (len(first) - 0.5) * RUN_H) for side in (reference, candidate)), bench, groups
        )
        unasked += found.p is not None and found.p < 0.05
        verdict = judge(found, smallest_gain=1e-9)
        if verdict.word == "too few runs" and found.p is not None and found.p < 0.05:
            asked += 1
            found = in_time(reference, candidate, bench, groups)
            verdict = judge(found, smallest_gain=1e-9)
        claimed += verdict.word in ("gain", "loss")
        covered += found.low is not None and found.low <= math.exp(difference) <= found.high
    return Shares(claimed / count, covered / count, asked / count, unasked / count)


def share_claimed_before(
    made: Bench, order: str, runs: int, count: int, difference: float = 0.0, seed: int = 1
) -> float:
    """The same without times, and claimed at once."""
    rng = np.random.default_rng(seed)
    claimed = 0
    for number in range(count):
        if number % 20 == 0:
            _, groups = memory(made, rng)
        found = by_today(*drawn(ORDERS[order](runs), made, rng, difference), groups)
        claimed += found.p is not None and found.p < 0.05
    return claimed / count


def side_until(side: Timed, hour: float) -> Timed:
    kept = sum(one < hour for one in side.hours)
    return Timed(side.values[:kept], side.hours[:kept])


def share_until_settled(made: Bench, count: int, most: int = 20, careful: bool = True, seed: int = 3) -> float:
    """Adding a run to each side, from three on, until a difference is told: how often one is that is not there."""
    rng, claimed = np.random.default_rng(seed), 0
    for number in range(count):
        if number % 20 == 0:
            _, groups = memory(made, rng)
        reference, candidate = drawn(interleaved("R", "C", most), made, rng)
        for runs in range(3, most + 1):
            look = max(1, runs - FIRST_LOOK_RUNS + 1)
            found = by_today(Timed(reference.values[:runs], ()), Timed(candidate.values[:runs], ()), groups)
            if judge(found, look=look if careful else None).word in ("gain", "loss"):
                claimed += 1
                break
    return claimed / count


def share_best_of(candidates: int, count: int, corrected: bool, seed: int = 4) -> float:
    """Of equal candidates against one reference, how often any is claimed to differ. Five runs each."""
    rng, claimed = np.random.default_rng(seed), 0
    made = Bench()
    for _ in range(count):
        reference = np.exp(made.series(5, rng))
        sides = [np.exp(made.series(5, rng)) for _ in range(candidates)]
        pooled = pool([reference, *sides])
        ps = [compare(reference, side, higher_is_better=True, pooled=pooled).p or 1.0 for side in sides]
        claimed += min(holm(ps) if corrected else ps) < 0.05
    return claimed / count


def share_overall(count: int, controls: bool, timed: bool, seed: int = 5) -> float:
    """Overall of five workloads, reference and candidate on different days that shift all results by 0.5 %."""
    rng, claimed = np.random.default_rng(seed), 0
    made = Bench(day_sd=0.005)
    for number in range(count):
        if number % 20 == 0:
            known, groups = memory(made, rng, days=6)
            # the two days on which this comparison is run are sittings of their own
            bench = replace(known, begins=(*known.begins, 0.0, 24.0))
        first, second = made.day_sd * rng.normal(size=2)
        compared, days = [], []
        for _ in range(5):
            values = [*(made.series(3, rng) + first), *(made.series(3, rng) + second)]
            hours = [*(np.arange(3) * RUN_H), *(24 + np.arange(3) * RUN_H)]
            reference = Timed(tuple(np.exp(values[:3])), tuple(hours[:3]))
            candidate = Timed(tuple(np.exp(values[3:])), tuple(hours[3:]))
            if controls:
                again = np.exp(made.series(3, rng) + second)
                reference = Timed((*reference.values, *again), (*reference.hours, 24.3, 24.4, 24.5))
            pooled = pool([*groups, reference.values, candidate.values])
            if timed:
                one = compare_in_time(reference, candidate, bench, higher_is_better=True, pooled=pooled)
                compared.append(one.comparison)
                days.append(one.day_variance)
            else:
                compared.append(compare(reference.values, candidate.values, higher_is_better=True, pooled=pooled))
                days.append(0.0)
        whole = overall(compared, shared=days)
        claimed += whole is not None and whole.p is not None and whole.p < 0.05
    return claimed / count
