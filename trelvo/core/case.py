"""A campaign as it is judged: what was run, what its user wants, and what other campaigns have taught."""

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass

from trelvo.core.base.runs import RunFacts
from trelvo.core.bench_noise import bench_memory, noise_of
from trelvo.core.campaign import Build, CampaignSnapshot, Run
from trelvo.core.climb.priors import NOTHING_TAUGHT, Priors
from trelvo.core.counted_runs import facts_of
from trelvo.core.memo import Memo
from trelvo.core.stats.noise import PooledNoise
from trelvo.core.stats.time_series import BenchMemory
from trelvo.core.terms import Terms
from trelvo.core.way import Way


@dataclass(frozen=True)
class Case:
    """The arguments of every judgement. "Try another goal" is the same case with other terms."""

    campaign: CampaignSnapshot
    terms: Terms
    way: Way
    priors: Priors = NOTHING_TAUGHT

    @property
    def memo(self) -> Memo:
        """Results about a case live on its snapshot."""
        return self.campaign.memo

    @property
    def memo_key(self) -> Hashable:
        return self.terms, self.way, self.priors

    def facts(self, runs: Sequence[Run]) -> list[RunFacts]:
        """Runs with their figures as they count; watts and degrees of the part that the goal speaks of."""
        return facts_of(self.campaign, runs, self.terms.part)

    def noise(self, build: Build | None) -> Mapping[int, PooledNoise | None]:
        return noise_of(self.campaign, build)

    def bench_memory(self, build: Build | None) -> BenchMemory:
        return bench_memory(self.campaign, build)
