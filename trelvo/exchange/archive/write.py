"""Write an archive: a data package in a zip, with datapackage.json, CSV tables and a Parquet file for each log."""

import base64
import csv
import gc
import zipfile
from collections.abc import Iterable, Sequence
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import IO, Any

import orjson

import trelvo
from trelvo.core.compare.sides import REFERENCE, Side
from trelvo.core.goal.comparison import compared
from trelvo.core.goal.service import best_settings
from trelvo.exchange.archive.document import campaign_document, rig_entry
from trelvo.exchange.archive.entries import CampaignDocument
from trelvo.exchange.archive.kept_setting_entries import journal_in
from trelvo.exchange.archive.tables import ORDER, ROLES, TABLES, Column, Row, Rows, cell, columns_of, flatten
from trelvo.logbook.cases import case_alone
from trelvo.logbook.models import Campaign, Rig

FORMAT, VERSION = "trelvo-package", 2
# Which workloads a campaign measures, proves with besides, and has retired.
LINKS = [
    Column("campaign", "string", False), Column("workload", "string", False), Column("role", "string", False),
    Column(ORDER, "integer", False),
]  # fmt: skip
# What Trelvo concludes of the best settings; told for those who read, and computed again by who imports.
VERDICTS = [
    Column("campaign", "string", False), Column("setting", "string", False), Column("workload", "string", True),
    Column("ratio", "number", False), Column("low", "number", True), Column("high", "number", True),
    Column("verdict", "string", True), Column("reason", "string", True),
]  # fmt: skip


def write_archive(campaigns: Sequence[Campaign], into: IO[bytes], now: datetime, *, whole: bool) -> None:
    """The campaigns with everything they rest on, one after the other. whole: the rigs without a campaign too"""
    seen: set[str] = set()
    with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED) as package, TemporaryDirectory() as folder:
        tables = _Tables(Path(folder))
        for campaign in campaigns:
            rows: Rows = {}
            document = campaign_document(campaign)
            _rig(document.rig, campaign.rig, rows, seen)
            uid = str(document.campaign.uid)
            flatten("campaigns", document.campaign, str(document.rig.uid), rows)
            for table in ("knobs", "safety_limits", "targets", "settings", "runs", "kept_settings", "cautions"):
                for place, entry in enumerate(getattr(document, table)):
                    flatten(table, entry, uid, rows, place)
            rows["campaign_workloads"] = _links(document, rows, seen)
            rows["verdicts"] = _verdicts(campaign, now)
            tables.write(rows)
            for run in document.runs:
                for series in run.series:
                    # compressed already
                    info = zipfile.ZipInfo(f"series/{series.uid}.parquet", now.timetuple()[:6])
                    package.writestr(info, base64.b64decode(series.parquet_base64))
            # rows and what they belong to name each other: such circles stay until they are looked for
            del document, rows
            gc.collect()
        if whole:
            for rig in Rig.objects.order_by("id"):
                alone: Rows = {}
                _rig(rig_entry(rig), rig, alone, seen)
                tables.write(alone)
        tables.into(package)
        package.writestr("datapackage.json", orjson.dumps(description(now), option=orjson.OPT_INDENT_2))


class _Tables:
    """The package's tables as files in a folder, which grow by what each campaign adds: a logbook need not fit into memory."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._columns = {spec.name: columns_of(spec) for spec in TABLES}
        self._columns |= {"campaign_workloads": LINKS, "verdicts": VERDICTS}
        for name, columns in self._columns.items():
            self._append(name, [[column.name for column in columns]])

    def write(self, rows: Rows) -> None:
        for name, some in rows.items():
            columns = self._columns[name]
            self._append(name, ([cell(row[column.name]) for column in columns] for row in some))

    def into(self, package: zipfile.ZipFile) -> None:
        for name in self._columns:
            package.write(self._folder / name, f"data/{name}.csv")

    def _append(self, name: str, lines: Iterable[Sequence[str]]) -> None:
        with (self._folder / name).open("a", encoding="utf-8", newline="") as file:
            # as RFC 4180 has it; and so a lone carriage return in a note is quoted, too
            csv.writer(file, lineterminator="\r\n").writerows(lines)


def _rig(entry: Any, rig: Rig, rows: Rows, seen: set[str]) -> None:
    if str(entry.uid) in seen:
        return
    seen.add(str(entry.uid))
    flatten("rigs", entry, None, rows)
    for written in journal_in(rig):
        flatten("journal", written, str(entry.uid), rows)


def _links(document: CampaignDocument, rows: Rows, seen: set[str]) -> list[Row]:
    roles = dict.fromkeys(document.test_suite, "test_suite") | dict.fromkeys(document.retired, "retired")
    found = []
    for place, workload in enumerate(document.workloads):
        if str(workload.uid) not in seen:
            seen.add(str(workload.uid))
            flatten("workloads", workload, None, rows)
        role = roles.get(workload.uid, ROLES[0])
        found.append({"campaign": document.campaign.uid, "workload": workload.uid, "role": role, ORDER: place})
    return found


def _verdicts(campaign: Campaign, now: datetime) -> list[Row]:
    case = case_alone(campaign)
    judged = case.campaign.judged_build
    settings = best_settings(case)
    if not settings:
        return []
    sides = [Side(k, case, one, judged) for k, one in enumerate(settings, start=1)]
    versus = compared(Side(REFERENCE, case, case.campaign.stock, judged), sides, now, correct=True).versus
    found: list[Row] = []
    for setting, candidate in zip(settings, versus.candidates, strict=True):
        column = candidate.column
        told = [("", column.overall, column.overall_verdict)]
        told += [
            (str(workload.uid), one.comparison, one.verdict)
            for workload, one in zip(case.campaign.workloads, column.cells, strict=True)
        ]
        for workload_uid, comparison, verdict in told:
            if comparison is not None:
                found.append(
                    {
                        "campaign": campaign.uid, "setting": setting.uid, "workload": workload_uid or None,
                        "ratio": comparison.ratio, "low": comparison.low, "high": comparison.high,
                        "verdict": verdict.word if verdict else None, "reason": verdict.reason.code if verdict else None,
                    }
                )  # fmt: skip
    return found


def description(now: datetime) -> dict[str, Any]:
    """datapackage.json: every table with its columns, keys and references."""
    resources = [_resource(spec.name, spec.says, columns_of(spec), spec.parent) for spec in TABLES]
    resources.append(
        _resource(
            "campaign_workloads", "Which workloads a campaign uses, and for what.", LINKS, ("campaigns", "campaign")
        )
    )
    resources.append(
        _resource(
            "verdicts", "What Trelvo says of the best settings against stock.", VERDICTS, ("campaigns", "campaign")
        )
    )
    return {
        "profile": "data-package",
        "name": "trelvo-logbook",
        "title": "A Trelvo logbook",
        "created": now.isoformat(),
        "trelvo": {"format": FORMAT, "version": VERSION, "written_by": trelvo.__version__},
        "resources": resources,
    }


def _resource(name: str, says: str, columns: Sequence[Column], parent: tuple[str, str] | None) -> dict[str, Any]:
    fields = [
        {"name": column.name, "type": column.kind, **({"format": "any"} if column.kind == "datetime" else {})}
        for column in columns
    ]
    schema: dict[str, Any] = {"fields": fields, "missingValues": [""]}
    if any(column.name == "uid" for column in columns):
        schema["primaryKey"] = ["uid"]
    if parent:
        reference = {"resource": parent[0].replace("_", "-"), "fields": ["uid"]}
        schema["foreignKeys"] = [{"fields": [parent[1]], "reference": reference}]
    return {
        "name": name.replace("_", "-"), "path": f"data/{name}.csv", "profile": "tabular-data-resource", "description": says,
        "encoding": "utf-8", "schema": schema,
    }  # fmt: skip
