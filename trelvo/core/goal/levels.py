"""Conditions on a level that an instrument reads: watts and degrees. A correction that is not exact makes them less sure."""

from collections.abc import Sequence

from scipy import special

from trelvo.core.base.deviations import Z
from trelvo.core.base.runs import RunFacts, mean_of
from trelvo.core.compare.conditions import Condition, chance_of_mean, how_sure, runs_for_mean, state_of
from trelvo.core.compare.table import WorkloadFacts
from trelvo.core.goal.ran import watts_of
from trelvo.core.measure.alike import ByReaders, in_use
from trelvo.core.measure.noise import PooledNoise


def power_within(
    most_w: float, found: ByReaders, workload: WorkloadFacts, pooled: PooledNoise | None, shown: float
) -> Condition:
    """Whether one workload's mean watts are within a limit, by the instrument that read them last.

    found: runs that count, by who read their watts; pooled: noise of ln(watts); shown: the sureness asked for
    """
    name = f"{workload.name}: at most {most_w:g} W"
    readers = in_use(found)
    read = found[readers] if readers is not None else []
    watts = watts_of(read)
    if not watts:
        return Condition("power", name, "not shown yet", None, "No power was read.", 1, workload.id)
    mean = mean_of(watts) or 0.0
    half = Z * max((run.doubts["power_w"].of_level(mean) for run in read if "power_w" in run.doubts), default=0.0)
    unsure = half / Z / mean
    chance = chance_of_mean(watts, most_w, pooled, at_least=False, unsure_log=unsure)
    state = state_of(chance, shown)
    more = None
    if state == "not shown yet":
        more = runs_for_mean(watts, most_w, pooled, shown, at_least=False, unsure_log=unsure)
    says = f"{mean:.0f} W. {how_sure(chance, state, more)}"
    if half and state == "not shown yet":
        says += f" The instrument's correction alone is unsure by ± {half:.3g} W."
    if len(found) > 1:
        says += f" Read by {read[0].power_instrument or 'no instrument in particular'}; what others read is left out."
    return Condition("power", name, state, chance, says, more, workload.id)


def temperature_within(most_c: float, runs: Sequence[RunFacts], shown: float) -> Condition:
    """Whether the highest temperature of some runs that count is within a limit; shown: the sureness asked for."""
    name = f"at most {most_c:g} °C"
    read = [(run.temp_max_c, run) for run in runs if run.temp_max_c is not None]
    if not read:
        return Condition("temperature", name, "not shown yet", None, "No temperature was read.", 1)
    hottest, run = max(read, key=lambda pair: pair[0])
    doubt = run.doubts.get("temp_max_c")
    unsure = doubt.of_level(hottest) if doubt else 0.0
    if not unsure:
        return Condition(
            "temperature", name, "shown" if hottest <= most_c else "broken", None, f"Highest so far {hottest:.1f} °C."
        )
    chance = float(special.ndtr((most_c - hottest) / unsure))
    state = state_of(chance, shown)
    says = f"Highest so far {hottest:.1f} °C ± {Z * unsure:.1f}, by the thermometer's correction. "
    return Condition("temperature", name, state, chance, says + how_sure(chance, state, None))
