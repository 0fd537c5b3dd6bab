"""What all bodies have in common: no yes or no where a number belongs, no text that nobody can read."""

from typing import Any

import ninja
from pydantic import model_validator

from trelvo.core.base.texts import unreadable


class Schema(ninja.Schema):
    """A body or an answer. What comes in is checked before its own fields are."""

    @model_validator(mode="wrap")
    @classmethod
    def _readable(cls, values: Any, handler: Any, info: Any) -> Any:
        if isinstance(values, dict):
            for name, value in values.items():
                field = cls.model_fields.get(name) if isinstance(name, str) else None
                if field is not None:
                    _check(name, value, admits_bool="bool" in str(field.annotation) or field.annotation is Any)
        return handler(values)


def _check(name: str, value: Any, *, admits_bool: bool) -> None:
    if isinstance(value, bool):
        if not admits_bool:
            raise ValueError(f"{name}: yes or no stands where something else belongs")
    elif isinstance(value, str):
        if trouble := unreadable(value):
            raise ValueError(f"{name}: {trouble}")
    elif isinstance(value, list):
        for one in value:
            if isinstance(one, bool | str):
                _check(name, one, admits_bool=admits_bool)
    elif isinstance(value, dict):
        for key, one in value.items():
            if isinstance(key, str) and (trouble := unreadable(key)):
                raise ValueError(f"{name}: {trouble}")
            if isinstance(one, bool | str):
                _check(name, one, admits_bool=admits_bool)
