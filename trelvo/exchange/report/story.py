"""A campaign as a report: goal, rig, method and its limits, baseline, ladder, proof, comparison, what is kept, all runs."""

from collections.abc import Sequence
from datetime import datetime

import trelvo
from trelvo.core.base.knobs import describe_setting
from trelvo.core.base.runs import values_of
from trelvo.core.baseline.service import baseline_of
from trelvo.core.campaign import Build, titles_of
from trelvo.core.case import Case
from trelvo.core.climb_line.trials import minutes_of
from trelvo.core.compare.conditions import Condition
from trelvo.core.compare.service import Compared, Versus
from trelvo.core.compare.sides import REFERENCE, Side
from trelvo.core.compare.traps import Trap
from trelvo.core.goal.cautions import cautions_of
from trelvo.core.goal.comparison import compared
from trelvo.core.goal.measures import as_power
from trelvo.core.goal.service import GoalView, best_settings, goal_view
from trelvo.core.keep.kept_view import KeptSettingView
from trelvo.core.keep.service import KeepView, keep_view
from trelvo.core.prove.service import hours_of
from trelvo.core.prove.staleness import ProofWord
from trelvo.core.registry.goals import GOALS
from trelvo.core.stats.comparison import Verdict
from trelvo.exchange.report.blocks import (
    Block,
    Bullets,
    Drawing,
    Paragraph,
    Report,
    Section,
    Whisker,
    table,
)
from trelvo.exchange.report.numbers import day, gain, measure, minute, number, often, plain, with_range
from trelvo.messages.cautions import caution_text
from trelvo.messages.compare import trap_text
from trelvo.messages.texts import text_of
from trelvo.messages.wording import capital

# So many settings are in the drawing; all of them in the table.
MOST_DRAWN = 24


def campaign_report(case: Case, kept_settings: Sequence[KeptSettingView], now: datetime) -> Report:
    """The campaign as it stands. kept settings: what is kept of it"""
    goal, build = goal_view(case), case.campaign.judged_build
    whole = next((one for one in case.campaign.builds if build and one.id == build.id), None)
    candidates = best_settings(case)
    found: Compared | None = None
    if candidates:
        sides = [Side(k, case, one, build) for k, one in enumerate(candidates, start=1)]
        found = compared(Side(REFERENCE, case, case.campaign.stock, build), sides, now, correct=True)
    keep = keep_view(case, None)
    sections = [
        _result(goal, kept_settings),
        _rig(case, whole),
        _method(case, goal),
        _baseline(case),
        _ladder(case, goal),
        _proof(case, goal),
        *([_comparison(case, found.versus)] if found else []),
        _components(keep),
        *([_kept(kept_settings)] if kept_settings else []),
        *([_traps(found.traps)] if found and found.traps else []),
        _cautions(case),
        _runs(case),
    ]
    return Report(
        case.campaign.name,
        f"{GOALS[case.terms.goal].label}, on {case.campaign.rig.name}. {capital(text_of(goal.words))}.",
        tuple(sections),
        tuple(_short(case, goal, keep, kept_settings)),
        f"Written by Trelvo {trelvo.__version__} on {minute(now)}. Every number is the one that its screens show.",
    )


_PROOF: dict[ProofWord, str] = {
    "fresh": "its proof is fresh", "stale": "its proof is stale", "not shown": "it is not shown to be stable yet",
    "failed in use": "it failed in use",
}  # fmt: skip


def _result(goal: GoalView, kept_settings: Sequence[KeptSettingView]) -> Section:
    said: list[Block] = [Paragraph(text_of(goal.far))]
    if goal.best and goal.best.measure:
        said.append(
            Paragraph(f"Best so far: {goal.best.title}, {measure(goal.best.measure)}; it {goal.best.standing}.")
        )
    for one in kept_settings:
        state = "in use" if one.since else "kept, not in use"
        said.append(Paragraph(f"“{one.name}” ({one.use}): {one.title}, {state}; {_PROOF[one.proof]}."))
    said += [Paragraph(text_of(one)) for one in goal.against]
    return Section("What came of it", tuple(said))


def _rig(case: Case, build: Build | None) -> Section:
    if build is None:
        return Section("The rig", (Paragraph("It was not described."),))
    rows = [(part.role, f"{part.name} {part.specimen}".strip()) for part in build.placed]
    words = ("cooling", "enclosure", "driver", "firmware", "system", "note")
    rows += [(word.capitalize(), getattr(build, word)) for word in words if getattr(build, word)]
    read = [f"{row.name}: {row.quantity} of {row.part}, {row.trust}" for row in case.campaign.rig.instruments]
    blocks: list[Block] = [
        Paragraph(f"{case.campaign.rig.name}, build {build.number}, since {day(build.since)}."),
        table(("Part", "What it is"), rows),
    ]
    if read:
        blocks += [Paragraph("Instruments:"), Bullets(tuple(read))]
    return Section("The rig", tuple(blocks))


def _stock_runs(case: Case) -> str:
    """How often the workloads were run at stock, as it was."""
    runs = case.facts(case.campaign.runs_at(case.campaign.stock, case.campaign.judged_build))
    counted = [
        len(values_of(run for run in runs if run.workload_id == workload.id)) for workload in case.campaign.workloads
    ]
    if not counted or max(counted) == 0:
        return "Nothing was run at stock."
    few, many = min(counted), max(counted)
    if few == many == 1:
        return "Every workload was run once at stock."
    if few == many:
        return f"Every workload was run {few} times at stock."
    return f"The workloads were run {few} to {many} times at stock."


def _method(case: Case, goal: GoalView) -> Section:
    terms, way = case.terms, case.way
    return Section(
        "How it was measured, and what that cannot say",
        (
            Bullets(
                (
                    f"{_stock_runs(case)} A gain is the ratio of geometric means to stock, with a 95 % interval from the scatter "
                    "of repeats where there were any. Overall speed is the weighted geometric mean of those ratios.",
                    f"A difference below {case.campaign.smallest_gain * 100:g} % counts as none; a condition counts as "
                    f"shown when it is {terms.shown * 100:g} % sure.",
                    f"Settings were climbed {way.strategy}; a setting may fail once in {terms.hours:g} h, {terms.sure * 100:g} % "
                    f"sure; proved by {way.approach}.",
                    "Power is only compared where the same instrument read it on both sides.",
                    "All of it holds for this specimen, this build and these workloads. A chance to hold is an estimate from "
                    "what was tested, not a promise; hours without a failure say no more than the rule of three.",
                )
            ),
        ),
    )


def _baseline(case: Case) -> Section:
    titles = titles_of(case.campaign.workloads)
    rows = []
    for one in baseline_of(case, case.campaign.judged_build):
        workload = next(w for w in case.campaign.workloads if w.id == one.workload_id)
        s = one.summary
        rows.append(
            (
                titles[one.workload_id],
                str(s.n if s else 0),
                f"{plain(s.mean)} {workload.unit}" if s else "–",
                f"{plain(s.low)} to {plain(s.high)}" if s and s.low is not None else "–",
                f"{one.meter.sd * 100:.2f} %" if one.meter else "–",
                f"{number(one.power.mean_w, 0)} W" if one.power.mean_w else "–",
                f"{number(one.temp_max_c, 0)} °C" if one.temp_max_c is not None else "–",
            )
        )
    headers = ("Workload", "Runs", "Mean", "95 % interval", "Noise of one run", "Power", "Highest temperature")
    return Section("Stock", (table(headers, rows, range(1, 7)),))


def _ladder(case: Case, goal: GoalView) -> Section:
    settings = {setting.id: setting for setting in case.campaign.settings}
    rows = []
    for one in goal.judged:
        rows.append(
            (
                one.title,
                one.standing,
                measure(one.measure),
                with_range(one.speed.ratio, one.speed.low, one.speed.high) if one.speed else "–",
                gain(as_power(one.power).value) if one.power else "–",
                f"{number(hours_of(case, settings[one.setting_id]), 1)} h",
                str(one.failures) if one.failures else "none",
            )
        )
    drawn = [one for one in goal.judged if one.speed][:MOST_DRAWN]
    blocks: list[Block] = []
    if drawn:
        whiskers = tuple(
            Whisker(one.title, (s.ratio - 1) * 100, *((None if v is None else (v - 1) * 100) for v in (s.low, s.high)))
            for one in drawn
            if (s := one.speed)
        )
        blocks.append(
            Drawing(whiskers, "% overall speed against stock", "Overall speed of each setting against stock.")
        )
    headers = ("Setting", "By the goal", "In its measure", "Overall speed", "Power", "Tested", "Failures")
    blocks.append(table(headers, rows, (5,)))
    if goal.left_out:
        blocks.append(Paragraph(f"{goal.left_out} settings that were run earlier are left out here.", quiet=True))
    return Section("Settings tried", tuple(blocks))


def _proof(case: Case, goal: GoalView) -> Section:
    best = goal.best
    if best is None or best.setting_id == case.campaign.stock.id:
        return Section("Proof", (Paragraph("No setting stands to be proved."),))
    blocks: list[Block] = [Paragraph(f"{best.title}:")]
    blocks.append(
        table(
            ("Condition", "State", "What is known"),
            [(text_of(condition.name), condition.state, text_of(condition.says)) for condition in best.conditions],
        )
    )
    if best.failing:
        own = best.failing
        high = often(own.high)
        blocks.append(
            Paragraph(f"Its own runs: {own.hours:.1f} h, {own.failures or 'no'} failures; with 90 % at most {high}.")
        )
    return Section("Proof", tuple(blocks))


def _comparison(case: Case, versus: Versus) -> Section:
    titles = [workload.name for workload in case.campaign.workloads]
    rows: list[tuple[str, ...]] = []
    for candidate in versus.candidates:
        overall, verdict = candidate.column.overall, candidate.column.overall_verdict
        kept = candidate.kept_speed
        if overall:
            rows.append(
                (
                    candidate.title,
                    "overall",
                    with_range(overall.ratio, overall.low, overall.high),
                    *(_condition(kept) if kept else _verdict(verdict)),
                )
            )
        for title, cell, condition in zip(titles, candidate.column.cells, candidate.kept_speeds, strict=True):
            c = cell.comparison
            if c:
                said = _condition(condition) if condition else _verdict(cell.verdict)
                rows.append((candidate.title, title, with_range(c.ratio, c.low, c.high), *said))
    return Section(
        "Compared with stock",
        (
            Paragraph(
                "Verdicts count that several settings and workloads were compared at once, and that runs were added after a look."
            ),
            table(("Setting", "Workload", "Against stock", "Verdict", "Why"), rows),
        ),
    )


def _condition(condition: Condition) -> tuple[str, str]:
    return f"{text_of(condition.name)}: {condition.state}", text_of(condition.says)


def _verdict(verdict: Verdict | None) -> tuple[str, str]:
    return (verdict.word, text_of(verdict.reason)) if verdict else ("", "")


def _components(keep: KeepView) -> Section:
    rows = [(text_of(row.part), row.decision.decision, text_of(row.decision.says)) for row in keep.components]
    title = next(
        (candidate.judged.title for candidate in keep.candidates if candidate.judged.setting_id == keep.chosen_id),
        "stock",
    )
    return Section(
        "What each part brings",
        (
            Paragraph(f"Of {title}."),
            table(("Part", "Decision", "Why"), rows),
            *(Paragraph(text_of(one), quiet=True) for one in keep.sums_up),
        ),
    )


def _kept(kept_settings: Sequence[KeptSettingView]) -> Section:
    blocks: list[Block] = []
    for one in kept_settings:
        blocks.append(Paragraph(f"“{one.name}”, for {one.use}: {text_of(one.use_says)}."))
        lines = [(line.knob, line.value, line.stock) for line in one.lines]
        blocks.append(table(("Type, in this order", "Value", "Back at stock"), lines))
        if one.next:
            blocks.append(Paragraph(text_of(one.next)))
    return Section("What is kept", tuple(blocks))


def _traps(traps: Sequence[Trap]) -> Section:
    return Section(
        "Mistakes noticed",
        (Bullets(tuple(_trap(trap) for trap in traps)),),
    )


def _trap(trap: Trap) -> str:
    text = trap_text(trap)
    return f"{text.name} ({trap.where}): {text.evidence} {text.truth}"


def _cautions(case: Case) -> Section:
    said = [
        f"{text.title}. {text.why}" + (f" Yes said on {day(one.said_at)}." if one.said_at else "")
        for one in cautions_of(case)
        for text in [caution_text(one.caution)]
    ]
    return Section("Cautions", (Bullets(tuple(said)),))


def _runs(case: Case) -> Section:
    titles, settings = (
        titles_of(case.campaign.known_variants),
        {setting.id: setting for setting in case.campaign.settings},
    )
    variants = {variant.id: variant for variant in case.campaign.known_variants}
    words = {pk: describe_setting(case.campaign.knobs, one.values) for pk, one in settings.items()}
    builds = {build.id: build.number for build in case.campaign.builds}
    rows = [
        (
            run.started[:16],
            titles.get(run.variant_id, ""),
            words[run.setting_id],
            run.outcome,
            f"{plain(run.value)} {variants[run.variant_id].unit}" if run.value is not None else "–",
            number(minutes_of(run, variants), 1),
            str(builds.get(run.build_id, "")),
            "set aside" if run.aside is not None else "",
        )
        for run in case.campaign.runs
    ]
    headers = ("Begun (UTC)", "Workload", "Setting", "How it ended", "Result", "Minutes", "Build", "")
    return Section(f"All {len(rows)} runs", (table(headers, rows, (4, 5, 6)),))


def _short(case: Case, goal: GoalView, keep: KeepView, kept_settings: Sequence[KeptSettingView]) -> list[str]:
    """Twelve lines at most, for a post."""
    build = case.campaign.judged_build
    lines = [case.campaign.name, f"Goal: {text_of(goal.words)}. {text_of(goal.far)}"]
    if build:
        whole = next(one for one in case.campaign.builds if one.id == build.id)
        parts = ", ".join(part.name for part in whole.placed)
        lines.append(
            f"On {parts or case.campaign.rig.name}; driver {build.driver or 'not said'}; "
            f"{build.cooling or 'cooling not said'}"
        )
    for one in keep.candidates[:2]:
        speed = one.judged.speed
        said = [f"{one.judged.title}: {one.judged.standing}"]
        if speed:
            said.append(f"{with_range(speed.ratio, speed.low, speed.high)} speed")
        if one.power:
            said.append(f"{gain(one.power.value)} power")
        said.append(f"{number(one.hours)} h tested")
        lines.append(", ".join(said))
    lines += [
        f"{text_of(row.part)}: {row.decision.decision}. {text_of(row.decision.says)}"
        for row in keep.components
        if row.decision.brought.tuned
    ][:3]
    for kept_setting in kept_settings[:2]:
        lines.append(
            f"Kept as “{kept_setting.name}”: {', '.join(f'{one.knob} {one.value}' for one in kept_setting.lines) or 'stock'}."
        )
    counted = sum(run.counts for run in case.campaign.runs)
    lines.append(f"{counted} runs; intervals are 95 %, from repeats; this specimen and these workloads only.")
    return lines[:12]
