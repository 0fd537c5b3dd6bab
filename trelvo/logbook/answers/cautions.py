"""The cautions of a campaign, and which of them had a clear yes."""

from dataclasses import dataclass
from datetime import datetime

from trelvo.core.physics.cautions import Caution, Surroundings, cautions_for
from trelvo.logbook.answers.goal import highest_mean_power
from trelvo.logbook.models import CautionYes
from trelvo.logbook.rows.campaign_data import CampaignData


@dataclass(frozen=True)
class CautionSaid:
    """said_at: when a clear yes was said; None: not yet"""

    caution: Caution
    said_at: datetime | None


def cautions_of(data: CampaignData) -> list[CautionSaid]:
    """Those that this campaign touches, from its rig, knobs, cooling and goal."""
    fitting = data.present_fitting
    drawn = [highest_mean_power(data, one.pk) for one in data.settings]
    around = Surroundings(
        data.knobs,
        data.campaign.goal,
        fitting.cooling if fitting else "",
        fitting.enclosure if fitting else "",
        any(one.kind == "stress test" for one in data.testable),
        max((one for one in drawn if one is not None), default=None),
        fitting.system if fitting else "",
        fitting.note if fitting else "",
        " ".join(f"{part.role} {part.name}" for part in fitting.placed) if fitting else "",
        len(data.fittings) > 1 and data.fittings[-1].firmware != data.fittings[-2].firmware,
    )
    said = dict(CautionYes.objects.filter(campaign=data.campaign).values_list("key", "said_at"))
    return [CautionSaid(one, said.get(one.key)) for one in cautions_for(around)]
