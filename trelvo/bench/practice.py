"""Practice on a hidden specimen: tests answered at once, the truth at the end."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from django.db import transaction

from trelvo.core.base.knobs import Knob, check_value
from trelvo.core.campaign_climbs.view import ClimbView, view_of
from trelvo.core.climb.policy import HANDLING_MINUTES, Policy, values_of
from trelvo.core.climb.strategies import advise
from trelvo.core.climb.trials import Trial
from trelvo.core.climb_line.trials import TrialMark
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.approaches import STRATEGIES, Strategy
from trelvo.logbook.models import Practice
from trelvo.simulator.practice import HiddenChip

KNOB = Knob(key="core", name="Core clock", unit="MHz", stock=0, step=15, low=0, high=300, away=1, role="core clock")
BUDGETS = (30.0, 600.0)
RESTART_MINUTES = 4.0
MOST_TESTS = 300


@dataclass(frozen=True)
class Result:
    """What a way of climbing kept: failures an hour of it in truth, steps below the best (negative: past it), the cost.

    mine: whether the user climbed it
    """

    who: str
    mine: bool
    kept: float
    true_per_h: float
    within: bool
    short_steps: int
    minutes: float
    failures: int
    tests: int


@dataclass(frozen=True)
class Truth:
    """edge: offset at which failures reach one an hour, None beyond the range; best: the furthest that is within the risk."""

    edge: float | None
    best: float
    best_per_h: float
    results: list[Result]


@dataclass(frozen=True)
class PracticeView:
    """climb is the state of knowledge, hidden from who wants to judge alone only by the screen; truth comes at the end."""

    id: int
    seed: int
    budget_minutes: float
    accepted_hours: float
    created_at: datetime
    minutes_left: float
    minutes_spent: float
    failures: int
    tests: list[TrialMark]
    advised: int
    kept: float | None
    climb: ClimbView
    truth: Truth | None


@transaction.atomic
def begin_practice(seed: int, budget_minutes: float, accepted_hours: float, now: datetime) -> Practice:
    """A practice on the specimen of this seed."""
    if not BUDGETS[0] <= budget_minutes <= BUDGETS[1]:
        raise Refused(
            Problem(
                "budget_minutes",
                "practice_budget_out_of_range",
                {"minutes": budget_minutes, "low": BUDGETS[0], "high": BUDGETS[1]},
            )
        )
    return Practice.objects.create(
        seed=seed, budget_minutes=budget_minutes, accepted_hours=accepted_hours, created_at=now
    )


@transaction.atomic
def practise(practice: Practice, value: float, minutes: float, *, advised: bool = False) -> None:
    """One test, answered at once. Refused off the grid, without time left, or after the end."""
    _check_open(practice)
    problems = [wrong] if (wrong := check_value(KNOB, value, "value")) else []
    left = practice.budget_minutes - spent_minutes(practice.tests)
    if not 0 < minutes <= 24 * 60:
        problems.append(Problem("minutes", "practice_test_too_short", {"minutes": minutes}))
    elif minutes > left + 1e-9:
        problems.append(Problem("minutes", "practice_minutes_above_left", {"minutes": minutes, "left": max(left, 0)}))
    if len(practice.tests) >= MOST_TESTS:
        problems.append(Problem("value", "practice_tests_used_up", {"most": MOST_TESTS}))
    if problems:
        raise Refused(*problems)
    lasted, kind = HiddenChip.of(practice.seed).run(value, minutes, _luck(practice.seed, len(practice.tests)))
    practice.tests = [*practice.tests, {"value": value, "minutes": lasted, "outcome": kind or "completed"}]
    practice.advised += advised
    practice.save(update_fields=["tests", "advised"])


@transaction.atomic
def keep(practice: Practice, value: float, now: datetime) -> None:
    """Ends the practice with the value that is kept."""
    _check_open(practice)
    if wrong := check_value(KNOB, value, "value"):
        raise Refused(wrong)
    practice.kept, practice.ended_at = value, now
    practice.save(update_fields=["kept", "ended_at"])


def practice_view(practice: Practice) -> PracticeView:
    """Where a practice stands; with the truth once it has ended."""
    marks = [
        TrialMark(0, test["value"], test["minutes"], test["outcome"] != "completed", test["outcome"])
        for test in practice.tests
    ]
    spent = spent_minutes(practice.tests)
    policy = _policy(practice, max(0.0, practice.budget_minutes - spent))
    return PracticeView(
        id=practice.pk,
        seed=practice.seed,
        budget_minutes=practice.budget_minutes,
        accepted_hours=practice.accepted_hours,
        created_at=practice.created_at,
        minutes_left=policy.minutes_left,
        minutes_spent=spent,
        failures=sum(mark.failed for mark in marks),
        tests=marks,
        advised=practice.advised,
        kept=practice.kept,
        climb=view_of(KNOB, {}, "stock", marks, {}, policy),
        truth=None if practice.kept is None else _truth(practice, marks),
    )


def spent_minutes(tests: Sequence[dict[str, object]]) -> float:
    """Bench time of tests: each with its setting up, a failure with its restart."""
    lasted = sum(float(str(test["minutes"])) for test in tests)
    return lasted + sum(HANDLING_MINUTES + RESTART_MINUTES * (test["outcome"] != "completed") for test in tests)


def _check_open(practice: Practice) -> None:
    if practice.kept is not None:
        raise Refused(Problem("practice", "practice_ended"))


def _policy(practice: Practice, left: float) -> Policy:
    return Policy(accepted_per_h=1 / practice.accepted_hours, restart_minutes=RESTART_MINUTES, minutes_left=left)


def _luck(seed: int, number: int) -> np.random.Generator:
    return np.random.default_rng((seed, number, 3))


def _truth(practice: Practice, marks: Sequence[TrialMark]) -> Truth:
    chip, accepted = HiddenChip.of(practice.seed), 1 / practice.accepted_hours
    values = values_of(KNOB, Policy())
    best = max(value for value in values if value == KNOB.stock or chip.failures_per_h(value) <= accepted)
    who = "you, by the advice" if marks and practice.advised == len(marks) else "you"
    assert practice.kept is not None
    mine = _result(
        chip=chip,
        who=who,
        mine=True,
        kept=practice.kept,
        best=best,
        accepted=accepted,
        minutes=spent_minutes(practice.tests),
        failures=sum(m.failed for m in marks),
        tests=len(marks),
    )
    others = [_climbed(chip, strategy, practice, best, accepted) for strategy in STRATEGIES]
    return Truth(chip.edge_offset_mhz(KNOB.high), best, chip.failures_per_h(best), [mine, *others])


def _result(
    chip: HiddenChip,
    who: str,
    mine: bool,
    kept: float,
    best: float,
    accepted: float,
    minutes: float,
    failures: int,
    tests: int,
) -> Result:
    rate = chip.failures_per_h(kept)
    within = kept == KNOB.stock or rate <= accepted
    return Result(
        who=who,
        mine=mine,
        kept=kept,
        true_per_h=rate,
        within=within,
        short_steps=round((best - kept) / KNOB.step),
        minutes=minutes,
        failures=failures,
        tests=tests,
    )


def _climbed(chip: HiddenChip, strategy: Strategy, practice: Practice, best: float, accepted: float) -> Result:
    """The same chip climbed by a strategy alone, in the same time; what it last knew to be good is kept."""
    policy = replace(_policy(practice, practice.budget_minutes), strategy=strategy)
    trials: list[Trial] = []
    failures, spent = 0, 0.0
    while len(trials) < MOST_TESTS:
        advice = advise(KNOB, trials, policy)
        if advice.act == "hold" or advice.minutes > policy.minutes_left:
            break
        lasted, kind = chip.run(advice.value, advice.minutes, _luck(practice.seed, len(trials)))
        trials.append(Trial(advice.value, lasted, kind is not None))
        failures += kind is not None
        cost = lasted + HANDLING_MINUTES + (RESTART_MINUTES if kind else 0.0)
        spent += cost
        policy = replace(policy, minutes_left=max(0.0, practice.budget_minutes - spent))
    bad = min((trial.value for trial in trials if trial.failed), default=KNOB.high + KNOB.step)
    held = max((trial.value for trial in trials if not trial.failed and trial.value < bad), default=KNOB.stock)
    kept = advice.value if advice.act == "hold" else held
    return _result(
        chip=chip,
        who=strategy,
        mine=False,
        kept=kept,
        best=best,
        accepted=accepted,
        minutes=spent,
        failures=failures,
        tests=len(trials),
    )
