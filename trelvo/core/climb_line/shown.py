"""What a campaign's failures have shown of its knobs and workloads, for the campaigns that come after it."""

from trelvo.core.campaign import CampaignSnapshot
from trelvo.core.climb.priors import NOTHING_TAUGHT, Shown, like_knob, like_load
from trelvo.core.climb_line.beliefs import seen_in
from trelvo.core.climb_line.line import line_of
from trelvo.core.memo import on_snapshot


@on_snapshot
def shown_by(campaign: CampaignSnapshot) -> tuple[Shown, ...]:
    """By what is alike, what was seen; without what others have shown, else each would ask the other for ever."""
    found: list[Shown] = []
    for knob in campaign.knobs:
        line = line_of(campaign, NOTHING_TAUGHT, knob.key, None)
        if not any(trial.failed for trial in line.trials):
            continue
        seen = seen_in(knob, line.trials)
        found += [(like_knob(knob), seen)] if seen else []
        found += [
            (like_load(campaign, pk), stress.shown) for pk, stress in line.stresses.items() if stress.shown is not None
        ]
    return tuple(found)
