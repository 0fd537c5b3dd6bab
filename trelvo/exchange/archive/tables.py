"""The tables of an archive, derived from its entries: each fact is declared once.

Nested lists of an entry become tables of their own, with a column that names their parent; dictionaries and lists of plain
values become JSON in a cell.
"""

import types
import typing
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, Union, get_args, get_origin
from uuid import UUID

import orjson
from pydantic import BaseModel

from trelvo.exchange.archive import entries
from trelvo.exchange.archive import kept_setting_entries as keeping


@dataclass(frozen=True)
class Column:
    """kind: as a data package names it; empty: what an empty cell stands for (None, or an empty text)"""

    name: str
    kind: str
    nullable: bool


@dataclass(frozen=True)
class TableSpec:
    """entry: what a row holds; parent: table and column that name where it belongs; ordered: whether its place among its siblings
    is kept; says: in one sentence, for those who read the package
    """

    name: str
    entry: type[BaseModel]
    says: str
    parent: tuple[str, str] | None = None
    ordered: bool = False


TABLES: tuple[TableSpec, ...] = (
    TableSpec("rigs", entries.RigEntry, "Machines that were tuned."),
    TableSpec("builds", entries.BuildEntry, "How a rig was put together at one time.", ("rigs", "rig")),
    TableSpec("parts", entries.PartEntry, "Parts of a build.", ("builds", "build"), ordered=True),
    TableSpec(
        "instruments", entries.InstrumentEntry, "What reads on a rig, and how far it is trusted.", ("rigs", "rig")
    ),
    TableSpec("journal", keeping.JournalFileEntry, "What happened to a rig outside runs.", ("rigs", "rig")),
    TableSpec("workloads", entries.WorkloadEntry, "Workloads with one set of options each."),
    TableSpec("campaigns", entries.CampaignEntry, "One tuning effort on one rig towards one goal.", ("rigs", "rig")),
    TableSpec("knobs", entries.KnobEntry, "What a campaign turns.", ("campaigns", "campaign"), ordered=True),
    TableSpec(
        "safety_limits", entries.SafetyLimitEntry, "Limits that stop a run.", ("campaigns", "campaign"), ordered=True
    ),
    TableSpec("targets", entries.TargetEntry, "Results to be caught.", ("campaigns", "campaign"), ordered=True),
    TableSpec("settings", entries.SettingEntry, "One value for every knob.", ("campaigns", "campaign"), ordered=True),
    TableSpec(
        "runs",
        entries.RunEntry,
        "One workload at one setting, how it ended and what it gave.",
        ("campaigns", "campaign"),
    ),
    TableSpec("figures", entries.FigureEntry, "What else was read in a run.", ("runs", "run"), ordered=True),
    TableSpec("marks", entries.MarkEntry, "What was said or noticed during a run.", ("runs", "run"), ordered=True),
    TableSpec(
        "series",
        entries.SeriesEntry,
        "Logs of a run; each in a Parquet file of its own.",
        ("runs", "run"),
        ordered=True,
    ),
    TableSpec(
        "kept_settings",
        keeping.KeptSettingEntry,
        "Settings kept for use, with what they rest on.",
        ("campaigns", "campaign"),
    ),
    TableSpec(
        "use_spans",
        keeping.SpanEntry,
        "When a rig ran with a kept setting.",
        ("kept_settings", "kept_setting"),
        ordered=True,
    ),
    TableSpec(
        "use_entries",
        keeping.UseEntryEntry,
        "Hours of use, and failures in use.",
        ("kept_settings", "kept_setting"),
        ordered=True,
    ),
    TableSpec("cautions", keeping.CautionFileEntry, "Cautions with the day of their yes.", ("campaigns", "campaign")),
)
BY_NAME = {one.name: one for one in TABLES}
# Lists of an entry that are tables of their own, by the name they have in it.
CHILDREN: dict[str, dict[str, str]] = {
    "rigs": {"builds": "builds", "instruments": "instruments"},
    "builds": {"parts": "parts"},
    "runs": {"figures": "figures", "marks": "marks", "series": "series"},
    "kept_settings": {"spans": "use_spans", "entries": "use_entries"},
}
# A log's bytes are in a file beside the table.
BYTES = "parquet_base64"
ROLES: tuple[Literal["measured", "test_suite", "retired"], ...] = ("measured", "test_suite", "retired")
ORDER = "rank"
FORMULA = ("=", "+", "-", "@")


def columns_of(table: TableSpec) -> list[Column]:
    """A table's columns in their order: its own, then what names its parent, then its place among its siblings."""
    own = [
        Column(name, *_kind(field.annotation))
        for name, field in table.entry.model_fields.items()
        if name not in CHILDREN.get(table.name, {}) and name != BYTES
    ]
    if table.parent:
        own.append(Column(table.parent[1], "string", False))
    if table.ordered:
        own.append(Column(ORDER, "integer", False))
    return own


def _kind(annotation: Any) -> tuple[str, bool]:
    """The data package's word for a type, and whether it may be missing."""
    if get_origin(annotation) in (Union, types.UnionType):
        inner = [one for one in get_args(annotation) if one is not type(None)]
        nullable = len(inner) < len(get_args(annotation))
        return (_kind(inner[0])[0], nullable) if len(inner) == 1 else ("string", nullable)
    origin = get_origin(annotation) or annotation
    if origin is Literal:
        return ("integer" if all(isinstance(one, int) for one in get_args(annotation)) else "string"), False
    if origin in (dict, typing.Mapping) or (isinstance(origin, type) and issubclass(origin, BaseModel)):
        return "object", False
    if origin in (list, tuple, frozenset):
        return "array", False
    for known, word in (
        (bool, "boolean"),
        (int, "integer"),
        (float, "number"),
        (datetime, "datetime"),
        (UUID, "string"),
    ):
        if isinstance(origin, type) and issubclass(origin, known):
            return word, False
    return "string", False


def _plain(value: object) -> object:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    raise TypeError(type(value).__name__)


def cell(value: Any) -> str:
    """A value as it is in a cell: numbers read back exactly, moments carry their zone, what is nested is JSON.

    A text that a spreadsheet would take for a formula has an apostrophe before it, and so has one that begins with an apostrophe.
    """
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, int | float):
        return repr(value)
    if isinstance(value, datetime):
        return value.isoformat()
    if isinstance(value, BaseModel):
        return cell(value.model_dump(mode="json"))
    if isinstance(value, dict | list):
        return orjson.dumps(value, default=_plain, option=orjson.OPT_SORT_KEYS).decode()
    text = str(value)
    return f"'{text}" if text.lstrip().startswith(FORMULA) or text.startswith(("'", "\t", "\r", "\n")) else text


def value_of(text: str, column: Column) -> Any:
    """A cell as an entry takes it; what cannot be read stays a text, for the entry's own check to name."""
    if text == "":
        return None if column.nullable or column.kind not in ("string", "object", "array") else ""
    if column.kind in ("object", "array"):
        try:
            return orjson.loads(text)
        except orjson.JSONDecodeError:
            return text
    if column.kind in ("integer", "number"):
        try:
            return int(text) if column.kind == "integer" else float(text)
        except ValueError:
            return text
    return text[1:] if column.kind == "string" and text.startswith("'") else text


Row = dict[str, Any]
Rows = dict[str, list[Row]]


def flatten(table: str, entry: BaseModel, parent: str | None, rows: Rows, place: int = 0) -> None:
    """An entry, and all that is nested in it, into the rows of their tables."""
    spec, children = BY_NAME[table], CHILDREN.get(table, {})
    row: Row = {
        name: getattr(entry, name) for name in spec.entry.model_fields if name not in children and name != BYTES
    }
    if spec.parent:
        row[spec.parent[1]] = parent
    if spec.ordered:
        row[ORDER] = place
    rows.setdefault(table, []).append(row)
    for name, child in children.items():
        for number, one in enumerate(getattr(entry, name)):
            flatten(child, one, str(row["uid"]), rows, number)


def nest(table: str, rows: Mapping[str, Sequence[Row]], parent: str | None = None) -> list[Row]:
    """The entries of a table, with what is nested in them, as an entry takes them."""
    return _nested(table, _grouped(rows), parent)


Grouped = Mapping[str, Mapping[str | None, Sequence[Row]]]


def _grouped(rows: Mapping[str, Sequence[Row]]) -> Grouped:
    found: dict[str, dict[str | None, list[Row]]] = {}
    for spec in TABLES:
        of: dict[str | None, list[Row]] = {}
        for row in rows.get(spec.name, ()):
            of.setdefault(str(row[spec.parent[1]]) if spec.parent else None, []).append(row)
        found[spec.name] = of
    return found


def _nested(table: str, groups: Grouped, parent: str | None) -> list[Row]:
    spec = BY_NAME[table]
    found = []
    some = groups[table].get(parent, ())
    for row in sorted(some, key=lambda one: int(one[ORDER])) if spec.ordered else some:
        entry = {name: value for name, value in row.items() if name in spec.entry.model_fields}
        if table == "series":
            entry[BYTES] = row[BYTES]
        for name, child in CHILDREN.get(table, {}).items():
            entry[name] = _nested(child, groups, str(row["uid"]))
        found.append(entry)
    return found
