"""What fits into the time there is: the order of work laid over the clock, and what is known at the end of it.

The order is the next step's own: its plan begins with the step that every screen shows. Minutes of a climb are played through
on specimens drawn from what is believed (`core.climb.planning`); all else is counted.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from trelvo.core.base.knobs import Knob, describe_value
from trelvo.core.base.problems import Problem, Refused
from trelvo.core.climb.planning import COOL_DOWN_MINUTES, ClimbPlan, Minutes, plan_climb, together
from trelvo.core.climb.policy import HANDLING_MINUTES, Policy
from trelvo.core.climb.stability import fewer_than
from trelvo.core.climb.trials import Trial
from trelvo.core.goal.judging import Judged
from trelvo.core.keep.kept_step import check_title
from trelvo.core.lab.foretold_step import ForetoldPower
from trelvo.core.measure.baseline import BASELINE_RUNS
from trelvo.core.next_step.rules import (
    KnobAdvice,
    Situation,
    StockShort,
    best_of,
    next_step,
    task_in_use,
    worth_climbing,
)
from trelvo.core.stages import StageName

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

    item: str
    runs: int
    minutes: float
    in_parts: bool = True


@dataclass(frozen=True)
class Stretch:
    """Work of one kind in one go, with its clock times.

    ends_early, ends_late: four in five cases end between them; counted: what its minutes are made of, in words
    whole: false where only part of it fits; known: what is known afterwards
    """

    stage: StageName
    title: str
    begins_at: datetime
    ends_at: datetime
    ends_early: datetime
    ends_late: datetime
    minutes: float
    counted: str
    whole: bool
    known: str


@dataclass(frozen=True)
class Ahead:
    """Work for which there is no time. minutes: what it would take, None where that is not known yet; begun: in part"""

    title: str
    minutes: float | None
    begun: bool = False


@dataclass(frozen=True)
class Tonight:
    """The plan of an evening. first: the next step, in its own words; free_minutes: left over when all is done

    end: what the evening leads to, in one sentence
    """

    begins_at: datetime
    ends_at: datetime
    first: str
    stretches: tuple[Stretch, ...]
    not_tonight: tuple[Ahead, ...]
    free_minutes: float
    end: str

    def begun_at(self, begins_at: datetime) -> "Tonight":
        """The same plan begun at another time."""
        later = begins_at - self.begins_at
        stretches = tuple(
            replace(
                one,
                begins_at=one.begins_at + later,
                ends_at=one.ends_at + later,
                ends_early=one.ends_early + later,
                ends_late=one.ends_late + later,
            )
            for one in self.stretches
        )
        return replace(self, begins_at=begins_at, ends_at=self.ends_at + later, stretches=stretches)


@dataclass(frozen=True)
class Work:
    """Work ahead, before it is known whether there is time for it. lengths: of each run, minutes

    climb: played through instead; cool_each: whether each run begins cold; in_parts: whether some of the runs are worth it
    """

    stage: StageName
    title: str
    known: str
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
            left_over.append(Ahead(f"The rest of: {work.title}", rest, begun=True))
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


def _end(situation: Situation, stretches: Sequence[Stretch], left_over: Sequence[Ahead]) -> str:
    if not stretches:
        if left_over:
            return "Not even the first step fits into this time."
        return f"Nothing is left to run. {next_step(situation).step.title}"
    if all(one.minutes <= ANSWER_MINUTES * MOST_ASKED for one in stretches) and not left_over:
        then = next_step(replace(situation, unanswered=(), short=(), in_use=())).step
        if then.act in ("keep", "stop"):
            return f"After that nothing is left to run. {then.title}"
    if not left_over:
        return "All that is open fits into this time."
    done = sum(one.whole for one in stretches)
    if not done:
        return "The first step is not finished in this time; what it has found by then counts all the same."
    every = len(stretches) + sum(not one.begun for one in left_over)
    return f"{done} of {every} steps are done by then."


def _laid(work: Work, left: float, first: bool, rng: np.random.Generator) -> tuple[Stretch, Minutes] | None:
    """The work or the part of it that fits, with its minutes; None where no useful part does."""
    cool = 0.0 if first or not work.begins_cold else COOL_DOWN_MINUTES
    if work.climb is not None:
        return _laid_climb(work, work.climb, left, cool, rng)
    each = [length + work.handling for length in work.lengths]
    between = COOL_DOWN_MINUTES if work.cool_each else 0.0
    total, fitting = cool, 0
    for place, one in enumerate(each):
        more = one + (between if place else 0.0)
        if total + more > left + 1e-9:
            break
        total, fitting = total + more, fitting + 1
    whole = fitting == len(each)
    if not fitting or (not whole and not work.in_parts):
        return None
    runs = f"{fitting} of {len(each)} runs" if not whole else f"{fitting} {'run' if fitting == 1 else 'runs'}"
    cools = (1 if cool else 0) + (fitting - 1 if between else 0)
    counted = [f"{runs} of {sum(work.lengths[:fitting]):.0f} min together"]
    if work.handling:
        counted.append(f"{fitting * work.handling:.0f} min to set up")
    if cools:
        counted.append(f"{cools * COOL_DOWN_MINUTES:.0f} min to cool down")
    known = work.known if whole else "Not enough yet to say more; the runs count."
    return _stretch(work, total, ", ".join(counted), whole, known), Minutes(total, total, total)


def _laid_climb(
    work: Work, climb: ClimbAhead, left: float, cool: float, rng: np.random.Generator
) -> tuple[Stretch, Minutes] | None:
    if left - cool < LEAST_MINUTES:
        return None
    plan = plan_climb(climb.knob, climb.trials, replace(climb.policy, minutes_left=left - cool), rng, DRAWS)
    if plan.tests < 0.5:
        return None
    takes = Minutes(plan.minutes.likely + cool, plan.minutes.low + cool, plan.minutes.high + cool)
    counted = [f"about {_several(plan.tests, 'test')}", _failures(plan.failures)]
    if cool:
        counted.append(f"{cool:.0f} min to cool down")
    whole = plan.finished >= 0.5
    return _stretch(work, takes.likely, ", ".join(counted), whole, _held(climb.knob, plan, whole)), takes


def _several(number: float, word: str) -> str:
    return f"{number:.0f} {word if round(number) == 1 else word + 's'}"


def _failures(expected: float) -> str:
    if expected < 0.25:
        return "hardly a failure"
    if expected < 0.75:
        return "perhaps a failure with its restart"
    restart = "restart" if round(expected) == 1 else "restarts"
    return f"{_several(expected, 'failure')} with {restart}"


def _held(knob: Knob, plan: ClimbPlan, whole: bool) -> str:
    near, far = describe_value(knob, plan.hold.near), describe_value(knob, plan.hold.far)
    where = f"at {near}" if near == far else f"between {near} and {far} in four of five cases"
    if plan.hold.near == knob.stock:
        where = f"from stock to {far} in four of five cases" if near != far else "at stock"
    unfinished = "" if whole else "Probably not finished. "
    return f"{unfinished}{knob.name} then holds {where}."


def _stretch(work: Work, minutes: float, counted: str, whole: bool, known: str) -> Stretch:
    never = datetime.min
    return Stretch(work.stage, work.title, never, never, never, never, minutes, counted, whole, known)


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
        title = next_step(situation).step.title if many == 1 else f"Say how {many} runs ended that broke off."
        lengths = (ANSWER_MINUTES,) * many
        known = "Whether it failed." if many == 1 else "Which of them failed."
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
        return [Work("Keep", task.title, "Whether the tuning is to blame.", (kept.probe_minutes,))]
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
    names = short[0].workload if len(short) == 1 else f"{len(short)} workloads"
    title = f"Run {names} at stock, {len(lengths)} {'run' if len(lengths) == 1 else 'runs'} in all."
    return Work("Baseline", title, "How finely this bench can tell a gain from noise.", lengths)


def _climb(situation: Situation, knob: KnobAdvice, ahead: ClimbAhead) -> list[Work]:
    lengths = tuple(situation.minutes.get(one, 0.0) for one in situation.workloads)
    name = knob.name.lower()
    return [
        Work("Climb", f"Climb {name}.", "", climb=ahead),
        Work("Compare", f"Run every workload where {name} holds, once.", f"What {name} is worth by the goal.", lengths),
    ]


def _with_one_to_come(situation: Situation, proof: Sequence[ProofAhead]) -> list[Work]:
    """Once the knobs hold: the best there is then proved, and run as often as stock was."""
    lengths = tuple(situation.minutes.get(one, 0.0) for one in situation.workloads) * (BASELINE_RUNS - 1)
    works = [_proof(f"Prove the best setting by then: {one.item.lower()}.", one) for one in proof]
    if lengths:
        times = {1: "once", 2: "twice"}.get(BASELINE_RUNS - 1, f"{BASELINE_RUNS - 1} times")
        works.append(
            Work("Compare", f"Run every workload at the best setting, {times}.", "Whether it meets the goal.", lengths)
        )
    return works


def _with_best(situation: Situation, best: Judged, proof: Sequence[ProofAhead]) -> list[Work]:
    works = []
    if situation.proof and situation.proof.setting_id == best.setting_id and not situation.proof.proved:
        works = [_proof(f"Prove {best.title}: {one.item.lower()}.", one) for one in proof]
    clear = replace(situation, unanswered=(), short=(), in_use=(), knobs=(), proof=None, foretold=ForetoldPower())
    step = next_step(clear).step
    if step.act == "compare":
        lengths = tuple(situation.minutes.get(one, 0.0) for one in step.workload_ids) * step.runs
        works.append(Work("Compare", step.title, step.settles, lengths))
    return works


def _proof(title: str, one: ProofAhead) -> Work:
    hours = one.runs * one.minutes / 60
    known = f"Passed, its {hours * 60:.0f} min mean: fewer than {fewer_than(hours):.2g} failures an hour, 95 % sure."
    return Work("Prove", title, known, (one.minutes,) * one.runs, cool_each=True, in_parts=one.in_parts)
