"""What other campaigns have taught about knobs and workloads like this campaign's: where its climbs begin."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from trelvo.core.base.knobs import Knob
from trelvo.core.campaign import CampaignSnapshot
from trelvo.core.climb.steepness import Seen, Steepness, learnt_steepness, usual_steepness
from trelvo.core.climb.stress import Offset
from trelvo.core.registry.roles import Role

# What makes two knobs alike; or a workload on one rig, since it may be harder or lighter on another.
Like = tuple[Role | Literal["stress"], str, str]
# What a campaign has shown of one of these.
Shown = tuple[Like, Seen | Offset]


@dataclass(frozen=True)
class Priors:
    """steepness: by knob; offsets: by variant, how far it lies from what its kind says. Compared by value."""

    steepness: tuple[tuple[Knob, Steepness], ...] = ()
    offsets: tuple[tuple[int, tuple[Offset, ...]], ...] = ()

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash((self.steepness, self.offsets))

    @cached_property
    def _by_knob(self) -> Mapping[Knob, Steepness]:
        return dict(self.steepness)

    @cached_property
    def _by_variant(self) -> Mapping[int, tuple[Offset, ...]]:
        return dict(self.offsets)

    def steepness_of(self, knob: Knob) -> Steepness:
        """What is known of a knob's steepness before anything was run on it here."""
        return self._by_knob.get(knob) or usual_steepness(knob)

    def offsets_of(self, variant_id: int) -> tuple[Offset, ...]:
        return self._by_variant.get(variant_id, ())


NOTHING_TAUGHT = Priors()


def priors_for(campaign: CampaignSnapshot, shown: Iterable[Shown]) -> Priors:
    """What other campaigns have shown of knobs of the same role, part and unit, and of the rig's workloads."""
    every = list(shown)
    steepness = []
    for knob in campaign.knobs:
        seen = [one for like, one in every if isinstance(one, Seen) and like == like_knob(knob)]
        steepness.append((knob, learnt_steepness(usual_steepness(knob), [] if knob.role == "other" else seen)))
    offsets = []
    for variant in campaign.known_variants:
        told = [one for like, one in every if isinstance(one, Offset) and like == like_load(campaign, variant.id)]
        if told:
            offsets.append((variant.id, tuple(told)))
    return Priors(tuple(steepness), tuple(offsets))


def like_knob(knob: Knob) -> Like:
    return knob.role, knob.part, knob.unit


def like_load(campaign: CampaignSnapshot, variant_id: int) -> Like:
    return "stress", str(campaign.rig_id), str(variant_id)
