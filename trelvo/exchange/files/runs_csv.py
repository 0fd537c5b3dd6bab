"""Runs of a campaign as CSV: one row a run, UTF-8, comma, decimal point. Described in docs/formats.md."""

import polars as pl

from trelvo.core.base.knobs import describe_setting
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.facts import knobs_of

FIGURES = (
    "duration_s",
    "low_1_fps",
    "low_01_fps",
    "power_w",
    "power_point",
    "temp_max_c",
    "temp_mean_c",
    "temp_start_c",
    "frames",
    "room_c",
    "core_mhz",
    "memory_mhz",
    "voltage_v",
)


def runs_csv(campaign: Campaign) -> bytes:
    """Every run, those set aside too, with the value of every knob."""
    knobs = knobs_of(campaign)
    rows = []
    for run in campaign.runs.select_related("setting", "workload", "fitting"):
        row: dict[str, object] = {
            "run": str(run.uid),
            "started_at": run.started_at.isoformat(),
            "workload": harmless(run.workload.name),
            "setting": harmless(describe_setting(knobs, run.setting.values)),
        }
        row |= {f"knob_{knob.key}": run.setting.values.get(knob.key, knob.stock) for knob in knobs}
        row |= {"outcome": run.outcome, "value": run.value, "unit": harmless(run.workload.unit)}
        row |= {name: getattr(run, name) for name in FIGURES}
        row |= {
            "fan": harmless(run.fan),
            "fitting": run.fitting.number,
            "set_aside_reason": harmless(run.set_aside_reason) if run.set_aside_at else None,
            "note": harmless(run.note),
        }
        rows.append(row)
    if not rows:
        return b"run\n"
    return pl.DataFrame(rows, infer_schema_length=None).write_csv().encode()


def harmless(text: str) -> str:
    """Text that a spreadsheet will not take for a formula: an apostrophe goes before a leading = + - or @."""
    return f"'{text}" if text.startswith(("=", "+", "-", "@", "\t", "\r")) else text
