"""What fits into the time there is: the order of work laid over the clock, and what is known at the end of it.

The order is the next step's own: its plan begins with the step that every screen shows. Minutes of a climb are played through
on specimens drawn from what is believed (`core.climb.planning`); all else is counted.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.climb.adaptive import value_or_stock
from trelvo.core.climb.planning import COOL_DOWN_MINUTES, ClimbPlan, Minutes, plan_climb, together
from trelvo.core.climb.policy import HANDLING_MINUTES, Policy
from trelvo.core.climb.stability import fewer_than
from trelvo.core.climb.trials import Trial
from trelvo.core.goal.judging import Judged
from trelvo.core.keep.kept_step import check_title
from trelvo.core.lab.predicted_step import PredictedPower
from trelvo.core.message import Message, message
from trelvo.core.next_step.rules import (
    KnobAdvice,
    Situation,
    StockShort,
    best_of,
    next_step,
    task_in_use,
    worth_climbing,
)
from trelvo.core.problems import Problem, Refused
from trelvo.core.stages import StageName
from trelvo.core.stats.noise import BASELINE_RUNS

# To say how one run ended takes so long.
ANSWER_MINUTES = 1.0
# More questions than this at once are a campaign left alone.
MOST_ASKED = 20
# Less is no use to a climb or to a proof.
LEAST_MINUTES = 5.0
# A coarser count than that of one knob's plan: an evening has several.
DRAWS = 12
MOST_MINUTES = 24 * 60.0


@dataclass(frozen=True)
class ClimbAhead:
    """A knob's climb as far as it has come, and what it accepts."""

    knob: Knob
    trials: tuple[Trial, ...]
    policy: Policy


@dataclass(frozen=True)
class ProofAhead:
    """What a proof still asks for: so many runs of so many minutes. in_parts: whether half of it is worth anything"""

    item: Message
    runs: int
    minutes: float
    in_parts: bool = True


@dataclass(frozen=True)
class Stretch:
    """Work of one kind in one go, with its clock times.

    ends_early, ends_late: four in five cases end between them; counted: what its minutes are made of
    whole: false where only part of it fits; known: what is known afterwards
    """

    stage: StageName
    title: Message
    begins_at: datetime
    ends_at: datetime
    ends_early: datetime
    ends_late: datetime
    minutes: float
    counted: Message
    whole: bool
    known: Message | None


@dataclass(frozen=True)
class Ahead:
    """Work for which there is no time. minutes: what it would take, None where that is not known yet; begun: in part"""

    title: Message
    minutes: float | None
    begun: bool = False


@dataclass(frozen=True)
class Tonight:
    """The plan of an evening. first: the next step; free_minutes: left over when all is done; end: what the evening leads to"""

    begins_at: datetime
    ends_at: datetime
    first: Message
    stretches: tuple[Stretch, ...]
    not_tonight: tuple[Ahead, ...]
    free_minutes: float
    end: Message

    def begun_at(self, begins_at: datetime) -> "Tonight":
        """The same plan begun at another time."""
        later = begins_at - self.begins_at
        stretches = tuple(
            replace(
                stretch,
                begins_at=stretch.begins_at + later,
                ends_at=stretch.ends_at + later,
                ends_early=stretch.ends_early + later,
                ends_late=stretch.ends_late + later,
            )
            for stretch in self.stretches
        )
        return replace(self, begins_at=begins_at, ends_at=self.ends_at + later, stretches=stretches)


@dataclass(frozen=True)
class Work:
    """Work ahead, before it is known whether there is time for it. lengths: of each run, minutes

    climb: played through instead; cool_each: whether each run begins cold; in_parts: whether some of the runs are worth it
    """

    stage: StageName
    title: Message
    known: Message | None
    lengths: tuple[float, ...] = ()
    climb: ClimbAhead | None = None
    cool_each: bool = False
    in_parts: bool = True
    handling: float = HANDLING_MINUTES
    begins_cold: bool = True


def plan_tonight(
    situation: Situation,
    climbs: Mapping[str, ClimbAhead],
    proof: Sequence[ProofAhead],
    begins_at: datetime,
    minutes: float,
    rng: np.random.Generator,
) -> Tonight:
    """The order of work laid over the minutes there are, the next step first.

    situation: all of it, also what is not open yet; climbs: by knob; proof: what the best, or the setting to come, needs
    Each run takes a minute to set up; each stretch begins with five minutes of cooling down, unless it is the first; a failure
    costs its restart. Common practice. Raises Refused for a length of time that is none.
    """
    if not LEAST_MINUTES <= minutes <= MOST_MINUTES:
        raise Refused(
            Problem(
                "minutes", "evening_out_of_range", {"minutes": minutes, "least": LEAST_MINUTES, "most": MOST_MINUTES}
            )
        )
    works = works_ahead(situation, climbs, proof)
    spent: list[Minutes] = []
    stretches: list[Stretch] = []
    left_over: list[Ahead] = []
    for work in works:
        before = together(spent).likely if spent else 0.0
        laid = None if left_over else _laid(work, minutes - before, not stretches, rng)
        if laid is None:
            left_over.append(Ahead(work.title, _whole(work)))
            continue
        part, takes = laid
        spent.append(takes)
        after = together(spent)
        stretches.append(
            replace(
                part,
                begins_at=begins_at + timedelta(minutes=before),
                ends_at=begins_at + timedelta(minutes=after.likely),
                ends_early=begins_at + timedelta(minutes=after.low),
                ends_late=begins_at + timedelta(minutes=after.high),
            )
        )
        if not part.whole:
            whole = _whole(work)
            rest = None if whole is None else whole - takes.likely
            left_over.append(Ahead(message("rest_of", title=work.title), rest, begun=True))
    used = together(spent).likely if spent else 0.0
    first = next_step(situation).step.title
    return Tonight(
        begins_at,
        begins_at + timedelta(minutes=minutes),
        first,
        tuple(stretches),
        tuple(left_over),
        max(0.0, minutes - used),
        _end(situation, stretches, left_over),
    )


def _end(situation: Situation, stretches: Sequence[Stretch], left_over: Sequence[Ahead]) -> Message:
    if not stretches:
        if left_over:
            return message("not_even_the_first")
        return message("nothing_left_to_run").then(next_step(situation).step.title)
    if all(stretch.minutes <= ANSWER_MINUTES * MOST_ASKED for stretch in stretches) and not left_over:
        then = next_step(replace(situation, unanswered=(), short=(), in_use=())).step
        if then.act in ("keep", "stop"):
            return message("after_that_nothing").then(then.title)
    if not left_over:
        return message("all_fits")
    done = sum(stretch.whole for stretch in stretches)
    if not done:
        return message("first_not_finished")
    every = len(stretches) + sum(not one.begun for one in left_over)
    return message("steps_done", done=done, every=every)


def _laid(work: Work, left: float, first: bool, rng: np.random.Generator) -> tuple[Stretch, Minutes] | None:
    """The work or the part of it that fits, with its minutes; None where no useful part does."""
    cool = 0.0 if first or not work.begins_cold else COOL_DOWN_MINUTES
    if work.climb is not None:
        return _laid_climb(work, work.climb, left, cool, rng)
    each = [length + work.handling for length in work.lengths]
    between = COOL_DOWN_MINUTES if work.cool_each else 0.0
    total, build = cool, 0
    for place, one in enumerate(each):
        more = one + (between if place else 0.0)
        if total + more > left + 1e-9:
            break
        total, build = total + more, build + 1
    whole = build == len(each)
    if not build or (not whole and not work.in_parts):
        return None
    cools = (1 if cool else 0) + (build - 1 if between else 0)
    together_min = sum(work.lengths[:build])
    counted = [
        message("runs_of_minutes", runs=build, minutes=together_min)
        if whole
        else message("some_runs_of_minutes", runs=build, wanted=len(each), minutes=together_min)
    ]
    if work.handling:
        counted.append(message("minutes_to_set_up", minutes=build * work.handling))
    if cools:
        counted.append(message("minutes_to_cool", minutes=cools * COOL_DOWN_MINUTES))
    known = work.known if whole else message("not_enough_yet")
    return _stretch(work, total, counted, whole, known), Minutes(total, total, total)


def _laid_climb(
    work: Work, climb: ClimbAhead, left: float, cool: float, rng: np.random.Generator
) -> tuple[Stretch, Minutes] | None:
    if left - cool < LEAST_MINUTES:
        return None
    plan = plan_climb(climb.knob, climb.trials, replace(climb.policy, minutes_left=left - cool), rng, DRAWS)
    if plan.tests < 0.5:
        return None
    takes = Minutes(plan.minutes.likely + cool, plan.minutes.low + cool, plan.minutes.high + cool)
    counted = [message("about_tests", tests=plan.tests), _failures(plan.failures)]
    if cool:
        counted.append(message("minutes_to_cool", minutes=cool))
    whole = plan.finished >= 0.5
    return _stretch(work, takes.likely, counted, whole, _held(climb.knob, plan, whole)), takes


def _failures(expected: float) -> Message:
    if expected < 0.25:
        return message("hardly_a_failure")
    return message("perhaps_a_failure") if expected < 0.75 else message("several_failures", failures=expected)


def _held(knob: Knob, plan: ClimbPlan, whole: bool) -> Message:
    near, far = describe_value(knob, plan.hold.near), describe_value(knob, plan.hold.far)
    if near == far:
        holds = message("then_holds_at", knob=knob.name, value=value_or_stock(knob, plan.hold.near))
    elif plan.hold.near == knob.stock:
        holds = message("then_holds_from_stock", knob=knob.name, far=far)
    else:
        holds = message("then_holds_between", knob=knob.name, near=near, far=far)
    return holds if whole else message("probably_not_finished").then(holds)


def _stretch(work: Work, minutes: float, counted: Sequence[Message], whole: bool, known: Message | None) -> Stretch:
    never, parts = datetime.min, message("counted", parts=tuple(counted))
    return Stretch(
        stage=work.stage,
        title=work.title,
        begins_at=never,
        ends_at=never,
        ends_early=never,
        ends_late=never,
        minutes=minutes,
        counted=parts,
        whole=whole,
        known=known,
    )


def _whole(work: Work) -> float | None:
    """Minutes of all of it, begun cold; None for a climb, which is not played through for a time that is not there."""
    if work.climb is not None:
        return None
    cools = len(work.lengths) if work.cool_each else int(work.begins_cold)
    return sum(work.lengths) + len(work.lengths) * work.handling + cools * COOL_DOWN_MINUTES


def works_ahead(situation: Situation, climbs: Mapping[str, ClimbAhead], proof: Sequence[ProofAhead]) -> list[Work]:
    """All work that is open, in the order in which the next step would ask for it; empty where only a word is left to say."""
    if situation.missing:
        return []
    works = []
    if situation.unanswered:
        many = min(len(situation.unanswered), MOST_ASKED)
        title = next_step(situation).step.title if many == 1 else message("say_how_runs_ended", runs=many)
        lengths = (ANSWER_MINUTES,) * many
        known = message("whether_it_failed" if many == 1 else "which_failed")
        works.append(Work("Climb", title, known, lengths, handling=0.0, begins_cold=False))
    works += _in_use(situation)
    short = [one for one in situation.short if not one.coarse]
    if short:
        works.append(_baseline(short))
    todo = [one for one in worth_climbing(situation) if one.key in climbs]
    best = best_of(situation)
    if best is not None and best.standing == "meets it" and situation.enough:
        return [*works, *_with_best(situation, best, proof)]
    clear = replace(situation, unanswered=(), short=(), in_use=())
    step = next_step(clear).step
    if step.act == "run" and step.stage == "Compare":
        lengths = tuple(situation.minutes.get(one, 0.0) for one in step.workload_ids)
        works.append(Work("Compare", step.title, step.settles, lengths))
    works += [part for knob in todo for part in _climb(situation, knob, climbs[knob.key])]
    if todo:
        return [*works, *_with_one_to_come(situation, proof)]
    return works if best is None else [*works, *_with_best(situation, best, proof)]


def _in_use(situation: Situation) -> list[Work]:
    """What a setting in use asks for: one test of the search for a cause, its whole check, or the runs of a step down."""
    task, kept = task_in_use(situation)
    if task is None or kept is None or not (task.runs or kept.failed):
        return []
    if kept.failed:
        return [Work("Keep", task.title, message("whether_tuning_to_blame"), (kept.probe_minutes,))]
    if kept.lower is not None:
        lengths = tuple(situation.minutes.get(one, 0.0) for one in task.workload_ids) * task.runs
        return [Work("Keep", task.title, task.settles, lengths)]
    lengths = tuple(
        one.minutes / (one.runs if one.act == "hold" else 1)
        or situation.minutes.get(situation.loads.get(one.workload, 0), 0.0)
        for one in kept.check
        for _ in range(one.runs)
    )
    title = check_title(kept.name, kept.check, kept.title, stale=kept.stale)
    return [Work("Keep", title, task.settles, lengths)]


def _baseline(short: Sequence[StockShort]) -> Work:
    rounds = max(one.wanted - one.done for one in short)
    lengths = tuple(one.minutes for turn in range(rounds) for one in short if one.wanted - one.done > turn)
    title = message("baseline_in_all", workload=short[0].workload, workloads=len(short), runs=len(lengths))
    return Work("Baseline", title, message("how_finely_it_tells"), lengths)


def _climb(situation: Situation, knob: KnobAdvice, ahead: ClimbAhead) -> list[Work]:
    lengths = tuple(situation.minutes.get(workload, 0.0) for workload in situation.workloads)
    where = message("run_all_where_it_holds", knob=knob.name)
    return [
        Work("Climb", message("climb_knob", knob=knob.name), None, climb=ahead),
        Work("Compare", where, message("knob_worth_by_goal", knob=knob.name), lengths),
    ]


def _with_one_to_come(situation: Situation, proof: Sequence[ProofAhead]) -> list[Work]:
    """Once the knobs hold: the best there is then proved, and run as often as stock was."""
    lengths = tuple(situation.minutes.get(workload, 0.0) for workload in situation.workloads) * (BASELINE_RUNS - 1)
    works = [_proof(message("prove_best_by_then", item=one.item), one) for one in proof]
    if lengths:
        title = message("run_all_at", setting=message("the_best_setting"), runs=BASELINE_RUNS - 1)
        works.append(Work("Compare", title, message("whether_it_meets_goal"), lengths))
    return works


def _with_best(situation: Situation, best: Judged, proof: Sequence[ProofAhead]) -> list[Work]:
    works = []
    if situation.proof and situation.proof.setting_id == best.setting_id and not situation.proof.proved:
        works = [_proof(message("prove_item", setting=best.title, item=one.item), one) for one in proof]
    clear = replace(situation, unanswered=(), short=(), in_use=(), knobs=(), proof=None, predicted=PredictedPower())
    step = next_step(clear).step
    if step.act == "compare":
        lengths = tuple(situation.minutes.get(one, 0.0) for one in step.workload_ids) * step.runs
        works.append(Work("Compare", step.title, step.settles, lengths))
    return works


def _proof(title: Message, one: ProofAhead) -> Work:
    hours = one.runs * one.minutes / 60
    known = message("passed_means", minutes=hours * 60, fewer_than=fewer_than(hours))
    return Work("Prove", title, known, (one.minutes,) * one.runs, cool_each=True, in_parts=one.in_parts)
