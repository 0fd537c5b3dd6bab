"""Runs of a campaign as CSV: one row a run, UTF-8, comma, decimal point. Described in docs/formats.md."""

import unicodedata

import polars as pl

from trelvo.core.base.figures import NAMED
from trelvo.core.base.knobs import describe_setting
from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.lookups import knobs_of


def runs_csv(campaign: Campaign) -> bytes:
    """Every run, those set aside too, with the value of every knob and every figure as it was read.

    A figure has the column of its word; where several instruments read it, each further one has a column with its name.
    """
    knobs = knobs_of(campaign)
    rows = []
    found = campaign.runs.select_related("setting", "variant__workload", "build")
    for run in found.prefetch_related("figures__instrument"):
        row: dict[str, object] = {
            "run": str(run.uid),
            "started_at": run.started_at.isoformat(),
            "workload": harmless(run.variant.name),
            "options": harmless(run.variant.options_in_words),
            "setting": harmless(describe_setting(knobs, run.setting.values)),
        }
        row |= {f"knob_{knob.key}": run.setting.values.get(knob.key, knob.stock) for knob in knobs}
        row |= {"outcome": run.outcome, "value": run.value, "unit": harmless(run.variant.unit)}
        row |= {"duration_s": run.duration_s, "frames": run.frames}
        row |= {kind.word: None for kind in NAMED} | {"power_read_by": None}
        for figure in sorted(run.figures.all(), key=lambda one: one.instrument_id or 0):
            if figure.replaced:
                continue
            name = figure.instrument.name if figure.instrument else ""
            word = figure.key.word
            if row.get(word) is not None:
                row[harmless(f"{word} ({name or 'not said'})")] = figure.value
                continue
            row[word] = figure.value
            if word == "power_w":
                row["power_read_by"] = harmless(name)
        row |= {
            "fan": harmless(run.fan),
            "build": run.build.number,
            "set_aside_reason": harmless(run.set_aside_reason) if run.set_aside_at else None,
            "note": harmless(run.note),
        }
        rows.append(row)
    if not rows:
        return b"run\n"
    names = list(dict.fromkeys(name for row in rows for name in row))
    return (
        pl.DataFrame([{name: row.get(name) for name in names} for row in rows], infer_schema_length=None)
        .write_csv()
        .encode()
    )


# Joiners, marks of direction and the like, which a spreadsheet may leave out.
_UNSEEN = "\u00ad\u200b\u200c\u200d\u200e\u200f\u2060\ufeff"


def harmless(text: str) -> str:
    """Text that a spreadsheet will not take for a formula: an apostrophe goes before a leading = + - or @.

    Blanks and signs that cannot be seen may stand before it, and it may be written in full width.
    """
    seen = text.lstrip().lstrip(_UNSEEN).lstrip()
    first = unicodedata.normalize("NFKC", seen[:1])
    return f"'{text}" if first in ("=", "+", "-", "@") or text[:1] in ("\t", "\r", "\n") else text
