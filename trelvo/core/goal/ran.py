"""A setting's runs, and what is read of them: once, however often the setting is judged."""

from collections.abc import Mapping, Sequence
from functools import cached_property

from trelvo.core.base.runs import RunFacts, figures_count
from trelvo.core.stats.same_instrument import Readers, by_readers


class Ran(dict[int, Sequence[RunFacts]]):
    """A setting's runs by workload id."""

    @cached_property
    def counting(self) -> dict[int, list[RunFacts]]:
        return {workload_id: [run for run in runs if figures_count(run)] for workload_id, runs in self.items()}

    @cached_property
    def lows(self) -> dict[int, list[float]]:
        """1 % lows above zero, by workload id."""
        return {
            workload_id: [run.low_1_fps for run in runs if run.low_1_fps is not None and run.low_1_fps > 0]
            for workload_id, runs in self.counting.items()
        }

    @cached_property
    def _read(self) -> dict[tuple[str, ...], dict[int, dict[Readers, list[RunFacts]]]]:
        return {}

    def read(self, words: tuple[str, ...], workload_id: int) -> Mapping[Readers, list[RunFacts]]:
        """Runs that count and in which all of some figures were read, by who read them."""
        if words not in self._read:
            self._read[words] = {key: by_readers(runs, words) for key, runs in self.counting.items()}
        return self._read[words].get(workload_id, {})


def watts_of(runs: Sequence[RunFacts]) -> list[float]:
    """Watts above zero."""
    return [run.power_w for run in runs if run.power_w is not None and run.power_w > 0]
