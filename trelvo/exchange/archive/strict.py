"""Entries of a file: every field is known and of its kind, every text can be shown, every moment can be."""

from datetime import datetime
from typing import Any, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, ValidationError, model_validator

from trelvo.core.base.texts import unreadable
from trelvo.exchange.field_problems import field_problem
from trelvo.messages.problems import problem_text


class Strict(BaseModel):
    """Unknown fields are refused: a file with them comes from another version, and dropping them would lose data.

    Refused too, with the place: texts that nobody can read or that no form would take, moments outside the years of machines, and
    numbers that nothing can measure
    """

    model_config = ConfigDict(extra="forbid", from_attributes=True, allow_inf_nan=False)

    @model_validator(mode="after")
    def _can_be_shown(self) -> Self:
        for name in type(self).model_fields:
            if trouble := _trouble(getattr(self, name), 0, bounded=name not in UNBOUNDED_TEXTS):
                raise ValueError(f"{name}: {trouble}")
        return self


# A log in letters; everything else is text for people.
UNBOUNDED_TEXTS = frozenset({"parquet_base64"})
LONGEST_TEXT, DEEPEST = 20_000, 12
YEARS = (1970, 2200)
# Beyond it squares and products of a few numbers overflow.
MOST_NUMBER = 1e15


def _trouble(value: Any, depth: int, *, bounded: bool) -> str | None:
    """Why a value cannot be shown, None where it can; what is nested is looked through."""
    if isinstance(value, str):
        if not bounded:
            return None
        return f"more than {LONGEST_TEXT} characters" if len(value) > LONGEST_TEXT else unreadable(value)
    if isinstance(value, float):
        return None if abs(value) <= MOST_NUMBER else f"{value:g} is more than anything that is measured"
    if isinstance(value, datetime):
        return None if YEARS[0] <= value.year <= YEARS[1] else f"the year {value.year} cannot be"
    if depth > DEEPEST:
        return "it is nested too deep"
    if isinstance(value, dict):
        inner = [one for pair in value.items() for one in pair]
    elif isinstance(value, list):
        # entries of their own have been looked at already
        inner = [one for one in value if not isinstance(one, BaseModel)]
    else:
        return None
    return next((trouble for one in inner if (trouble := _trouble(one, depth + 1, bounded=True))), None)


def shaped(shape: type[BaseModel]) -> AfterValidator:
    """Check a dictionary, or each of a list of them, against a shape; the value itself stays as it was written."""

    def check(value: Any) -> Any:
        for number, entry in enumerate(value if isinstance(value, list) else [value], 1):
            try:
                shape.model_validate(entry)
            except ValidationError as trouble:
                first = trouble.errors()[0]
                wrong = field_problem(first, ".".join(str(word) for word in first["loc"]))
                place = f"Entry {number}, {wrong.where}" if isinstance(value, list) else wrong.where
                raise ValueError(f"{place}: {problem_text(wrong).what}") from None
        return value

    return AfterValidator(check)
