"""The cautions of a campaign, and which of them had a clear yes."""

from dataclasses import dataclass
from datetime import datetime

from trelvo.core.case import Case
from trelvo.core.goal.service import highest_mean_power
from trelvo.core.laws.cautions import Caution, Surroundings, cautions_for


@dataclass(frozen=True)
class CautionSaid:
    """said_at: when a clear yes was said; None: not yet"""

    caution: Caution
    said_at: datetime | None


def cautions_of(case: Case) -> list[CautionSaid]:
    """Those that this campaign touches, from its rig, knobs, cooling and goal."""
    build = case.campaign.present_build
    drawn = [highest_mean_power(case, setting.id) for setting in case.campaign.settings]
    around = Surroundings(
        knobs=case.campaign.knobs,
        goal=case.terms.goal,
        cooling=build.cooling if build else "",
        enclosure=build.enclosure if build else "",
        stress_test=any(one.kind == "stress test" for one in case.campaign.testable),
        highest_w=max((one for one in drawn if one is not None), default=None),
        system=build.system if build else "",
        note=build.note if build else "",
        build=" ".join(f"{part.role} {part.name}" for part in build.placed) if build else "",
        firmware_changed=len(case.campaign.builds) > 1
        and case.campaign.builds[-1].firmware != case.campaign.builds[-2].firmware,
    )
    said = case.campaign.said_yes
    return [CautionSaid(one, said.get(one.key)) for one in cautions_for(around)]
