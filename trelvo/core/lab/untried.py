"""Settings not yet tried that would pay, by the laws fitted to those that were."""

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence, Set
from itertools import product

from trelvo.core.base.knobs import Knob, describe_setting, fingerprint, whole_limit
from trelvo.core.base.runs import mean_of
from trelvo.core.case import Case
from trelvo.core.climb.edge_plane import edge_line
from trelvo.core.lab.plane import Seen, seen_plane
from trelvo.core.lab.predicted_step import PredictedPower, PredictedSetting
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.power_prediction import Model, Predicted, predict
from trelvo.core.laws.response import ResponsePlace
from trelvo.core.laws.untried import Untried, scaling, speed_at, worth_trying
from trelvo.core.predicted_power import Read, read_power

# So many values of each knob are looked at, and so many settings told.
VALUES, MOST = 7, 4
# A power limit is predicted to keep the speed with this chance: one that keeps it by a hair takes days to show.
PROBABLY = 0.8
# At so many voltages the highest clock that should hold, and the next few below it.
VOLTAGES, CLOCKS = 16, 4


def predicted_power(case: Case, places: Sequence[ResponsePlace], everywhere: Set[int]) -> PredictedPower:
    """Predicted settings that beat what was measured, the most efficient that keeps the goal's speed first. None without a law.

    places: the settings measured in speed and power, stock among them; everywhere: those that were run in every workload
    """
    read = read_power(case)
    model = read.model
    if model is None or not model.law.fits:
        return PredictedPower()
    workloads = [one.id for one in case.campaign.workloads if one.id in model.law.workloads]
    clocks = _clock_ratios(case, read)
    shown = [place for place in places if place.setting_id in clocks]
    if not workloads or not shown:
        return PredictedPower()
    stocks = {workload: predict(model, workload, {}) for workload in workloads}
    line = scaling([clocks[one.setting_id] for one in shown], [one.ratio for one in shown])
    # a setting that was made and not run, or broken off half way, is still to be tried
    failed = {run.setting_id for run in case.campaign.runs if run.failed}
    done = everywhere | failed
    tried = [setting.values for setting in case.campaign.settings if setting.id in done]
    least = case.terms.least_speed or 1.0

    def told(values: dict[str, float]) -> Untried | None:
        predicted = _predicted(model, stocks, values)
        return Untried(values, predicted[0], speed_at(line, predicted[1])) if predicted else None

    wishes = _wishes(case)
    wishes += [lower for values in wishes if (lower := _lowest_cap(case, values, told, least)) is not None]
    candidates = [found for values in wishes if values not in tried and (found := told(values)) is not None]
    # watts as the law has them, so that both are measured by one stick
    values_of = {setting.id: setting.values for setting in case.campaign.settings}
    drawn_w = {}
    for place in places:
        law = _predicted(model, stocks, values_of[place.setting_id])
        drawn_w[place.setting_id] = min(place.x, law[0].value) if law else place.x
    # what has failed there beats nothing
    measured = [(drawn_w[place.setting_id], place.ratio) for place in places if place.setting_id not in failed]
    marks = {setting.fingerprint: setting.id for setting in case.campaign.settings}
    return PredictedPower(
        [
            PredictedSetting(
                describe_setting(case.campaign.knobs, one.values),
                one.values,
                marks.get(fingerprint(one.values)),
                one.power_w,
                one.ratio,
                one.ratio.value >= least,
            )
            for one in worth_trying(candidates, measured, least, MOST)
        ],
        drawn_w,
    )


def _clock_ratios(case: Case, read: Read) -> dict[int, float]:
    """By setting, clock reached against stock: the mean over the workloads that both have."""
    of: dict[int, dict[int, list[float]]] = defaultdict(lambda: defaultdict(list))
    for point in read.points:
        of[point.setting_id][point.workload_id].append(point.core_mhz)
    means = {pk: {workload: sum(some) / len(some) for workload, some in by.items()} for pk, by in of.items()}
    stock = means.get(case.campaign.stock.id, {})
    ratios = {pk: mean_of(mean / stock[one] for one, mean in by.items() if one in stock) for pk, by in means.items()}
    return {pk: ratio for pk, ratio in ratios.items() if ratio is not None}


def _predicted(
    model: Model, stocks: Mapping[int, Predicted], values: Mapping[str, float]
) -> tuple[Interval, Interval] | None:
    """Mean watts over the workloads, and clock against stock; None where any of them cannot be told.

    stocks: what is predicted of stock, by workload
    """
    watts: list[Interval] = []
    ratios: list[Interval] = []
    for workload, stock in stocks.items():
        there = predict(model, workload, values)
        if there.power_w is None or there.core_mhz is None or stock.core_mhz is None:
            return None
        watts.append(there.power_w)
        middle = stock.core_mhz.value
        ratios.append(Interval(*(getattr(there.core_mhz, name) / middle for name in ("value", "low", "high"))))
    return _mean(watts), _mean(ratios)


def _mean(some: Sequence[Interval]) -> Interval:
    return Interval(*(sum(getattr(one, name) for one in some) / len(some) for name in ("value", "low", "high")))


def _wishes(case: Case) -> list[dict[str, float]]:
    """Settings on the knobs' grids that should hold: by the edge over clock and voltage, else within what has survived."""
    limit = whole_limit(case.campaign.knobs)
    caps = _spread(limit, min(limit.low, limit.stock), limit.stock) if limit else [None]
    seen = seen_plane(case)
    pairs = _holding(case, seen) if seen else _survived(case)
    wishes = []
    for cap, pair in product(caps, pairs):
        values = dict(pair)
        if limit is not None and cap is not None and cap != limit.stock:
            values[limit.key] = cap
        wishes.append(values)
    return [wish for wish in wishes if wish]


def _lowest_cap(
    case: Case, values: dict[str, float], told: Callable[[dict[str, float]], Untried | None], least: float
) -> dict[str, float] | None:
    """The same clock and voltage at the lowest power limit that still keeps the speed; None where the limit is in it already."""
    limit = whole_limit(case.campaign.knobs)
    if limit is None or limit.key in values or limit.low >= limit.stock:
        return None
    steps = round((limit.stock - limit.low) / limit.step)

    def at(place: int) -> dict[str, float]:
        return {**values, limit.key: round(limit.stock - place * limit.step, 9)}

    def keeps(place: int) -> bool:
        found = told(at(place))
        return found is not None and found.keeps(least, PROBABLY)

    # a lower limit never makes it faster: the places that keep the speed are the first ones
    if not keeps(1):
        return None
    return at(1 + bisect_left(range(2, steps + 1), True, key=lambda place: not keeps(place)))


def _holding(case: Case, seen: Seen) -> list[dict[str, float]]:
    """At each voltage that was tried, or lies before one that was: the highest clock that should hold, and a few below it."""
    clock, voltage = seen.plane.clock, seen.plane.voltage
    if voltage.away == 1:
        return [{}]
    furthest = min(seen.voltage_at.values(), default=voltage.stock)
    terms = case.terms
    pairs: list[dict[str, float]] = []
    for at in edge_line(seen.plane, _spread(voltage, furthest, voltage.stock, VOLTAGES), 1 / terms.hours, terms.sure):
        if at.hold is None:
            continue
        clocks = {at.hold - clock.away * k * clock.step for k in range(CLOCKS)}
        if at.hold >= clock.stock:
            clocks.add(clock.stock)
        for value in sorted(one for one in clocks if clock.low <= one <= clock.high):
            turned = {voltage.key: at.voltage, clock.key: round(value, 9)}
            stock = {voltage.key: voltage.stock, clock.key: clock.stock}
            pairs.append({key: one for key, one in turned.items() if one != stock[key]})
    return pairs


def _survived(case: Case) -> list[dict[str, float]]:
    """Voltages at which every run survived, by themselves."""
    voltage = next((knob for knob in case.campaign.knobs if knob.role == "voltage" and not knob.retired), None)
    if voltage is None or voltage.away == 1:
        return [{}]
    failed = {run.setting_id for run in case.campaign.runs if run.failed}
    ran = {run.setting_id for run in case.campaign.runs if run.counts}
    good = [
        setting.values[voltage.key]
        for setting in case.campaign.settings
        if set(setting.values) == {voltage.key} and setting.id in ran - failed
    ]
    return [{}, *({voltage.key: value} for value in sorted(set(good), reverse=True))]


def _spread(knob: Knob, low: float, high: float, most: int = VALUES) -> list[float]:
    """At most so many values of the grid between two of its own, the higher end among them."""
    steps = round((high - low) / knob.step)
    every = max(1, -(-steps // (most - 1)))
    return [round(high - k * knob.step, 9) for k in range(0, steps + 1, every)]
