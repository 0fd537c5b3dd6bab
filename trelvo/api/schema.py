"""What all bodies have in common: no unknown field, no yes or no where a number belongs, no text that nobody can read."""

import re
from functools import cache
from typing import Any

import ninja
from pydantic import ValidationError, model_validator
from pydantic_core import InitErrorDetails, PydanticCustomError

from trelvo.core.base.texts import unreadable

# Fields that hold nothing but texts and numbers, alone, in lists or by name.
PLAIN = re.compile(
    r"^(typing\.Optional\[|<class '(int|float|str)'>|list\[(int|float|str)|dict\[str, (int|float|str)|(int|float|str)\b)"
)


class Schema(ninja.Schema):
    """A body or an answer. What comes in is checked before its own fields are."""

    @model_validator(mode="wrap")
    @classmethod
    def _readable(cls, values: Any, handler: Any, info: Any) -> Any:
        if isinstance(values, dict):
            wrong, admits = _unknown(cls, values, info.context), _admits_bool(cls)
            for name, value in values.items():
                if name in admits and (trouble := _trouble(value, admits_bool=admits[name])):
                    kind = PydanticCustomError("unreadable", "{trouble}", {"trouble": trouble})
                    wrong.append(InitErrorDetails(type=kind, loc=(name,), input=value))
            if wrong:
                raise ValidationError.from_exception_data(cls.__name__, wrong)
        return handler(values)


def _unknown(of: type[Schema], values: dict[Any, Any], context: Any) -> list[InitErrorDetails]:
    """Fields of a body that it does not have: who sends one means something by it, and would never learn that it was ignored.

    Answers are made of whatever has the fields that they show.
    """
    if not isinstance(context, dict) or "request" not in context or "response_status" in context:
        return []
    known = {name for field, info in of.model_fields.items() for name in (field, info.alias) if name}
    return [
        InitErrorDetails(type="extra_forbidden", loc=(str(name),), input=value)
        for name, value in values.items()
        if name not in known
    ]


@cache
def _admits_bool(of: type[Schema]) -> dict[str, bool]:
    """By field, whether yes or no may are in it; what is nested in a body of its own is that body's to check."""
    words = {name: str(field.annotation) for name, field in of.model_fields.items()}
    return {name: PLAIN.search(one) is None or "bool" in one for name, one in words.items()}


def _trouble(value: Any, *, admits_bool: bool) -> str | None:
    """Why a value cannot be, in words; None where it can. Lists and dictionaries are looked through once."""
    if isinstance(value, bool):
        return None if admits_bool else "Yes or no stands where something else belongs"
    if isinstance(value, str):
        trouble = unreadable(value)
        return trouble[0].upper() + trouble[1:] if trouble else None
    inner: list[Any] = value if isinstance(value, list) else []
    if isinstance(value, dict):
        inner = [one for pair in value.items() for one in pair]
    found = (_trouble(one, admits_bool=admits_bool) for one in inner if isinstance(one, bool | str))
    return next((trouble for trouble in found if trouble), None)
