"""Whether a database file of this version holds what its columns are for: types, dates, JSON, and nothing that acts by itself."""

import json
import sqlite3
import uuid
from collections.abc import Callable
from datetime import datetime
from typing import Any

from django.apps import apps
from django.db.models import Field

from trelvo.logbook.earlier_triggers import EARLIER_TRIGGERS

_INTEGER = "typeof({column}) = 'integer'"
_TEXT = "typeof({column}) = 'text'"
# By the field's internal type, what is true of a cell that holds something. Infinity is no number of a measurement.
_FITS: dict[str, str] = {
    **dict.fromkeys(
        ("AutoField", "BigAutoField", "IntegerField", "SmallIntegerField", "ForeignKey", "OneToOneField"), _INTEGER
    ),
    "PositiveIntegerField": f"{_INTEGER} AND {{column}} >= 0",
    "PositiveSmallIntegerField": f"{_INTEGER} AND {{column}} >= 0",
    "FloatField": "typeof({column}) IN ('real', 'integer') AND abs({column}) <= 1.7976931348623157e308",
    "BooleanField": "{column} IN (0, 1)",
    "BinaryField": "typeof({column}) = 'blob'",
    **dict.fromkeys(("CharField", "TextField", "SlugField", "EmailField"), _TEXT),
    "DateTimeField": f"{_TEXT} AND is_moment({{column}})",
    "JSONField": f"{_TEXT} AND is_json({{column}})",
    "UUIDField": f"{_TEXT} AND is_uuid({{column}})",
}


def wrong_cell(base: sqlite3.Connection) -> str:
    """Return, in words, a cell that its column is not for; empty where there is none. base: a file of this version"""
    for name, read in (("is_moment", datetime.fromisoformat), ("is_json", json.loads), ("is_uuid", uuid.UUID)):
        base.create_function(name, 1, _readable(read), deterministic=True)
    for model in apps.get_models(include_auto_created=True):
        table = model._meta.db_table
        for one in model._meta.concrete_fields:
            where = f"NOT ({_condition(one)})"
            if base.execute(f'SELECT 1 FROM "{table}" WHERE {where} LIMIT 1').fetchone():
                return f"{table} holds something in {one.column} that cannot be there"
    return ""


def _condition(field: "Field[Any, Any]") -> str:
    column = f'"{field.column}"'
    # every table that is named by another is numbered
    fits = _FITS[field.get_internal_type()]
    # a comparison with nothing is neither true nor false
    return (
        f"{column} IS NULL OR ({fits.format(column=column)})"
        if field.null
        else f"coalesce({fits.format(column=column)}, 0)"
    )


def _readable(read: Callable[[str], object]) -> Callable[[str], bool]:
    def can_be_read(text: str) -> bool:
        try:
            read(text)
        except (ValueError, TypeError, RecursionError):
            return False
        return True

    return can_be_read


def foreign_object(base: sqlite3.Connection) -> str:
    """Return the name of a view or a trigger that Trelvo did not make, such as one that undoes what is written; else nothing."""
    found = base.execute("SELECT name, type FROM sqlite_master WHERE type IN ('view', 'trigger') ORDER BY name")
    return next((f"{kind} {name}" for name, kind in found if kind == "view" or name not in EARLIER_TRIGGERS), "")
