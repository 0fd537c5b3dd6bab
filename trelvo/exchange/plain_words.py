"""What is wrong with a field of a body or a file, in plain words: the checker's own are for those who write programs."""

from collections.abc import Mapping
from typing import Any

from trelvo.core.base.problems import Problem

MOST_SHOWN = 60
_NUMBER = ("{shown} is no number.", "Write a number.")
_TEXT = ("{shown} is no text.", "Write a text.")
_YES_OR_NO = ("{shown} is neither yes nor no.", "Write true or false.")
_MOMENT = ("{shown} is no date with a time.", "Write it like 2026-03-01T20:15:00+01:00.")
_LIST = ("This is no list.", "Write a list.")
_NAMED = ("These are no named values.", "Write names, each with its value.")
# What the checker calls it, what it means, and what to do.
KINDS = {
    "missing": ("This is missing.", "Please fill this in."),
    "extra_forbidden": ("There is no field of this name.", "Leave it out."),
    "string_too_short": ("This has fewer than {min_length} characters.", "Please fill this in."),
    "string_too_long": ("This is longer than {max_length} characters.", "Shorten it."),
    "string_pattern_mismatch": ("{shown} is not written as it should be.", "Correct it."),
    "too_long": ("These are {actual_length}; at most {max_length} can be taken.", "Leave some out."),
    "too_short": ("These are {actual_length}; at least {min_length} are needed.", "Add what is missing."),
    "greater_than": ("{shown} is too little: it must be more than {gt}.", "Write a larger number."),
    "greater_than_equal": ("{shown} is too little: the least is {ge}.", "Write a larger number."),
    "less_than": ("{shown} is too much: it must be less than {lt}.", "Write a smaller number."),
    "less_than_equal": ("{shown} is too much: the most is {le}.", "Write a smaller number."),
    "finite_number": ("This is no number that can be counted with.", "Write a number."),
    "int_from_float": ("{shown} is no whole number.", "Write a whole number."),
    "literal_error": ("{shown} is not one of the choices.", "Choose {expected}."),
    "enum": ("{shown} is not one of the choices.", "Choose {expected}."),
    **dict.fromkeys(("float_type", "float_parsing", "int_type", "int_parsing", "int_parsing_size"), _NUMBER),
    **dict.fromkeys(("string_type", "string_unicode"), _TEXT),
    **dict.fromkeys(("bool_type", "bool_parsing"), _YES_OR_NO),
    **dict.fromkeys(
        ("datetime_type", "datetime_parsing", "datetime_from_date_parsing", "timezone_aware", "date_type"), _MOMENT
    ),
    **dict.fromkeys(("list_type", "tuple_type", "set_type"), _LIST),
    **dict.fromkeys(("dict_type", "model_type", "model_attributes_type", "mapping_type"), _NAMED),
    "json_invalid": ("The body is no JSON.", "Send it again, as JSON."),
}


def plain_problem(error: Mapping[str, Any], where: str) -> Problem:
    """One of pydantic's errors (type, msg, input, ctx) as a problem; what is not known here keeps the checker's own words."""
    kind = KINDS.get(str(error.get("type")))
    if kind is None:
        own = str(error.get("msg", "This cannot be read")).removeprefix("Value error, ").rstrip(".")
        return Problem(where, f"{own}.", "Correct this field.")
    if error.get("type") == "string_too_short" and error.get("ctx", {}).get("min_length") == 1:
        kind = ("This is empty.", "Please fill this in.")
    if "input" in error and error["input"] is None and kind[0].startswith("{shown}"):
        kind = ("Nothing stands here.", kind[1])
    words = {"shown": _shown(error["input"]) if "input" in error else "This"} | {
        name: _number(value) for name, value in error.get("ctx", {}).items()
    }
    return Problem(where, kind[0].format_map(_Left(words)), kind[1].format_map(_Left(words)))


class _Left(dict[str, str]):
    """Words for a sentence; what is not known is left out of it."""

    def __missing__(self, key: str) -> str:
        return ""


def _number(value: Any) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)


def _shown(value: Any) -> str:
    """As it stands there, texts in marks, long ones cut."""
    text = " ".join(str(value).split())
    text = text if len(text) <= MOST_SHOWN else text[: MOST_SHOWN - 1] + "…"
    return text if isinstance(value, int | float) else f"“{text}”"
