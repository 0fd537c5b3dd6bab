"""What each tuned component brings: gain, watts and degrees shared out among them, from whatever runs there are."""

import math
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations

import numpy as np
import numpy.typing as npt
from scipy import special

from trelvo.core.base.knobs import Knob
from trelvo.core.base.runs import RunFacts, figures_count
from trelvo.core.climb.knob_order import group_of
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.stats.noise import CONFIDENCE, PooledNoise
from trelvo.core.stats.same_instrument import DEGREES, WATTS, by_readers, readers_of, usual

Array = npt.NDArray[np.float64]
Values = Mapping[str, float]
# A column of the design that the others make up to this is not distinguished from them.
TOLERANCE = 1e-8
MEMORY = "memory"


@dataclass(frozen=True)
class Component:
    """Knobs that are kept, or reset to stock, together.

    key: the part they belong to (a card's core and its memory are one component), or the name the user gave the group
    """

    key: str
    knobs: tuple[Knob, ...]


@dataclass(frozen=True)
class Effect:
    """What a component brings on top of the others, with its interval; None where nothing is known of the noise.

    value: a ratio above 1 where it is better, or watts or degrees more
    workloads: in how many workloads the runs tell it, of how many that were measured
    """

    value: float
    low: float | None
    high: float | None
    runs: int
    workloads: int = 1
    measured: int = 1


@dataclass(frozen=True)
class Brought:
    """A component at the values that a setting has it at. Effects are None where no runs tell it apart from the others.

    tuned: whether the setting turns it at all; speed, saving: ratios above 1 where it is faster, and where it draws less
    watts, degrees: more than without it
    failures_alone, hours_alone: with nothing else turned; failures, hours: with this component as it is, whatever else
    """

    component: Component
    tuned: bool
    speed: Effect | None = None
    saving: Effect | None = None
    watts: Effect | None = None
    degrees: Effect | None = None
    failures_alone: int = 0
    hours_alone: float = 0.0
    failures: int = 0
    hours: float = 0.0


@dataclass(frozen=True)
class Together:
    """Two components that bring something else together than each by itself. more: ratio by which"""

    first: str
    second: str
    more: float
    low: float
    high: float


@dataclass(frozen=True)
class TriedSetting:
    """A setting with its runs, under one build. hours: how long it ran in all; failures: not set aside"""

    values: Values
    runs: Sequence[RunFacts]
    failures: int = 0
    hours: float = 0.0


def components_of(knobs: Sequence[Knob]) -> list[Component]:
    """Group knobs into components, in the order in which the knobs are listed.

    A knob that the user grouped belongs to that component; every other knob to the part it turns. Beside a processor's knobs,
    memory without a named part is a component of its own: it sits in other slots.
    """
    found: dict[str, list[Knob]] = defaultdict(list)
    processor = any(knob.facts.processor for knob in knobs if knob.part == "tuned part")
    for knob in knobs:
        own_slots = knob.part == "tuned part" and processor and group_of(knob) == "memory"
        found[knob.component or (MEMORY if own_slots else knob.part)].append(knob)
    return [Component(key, tuple(some)) for key, some in found.items()]


def level_of(component: Component, values: Values) -> tuple[float, ...] | None:
    """Where a setting has a component; None at stock."""
    level = tuple(float(values.get(knob.key, knob.stock)) for knob in component.knobs)
    return None if level == tuple(knob.stock for knob in component.knobs) else level


def brought(
    chosen: Values,
    tried: Sequence[TriedSetting],
    components: Sequence[Component],
    workloads: Sequence[WorkloadFacts],
    noise: Mapping[int, PooledNoise | None],
) -> tuple[list[Brought], list[Together]]:
    """What each component of a setting brings, and which two do something else together.

    tried: stock and every other setting, with its runs; noise: of results, by workload id
    Method: in every workload ordinary least squares on ln(result) (watts, degrees over room as they are) with one column for each
    place at which a component was ever set, so that runs at other settings count as well; the variance is that of repeats.
    A column is judged only where the others do not make it up. Gains are taken to multiply unless runs show that two
    components together do something else; then a component's effect is what it adds to the others. Workloads are weighed as in
    the overall ratio. Source: linear model with dummy variables, any textbook; checked against statsmodels' OLS.
    """
    usable = [workload for workload in workloads if workload.weight]
    model = _Model(chosen, tuple(tried), tuple(components))
    pairs = _together(model, usable, noise)
    shown = tuple((first, second) for first, second, _ in pairs)
    every = [run for one in tried for run in one.runs if figures_count(run)]
    # what two instruments read is not put together
    meter, degrees = (usual(by_readers(every, words)) for words in (WATTS, DEGREES))
    readings: dict[str, Callable[[RunFacts], float | None]] = {
        "saving": lambda run: -math.log(run.power_w) if run.power_w and readers_of(run, WATTS) == meter else None,
        "watts": lambda run: run.power_w if readers_of(run, WATTS) == meter else None,
        "degrees": lambda run: _over_room(run) if readers_of(run, DEGREES) == degrees else None,
    }
    fits = {
        word: [(one.weight, _fit(model, one.id, read, None, ())) for one in usable] for word, read in readings.items()
    }
    fits["speed"] = [(one.weight, _fit(model, one.id, _log_value(one), noise.get(one.id), shown)) for one in usable]
    found = []
    for place, component in enumerate(components):
        level = level_of(component, chosen)
        if level is None:
            found.append(Brought(component, tuned=False))
            continue
        at = [one for one in tried if level_of(component, one.values) == level]
        alone = [one for one in at if all(o is component or level_of(o, one.values) is None for o in components)]
        found.append(
            Brought(
                component=component,
                tuned=True,
                speed=_weighed(fits["speed"], place, ratio=True),
                saving=_weighed(fits["saving"], place, ratio=True),
                watts=_weighed(fits["watts"], place),
                degrees=_weighed(fits["degrees"], place),
                failures_alone=sum(one.failures for one in alone),
                hours_alone=sum(one.hours for one in alone),
                failures=sum(one.failures for one in at),
                hours=sum(one.hours for one in at),
            )
        )
    together = [
        Together(components[k].key, components[m].key, e.value, e.low or 0.0, e.high or 0.0) for k, m, e in pairs
    ]
    return found, together


@dataclass(frozen=True)
class _Model:
    """The setting that is judged, all that was tried, and the components: what every fit is made from."""

    chosen: Values
    tried: tuple[TriedSetting, ...]
    components: tuple[Component, ...]

    @cached_property
    def wanted(self) -> list[tuple[float, ...] | None]:
        return [level_of(component, self.chosen) for component in self.components]

    @cached_property
    def groups(self) -> dict[int, list[tuple[list[tuple[float, ...] | None], list[RunFacts]]]]:
        """By workload, every setting's levels with its runs that count."""
        found: dict[int, list[tuple[list[tuple[float, ...] | None], list[RunFacts]]]] = defaultdict(list)
        for one in self.tried:
            levels = [level_of(component, one.values) for component in self.components]
            own: dict[int, list[RunFacts]] = defaultdict(list)
            for run in one.runs:
                if figures_count(run):
                    own[run.workload_id].append(run)
            for workload_id, runs in own.items():
                found[workload_id].append((levels, runs))
        return found


@dataclass(frozen=True)
class _Fitted:
    """One workload. found: estimate and variance by component, or by the pair asked for; df: of the noise, None unknown"""

    found: Mapping[int | tuple[int, int], tuple[float, float]]
    df: float | None
    runs: int


def _log_value(workload: WorkloadFacts) -> Callable[[RunFacts], float | None]:
    sign = 1.0 if workload.higher_is_better else -1.0
    return lambda run: sign * math.log(run.value) if run.value and run.value > 0 else None


def _over_room(run: RunFacts) -> float | None:
    return None if run.temp_max_c is None or run.room_c is None else run.temp_max_c - run.room_c


def _fit(
    model: _Model,
    workload_id: int,
    read: Callable[[RunFacts], float | None],
    pooled: PooledNoise | None,
    pairs: Sequence[tuple[int, int]],
) -> _Fitted | None:
    """One workload. pairs: of components, that get a column of their own"""
    read_of = [
        (levels, [number for run in runs if (number := read(run)) is not None])
        for levels, runs in model.groups[workload_id]
    ]
    groups = [(levels, numbers) for levels, numbers in read_of if numbers]
    if not groups:
        return None
    places = sorted({(k, level) for levels, _ in groups for k, level in enumerate(levels) if level is not None})
    wanted = model.wanted
    column = {place: 1 + at for at, place in enumerate(places)}
    settings = np.zeros((len(groups), 1 + len(places) + len(pairs)))
    settings[:, 0] = 1.0
    for row, (levels, _) in enumerate(groups):
        settings[row, [column[k, level] for k, level in enumerate(levels) if level is not None]] = 1.0
        for at, (k, m) in enumerate(pairs):
            settings[row, 1 + len(places) + at] = float(levels[k] == wanted[k] and levels[m] == wanted[m])
    # the runs of a setting have the same row: they stand for one of so much more weight
    runs = np.array([len(numbers) for _, numbers in groups])
    design = settings * np.sqrt(runs)[:, None]
    inverse = np.linalg.pinv(design)
    means = np.array([math.fsum(numbers) / len(numbers) for _, numbers in groups])
    coefficients = inverse @ (means * np.sqrt(runs))
    spread, known = inverse @ inverse.T, inverse @ design
    noise = _repeats([numbers for _, numbers in groups]) if pooled is None else (pooled.sd_log**2, float(pooled.df))
    variance, df = noise or (0.0, None)
    found: dict[int | tuple[int, int], tuple[float, float]] = {}

    def tell(key: int | tuple[int, int], columns: Sequence[int]) -> None:
        contrast = np.zeros(design.shape[1])
        contrast[list(columns)] = 1.0
        # what the other columns make up cannot be distinguished from them
        if np.abs(contrast @ known - contrast).max() < TOLERANCE:
            found[key] = float(contrast @ coefficients), float(contrast @ spread @ contrast) * variance

    for k, level in enumerate(wanted):
        if level is not None and (k, level) in column:
            with_others = [1 + len(places) + at for at, pair in enumerate(pairs) if k in pair]
            tell(k, [column[k, level], *with_others])
    for at, pair in enumerate(pairs):
        tell(pair, [1 + len(places) + at])
    return _Fitted(found, df, int(runs.sum()))


def _repeats(groups: Sequence[Sequence[float]]) -> tuple[float, float] | None:
    """Variance of repeats and its degrees of freedom; None without repeats."""
    arrays = [np.array(group) for group in groups if len(group) > 1]
    df = float(sum(array.size - 1 for array in arrays))
    return (float(sum(((array - array.mean()) ** 2).sum() for array in arrays)) / df, df) if df else None


def _weighed(
    fits: Sequence[tuple[float, _Fitted | None]], key: int | tuple[int, int], *, ratio: bool = False
) -> Effect | None:
    """The mean over the workloads whose runs tell it, as they are weighed; None where no workload does."""
    ran = [fit for _, fit in fits if fit is not None]
    measured = [(weight, fit) for weight, fit in fits if fit is not None and key in fit.found]
    if not measured:
        return None
    total = sum(weight for weight, _ in measured)
    parts = [(weight / total, *fit.found[key], fit.df) for weight, fit in measured]
    estimate = sum(share * value for share, value, _, _ in parts)
    runs = sum(fit.runs for _, fit in measured)
    pairs = [(share**2 * variance, df) for share, _, variance, df in parts]
    told: Callable[[float], float] = math.exp if ratio else float
    if any(df is None for _, df in pairs):
        return Effect(told(estimate), None, None, runs, len(measured), len(ran))
    error = sum(variance for variance, _ in pairs)
    # Satterthwaite's degrees of freedom, any textbook
    df = error**2 / sum(v**2 / d for v, d in pairs if d) if error else sum(d for _, d in pairs if d)
    half = float(special.stdtrit(df, 0.5 + CONFIDENCE / 2)) * math.sqrt(error)
    return Effect(told(estimate), told(estimate - half), told(estimate + half), runs, len(measured), len(ran))


def _together(
    model: _Model, workloads: Sequence[WorkloadFacts], noise: Mapping[int, PooledNoise | None]
) -> list[tuple[int, int, Effect]]:
    """Pairs of components of which runs show that their gains do not simply multiply."""
    turned = [k for k, level in enumerate(model.wanted) if level is not None]
    found = []
    for pair in combinations(turned, 2):
        fits = [
            (workload.weight, _fit(model, workload.id, _log_value(workload), noise.get(workload.id), [pair]))
            for workload in workloads
        ]
        more = _weighed(fits, pair, ratio=True)
        if more is not None and more.low is not None and more.high is not None and not more.low <= 1 <= more.high:
            found.append((*pair, more))
    return found
