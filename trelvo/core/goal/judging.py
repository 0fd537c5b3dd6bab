"""Every setting judged by the goal: its measure with an interval, each condition, and whether it meets the goal."""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

from trelvo.core.base.deviations import Z
from trelvo.core.base.runs import RunFacts, mean_of, values_of
from trelvo.core.climb.ladder import own_error
from trelvo.core.climb.stability import RateEstimate, failure_rate
from trelvo.core.compare import conditions as cond
from trelvo.core.compare.conditions import Condition
from trelvo.core.compare.table import WorkloadFacts, overall_of
from trelvo.core.goal.levels import power_within, temperature_within
from trelvo.core.goal.measures import LOUDNESS, OVER_ROOM, GoalMeasure, as_power, as_ratio, best_single, difference
from trelvo.core.goal.ran import Ran, watts_of
from trelvo.core.message import Message, message
from trelvo.core.registry.goals import Improve
from trelvo.core.stats import looks, power
from trelvo.core.stats.comparison import Comparison, compare, overall, widened
from trelvo.core.stats.noise import PooledNoise, pool
from trelvo.core.stats.same_instrument import WATTS, Lacking, Readers, by_readers, in_use, lacking, read_on_both
from trelvo.core.stats.time_series import BenchMemory
from trelvo.core.terms import LEAST_COOLER_K, LEAST_QUIETER_DBA, Terms, lows_of

Standing = Literal["meets it", "may meet it", "stock", "does not"]
REFERENCE, CANDIDATE = 0, 1
# A rate that is capped hovers just below the cap: common practice.
AT_CAP = 0.99


@dataclass(frozen=True)
class SettingFacts:
    """A setting with its runs by workload id (under one build), and what is known of how it holds.

    failures: in any workload, not set aside; hours: how long it was run in all, failures included
    holds: chance that it is within the accepted rate
    as_stock: whether nothing is turned that could make it less stable than stock; louder: whether a fan is turned up
    in_use: failures in use of the setting, or of kept ones that ask no more of any part
    """

    setting_id: int
    title: str
    groups: Mapping[int, Sequence[RunFacts]]
    failures: int = 0
    holds: float | None = None
    proved_by: tuple[str, ...] = ()
    hours: float = 0.0
    as_stock: bool = False
    louder: bool = False
    in_use: int = 0

    @cached_property
    def ran(self) -> Ran:
        return self.groups if isinstance(self.groups, Ran) else Ran(self.groups)

    def lows(self, workload_id: int) -> list[float]:
        return self.ran.lows.get(workload_id, [])


@dataclass(frozen=True)
class Judged:
    """A setting by the goal. speed: overall against stock, whatever the goal

    compared: what the measure rests on, above 1 better; None where it is no ratio
    power, lows, heat, noise: against stock in these; power above 1 where it draws less; None at stock and where not measured
    failures: of its own, not set aside; failing: how often an hour, None where nothing was run for any time
    """

    setting_id: int
    title: str
    measure: GoalMeasure | None
    conditions: tuple[Condition, ...]
    standing: Standing
    speed: Comparison | None
    compared: Comparison | None = None
    power: Comparison | None = None
    lows: Comparison | None = None
    heat: GoalMeasure | None = None
    noise: GoalMeasure | None = None
    failing: RateEstimate | None = None
    failures: int = 0

    @property
    def open_condition(self) -> Condition | None:
        """The first one that further runs could show."""
        return next((condition for condition in self.conditions if condition.state == "not shown yet"), None)

    def broken(self, key: cond.Key) -> bool:
        """Whether a condition of that key is shown not to hold."""
        return any(condition.key == key and condition.state == "broken" for condition in self.conditions)


@dataclass(frozen=True)
class Bench:
    """What all settings are judged with. noise: by workload id, of results; targets: result to be reached by workload id"""

    workloads: Sequence[WorkloadFacts]
    noise: Mapping[int, PooledNoise | None]
    memory: BenchMemory
    targets: Mapping[int, float]
    smallest_gain: float


def judge_settings(terms: Terms, stock: SettingFacts, settings: Sequence[SettingFacts], bench: Bench) -> list[Judged]:
    """Every setting by the goal, best first: those that meet it, those that may, those that do not; then by its measure.

    settings: stock too where it is to be judged; all under one build
    """
    every = [stock, *(setting for setting in settings if setting.setting_id != stock.setting_id)]
    noise_of = {
        "lows": {w.id: pool([one.lows(w.id) for one in every]) for w in bench.workloads},
        "power": {
            w.id: pool([watts_of(runs) for one in every for runs in one.ran.read(WATTS, w.id).values()])
            for w in bench.workloads
        },
    }
    words = _WORDS.get(terms.improve, ())
    now = {w.id: in_use(by_readers(_that_count(every, w.id), words)) for w in bench.workloads} if words else {}
    found = [_judged(terms, stock, setting, bench, noise_of, now) for setting in settings]
    order: dict[Standing, int] = {"meets it": 0, "may meet it": 1, "stock": 2, "does not": 3}
    return sorted(found, key=lambda one: (order[one.standing], -(one.measure.score if one.measure else -math.inf)))


# By workload id, who took the newest reading of what the goal improves, at whichever setting.
InUse = Mapping[int, Readers | None]
NoiseOf = Mapping[str, Mapping[int, PooledNoise | None]]


def _that_count(settings: Sequence[SettingFacts], workload_id: int) -> Iterator[RunFacts]:
    return (run for setting in settings for run in setting.ran.counting.get(workload_id, ()))


def _judged(
    terms: Terms, stock: SettingFacts, one: SettingFacts, bench: Bench, noise_of: NoiseOf, now: InUse
) -> Judged:
    itself = one.setting_id == stock.setting_id
    speed = None if itself else _speed(stock, one, bench)
    drawn = None if itself else _power(stock, one, bench, noise_of)
    measure = _measure(terms, stock, one, bench, speed, drawn, noise_of)
    conditions = list(
        _conditions(
            terms=terms,
            stock=stock,
            one=one,
            bench=bench,
            speed=speed,
            drawn=drawn,
            measure=measure,
            noise_of=noise_of,
            now=now,
        )
    )
    states = {condition.state for condition in conditions}
    standing: Standing = (
        "does not" if "broken" in states else "may meet it" if "not shown yet" in states else "meets it"
    )
    if itself and _asks_for_more_than_stock(terms) and standing != "does not":
        standing = "stock"
    compared = {"overall speed": speed, "power": drawn[0] if drawn else None}.get(terms.improve)
    return Judged(
        setting_id=one.setting_id,
        title=one.title,
        measure=measure,
        conditions=tuple(conditions),
        standing=standing,
        speed=speed,
        compared=compared,
        power=drawn[0] if drawn else None,
        lows=None if itself else _lows(stock, one, bench, noise_of),
        heat=_heat(stock, one, bench),
        noise=_noise(stock, one, bench),
        failing=failure_rate(one.hours, one.failures, 0.9) if one.hours else None,
        failures=one.failures,
    )


def _asks_for_more_than_stock(terms: Terms) -> bool:
    """A budget or a frame rate can be met by stock itself; every other goal is a gain against it."""
    return terms.improve != "frame rate held" and terms.goal != "power budget"


def _speed(stock: SettingFacts, one: SettingFacts, bench: Bench) -> Comparison | None:
    groups = {(REFERENCE, key): runs for key, runs in stock.groups.items()}
    groups |= {(CANDIDATE, key): runs for key, runs in one.groups.items()}
    return overall_of(CANDIDATE, REFERENCE, bench.workloads, groups, bench.noise, bench.memory)


def _power(stock: SettingFacts, one: SettingFacts, bench: Bench, noise_of: NoiseOf) -> tuple[Comparison, float] | None:
    """Power against stock (above 1: less power) over the workloads read alike on both sides, and mean watts more than stock."""
    found, shared, watts, weights = [], [], [], []
    for workload in bench.workloads:
        sides = [side.ran.read(WATTS, workload.id) for side in (stock, one)]
        readers = read_on_both(*sides)
        if readers is None or not workload.weight:
            continue
        alike = [side[readers] for side in sides]
        saved = power.watts_saved(*(power.summarise_power(runs) for runs in alike))
        before, after = (watts_of(runs) for runs in alike)
        if saved is None or not before or not after:
            continue
        unsure = _unsure(alike[1], mean_of(before), mean_of(after))
        less = compare(before, after, higher_is_better=False, pooled=noise_of["power"][workload.id])
        found.append(widened(less, unsure))
        shared.append(unsure**2)
        watts.append(-saved)
        weights.append(workload.weight)
    whole = overall(found, weights, shared)
    mean = sum(w * x for w, x in zip(weights, watts, strict=True)) / sum(weights) if weights else 0.0
    return (whole, mean) if whole else None


def _unsure(read: Sequence[RunFacts], before: float | None, after: float | None) -> float:
    """Deviation of ln of two mean watts' ratio, by what is not known of their one instrument's correction."""
    doubt = next((run.doubts["power_w"] for run in read if "power_w" in run.doubts), None)
    return doubt.of_ratio(before, after) if doubt and before and after else 0.0


def _measure(
    terms: Terms,
    stock: SettingFacts,
    one: SettingFacts,
    bench: Bench,
    speed: Comparison | None,
    drawn: tuple[Comparison, float] | None,
    noise_of: NoiseOf,
) -> GoalMeasure | None:
    if terms.improve == "overall speed" and speed:
        return as_ratio(speed)
    if terms.improve == "power" and drawn:
        return as_power(*drawn)
    if terms.improve == "heat":
        return _heat(stock, one, bench)
    if terms.improve == "noise":
        return _noise(stock, one, bench)
    if terms.improve == "best single result":
        return best_single(stock.groups, one.groups, bench.workloads)
    if terms.improve == "frame rate held" and terms.frames:
        held = [_frame_rate(terms, one, workload, bench, noise_of) for workload in _in_frames(bench)]
        shown = sum(condition.state == "shown" for condition in held)
        chances = [condition.chance or 0.0 for condition in held]
        # of two that hold all of them, the one that draws less
        left = math.log(drawn[0].ratio) if drawn and shown == len(held) else 0.0
        score = 10 * shown + (left if shown == len(held) else sum(chances) / max(len(chances), 1))
        return GoalMeasure("of", shown, None, None, score, asked=len(held), watts=drawn[1] if drawn else None)
    return None


def _heat(stock: SettingFacts, one: SettingFacts, bench: Bench) -> GoalMeasure | None:
    """Degrees over room less stock's; None at stock itself."""
    if one.setting_id == stock.setting_id:
        return None
    return difference(stock.ran, one.ran, bench.workloads, OVER_ROOM, "°C")


def _noise(stock: SettingFacts, one: SettingFacts, bench: Bench) -> GoalMeasure | None:
    """dB(A) less stock's; None at stock itself."""
    if one.setting_id == stock.setting_id:
        return None
    return difference(stock.ran, one.ran, bench.workloads, LOUDNESS, "dB(A)")


_WORDS: dict[str, tuple[str, ...]] = {"power": WATTS, "heat": OVER_ROOM.words, "noise": LOUDNESS.words}
_SIDE: dict[Lacking, cond.Lacks] = {"": "", "before": "stock", "after": "setting"}


def _lacks(terms: Terms, stock: SettingFacts, one: SettingFacts, bench: Bench, now: InUse) -> cond.Lacks:
    """The side that has no reading by the instruments in use, where the goal's measure is something read."""
    words = _WORDS.get(terms.improve)
    for workload in _weighed(bench) if words else ():
        before, after = (facts.ran.read(words or (), workload.id) for facts in (stock, one))
        if side := lacking(before, after, now[workload.id]):
            return _SIDE[side]
    return ""


def _in_frames(bench: Bench) -> list[WorkloadFacts]:
    return [workload for workload in bench.workloads if workload.measure == "frame rate" and workload.weight]


def _conditions(
    terms: Terms,
    stock: SettingFacts,
    one: SettingFacts,
    bench: Bench,
    speed: Comparison | None,
    drawn: tuple[Comparison, float] | None,
    measure: GoalMeasure | None,
    noise_of: NoiseOf,
    now: InUse,
) -> list[Condition]:
    itself = one.setting_id == stock.setting_id
    found: list[Condition] = []
    missing = [w for w in bench.workloads if w.weight and not _was_run(one, w)]
    if missing and not (terms.improve == "best single result" and len(missing) < len(bench.workloads)):
        says = message("no_run_of", workloads=tuple(workload.name for workload in missing))
        name = message("measured_everywhere")
        found.append(Condition("measured", name, "not shown yet", None, says, 1, missing[0].id))
    if not itself and _asks_for_more_than_stock(terms):
        lacks = _lacks(terms, stock, one, bench, now) if measure is None else ""
        found.append(_improves(terms, measure, speed, drawn, bench.smallest_gain, lacks))
    if terms.least_speed is not None and not itself:
        found.append(cond.kept_share("speed", message("speed"), speed, terms.least_speed, terms.shown))
        if terms.lows_too and _in_frames(bench):
            lows = _lows(stock, one, bench, noise_of)
            found.append(cond.kept_share("lows", message("lows"), lows, terms.least_speed, terms.shown))
    if terms.improve == "heat" and not itself and (louder := _no_louder(one, _noise(stock, one, bench))) is not None:
        found.append(louder)
    if terms.goal == "power budget" and terms.most_power_w is None:
        says = message("no_budget_yet")
        found.append(Condition("power", message("within_its_watts"), "not shown yet", None, says))
    if terms.most_power_w is not None:
        found += [
            power_within(terms.most_power_w, one.ran.read(WATTS, workload.id), workload, pooled, terms.shown)
            for workload in _weighed(bench)
            for pooled in [noise_of["power"][workload.id]]
        ]
    if terms.most_temp_c is not None:
        every = [run for runs in one.ran.counting.values() for run in runs]
        found.append(temperature_within(terms.most_temp_c, every, terms.shown))
    if terms.improve == "frame rate held":
        found += [_frame_rate(terms, one, workload, bench, noise_of) for workload in _in_frames(bench)]
    for workload in bench.workloads:
        if terms.goal == "target" and workload.id in bench.targets:
            found.append(_reaches(terms, one, workload, bench))
    if terms.stable and not itself:
        found.append(
            cond.stability(
                one.failures,
                one.holds,
                one.proved_by,
                terms.hours,
                terms.sure,
                as_stock=one.as_stock,
                in_use=one.in_use,
            )
        )
    return found


def _was_run(one: SettingFacts, workload: WorkloadFacts) -> bool:
    """Whether the setting was measured in a workload; one without a result has only to be completed."""
    if workload.measure == "nothing":
        return bool(one.ran.counting.get(workload.id))
    return bool(values_of(one.groups.get(workload.id, ())))


def _weighed(bench: Bench) -> list[WorkloadFacts]:
    return [workload for workload in bench.workloads if workload.weight]


_BETTER: Mapping[Improve, str] = {
    "overall speed": "faster_than_stock", "power": "less_power_than_stock", "heat": "cooler_than_stock",
    "noise": "quieter_than_stock", "best single result": "better_than_best",
}  # fmt: skip


def _improves(
    terms: Terms,
    measure: GoalMeasure | None,
    speed: Comparison | None,
    drawn: tuple[Comparison, float] | None,
    smallest_gain: float,
    lacks: cond.Lacks,
) -> Condition:
    """Whether it is better than stock, in the goal's measure, and by as much as matters."""
    name = message(_BETTER[terms.improve])
    if terms.improve == "best single result":
        better = measure is not None and measure.score > 0
        says = message("is_better" if better else "not_better_yet")
        return Condition("improves", name, "shown" if better else "not shown yet", None, says, None if better else 1)
    if terms.improve in ("heat", "noise"):
        if measure is None or measure.low is None or measure.high is None:
            says = message("heat_needs_readings" if terms.improve == "heat" else "noise_needs_readings")
            return Condition("improves", name, "not shown yet", None, says, 1, lacks=lacks)
        return _improves_by(terms, name, measure.value, measure.low, measure.high)
    comparison = speed if terms.improve == "overall speed" else drawn[0] if drawn else None
    if comparison is None:
        read = message("a_result" if terms.improve == "overall speed" else "power_by_same_instrument")
        lacking_says = message("both_sides_need", what=read)
        return Condition("improves", name, "not shown yet", None, lacking_says, 1, lacks=lacks)
    chance = cond.chance_at_least(comparison, 1.0)
    state = cond.state_of(chance, terms.shown)
    found: Message | None = None
    more = None
    least = smallest_gain * 100
    matters = cond.chance_at_least(comparison, 1 + smallest_gain)
    if state != "broken" and matters is not None and cond.state_of(matters, terms.shown) == "broken":
        # sure to be better is not enough where it is as sure to be too little
        state, found = "broken", message("sure_too_little", chance=1 - matters, least=least)
    elif state == "shown" and comparison.ratio < 1 + smallest_gain:
        more = cond.runs_to_tell(comparison, 1 + smallest_gain, terms.shown)
        if more:
            # where no number of runs would tell, it is about as much as counts
            state, found = "not shown yet", message("some_but_little", least=least)
    elif state == "not shown yet":
        more = cond.runs_to_show(comparison, 1.0, terms.shown)
    says = found or cond.how_sure(chance, state, more)
    if terms.improve == "power" and state != "shown":
        says = says.then(_faster_instead(speed, drawn, smallest_gain))
    return Condition("improves", name, state, chance, says, more, against_stock=True)


def _faster_instead(
    speed: Comparison | None, drawn: tuple[Comparison, float] | None, smallest_gain: float
) -> Message | None:
    """What a setting is worth that saves no watts and is faster: more speed for each of them, which another goal asks for."""
    if speed is None or drawn is None or speed.low is None or speed.low < 1 + smallest_gain:
        return None
    per_watt = speed.ratio * drawn[0].ratio
    if per_watt < 1 + smallest_gain:
        return None
    percent = {"speed_percent": (speed.ratio - 1) * 100, "per_watt_percent": (per_watt - 1) * 100}
    return message("counts_as_speed", watts=drawn[1], **percent)


def _improves_by(terms: Terms, name: Message, value: float, low: float, high: float) -> Condition:
    """Degrees or dB(A) less than at stock: sure to be some, and by as much as can be felt or heard."""
    heat = terms.improve == "heat"
    least = LEAST_COOLER_K if heat else LEAST_QUIETER_DBA
    says = message("degrees_over_room" if heat else "louder_by", difference=value)
    if low > -least:
        says = says.then(message("sure_too_little_c" if heat else "sure_too_little_dba", least=least))
        return Condition("improves", name, "broken", None, says)
    if high < 0 and value <= -least:
        return Condition("improves", name, "shown", None, says)
    return Condition("improves", name, "not shown yet", None, says, 2)


def _no_louder(one: SettingFacts, noise: GoalMeasure | None) -> Condition | None:
    """Whether what is cooler is no louder than stock; None where nobody measured it and no fan is turned up."""
    name = message("no_louder")
    if noise is None:
        if not one.louder:
            return None
        says = message("fan_up_needs_noise")
        return Condition("noise", name, "not shown yet", None, says, 1)
    says = message("louder_by", difference=noise.value)
    if noise.value < LEAST_QUIETER_DBA:
        return Condition("noise", name, "shown", None, says)
    louder = noise.low is not None and noise.low > 0
    return Condition("noise", name, "broken" if louder else "not shown yet", None, says, None if louder else 2)


def _lows(stock: SettingFacts, one: SettingFacts, bench: Bench, noise_of: NoiseOf) -> Comparison | None:
    found, weights = [], []
    for workload in _in_frames(bench):
        before, after = (side.lows(workload.id) for side in (stock, one))
        if before and after:
            found.append(compare(before, after, higher_is_better=True, pooled=noise_of["lows"][workload.id]))
            weights.append(workload.weight)
    return overall(found, weights)


def held_from(frames: float, cap_fps: float | None) -> float:
    """From which average a frame rate counts as held: at a cap of just that rate, from 99 % of it."""
    at_cap = cap_fps is not None and AT_CAP * cap_fps <= frames <= cap_fps
    return AT_CAP * frames if at_cap else frames


def _frame_rate(terms: Terms, one: SettingFacts, workload: WorkloadFacts, bench: Bench, noise_of: NoiseOf) -> Condition:
    """Average, and the 1 % low where it is asked for, at or above the frame rate: the less sure of the two decides."""
    held = held_from(terms.frames or 0.0, workload.cap_fps)
    name = message("frames_in", workload=workload.name, frames=terms.frames or 0, lows=lows_of(terms))
    parts = [("average", held, values_of(one.groups.get(workload.id, ())), bench.noise.get(workload.id))]
    if terms.low_frames is not None:
        read = one.lows(workload.id)
        parts.append(("low", terms.low_frames, read, noise_of["lows"][workload.id]))
    rated: list[tuple[float, Condition]] = []
    for what, wanted, values, pooled in parts:
        if not values:
            says = message(f"no_{what}_yet")
            rated.append((-1.0, Condition("frame rate", name, "not shown yet", None, says, 1, workload.id)))
            continue
        chance = cond.chance_of_mean(values, wanted, pooled, at_least=True)
        state = cond.state_of(chance, terms.shown)
        more = cond.runs_for_mean(values, wanted, pooled, terms.shown, at_least=True)
        more = more if state == "not shown yet" else None
        says = message(f"{what}_fps", fps=mean_of(values)).then(cond.how_sure(chance, state, more))
        known = 0.5 if chance is None else chance
        rated.append((known, Condition("frame rate", name, state, chance, says, more, workload.id)))
    broken = [one for _, one in rated if one.state == "broken"]
    return broken[0] if broken else min(rated, key=lambda pair: pair[0])[1]


def _reaches(terms: Terms, one: SettingFacts, workload: WorkloadFacts, bench: Bench) -> Condition:
    wanted, values, pooled = (
        bench.targets[workload.id],
        values_of(one.groups.get(workload.id, ())),
        bench.noise.get(workload.id),
    )
    name = message("reaches_in", workload=workload.name, result=wanted, unit=workload.unit)
    if not values:
        return Condition("target", name, "not shown yet", None, message("no_run_yet"), 1, workload.id)
    up = workload.higher_is_better
    chance = cond.chance_of_mean(values, wanted, pooled, at_least=up)
    state = cond.state_of(chance, terms.shown)
    more = cond.runs_for_mean(values, wanted, pooled, terms.shown, at_least=up) if state == "not shown yet" else None
    says = message("result", result=mean_of(values), unit=workload.unit).then(cond.how_sure(chance, state, more))
    return Condition("target", name, state, chance, says, more, workload.id)


def best_of_many(judged: Sequence[Judged], best: Judged | None) -> looks.Drawn | None:
    """The best setting's measure once it is counted that it was picked from all that are able; None for few of them.

    A ratio above 1 is better, for power too.
    """
    able = [(one, one.compared) for one in judged if one.standing in ("meets it", "may meet it") and one.compared]
    known = [(one, compared) for one, compared in able if compared.error_log]
    if best is None or best.compared is None or best.setting_id not in [one.setting_id for one, _ in known]:
        return None
    picked = next(place for place, (one, _) in enumerate(known) if one.setting_id == best.setting_id)
    # the reference's own error is the same for all, so it helped none of them to the top
    errors = [own_error(compared) for _, compared in known]
    drawn = looks.best_drawn([compared.ratio for _, compared in known], errors, picked)
    if drawn is None or best.compared.low is None:
        return None
    shared = (best.compared.sd_log or 0.0) / math.sqrt(best.compared.n_reference)
    reach = math.hypot(math.log(drawn.high / drawn.ratio), Z * shared)
    return replace(drawn, low=drawn.ratio * math.exp(-reach), high=drawn.ratio * math.exp(reach))


def how_far(terms: Terms, judged: Sequence[Judged], best: Judged | None, stock_id: int) -> Message:
    """How far the goal is met."""
    if not judged:
        return message("nothing_run")
    if terms.improve == "frame rate held":
        one = best or judged[0]
        if one.measure is None:
            return message("no_frame_rate_run")
        by_stock = one.standing == "meets it" and one.setting_id == stock_id
        return message("held_by_stock" if by_stock else "held_in", workloads=one.measure.value, asked=one.measure.asked)
    tried = [one for one in judged if one.setting_id != stock_id]
    if best is None:
        if not tried:
            return message("only_stock_run")
        may = any(one.standing == "may meet it" for one in tried)
        return message("none_shown_to_meet" if may else "none_meets", tried=len(tried))
    if best.standing == "meets it":
        return message("met" if best.setting_id != stock_id else "met_by_stock")
    open_ = best.open_condition
    return message("condition_not_shown", condition=open_.name) if open_ else message("not_shown_yet")
