"""Rows of several models in one question: each kind as a list of its own, packed by the database and unpacked here."""

import json
import uuid
from datetime import UTC, datetime
from typing import Any

from django.db import connection, models
from django.db.models import QuerySet


def read_together(**wanted: "QuerySet[Any]") -> dict[str, list[Any]]:
    """The rows of each queryset, as it would give them, its annotations too; but all of them in one question.

    Nothing that a row points to is read: what belongs together is put together by who asks. Slicing and joins of other
    models' columns are not for here.
    """
    packed: list[str] = []
    params: list[Any] = []
    for rows in wanted.values():
        fields = _columns(rows)
        sql, given = rows.values_list(*fields).query.sql_with_params()
        columns = ", ".join(_packed(name, field) for name, field in fields.items())
        packed.append(f"(SELECT json_group_array(json_array({columns})) FROM ({sql}))")
        params += given
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {', '.join(packed)}", params)
        answers = cursor.fetchone()
    return {
        name: [_made(rows, values) for values in json.loads(answer)]
        for (name, rows), answer in zip(wanted.items(), answers, strict=True)
    }


def _columns(rows: "QuerySet[Any]") -> dict[str, "models.Field[Any, Any]"]:
    own = {field.attname: field for field in rows.model._meta.concrete_fields}
    return own | {name: one.output_field for name, one in rows.query.annotations.items()}


def _packed(name: str, field: "models.Field[Any, Any]") -> str:
    column = connection.ops.quote_name(name)
    if isinstance(field, models.FloatField):
        # a number inside JSON would lose its last two digits
        return f"iif({column} IS NULL, NULL, printf('%%!.17g', {column}))"
    return column


def _made(rows: "QuerySet[Any]", values: list[Any]) -> Any:
    fields = _columns(rows)
    read = {name: _value(field, one) for (name, field), one in zip(fields.items(), values, strict=True)}
    own = [field.attname for field in rows.model._meta.concrete_fields]
    made = rows.model.from_db(rows.db, own, [read[name] for name in own])
    for name in rows.query.annotations:
        setattr(made, name, read[name])
    return made


def _value(field: "models.Field[Any, Any]", value: Any) -> Any:
    if value is None:
        return None
    if isinstance(field, models.DateTimeField):
        return datetime.fromisoformat(value).replace(tzinfo=UTC)
    if isinstance(field, models.JSONField):
        return json.loads(value)
    if isinstance(field, models.UUIDField):
        return uuid.UUID(value)
    if isinstance(field, models.FloatField):
        return float(value)
    if isinstance(field, models.BooleanField):
        return bool(value)
    return value
