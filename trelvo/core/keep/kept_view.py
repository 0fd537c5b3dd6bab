"""Kept settings as they stand now: what to type, what they rest on, whether the proof still holds, what use says."""

import logging
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from trelvo.core.base.figures import BY_WORD
from trelvo.core.base.knobs import GRID_TOLERANCE_STEPS, Knob, describe_setting
from trelvo.core.base.load_kinds import PLAIN_USE, STRESS_DECADES, LoadKind, heaviest, loads_for
from trelvo.core.campaign import Build, CampaignSnapshot, KeptSetting, RoomReading, Run, Setting, Use, Variant
from trelvo.core.case import Case
from trelvo.core.climb.failures_in_use import FailedInUse, Triaged, suspects
from trelvo.core.climb.harder import endangers_most
from trelvo.core.climb_line.use import counts_against, probed
from trelvo.core.keep.kept import TypeLine, to_type, tuned_places, use_so_far, warmest_room
from trelvo.core.keep.kept_step import KeptNow, check_title, less_instead
from trelvo.core.message import Message, message
from trelvo.core.prove.rate_belief import RateBelief
from trelvo.core.prove.service import climb_belief
from trelvo.core.prove.staleness import (
    SEASON_K,
    ChangeKind,
    CheckItem,
    Circumstances,
    Evidence,
    ProofNow,
    ProofWord,
    changes_since,
    proof_now,
)
from trelvo.core.registry.outcomes import FAILURES, OUTCOMES, Outcome

log = logging.getLogger(__name__)
TROUBLE = message("kept_in_trouble")
DAY_S = 86_400.0
_ROOM = BY_WORD["room_c"].key


@dataclass(frozen=True)
class ChangeSaid:
    """since: when it changed"""

    kind: ChangeKind
    says: Message
    since: datetime


@dataclass(frozen=True)
class OpenFailure:
    """A failure in use of which nobody knows the cause yet. after_minutes: how long it ran; probes: tried so far"""

    entry_id: int
    at: datetime
    outcome: Outcome
    workload: str
    workload_id: int | None
    after_minutes: float
    triaged: Triaged
    probes: tuple[Message, ...]


@dataclass(frozen=True)
class SettledFailure:
    entry_id: int
    at: datetime
    outcome: Outcome
    workload: str
    verdict: str


@dataclass(frozen=True)
class Span:
    since: datetime
    until: datetime | None


@dataclass(frozen=True)
class KeptSettingView:
    """A kept setting now. values: what it sets, by knob; lines: what to type, in order; evidence: as it was frozen

    since: in use since then, None while it is not; use_says: what its use so far says
    proof, chance, required: how its proof stands now
    tested: the chance by all that was tested, where `changes` move it
    changes: what the proof has not been brought back after; check: the shortest that brings it back; settled: whether one does
    warmest_c: from which room temperature on it no longer holds as wished, None where that is not known
    lower: the values to keep instead, where the tuning was to blame for a failure in use; lower_title: in words
    """

    id: int
    name: str
    use: str
    campaign_id: int
    campaign: str
    rig_id: int
    rig: str
    simulator: bool
    setting_id: int
    title: str
    at_stock: bool
    values: dict[str, float]
    lines: list[TypeLine]
    components: list[str]
    evidence: dict[str, Any]
    kept_at: datetime
    taken_back_at: datetime | None
    reason: str
    since: datetime | None
    spans: list[Span]
    hours: float
    failures: int
    use_says: Message
    proof: ProofWord
    chance: float
    tested: float | None
    required: float
    accepted_hours: float
    changes: list[ChangeSaid]
    check: list[CheckItem]
    settled: bool
    warmest_c: float | None
    open_failure: OpenFailure | None
    past_failures: list[SettledFailure]
    next: Message | None
    lower: dict[str, float] | None
    lower_title: str


def view_or_trouble(kept: KeptSetting, case: Case, now: datetime) -> KeptSettingView:
    """A kept setting as it stands; where that cannot be computed, what is known of it, and that: it hides no other."""
    try:
        return _view(kept, case, now)
    except Exception:
        log.exception("How kept setting %s stands cannot be worked out", kept.id)
        campaign = case.campaign
        return KeptSettingView(
            id=kept.id, name=kept.name, use=kept.use, campaign_id=campaign.id, campaign=campaign.name,
            rig_id=campaign.rig_id, rig=campaign.rig.name, simulator=campaign.rig.simulator, setting_id=kept.setting.id,
            title=kept.name, at_stock=False, values={}, lines=[], components=[], evidence={}, kept_at=kept.kept_at,
            taken_back_at=kept.taken_back_at, reason=kept.reason, since=None, spans=[], hours=0.0, failures=0,
            use_says=message("no_use_logged"),
            proof="not shown", chance=0.0, tested=None, required=0.0, accepted_hours=0.0, changes=[], check=[],
            settled=False, warmest_c=None, open_failure=None, past_failures=[], next=TROUBLE, lower=None, lower_title="",
        )  # fmt: skip


def kept_now(case: Case, now: datetime) -> list[KeptNow]:
    """A campaign's settings in use as the next step asks about them. lower_id is left open: a campaign knows its settings."""
    return [as_kept(_view(one, case, now)) for one in case.campaign.in_use]


def as_kept(view: KeptSettingView) -> KeptNow:
    opened = view.open_failure
    test = opened.triaged.test if opened else None
    return KeptNow(
        name=view.name,
        title=view.title,
        setting_id=view.setting_id,
        failed=opened is not None,
        probe_minutes=test.minutes if test else 0.0,
        lower=view.lower,
        lower_title=view.lower_title,
        lower_id=0,
        check=view.check,
        settled=view.settled,
        changed=[change.says for change in view.changes],
        stale=view.proof == "stale",
    )


def day(at: datetime) -> float:
    return at.timestamp() / DAY_S


@dataclass(frozen=True)
class _Since:
    """Runs since a setting was kept, those set aside left out. at_it: with it; at_stock: with stock, as controls

    at_it leaves out what its proof rests on: nothing is counted twice
    """

    at_it: tuple[Run, ...]
    at_stock: tuple[Run, ...]


def _since_kept(kept: KeptSetting, campaign: CampaignSnapshot) -> _Since:
    rests_on = set(kept.evidence["runs"])
    later = [run for run in campaign.runs if run.aside is None and run.started_at >= kept.kept_at]
    return _Since(
        tuple(run for run in later if run.setting_id == kept.setting.id and str(run.uid) not in rests_on),
        tuple(run for run in later if run.setting_id == campaign.stock.id),
    )


def _view(kept: KeptSetting, case: Case, now: datetime) -> KeptSettingView:
    campaign, setting = case.campaign, kept.setting
    knobs, entries, since = campaign.knobs, kept.entries, _since_kept(kept, campaign)
    proof = circumstances_from(kept.proof["circumstances"])
    belief = RateBelief(tuple(kept.proof["weights"]))
    today = _today(kept, case, since, proof, now)
    evidence = [_of_run(run, campaign.variants[run.variant_id], proof) for run in since.at_it]
    evidence += [_of_use(entry, proof) for entry in entries]
    climb = _climb_of(kept, case, today.accepted_per_h)
    found = proof_now(
        belief, proof, today, evidence, day(kept.kept_at), day(now), *_check_with(kept, campaign),
        [day(run.started_at) for run in since.at_stock], climb,
    )  # fmt: skip
    spans, in_use = kept.spans, kept.in_use
    days = sum(((span.until or now) - span.since).total_seconds() for span in spans) / DAY_S
    hours = sum(entry.hours for entry in entries)
    # what the tuning is not to blame for is no failure of the setting
    blamed = [entry for entry in entries if entry.outcome and counts_against(entry)]
    open_entry = next((entry for entry in reversed(entries) if entry.outcome and not entry.verdict), None)
    opened = _opened(open_entry, kept, proof, today, now) if open_entry else None
    lower = _lower(setting, knobs, blamed) if not kept.taken_back_at and not opened else None
    lower_title = describe_setting(knobs, lower) if lower is not None else ""
    title = describe_setting(knobs, setting.values)
    check = list(found.check) if not setting.is_stock else []
    return KeptSettingView(
        id=kept.id,
        name=kept.name,
        use=kept.use,
        campaign_id=campaign.id,
        campaign=campaign.name,
        rig_id=campaign.rig_id,
        rig=campaign.rig.name,
        simulator=campaign.rig.simulator,
        setting_id=setting.id,
        title=title,
        at_stock=setting.is_stock,
        values=dict(setting.values),
        lines=to_type(knobs, setting.values, case.terms.goal),
        components=list(kept.components),
        evidence=dict(kept.evidence),
        kept_at=kept.kept_at,
        taken_back_at=kept.taken_back_at,
        reason=kept.reason,
        since=in_use.since if in_use else None,
        spans=[Span(one.since, one.until) for one in spans],
        hours=hours,
        failures=len(blamed),
        use_says=use_so_far(hours, len(blamed), days),
        proof=_proof_word(found, opened, at_stock=setting.is_stock),
        chance=found.chance,
        tested=climb.chance_within(today.accepted_per_h) if climb and found.changes else None,
        required=found.required,
        accepted_hours=1 / today.accepted_per_h,
        changes=[]
        if setting.is_stock
        else [ChangeSaid(change.kind, change.says, _at(change.day, now)) for change in found.changes],
        check=check,
        settled=found.settled,
        warmest_c=warmest_room(belief, proof.room_c, proof.accepted_per_h, proof.sure),
        open_failure=opened,
        past_failures=[
            SettledFailure(
                entry.id, entry.at, entry.outcome, entry.variant.name if entry.variant else "", entry.verdict
            )
            for entry in entries
            if entry.outcome and entry.verdict
        ],
        next=_next(
            kept, opened, check, "" if lower is None else lower_title, title, settled=found.settled, stale=found.stale
        ),
        lower=lower,
        lower_title=lower_title,
    )


def _climb_of(kept: KeptSetting, case: Case, per_h: float) -> RateBelief | None:
    """What the climb believes of a kept setting now; None where it is judged in another build, or by no run."""
    judged = case.campaign.judged_build
    return climb_belief(case, kept.setting, per_h) if judged is not None and judged.id == kept.build_id else None


def _at(day_: float, now: datetime) -> datetime:
    return datetime.fromtimestamp(day_ * DAY_S, tz=now.tzinfo)


def _lower(setting: Setting, knobs: Sequence[Knob], blamed: Sequence[Use]) -> dict[str, float] | None:
    """As many steps less of the knob that was turned last as the kind of failure says; None where the tuning is not to blame."""
    if not blamed or setting.is_stock:
        return None
    values = {key: float(value) for key, value in setting.values.items()}
    last = endangers_most(knobs, values)
    if last is None:
        return None
    steps = OUTCOMES[cast(Outcome, blamed[-1].outcome)].steps_back
    away = (values[last.key] - last.stock) * last.away - steps * last.step
    if away <= GRID_TOLERANCE_STEPS * last.step:
        values.pop(last.key)
    else:
        values[last.key] = round(last.stock + last.away * away, 9)
    return values


def _proof_word(found: ProofNow, opened: OpenFailure | None, *, at_stock: bool) -> ProofWord:
    if opened:
        return "failed in use"
    if found.fresh or at_stock:
        return "fresh"
    return "stale" if found.stale else "not shown"


def _next(
    kept: KeptSetting,
    opened: OpenFailure | None,
    check: Sequence[CheckItem],
    lower: str,
    title: str,
    *,
    settled: bool,
    stale: bool,
) -> Message | None:
    """The one thing to do; None where there is nothing. Said of one in use by the next step, too."""
    if kept.taken_back_at:
        return None
    if opened:
        code = "failed_in_use_next" if opened.triaged.test else "failed_in_use_then"
        return message(code, says=opened.triaged.says)
    if lower:
        return message("step_down_and_keep", setting=lower)
    if not check:
        return None
    if not settled:
        title_, why = less_instead(title, "", stale=stale)
        return title_.then(why)
    return check_title("", check, title, stale=stale)


def lighter_than(kind: LoadKind, proof: Circumstances) -> float:
    """How much nearer the edge a load takes a setting than the heaviest of the proof, in powers of ten: zero or below."""
    proved = max((STRESS_DECADES[one] for one in (proof.workloads or {}).values()), default=STRESS_DECADES[kind])
    return min(STRESS_DECADES[kind] - proved, 0.0)


def _of_run(run: Run, variant: Variant, proof: Circumstances) -> Evidence:
    hours = (run.duration_s if run.duration_s is not None else variant.minutes * 60) / 3600
    failed = run.outcome in FAILURES
    return Evidence(day(run.started_at), hours, int(failed), lighter_than(variant.kind, proof), variant.name)


def _of_use(entry: Use, proof: Circumstances) -> Evidence:
    kind: LoadKind = entry.variant.kind if entry.variant else PLAIN_USE
    failed = int(bool(entry.outcome) and counts_against(entry))
    name = entry.variant.name if entry.variant else ""
    return Evidence(day(entry.at), entry.hours, failed, lighter_than(kind, proof), name, in_use=True)


def circumstances_of(
    build: Build, variants: Sequence[Variant], parts: Sequence[Any], room_c: float | None, per_h: float, sure: float
) -> Circumstances:
    """What a proof is made under, from a build (with its parts) and the workloads in use."""
    placed = {part.role: f"{part.name} ({part.specimen})" if part.specimen else part.name for part in build.placed}
    return Circumstances(
        driver=build.driver,
        firmware=build.firmware,
        system=build.system,
        cooling=build.cooling,
        enclosure=build.enclosure,
        parts=placed,
        tuned=tuned_places(list(placed), list(parts)),
        workloads={variant.name: variant.kind for variant in variants},
        techniques=frozenset(t for variant in variants for t in variant.workload.techniques),
        room_c=room_c,
        accepted_per_h=per_h,
        sure=sure,
    )


def circumstances_as_kept(found: Circumstances) -> dict[str, Any]:
    return {
        "driver": found.driver,
        "firmware": found.firmware,
        "system": found.system,
        "cooling": found.cooling,
        "enclosure": found.enclosure,
        "parts": dict(found.parts or {}),
        "tuned": sorted(found.tuned),
        "workloads": dict(found.workloads or {}),
        "techniques": sorted(found.techniques),
        "room_c": found.room_c,
        "accepted_per_h": found.accepted_per_h,
        "sure": found.sure,
    }


def circumstances_from(kept: Mapping[str, Any]) -> Circumstances:
    return Circumstances(**{**kept, "tuned": frozenset(kept["tuned"]), "techniques": frozenset(kept["techniques"])})


def _today(kept: KeptSetting, case: Case, since_kept: _Since, proof: Circumstances, now: datetime) -> Circumstances:
    """What is so now, and since when."""
    campaign = case.campaign
    used = [one.variant for one in kept.entries if one.variant]
    known = {one.name: one for one in [*campaign.rig.used, *used]}
    parts = [knob.part for knob in campaign.knobs if knob.key in kept.setting.values]
    rooms = [one for one in _rooms(kept, campaign, since_kept) if one.at >= kept.kept_at]
    found = circumstances_of(
        campaign.builds[-1],
        list(known.values()),
        parts,
        rooms[-1].room_c if rooms else None,
        1 / case.terms.hours,
        case.terms.sure,
    )
    since = {word: day(at) for word, at in _since(campaign.builds, kept).items()}
    for run in since_kept.at_it:
        variant = campaign.variants[run.variant_id]
        since.setdefault(f"workload {variant.name}", day(run.started_at))
        for technique in variant.workload.techniques:
            since.setdefault(f"technique {technique}", day(run.started_at))
    for entry in kept.entries:
        if entry.variant:
            name = f"workload {entry.variant.name}"
            since[name] = min(since.get(name, day(entry.at)), day(entry.at))
    if proof.room_c is not None:
        for room in reversed(rooms):
            if room.room_c - proof.room_c < SEASON_K:
                break
            since["season"] = day(room.at)
    # a technique, or a workload, that nothing was run with yet is new as of now
    return Circumstances(**{**_fields(found), "since": since})


def _rooms(kept: KeptSetting, campaign: CampaignSnapshot, since: _Since) -> list[RoomReading]:
    """How warm the room was: by runs at what is kept and at stock, by the journal, by use; in order of time."""
    found = list(campaign.rig.rooms)
    for run in (*since.at_it, *since.at_stock):
        read = next((one.value for one in campaign.readings.get(run.id, ()) if one.key == _ROOM), None)
        if read is not None:
            found.append(RoomReading(run.started_at, read))
    found += [RoomReading(entry.at, entry.room_c) for entry in kept.entries if entry.room_c is not None]
    return sorted(found, key=lambda one: one.at)


def _fields(found: Circumstances) -> dict[str, Any]:
    return {name: getattr(found, name) for name in found.__dataclass_fields__}


def _since(builds: Sequence[Build], kept: KeptSetting) -> dict[str, datetime]:
    """By what may change, from when on it has been as it is now."""
    found: dict[str, datetime] = {}
    if not builds:
        return found
    states = [(build, _state(build)) for build in builds]
    for word in {word for _, state in states for word in state}:
        last = states[-1][1].get(word, "")
        at = states[-1][0].since
        for one, state in reversed(states):
            if state.get(word, "") != last:
                break
            at = one.since
        found[word] = max(at, kept.kept_at)
    return found


def _state(build: Build) -> dict[str, str]:
    words = {word: getattr(build, word) for word in ("driver", "firmware", "system", "cooling", "enclosure")}
    return words | {f"part {part.role}": f"{part.name} {part.specimen}" for part in build.placed}


def _opened(entry: Use, kept: KeptSetting, proof: Circumstances, today: Circumstances, now: datetime) -> OpenFailure:
    """The triage of a failure in use: what may be to blame, and the test that tells most."""
    changed = {one.kind for one in changes_since(proof, today, day(now))}
    workload = entry.variant.name if entry.variant else "everyday use"
    room = entry.room_c if entry.room_c is not None else today.room_c
    minutes = entry.minutes if entry.minutes is not None else max(entry.hours * 60, 1.0)
    failed = FailedInUse(
        minutes,
        workload,
        cast(Outcome, entry.outcome),
        "driver" in changed,
        entry.variant is not None and entry.variant.name not in (proof.workloads or {}),
        (entry.at - kept.kept_at).total_seconds() / DAY_S / 365.25,
        max(room - proof.room_c, 0.0) if room is not None and proof.room_c is not None else 0.0,
    )
    tried = probed(entry)
    said = tuple(
        message(f"tried_{one.key.replace(' ', '_')}", result=_probe_result(one.failed, one.minutes)) for one in tried
    )
    return OpenFailure(
        entry_id=entry.id,
        at=entry.at,
        outcome=cast(Outcome, entry.outcome),
        workload=workload,
        workload_id=entry.variant.id if entry.variant else None,
        after_minutes=minutes,
        triaged=suspects(failed, tried),
        probes=said,
    )


def _probe_result(failed: bool, minutes: float) -> Message:
    return message("probe_failed" if failed else "probe_held", minutes=minutes)


def _check_with(kept: KeptSetting, campaign: CampaignSnapshot) -> tuple[str, float | None]:
    """The load to check with: the heaviest that is in use now; how long a run of it takes, where it ends by itself."""
    parts = [knob.part for knob in campaign.knobs if knob.key in kept.setting.values]
    load = heaviest(loads_for(parts, [one.as_load() for one in campaign.rig.used]))
    return (load.name, load.minutes if load.by_itself else None) if load else (str(kept.proof["heaviest"]), None)
