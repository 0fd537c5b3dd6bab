"""The run protocol: open, batches, heartbeat, marks, finish; and what happens when a bench falls silent.

Simulator and real benches go through these same functions. A run that is not completed gets no value from its frame times.
"""

import hashlib
import uuid
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field, replace
from datetime import datetime, timedelta
from functools import partial
from typing import Any

import numpy as np
from django.db import transaction

from trelvo.core.base.workloads import check_result
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import OUTCOMES, Outcome
from trelvo.core.watch.contact import LOST_AFTER_S, Likely, likely_outcome
from trelvo.core.watch.safety_limits import (
    Breach,
    SafetyLimit,
    beyond_ceiling,
    first_breach,
    is_confirmed,
    wanted_words,
)
from trelvo.logbook.commands.logs import attach_log
from trelvo.logbook.commands.runs import RunDraft, figure, log_run
from trelvo.logbook.models import BenchToken, Campaign, Chunk, Figure, LiveRun, Mark, Setting, Variant
from trelvo.logbook.notify import announce
from trelvo.logbook.rows.live_series import Sent, channels_of, drafts_of, sent_of
from trelvo.logbook.rows.lookups import knobs_of, safety_limits_of
from trelvo.logbook.rows.series_bytes import Numbers, pack
from trelvo.logbook.tokens import campaign_changed
from trelvo.messages.texts import text_of


@dataclass(frozen=True)
class LiveDraft:
    """What a bench says when it opens a run. Channels and limits as in `LiveRun`."""

    bench: str
    channels: Sequence[dict[str, Any]]
    planned_s: float
    limits: dict[str, float] = field(default_factory=dict)
    simulator: bool = False
    speed: float = 1.0
    room_c: float | None = None
    fan: str = ""
    note: str = ""
    confirmation: str = ""
    uid: uuid.UUID | None = None


@dataclass(frozen=True)
class Batch:
    """Readings in the channels' own units. time_s: n, rising; values: n by channels, NaN where missing."""

    sequence: int
    time_s: Numbers
    values: Numbers
    frames_ms: Numbers

    @property
    def digest(self) -> str:
        content = pack(self.time_s) + pack(self.values) + pack(self.frames_ms)
        return hashlib.blake2b(content, digest_size=16).hexdigest()


@dataclass(frozen=True)
class Receipt:
    """What is there. through: all batches up to this number; missing: numbers below the highest that are not there;
    stop: why the bench has to stop, or empty."""

    through: int
    missing: list[int]
    stop: str


@transaction.atomic
def open_run(
    campaign: Campaign,
    setting: Setting,
    workload: Variant,
    draft: LiveDraft,
    now: datetime,
    token: BenchToken | None = None,
) -> LiveRun:
    """Writes the run before it starts. Opening again under the same `uid` gives the same run.

    Refused when the setting stands beyond a voltage ceiling and its words were not typed.
    """
    if draft.uid and (known := LiveRun.objects.select_related("run").filter(run__uid=draft.uid).first()):
        if known.token_id != (token.pk if token else None) or known.run.campaign_id != campaign.pk:
            raise Refused(Problem("uid", "run_identity_taken"))
        return known
    safety_limits = safety_limits_of(campaign)
    beyond = beyond_ceiling(knobs_of(campaign), setting.values, safety_limits)
    if beyond and not is_confirmed(beyond, draft.confirmation):
        above = tuple((one.knob.name, one.ceiling, one.knob.unit) for one in beyond)
        params = {"above": above, "confirmation": wanted_words(beyond)}
        raise Refused(Problem("confirmation", "above_ceiling", params))
    run = log_run(
        campaign,
        setting,
        workload,
        RunDraft(
            "connection lost",
            now,
            fan=draft.fan,
            note=draft.note,
            figures=() if draft.room_c is None else (figure("room_c", draft.room_c),),
        ),
        now,
    )
    if draft.uid:
        run.uid = draft.uid
        run.save(update_fields=["uid"])
        campaign_changed(campaign.pk)
    live = LiveRun.objects.create(
        run=run,
        bench=draft.bench,
        token=token,
        simulator=draft.simulator,
        speed=draft.speed,
        planned_s=draft.planned_s,
        channels=list(draft.channels),
        limits=draft.limits,
        safety_limits=[asdict(safety_limit) for safety_limit in safety_limits],
        opened_at=now,
        heard_at=now,
    )
    if beyond:
        _mark(live, Mark.Kind.CONFIRMATION, f"Confirmed by typing “{draft.confirmation.strip()}”.", now, 0.0)
    return live


@transaction.atomic
def take_batch(live_id: int, batch: Batch, now: datetime) -> Receipt:
    """`take_batch_of` for a run by its number."""
    return take_batch_of(LiveRun.objects.get(pk=live_id), batch, now)


@transaction.atomic
def take_batch_of(live: LiveRun, batch: Batch, now: datetime) -> Receipt:
    """Stores a batch, whatever the order; the same batch again changes nothing. Checks every reading against the safety limits.

    live: read within the same transaction. Refused when another batch came under this number, or when the run has ended
    and this one is new. Comes twenty times a second and more, so it looks up nothing that it does not need.
    """
    known = batch.sequence <= live.through or batch.sequence in live.beyond
    if live.state == LiveRun.State.ENDED:
        if not known:
            raise Refused(Problem("run", "run_has_ended", {"outcome": live.run.outcome}))
        return Receipt(live.through, [], f"ended: {live.run.outcome}")
    if known:
        if live.chunks.filter(sequence=batch.sequence).exclude(digest=batch.digest).exists():
            raise Refused(Problem("sequence", "batch_there_already", {"sequence": batch.sequence}))
    else:
        Chunk.objects.create(
            live=live,
            sequence=batch.sequence,
            rows=batch.time_s.size,
            readings=pack(np.column_stack([batch.time_s, batch.values])),
            frames=pack(batch.frames_ms),
            digest=batch.digest,
        )
        if batch.time_s.size:
            live.elapsed_s = max(live.elapsed_s, float(batch.time_s[-1]))
        _advance(live, batch.sequence)
    _heard(live, now)
    LiveRun.objects.filter(pk=live.pk).update(
        elapsed_s=live.elapsed_s, through=live.through, beyond=live.beyond, heard_at=live.heard_at, state=live.state
    )
    stop = ""
    if not known and (breach := _breach(live, batch)):
        # a record of what was said when it happened
        stop = text_of(breach.says)
        _mark(live, Mark.Kind.BREACH, stop, now, breach.at_s)
        _end(live, "safety limit", None, stop, now)
    _tell(live)
    return Receipt(live.through, _missing(live), stop)


def _advance(live: LiveRun, sequence: int) -> None:
    """Notes a number and moves `through` over all that follow on."""
    live.beyond = sorted([*live.beyond, sequence])
    while live.beyond and live.beyond[0] == live.through + 1:
        live.through += 1
        live.beyond = live.beyond[1:]


def _missing(live: LiveRun) -> list[int]:
    """Numbers below the highest that are not there, at most 500 of them."""
    if not live.beyond:
        return []
    there = set(live.beyond)
    return [n for n in range(live.through + 1, min(max(there), live.through + 50_000)) if n not in there][:500]


def _breach(live: LiveRun, batch: Batch) -> Breach | None:
    safety_limits = [SafetyLimit(**safety_limit) for safety_limit in live.safety_limits]
    return first_breach(safety_limits, channels_of(live), batch.time_s, batch.values) if safety_limits else None


@transaction.atomic
def heartbeat(live_id: int, now: datetime) -> Receipt:
    """The bench is there."""
    live = LiveRun.objects.select_related("run").get(pk=live_id)
    if live.state == LiveRun.State.ENDED:
        return Receipt(live.through, [], f"ended: {live.run.outcome}")
    _heard(live, now)
    live.save(update_fields=["heard_at", "state"])
    _tell(live)
    return Receipt(live.through, [], "")


@transaction.atomic
def add_mark(live_id: int, kind: Mark.Kind, text: str, now: datetime, at_s: float | None = None) -> Mark:
    """Notes a phase or a remark, at a time of the run or now."""
    live = LiveRun.objects.get(pk=live_id)
    if not text.strip():
        raise Refused(Problem("text", "mark_without_text"))
    if kind == Mark.Kind.PHASE:
        live.phase = text.strip()[:60]
        live.save(update_fields=["phase"])
    mark = _mark(live, kind, text.strip()[:1000], now, live.elapsed_s if at_s is None else at_s)
    _tell(live)
    return mark


@transaction.atomic
def finish(live_id: int, outcome: Outcome, value: float | None, note: str, now: datetime) -> LiveRun:
    """Ends a run as its bench, or whoever sat at it, says. Said again, or after it has ended otherwise, it is only noted.

    value: what the workload showed at its end, in its unit
    """
    live = LiveRun.objects.select_related("run__variant__workload", "run__campaign__rig", "run__setting").get(
        pk=live_id
    )
    if live.state == LiveRun.State.ENDED:
        if outcome != live.run.outcome:
            _mark(live, Mark.Kind.OUTCOME, f"The bench says: {outcome}. The run had ended as {live.run.outcome}.", now)
        return live
    workload = live.run.variant
    if value is not None and (wrong := check_result(workload.measure, value, workload.unit, "value")):
        raise Refused(wrong)
    _end(live, outcome, value, note.strip() or OUTCOMES[outcome].meaning, now)
    _tell(live)
    return live


def _end(live: LiveRun, outcome: Outcome, value: float | None, why: str, now: datetime) -> None:
    """Sets the outcome, puts all that came into one series, and deletes the batches."""
    run = live.run
    sent = sent_of(live, list(live.chunks.all()))
    run.outcome = outcome
    run.value = value if outcome == "completed" else None
    run.duration_s = live.elapsed_s or None
    run.save(update_fields=["outcome", "value", "duration_s"])
    campaign_changed(run.campaign_id)
    for draft in drafts_of(live, sent):
        if outcome != "completed":
            draft = replace(draft, figures=replace(draft.figures, value=None))
        attach_log(run, draft, [], now, Figure.Source.LIVE)
    live.chunks.all().delete()
    live.state, live.ended_at = LiveRun.State.ENDED, now
    live.save(update_fields=["state", "ended_at"])
    _mark(live, Mark.Kind.OUTCOME, f"{outcome.capitalize()}: {why}", now, live.elapsed_s)


@transaction.atomic
def lose_silent(now: datetime) -> list[int]:
    """Open runs whose bench has been silent for too long become *connection lost*; their numbers."""
    silent = LiveRun.objects.filter(state=LiveRun.State.OPEN, heard_at__lt=now - timedelta(seconds=LOST_AFTER_S))
    return [_lose(live, now, False) for live in silent.select_related("run")]


@transaction.atomic
def clock_moved(by_s: float, now: datetime) -> list[int]:
    """The machine's clock was moved: open runs were heard of as long ago as before, and it is noted with them; their numbers.

    by_s: forwards above zero; now: by the clock as it is since. A bench that was heard of since then is left alone.
    """
    moved = []
    for live in LiveRun.objects.filter(state=LiveRun.State.OPEN).select_related("run"):
        heard_s = (now - live.heard_at).total_seconds()
        if heard_s < by_s / 2 if by_s > 0 else heard_s > by_s / 2:
            continue
        live.heard_at += timedelta(seconds=by_s)
        live.save(update_fields=["heard_at"])
        words = f"The clock of Trelvo's machine was moved by {by_s:+.0f} s; the run's own time goes on."
        _mark(live, Mark.Kind.NOTE, words, now, live.elapsed_s)
        _tell(live)
        moved.append(live.run_id)
    return moved


@transaction.atomic
def find_left_open(now: datetime) -> list[int]:
    """At start: runs that were open when Trelvo went down; their numbers."""
    left = LiveRun.objects.filter(state=LiveRun.State.OPEN).select_related("run")
    return [_lose(live, now, True) for live in left]


def _lose(live: LiveRun, now: datetime, server_stopped: bool) -> int:
    live.state, live.server_stopped = LiveRun.State.LOST, live.server_stopped or server_stopped
    live.save(update_fields=["state", "server_stopped"])
    silent_s = (now - live.heard_at).total_seconds()
    text = (
        f"Trelvo itself was stopped; the bench was last heard {silent_s:.0f} s before the next start."
        if server_stopped
        else f"No word from the bench for {silent_s:.0f} s."
    )
    _mark(live, Mark.Kind.CONTACT, text, now, live.elapsed_s)
    _tell(live)
    return live.run_id


def _heard(live: LiveRun, now: datetime) -> None:
    if live.state == LiveRun.State.LOST:
        silent_s = (now - live.heard_at).total_seconds()
        _mark(live, Mark.Kind.CONTACT, f"The bench is back after {silent_s:.0f} s.", now, live.elapsed_s)
        live.state = LiveRun.State.OPEN
    live.heard_at = now


def likely(live: LiveRun) -> Likely:
    """What has probably happened to a run that fell silent."""
    sent = recent_of(live)
    return likely_outcome(
        sent.time_s,
        sent.values,
        channels_of(live),
        live.planned_s,
        server_stopped=live.server_stopped,
        simulator=live.simulator,
        temp_limit_c=live.limits.get("temp_c"),
    )


def recent_of(live: LiveRun, batches: int = 60) -> Sent:
    """The newest readings of a run that has not ended."""
    return sent_of(live, list(live.chunks.order_by("-sequence")[:batches]))


def _mark(live: LiveRun, kind: Mark.Kind, text: str, now: datetime, at_s: float | None = None) -> Mark:
    return Mark.objects.create(run_id=live.run_id, kind=kind, text=text[:1000], made_at=now, at_s=at_s)


def _tell(live: LiveRun) -> None:
    transaction.on_commit(partial(announce, live.run_id))
