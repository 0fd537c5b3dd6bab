"""What can be compared: which settings share a workload with a campaign, and which ones an address names."""

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.core.case import Case
from trelvo.core.compare.sides import Side, side_key
from trelvo.core.problems import Problem, Refused

MOST_CANDIDATES = 6


@dataclass(frozen=True)
class SideChoice:
    """A setting that can be compared. key: names it as a candidate; runs: how many of its runs count"""

    key: str
    title: str
    campaign_id: int
    campaign_name: str
    rig_name: str
    build_number: int | None
    shared: int
    runs: int


def named_candidates(text: str) -> list[tuple[int, int | None]]:
    """Settings by id, each with the number of its rig's build where one is named: "12,14@2". Refused where it is not that."""
    words = list(dict.fromkeys(word for word in text.split(",") if word))
    if not all(re.fullmatch(r"\d{1,9}(@\d{1,4})?", word) for word in words):
        raise Refused(Problem("candidates", "candidates_not_numbers"))
    if len(words) > MOST_CANDIDATES:
        raise Refused(Problem("candidates", "too_many_candidates", {"count": len(words), "most": MOST_CANDIDATES}))
    pairs = [word.partition("@") for word in words]
    return [(int(setting_id), int(number) if number else None) for setting_id, _, number in pairs]


def side_choices(own: Case, cases: Sequence[Case]) -> list[SideChoice]:
    """Settings of some campaigns, own among them, that share a workload with it, each under the builds it was measured in.

    Its own come first.
    """
    measured = {workload.id for workload in own.campaign.workloads}
    choices = [choice for case in cases for choice in _choices_of(case, measured)]
    return sorted(choices, key=lambda one: one.campaign_id != own.campaign.id)


def _choices_of(case: Case, measured: set[int]) -> list[SideChoice]:
    campaign = case.campaign
    counted: dict[tuple[int, int], list[int]] = defaultdict(list)
    for run in campaign.runs:
        if campaign.was_made(run) and run.variant_id in measured:
            counted[run.setting_id, run.build_id].append(run.variant_id)
    settings = {setting.id: setting for setting in campaign.settings}
    builds = {build.id: build for build in campaign.builds}
    choices = []
    for (setting_id, build_id), variants in counted.items():
        side = Side(1, case, settings[setting_id], builds[build_id])
        choices.append(
            SideChoice(
                key=side_key(side),
                title=side.title,
                campaign_id=campaign.id,
                campaign_name=campaign.name,
                rig_name=campaign.rig.name,
                build_number=builds[build_id].number,
                shared=len(set(variants)),
                runs=len(variants),
            )
        )
    return choices
