"""One act that is proposed, as every screen shows it."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from trelvo.core.message import Message, message
from trelvo.core.stages import StageName

Act = Literal["describe", "answer", "run", "climb", "prove", "compare", "keep", "stop"]


@dataclass(frozen=True)
class Task:
    """One act. title: what to do; why; settles: what is known afterwards

    values: of the setting it is done at, None where it is done at none; runs: how many; minutes: of bench time, each
    workload_ids: all that it is to be done with, where there are several; workload_id is the first of them
    run_id: the run that is asked about
    id: the same for the same act at the same place, however it is worded
    line: the quick line that logs it, begun; empty where nothing is run, or it cannot be typed
    """

    act: Act
    stage: StageName
    title: Message
    why: Message
    settles: Message | None = None
    setting_id: int | None = None
    values: Mapping[str, float] | None = None
    workload_id: int | None = None
    runs: int = 1
    minutes: float | None = None
    knob: str | None = None
    run_id: int | None = None
    workload_ids: tuple[int, ...] = ()
    id: str = ""
    line: str = ""

    def __post_init__(self) -> None:
        values = None if self.values is None else sorted(self.values.items())
        made_of = (
            self.act, self.stage, self.setting_id, values, self.workload_id, self.workload_ids, self.runs, self.minutes,
            self.knob, self.run_id,
        )  # fmt: skip
        object.__setattr__(self, "id", hashlib.sha256(repr(made_of).encode()).hexdigest()[:12])


def once_with(lacks: Sequence[int], workloads: Mapping[int, str], title: str | Message) -> Message:
    """To run what a setting lacks, once each. workloads: names of all that count, by id"""
    if len(lacks) == 1:
        return message("run_once", workload=workloads[lacks[0]], setting=title)
    if len(lacks) == len(workloads):
        return message("run_all_once", setting=title)
    return message("run_several_once", count=len(lacks), setting=title)
