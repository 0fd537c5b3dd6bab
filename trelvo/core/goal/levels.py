"""Conditions on a level that an instrument reads: watts and degrees. A correction that is not exact makes them less sure."""

from collections.abc import Sequence

from scipy import special

from trelvo.core.base.deviations import Z
from trelvo.core.base.runs import RunFacts, mean_of
from trelvo.core.compare.conditions import Condition, chance_of_mean, how_sure, runs_for_mean, state_of
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.goal.ran import watts_of
from trelvo.core.message import message
from trelvo.core.stats.noise import PooledNoise
from trelvo.core.stats.same_instrument import ByReaders, in_use


def power_within(
    most_w: float, found: ByReaders, workload: WorkloadFacts, pooled: PooledNoise | None, shown: float
) -> Condition:
    """Whether one workload's mean watts are within a limit, by the instrument that read them last.

    found: runs that count, by who read their watts; pooled: noise of ln(watts); shown: the sureness asked for
    """
    name = message("at_most_w_in", workload=workload.name, most_w=most_w)
    readers = in_use(found)
    read = found[readers] if readers is not None else []
    watts = watts_of(read)
    if not watts:
        return Condition("power", name, "not shown yet", None, message("no_power_read"), 1, workload.id)
    mean = mean_of(watts) or 0.0
    half = Z * max((run.doubts["power_w"].of_level(mean) for run in read if "power_w" in run.doubts), default=0.0)
    unsure = half / Z / mean
    chance = chance_of_mean(watts, most_w, pooled, at_least=False, unsure_log=unsure)
    state = state_of(chance, shown)
    more = None
    if state == "not shown yet":
        more = runs_for_mean(watts, most_w, pooled, shown, at_least=False, unsure_log=unsure)
    says = message("watts", watts=mean).then(
        how_sure(chance, state, more),
        message("correction_unsure_w", half_w=half) if half and state == "not shown yet" else None,
        message("others_left_out", instrument=read[0].power_instrument) if len(found) > 1 else None,
    )
    return Condition("power", name, state, chance, says, more, workload.id)


def temperature_within(most_c: float, runs: Sequence[RunFacts], shown: float) -> Condition:
    """Whether the highest temperature of some runs that count is within a limit; shown: the sureness asked for."""
    name = message("at_most_c", most_c=most_c)
    read = [(run.temp_max_c, run) for run in runs if run.temp_max_c is not None]
    if not read:
        return Condition("temperature", name, "not shown yet", None, message("no_temperature_read"), 1)
    hottest, run = max(read, key=lambda pair: pair[0])
    doubt = run.doubts.get("temp_max_c")
    unsure = doubt.of_level(hottest) if doubt else 0.0
    if not unsure:
        return Condition(
            "temperature",
            name,
            "shown" if hottest <= most_c else "broken",
            None,
            message("highest_c", hottest_c=hottest),
        )
    chance = float(special.ndtr((most_c - hottest) / unsure))
    state = state_of(chance, shown)
    says = message("highest_unsure_c", hottest_c=hottest, half_c=Z * unsure).then(how_sure(chance, state, None))
    return Condition("temperature", name, state, chance, says)
