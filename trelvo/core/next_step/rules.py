"""What to do next: one act with its reason, the same on every screen, and at most two others."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from trelvo.core.campaign_climbs.left_to_find import is_worth, what_is_left
from trelvo.core.compare.conditions import MOST_TOLD_RUNS, Condition
from trelvo.core.goal.judging import Judged
from trelvo.core.keep.kept_step import KeptNow, kept_task
from trelvo.core.lab.predicted_step import PredictedPower, predicted_task
from trelvo.core.message import Message, message
from trelvo.core.task import Task, once_with

MOST_INSTEAD = 2
# Watts that differ by less than this have not moved.
SAME_POWER = 0.015
# After so many runs in every workload a condition with less chance than this is left, and the next best setting taken up.
GIVE_UP = ((4, 0.25), (6, 0.4), (10, 0.5))
# After so many runs one that lies too close to its bound for any number of runs to show is left as well.
TOO_CLOSE_RUNS = 4
# A condition less likely than this to hold is settled before hours go into a proof.
DOUBTFUL = 0.8
# So likely to be stable is what is proved although another setting meets the goal already: what fails costs more than a run.
NEARLY_STABLE = 0.87


@dataclass(frozen=True)
class NextStep:
    """The one step, and what could be done instead."""

    step: Task
    instead: tuple[Task, ...] = ()


@dataclass(frozen=True)
class Unanswered:
    """A run of which nobody knows how it ended."""

    run_id: int
    workload: str | Message
    setting: str


@dataclass(frozen=True)
class StockShort:
    """A workload that is not yet measured well enough at stock. again: it was, before the rig changed

    wanted: runs in all; coarse: it has the usual number, and only does not distinguish as little as is wished
    """

    workload_id: int
    workload: str
    done: int
    wanted: int
    minutes: float
    again: bool
    coarse: bool = False


@dataclass(frozen=True)
class KnobAdvice:
    """A knob in the order of turning and what its climb asks for.

    value: in words; base: the title of the setting it is climbed from; hold_id: the setting at its hold, where there is one
    at_stock: whether the value is stock's own
    to_find: how much more of the goal's measure (relative, 0.003 = 0.3 %) is at most to be found along it; None: not known
    """

    key: str
    name: str
    act: Literal["test", "hold"]
    done: bool
    value: str
    values: Mapping[str, float]
    setting_id: int | None
    minutes: float
    reason: Message
    teaches: Message | None
    load_id: int | None
    load: str
    base: str
    hold_id: int | None = None
    to_find: float | None = None
    at_stock: bool = False


@dataclass(frozen=True)
class ProofItem:
    """What a setting's proof asks for next. approach: by which; item: what it is

    minutes: of a run, None where it ends by itself
    """

    setting_id: int
    approach: str
    proved: bool
    item: Message | None
    load_id: int | None
    load: str
    minutes: float | None
    minutes_left: float
    runs: int = 1


@dataclass(frozen=True)
class Situation:
    """Everything that the next step hangs on. judged: by the goal, best first; proof: of the best that may meet it

    enough: the goal is reached once it is met (a frame rate, a target): more is not asked for
    runs_at: how often each (setting, workload) was run so far
    missing: what the description lacks; smallest_gain: relative, the least that matters; workloads: names by id
    minutes: how long each workload runs, by id; kept: names of kept settings by the setting that they keep
    in_use: kept settings that are in use, as they stand now; loads: ids by name of all that a run can be made with
    predicted: settings not yet run that should draw less, where less power is what the goal is for
    """

    missing: Sequence[Message] = ()
    unanswered: Sequence[Unanswered] = ()
    short: Sequence[StockShort] = ()
    knobs: Sequence[KnobAdvice] = ()
    judged: Sequence[Judged] = ()
    stock_id: int = 0
    proof: ProofItem | None = None
    enough: bool = False
    smallest_gain: float = 0.005
    workloads: Mapping[int, str] = field(default_factory=dict)
    minutes: Mapping[int, float] = field(default_factory=dict)
    runs_at: Mapping[tuple[int, int], int] = field(default_factory=dict)
    kept: Mapping[int, str] = field(default_factory=dict)
    in_use: Sequence[KeptNow] = ()
    loads: Mapping[str, int] = field(default_factory=dict)
    predicted: PredictedPower = field(default_factory=PredictedPower)


def next_step(situation: Situation) -> NextStep:
    """The one step, from the first thing that is open in the order of the six stages; and at most two others.

    Questions about runs that broke off come before anything is run; stock before every setting; a knob before the next; what
    the goal still needs at a hold before the next knob is stacked on it; what should do better still before the best is proved;
    proof before keeping. Common practice.
    """
    steps = _open_steps(situation)
    first = steps[0]
    others = [step for step in steps[1:] if not _same(step, first)]
    if first.act in ("describe", "answer"):
        others = []
    return NextStep(first, tuple(others[:MOST_INSTEAD]))


def _same(one: Task, other: Task) -> bool:
    """Whether both do the same at one setting; two that are no settings yet are distinguished by their values."""
    at, at_other = ((task.act, task.setting_id, task.setting_id or task.values) for task in (one, other))
    return at == at_other


def _open_steps(situation: Situation) -> list[Task]:
    """All that is open, the most urgent first; never empty."""
    if situation.missing:
        title = message("add_what_is_missing", missing=tuple(situation.missing))
        return [Task("describe", "Prepare", title, message("rig_not_described"))]
    if situation.unanswered:
        return [_answer(situation.unanswered[0])]
    task, _ = task_in_use(situation)
    if task is None:
        return _of_the_campaign(situation)
    return [task] if task.act == "answer" else [task, *_of_the_campaign(situation)]


def task_in_use(situation: Situation) -> tuple[Task | None, KeptNow | None]:
    """What a setting in use asks for, and which; none where they only have to be used."""
    known = (situation.stock_id, situation.loads, situation.workloads, situation.runs_at)
    for one in situation.in_use:
        if (task := kept_task(one, *known)) is not None:
            return task, one
    return None, None


def _of_the_campaign(situation: Situation) -> list[Task]:
    """All that is open besides what is in use already."""
    blocking = [one for one in situation.short if not one.coarse]
    if blocking:
        return [_stock(blocking, situation.stock_id)]
    steps: list[Task] = []
    worth = worth_climbing(situation)
    worthless = [knob for knob in situation.knobs if not knob.done and knob not in worth]
    climbs = [_climb(knob) for knob in worth]
    at_hold = _at_the_hold(situation)
    best = best_of(situation)
    if best is not None and best.standing == "meets it" and situation.enough:
        return [*_with_best(situation, best), *climbs[:1]]
    unread = _read_again(situation)
    if unread is not None and unread.setting_id == situation.stock_id:
        # nothing that is run from now on can be told before
        steps.append(unread)
    if at_hold:
        steps.append(at_hold)
    steps += climbs[:1]
    if (predicted := _predicted(situation, best)) is not None:
        # while a knob has something left to find it is another way to go on
        steps.insert(1, predicted)
    if best is not None:
        steps += _with_best(situation, best)
        met = situation.judged[0]
        if met.standing == "meets it" and met is not best and not _undecided(situation, met):
            # what is there already may be kept instead
            steps += _with_best(situation, met)
    if unread is not None and unread.setting_id != situation.stock_id:
        steps.append(unread)
    if not steps:
        steps.append(_keep_stock(situation))
    if situation.short:
        # a finer baseline is worth its runs where a verdict hangs on it, and then the verdict asks for them
        steps.insert(1, _stock(situation.short, situation.stock_id))
    steps += climbs[1:2]
    steps += [_climb(knob) for knob in worthless[:1]]
    return steps


def _answer(one: Unanswered) -> Task:
    return Task(
        "answer",
        "Climb",
        message("say_how_it_ended", workload=one.workload, setting=one.setting),
        message("it_broke_off"),
        run_id=one.run_id,
    )


MOST_AT_ONCE = 5
# A setting that is still not as sure as was asked after so many hours of its own is left for one that asks less.
MOST_PROOF_HOURS = 6.0


def _stock(short: Sequence[StockShort], stock_id: int) -> Task:
    """Every workload that lacks as many runs as the one furthest behind, as one act."""
    first = min(short, key=lambda one: one.done)
    lacks = first.wanted - first.done
    alike = [one for one in short if one.wanted - one.done == lacks]
    more = min(max(1, lacks), MOST_AT_ONCE)
    if len(alike) == 1:
        title = message("run_at", workload=first.workload, setting=message("at_stock"), runs=more)
    else:
        title = message("run_several_at_stock", workloads=tuple(one.workload for one in alike), runs=more)
    if first.again:
        why = message("rig_has_changed")
    elif first.coarse:
        why = message("baseline_too_coarse")
    else:
        why = message("runs_so_far", done=first.done, wanted=first.wanted)
    return Task(
        "run",
        "Baseline",
        title,
        why,
        message("how_finely_it_tells"),
        setting_id=stock_id,
        values={},
        workload_id=first.workload_id,
        runs=more,
        minutes=first.minutes,
        workload_ids=tuple(one.workload_id for one in alike),
    )


def _climb(knob: KnobAdvice) -> Task:
    if knob.act == "hold":
        title = message("take_as_hold", knob=knob.name, value=knob.value)
        return Task(
            act="climb", stage="Climb", title=title, why=knob.reason, settles=knob.teaches,
            setting_id=knob.setting_id, values=knob.values, workload_id=None, runs=0, minutes=None, knob=knob.key,
        )  # fmt: skip
    base = "" if knob.base == "stock" else knob.base
    return Task(
        act="climb",
        stage="Climb",
        title=message(
            "test_knob", knob=knob.name, value=knob.value, base=base, workload=knob.load, minutes=knob.minutes
        ),
        why=knob.reason.then(None if knob.to_find is None else what_is_left(knob.to_find)),
        settles=knob.teaches,
        setting_id=knob.setting_id,
        values=knob.values,
        workload_id=knob.load_id,
        runs=1,
        minutes=knob.minutes,
        knob=knob.key,
    )


def _at_the_hold(situation: Situation) -> Task | None:
    """The runs that the goal needs at the hold of a knob that is done, before the next knob is stacked on it."""
    known = {one.setting_id: one for one in situation.judged}
    for knob in situation.knobs:
        if not knob.done or knob.at_stock or not situation.workloads:
            continue
        judged = known.get(knob.hold_id or 0)
        if judged is not None and judged.standing == "does not":
            continue
        lacks = [
            workload for workload in situation.workloads if not situation.runs_at.get((knob.hold_id or 0, workload), 0)
        ]
        if not lacks:
            continue
        title = judged.title if judged else message("knob_at", knob=knob.name, value=knob.value)
        return Task(
            act="run", stage="Compare", title=once_with(lacks, situation.workloads, title),
            why=message("holds_gain_not_known", knob=knob.name),
            settles=message("worth_by_the_goal"), setting_id=knob.hold_id, values=knob.values, workload_id=lacks[0], runs=1,
            minutes=situation.minutes.get(lacks[0]), workload_ids=tuple(lacks),
        )  # fmt: skip
    return None


def _predicted(situation: Situation, best: Judged | None) -> Task | None:
    """The runs at a setting that should draw less than the best so far, or than stock where nothing meets the goal."""
    best_id, title = (best.setting_id, best.title) if best else (situation.stock_id, message("at_stock"))
    known = (situation.workloads, situation.minutes, situation.runs_at)
    return predicted_task(situation.predicted, best_id, title, situation.smallest_gain, *known)


def worth_climbing(situation: Situation) -> list[KnobAdvice]:
    """Knobs that are not at their hold and have, as far as is known, as much to find as matters."""
    return [knob for knob in situation.knobs if is_worth(knob.done, knob.to_find, situation.smallest_gain)]


def best_of(situation: Situation) -> Judged | None:
    """The best setting that meets the goal or may: one that meets it, unless another promises more."""
    able = [one for one in situation.judged if one.standing in ("meets it", "may meet it") and one.measure is not None]
    decided = [one for one in able if not _undecided(situation, one)]
    if not decided:
        return None
    first = decided[0]
    if first.standing != "meets it" or situation.enough or first.setting_id in situation.kept:
        return first
    return next((one for one in decided if _promises_more(one, first, situation.smallest_gain)), first)


def _promises_more(one: Judged, met: Judged, smallest_gain: float) -> bool:
    """Whether a setting that may meet the goal is worth its proof although another meets it: better by what counts, and every
    condition likely."""
    if one.standing != "may meet it" or one.measure is None or met.measure is None or one.measure.unit != "ratio":
        return False
    if one.measure.score - met.measure.score <= smallest_gain:
        return False
    return all(
        condition.state == "shown"
        or condition.key == "measured"
        or (condition.chance or 0.0) >= (NEARLY_STABLE if condition.key == "stability" else DOUBTFUL)
        for condition in one.conditions
    )


def _undecided(situation: Situation, one: Judged) -> bool:
    """Whether a condition stays open although more was run for it than pays: it probably does not hold, or further runs would
    not end."""
    hours = one.failing.hours if one.failing else 0.0
    if hours >= MOST_PROOF_HOURS and any(c.key == "stability" and c.state == "not shown yet" for c in one.conditions):
        return True
    return any(
        condition.state == "not shown yet"
        and condition.key != "stability"
        and _is_enough(min(situation.runs_at.get((one.setting_id, pk), 0) for pk in wanted), condition)
        for condition in one.conditions
        if (wanted := [condition.workload_id] if condition.workload_id is not None else list(situation.workloads))
    )


def _is_enough(runs: int, condition: Condition) -> bool:
    """Whether so many runs in every workload are enough to turn to another setting."""
    chance = condition.chance
    if runs >= MOST_TOLD_RUNS or chance is None:
        return runs >= MOST_TOLD_RUNS
    if condition.more_runs is None and runs >= TOO_CLOSE_RUNS:
        return True
    return any(runs >= least and chance < below for least, below in GIVE_UP)


def _with_best(situation: Situation, best: Judged) -> list[Task]:
    """Prove it, settle what is not shown, keep it, as far as each is open; what is in doubt or not measured before the proof."""
    steps: list[Task] = []
    open_ = [
        condition
        for condition in best.conditions
        if condition.state == "not shown yet" and condition.key != "stability"
    ]
    doubtful = [one for one in open_ if one.key == "measured" or (one.chance is not None and one.chance < DOUBTFUL)]
    if doubtful:
        steps.append(_settle(situation, best, doubtful))
    proof = situation.proof if situation.proof and situation.proof.setting_id == best.setting_id else None
    if proof and not proof.proved and best.setting_id != situation.stock_id:
        title = message(
            "prove_setting", setting=best.title, workload=proof.load, runs=proof.runs, minutes=proof.minutes
        )
        steps.append(
            Task(
                act="prove",
                stage="Prove",
                title=title,
                why=message("best_so_far", item=proof.item, approach=proof.approach),
                settles=message("proof_minutes_left", minutes=proof.minutes_left),
                setting_id=best.setting_id,
                values=None,
                workload_id=proof.load_id,
                runs=proof.runs,
                minutes=proof.minutes,
            )
        )
    if open_ and not doubtful:
        steps.append(_settle(situation, best, open_))
    if not steps and best.standing == "meets it" and best.setting_id in situation.kept:
        steps.append(_use_it(best.title, best.setting_id, situation.kept[best.setting_id]))
    elif not steps and best.standing == "meets it":
        steps.append(
            Task(
                "keep", "Keep", message("keep_setting", setting=best.title), message("meets_the_goal"),
                setting_id=best.setting_id, runs=0,
            )
        )  # fmt: skip
    return steps or [_keep_stock(situation)]


def _settle(situation: Situation, best: Judged, open_: Sequence[Condition]) -> Task:
    """The runs on which the condition hangs that needs the fewest; on the side that has fewer so far."""
    condition = min(open_, key=lambda one: one.more_runs if one.more_runs is not None else 10**6)
    runs = min(condition.more_runs or 1, MOST_AT_ONCE)
    if condition.workload_id is not None:
        wanted = [condition.workload_id]
    else:
        wanted = list(situation.workloads)
    at_best, at_stock = (
        sum(situation.runs_at.get((setting_id, one), 0) for one in wanted)
        for setting_id in (best.setting_id, situation.stock_id)
    )
    thinner = condition.against_stock and at_stock < at_best
    where, title = (situation.stock_id, message("at_stock")) if thinner else (best.setting_id, best.title)
    # the workload with the fewest runs first; all of them where each is wanted
    wanted.sort(key=lambda one: situation.runs_at.get((where, one), 0))
    if len(wanted) == 1:
        what = message("run_at", workload=situation.workloads.get(wanted[0], ""), setting=title, runs=runs)
    else:
        what = message("run_all_at", setting=title, runs=runs)
    return Task(
        act="compare",
        stage="Compare",
        title=what,
        why=message("condition_not_shown", condition=condition.name).then(condition.says),
        settles=message("whether_condition_holds", condition=condition.name),
        setting_id=where,
        values={} if thinner else None,
        workload_id=wanted[0] if wanted else None,
        runs=runs,
        minutes=situation.minutes.get(wanted[0]) if wanted else None,
        workload_ids=tuple(wanted),
    )


def _read_again(situation: Situation) -> Task | None:
    """The runs that a setting's gain hangs on since another instrument reads: at stock, or there, once in every workload."""
    for one in situation.judged:
        lacks = next((condition.lacks for condition in one.conditions if condition.lacks), "")
        if not lacks or one.standing != "may meet it" or not situation.workloads:
            continue
        where, title = (situation.stock_id, message("at_stock")) if lacks == "stock" else (one.setting_id, one.title)
        wanted = list(situation.workloads)
        return Task(
            act="run",
            stage="Baseline" if lacks == "stock" else "Compare",
            title=once_with(wanted, situation.workloads, title),
            why=message("another_instrument_reads", setting=one.title),
            settles=message("setting_worth_by_goal", setting=one.title),
            setting_id=where,
            values={} if lacks == "stock" else None,
            workload_id=wanted[0],
            runs=1,
            minutes=situation.minutes.get(wanted[0]),
            workload_ids=tuple(wanted),
        )
    return None


def _use_it(setting: str | Message, setting_id: int, name: str) -> Task:
    title = message("use_kept", setting=setting, name=name)
    return Task("stop", "Keep", title, message("log_its_hours"), setting_id=setting_id, runs=0)


def _faster_at_the_same_power(situation: Situation) -> Judged | None:
    """Where the goal is less power: the fastest setting whose gain in speed is shown although its watts have not moved.

    Common practice: a part that runs at its power limit spends what a lower voltage saves on clock.
    """
    found = [
        one
        for one in situation.judged
        if one.setting_id != situation.stock_id
        and not one.broken("stability")
        and one.power is not None
        and one.compared is one.power
        and abs(one.power.ratio - 1) < SAME_POWER
        and one.speed is not None
        and one.speed.low is not None
        and one.speed.low > 1 + situation.smallest_gain
    ]
    return max(found, key=lambda one: one.speed.ratio if one.speed else 0.0, default=None)


def _keep_stock(situation: Situation) -> Task:
    tried = [one for one in situation.judged if one.setting_id != situation.stock_id]
    stock = next((one for one in situation.judged if one.setting_id == situation.stock_id), None)
    if stock is not None and stock.standing == "does not":
        why = message("nothing_meets_it" if tried else "stock_does_not_meet_it")
        return Task("stop", "Prepare", message("change_goal_or_add_knob"), why, runs=0)
    may = any(one.standing == "may meet it" for one in tried)
    why = message(("no_setting_shown_to_meet" if may else "no_setting_meets") if tried else "no_knob_left")
    if situation.stock_id in situation.kept:
        return _use_it(message("at_stock"), situation.stock_id, situation.kept[situation.stock_id])
    if (faster := _faster_at_the_same_power(situation)) is not None and faster.speed is not None:
        gained = (faster.speed.ratio - 1) * 100
        why = why.then(message("faster_at_same_power", setting=faster.title, percent=gained))
    return Task("stop", "Keep", message("keep_stock_then"), why, setting_id=situation.stock_id, runs=0)
