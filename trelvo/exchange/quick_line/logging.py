"""A run logged from one typed line: read, its setting made where it is missing, then logged; all or nothing."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from uuid import UUID

from django.db import transaction

from trelvo.core.base.knobs import Knob, fingerprint
from trelvo.core.base.load_kinds import heaviest
from trelvo.core.campaign import Variant as CoreVariant
from trelvo.core.problems import Refused
from trelvo.core.registry.outcomes import FAILURES
from trelvo.exchange.quick_line.grammar import (
    DURATION,
    RESULT,
    LineWorkload,
    QuickLine,
    begin_quick_line,
    read_quick_line,
)
from trelvo.logbook.commands.runs import RunDraft, check_run, figure, log_run
from trelvo.logbook.commands.settings import add_setting
from trelvo.logbook.models import Campaign, Run
from trelvo.logbook.rows.lookups import knobs_of, reader_of, testable


def read_for(campaign: Campaign, line: str, now: datetime) -> QuickLine:
    """What a line says in this campaign: knobs that it leaves out stand as in the campaign's last run."""
    last = campaign.runs.select_related("setting").last()
    knobs = [knob for knob in knobs_of(campaign) if not knob.retired]
    found = testable(campaign)
    before = last.setting.values if last else {}
    failed = last is not None and last.outcome in FAILURES and last.set_aside_at is None
    workloads = _workloads([one.as_variant() for one in found])
    load = heaviest(one.as_load() for one in found)
    fallback = next((one for one in workloads if load is not None and one.id == load.id), None)
    said = read_quick_line(line, knobs, workloads, before, failed_before=failed, fallback=fallback)
    if not said.problems:
        workload = next((one for one in found if one.pk == said.workload_id), None)
        said.problems += check_run(draft_of(campaign, said, now), now, workload)
    return said


def begin_line(
    knobs: Sequence[Knob],
    workloads: Sequence[CoreVariant],
    values: Mapping[str, float],
    workload_id: int,
    minutes: float | None,
) -> str:
    """The line of a test still to be made, up to what it measures and how it ends; empty where it cannot be typed."""
    return begin_quick_line(values, workload_id, minutes, knobs, _workloads(workloads))


def _workloads(found: Sequence[CoreVariant]) -> list[LineWorkload]:
    return [LineWorkload(one.id, one.name, one.unit, tuple(one.options.values()), one.measure) for one in found]


@transaction.atomic
def log_line(campaign: Campaign, line: str, now: datetime, uid: UUID | None = None) -> Run:
    """The run that the line tells of. Raises Refused with every place where it is not clear. uid: as in a `RunDraft`"""
    if uid is not None and (known := campaign.runs.filter(uid=uid).first()):
        # knobs that the line leaves out stood elsewhere then
        return known
    said = read_for(campaign, line, now)
    if said.problems or said.workload_id is None:
        raise Refused(*said.problems)
    setting = campaign.settings.filter(fingerprint=fingerprint(said.values)).first()
    setting = setting or add_setting(campaign, said.values, "", now)
    workload = next(one for one in testable(campaign) if one.pk == said.workload_id)
    return log_run(campaign, setting, workload, replace(draft_of(campaign, said, now), uid=uid), now)


def draft_of(campaign: Campaign, said: QuickLine, now: datetime) -> RunDraft:
    """The run as it would be logged. Watts without a word on who read them are by the instrument that counts, as in the form."""
    own = {name: float(said.figures[name]) for name in (RESULT, DURATION) if name in said.figures}
    figures = []
    for word, number in said.figures.items():
        if word in own:
            continue
        one = figure(word, float(number))
        if one.key.quantity == "power" and said.power_point != "unknown":
            one = replace(one, point=said.power_point)
        elif one.key.quantity == "power":
            one = replace(one, instrument_id=reader_of(campaign, "power", now))
        figures.append(one)
    return RunDraft(
        said.outcome or "completed", now, own.get(RESULT), own.get(DURATION), note=said.note, figures=figures
    )
