"""Read an archive within bounds of size, and check it in full."""

import base64
import csv
import io
import re
import zipfile
import zlib
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import IO, Any
from uuid import UUID

import orjson
from pydantic import ValidationError

from trelvo.core.problems import Problem, Refused
from trelvo.exchange.archive import earlier_terms
from trelvo.exchange.archive.checks import check_document
from trelvo.exchange.archive.entries import CampaignDocument, RigEntry
from trelvo.exchange.archive.json_file import from_json
from trelvo.exchange.archive.kept_setting_entries import JournalFileEntry
from trelvo.exchange.archive.tables import BYTES, ORDER, TABLES, Column, Row, columns_of, nest, value_of
from trelvo.exchange.archive.write import FORMAT, LINKS, VERSION
from trelvo.exchange.field_problems import field_problem
from trelvo.exchange.limits import MOST_CELL

# What a package may hold: files, and bytes once unpacked. A packed bomb stops here.
MOST_FILES, MOST_BYTES, MOST_TABLE_BYTES = 50_000, 2 * 1024**3, 512 * 1024**2
# Held in memory at once: cells of all tables together (a hundred thousand runs with eight figures each have ten million), and
# bytes of logs.
MOST_CELLS, MOST_LOG_BYTES = 12_000_000, 512 * 1024**2
# A line may hold two cells of the greatest length.
MOST_LINE = 2 * MOST_CELL
MOST_PROBLEMS = 20
_NAMES = re.compile(r"datapackage\.json|data/[a-z_]{1,40}\.csv|series/[0-9a-f-]{36}\.parquet")


@dataclass(frozen=True)
class Archive:
    """An archive that has been read and is consistent in itself."""

    documents: list[CampaignDocument]
    parquet: list[dict[UUID, bytes]]
    rigs: list[RigEntry]
    journal: dict[UUID, list[JournalFileEntry]]


def read_archive(file: IO[bytes], now: datetime) -> Archive:
    """Read an archive, or a campaign file of an earlier Trelvo, and check all of it.

    Raises Refused with the place of what is wrong.
    """
    begin = file.read(64)
    file.seek(0)
    if begin.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"{"):
        document = from_json(file.read())
        return Archive([document], [check_document(document, now)], [], {})
    return _from_zip(file, now)


def _from_zip(file: IO[bytes], now: datetime) -> Archive:
    try:
        package = zipfile.ZipFile(file)
    except zipfile.BadZipFile as trouble:
        raise Refused(Problem("file", "not_a_zip_file")) from trouble
    with package:
        _bounds(package)
        version = _version(package)
        room = _Room()
        tables = {spec.name: _table(package, version, spec.name, columns_of(spec), room) for spec in TABLES}
        links = _table(package, version, "campaign_workloads", LINKS, room)
        for name, rows in tables.items():
            _check_uids(name, rows)
        for row in tables["series"]:
            row[BYTES] = _series(package, str(row["uid"]), room)
    rigs = {str(row["uid"]): row for row in nest("rigs", tables)}
    documents, problems = [], []
    for row in tables["campaigns"]:
        uid = str(row["uid"])
        try:
            documents.append(CampaignDocument.model_validate(_document(row, rigs, tables, links)))
        except ValidationError as trouble:
            problems += [
                field_problem(one, f"campaigns.{uid}.{'.'.join(str(word) for word in one['loc'])}")
                for one in trouble.errors()[:MOST_PROBLEMS]
            ]
    if problems:
        raise Refused(*problems[:MOST_PROBLEMS])
    lone = {uid: row for uid, row in rigs.items() if uid not in {str(document.rig.uid) for document in documents}}
    journal = {UUID(uid): _journal(uid, tables) for uid in lone}
    parquet = [check_document(document, now) for document in documents]
    return Archive(documents, parquet, [_entry(RigEntry, row, "rigs") for row in lone.values()], journal)


class _Room:
    """What a package may still take of the memory, counted while it is read."""

    def __init__(self) -> None:
        self.cells, self.log_bytes = MOST_CELLS, MOST_LOG_BYTES

    def take_cells(self, count: int, path: str) -> None:
        self.cells -= count
        if self.cells < 0:
            raise Refused(Problem(path, "archive_too_many_cells", {"most": MOST_CELLS}))

    def take_log(self, size: int) -> None:
        self.log_bytes -= size
        if self.log_bytes < 0:
            raise Refused(Problem("data/series.csv", "archive_logs_too_large", {"most_mib": MOST_LOG_BYTES // 1024**2}))


def _bounds(package: zipfile.ZipFile) -> None:
    files = package.infolist()
    if len(files) > MOST_FILES:
        raise Refused(Problem("file", "archive_too_many_files", {"count": len(files), "most": MOST_FILES}))
    for file in files:
        if not _NAMES.fullmatch(file.filename):
            raise Refused(Problem("file", "foreign_file", {"file": file.filename[:80]}))
    if sum(file.file_size for file in files) > MOST_BYTES or any(
        file.file_size > MOST_TABLE_BYTES for file in files if not file.filename.startswith("series/")
    ):
        raise Refused(Problem("file", "archive_too_large"))


def _read(package: zipfile.ZipFile, name: str, most: int = MOST_TABLE_BYTES) -> bytes:
    """A file of the package, never more of it than its bound, whatever its header says."""
    try:
        with package.open(name) as file:
            content = file.read(most + 1)
    except KeyError as trouble:
        raise Refused(Problem("file", "member_missing", {"file": name})) from trouble
    except (zipfile.BadZipFile, OSError, EOFError, NotImplementedError, RuntimeError) as trouble:
        raise Refused(Problem("file", "member_unpackable", {"file": name, "reason": trouble})) from trouble
    if len(content) > most:
        raise Refused(Problem("file", "archive_member_too_large", {"file": name, "most": most}))
    return content


def _version(package: zipfile.ZipFile) -> int:
    """The version of the archive. Raises Refused where it is none, or one that is not known here."""
    try:
        described = orjson.loads(_read(package, "datapackage.json", 4 * 1024**2))
    except orjson.JSONDecodeError as trouble:
        raise Refused(Problem("datapackage.json", "member_not_json", {"reason": trouble})) from trouble
    own = described.get("trelvo") if isinstance(described, dict) else None
    if not isinstance(own, dict) or own.get("format") != FORMAT:
        raise Refused(Problem("datapackage.json", "not_an_archive"))
    version = own.get("version")
    if not isinstance(version, int) or not 1 <= version <= VERSION:
        raise Refused(Problem("datapackage.json", "archive_of_other_version", {"found": version, "known": VERSION}))
    return version


def _table(package: zipfile.ZipFile, version: int, name: str, columns: Sequence[Column], room: _Room) -> list[Row]:
    first = version == 1
    path = f"data/{earlier_terms.TABLES.get(name, name) if first else name}.csv"
    renamed = earlier_terms.COLUMNS if first else {}
    try:
        with package.open(path) as file, io.TextIOWrapper(file, "utf-8-sig", newline="") as text:
            rows = _rows(csv.reader(_lines(text, path)), path, columns, room, renamed)
    except KeyError as trouble:
        raise Refused(Problem("file", "member_missing", {"file": path})) from trouble
    except UnicodeDecodeError as trouble:
        raise Refused(Problem(path, "not_utf8")) from trouble
    except csv.Error as trouble:
        raise Refused(Problem(path, "table_unreadable", {"reason": trouble, "most": MOST_CELL})) from trouble
    except (zipfile.BadZipFile, zlib.error, OSError, EOFError, NotImplementedError, RuntimeError) as trouble:
        raise Refused(Problem("file", "member_unpackable", {"file": path, "reason": trouble})) from trouble
    for number, row in enumerate(rows, start=2):
        if ORDER in row and not re.fullmatch(r"\d{1,9}", str(row[ORDER])):
            raise Refused(Problem(path, "not_a_rank", {"line": number, "found": str(row[ORDER])[:40]}))
    for column, today in earlier_terms.CELLS.get(name, {}).items() if first else ():
        for row in rows:
            row[column] = today(row[column])
    return rows


def _check_uids(name: str, rows: Sequence[Row]) -> None:
    """Refuses a table with a uid that is none, or that two rows have."""
    seen: set[UUID] = set()
    for number, row in enumerate(rows, start=2):
        if "uid" not in row:
            return
        try:
            uid = UUID(str(row["uid"]))
        except ValueError:
            raise Refused(
                Problem(f"data/{name}.csv", "not_a_uid", {"line": number, "found": str(row["uid"])[:40]})
            ) from None
        if uid in seen:
            raise Refused(Problem(f"data/{name}.csv", "line_twice", {"line": number, "uid": uid}))
        seen.add(uid)


def _lines(text: IO[str], path: str) -> Iterator[str]:
    """The lines of a table, none of them longer than its bound."""
    while line := text.readline(MOST_LINE + 1):
        if len(line) > MOST_LINE:
            raise Refused(Problem(path, "line_too_long", {"most": MOST_LINE}))
        yield line


def _rows(
    reader: Iterator[list[str]], path: str, columns: Sequence[Column], room: _Room, renamed: Mapping[str, str]
) -> list[Row]:
    """The rows of a table, read line by line. renamed: columns that have another name today"""
    headers = [renamed.get(name, name) for name in next(reader, [])]
    wanted = [column.name for column in columns]
    if sorted(headers) != sorted(wanted):
        lacks = ", ".join(sorted(set(wanted) - set(headers))) or "none"
        more = ", ".join(sorted(set(headers) - set(wanted)))[:200] or "none"
        raise Refused(Problem(path, "columns_differ", {"missing": lacks, "unknown": more}))
    by_name = {column.name: column for column in columns}
    rows = []
    for number, cells in enumerate(reader, start=2):
        if not cells:
            continue
        if len(cells) != len(headers):
            raise Refused(Problem(path, "cells_missing", {"line": number, "cells": len(cells), "wanted": len(headers)}))
        room.take_cells(len(cells), path)
        rows.append({name: value_of(one, by_name[name]) for name, one in zip(headers, cells, strict=True)})
    return rows


def _series(package: zipfile.ZipFile, uid: str, room: _Room) -> str:
    if not re.fullmatch(r"[0-9a-f-]{36}", uid):
        raise Refused(Problem("data/series.csv", "not_an_identity", {"found": uid[:40]}))
    content = _read(package, f"series/{uid}.parquet")
    room.take_log(len(content))
    return base64.b64encode(content).decode()


def _document(row: Row, rigs: dict[str, Row], tables: dict[str, list[Row]], links: Sequence[Row]) -> dict[str, Any]:
    """Gather the rows of one campaign into its document."""
    uid, rig_uid = str(row["uid"]), str(row["rig"])
    if rig_uid not in rigs:
        raise Refused(Problem("data/campaigns.csv", "rig_not_in_archive", {"campaign": row.get("name")}))
    used = sorted((link for link in links if str(link["campaign"]) == uid), key=lambda one: int(one[ORDER]))
    known = {str(one["uid"]): one for one in nest("workloads", tables)}
    missing = [one for one in used if str(one["workload"]) not in known]
    if missing:
        raise Refused(Problem("data/campaign_workloads.csv", "workload_not_in_archive"))
    by_role: dict[str, list[str]] = defaultdict(list)
    for one in used:
        by_role[str(one["role"])].append(str(one["workload"]))
    parts = {
        table: nest(table, tables, uid)
        for table in ("knobs", "safety_limits", "targets", "settings", "runs", "kept_settings", "cautions")
    }
    return {
        "rig": rigs[rig_uid], "campaign": {name: value for name, value in row.items() if name != "rig"},
        "workloads": [known[str(one["workload"])] for one in used], "test_suite": by_role["test_suite"],
        "retired": by_role["retired"], "journal": nest("journal", tables, rig_uid), **parts,
    }  # fmt: skip


def _journal(rig_uid: str, tables: dict[str, list[Row]]) -> list[JournalFileEntry]:
    return [_entry(JournalFileEntry, row, "journal") for row in nest("journal", tables, rig_uid)]


def _entry(kind: Any, row: Row, table: str) -> Any:
    try:
        return kind.model_validate(row)
    except ValidationError as trouble:
        first = trouble.errors()[0]
        wrong = field_problem(first, ".".join(str(word) for word in first["loc"]))
        raise Refused(wrong.within(f"data/{table}.csv")) from trouble
