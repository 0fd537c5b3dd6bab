"""What is wrong with a field of a body or a file: pydantic's errors as problems of our own."""

from collections.abc import Mapping
from typing import Any

from trelvo.core.problems import Problem

MOST_SHOWN = 60
# What the checker calls it, and what it is called here.
CODES: Mapping[str, str] = {
    "missing": "field_missing",
    "extra_forbidden": "field_unknown",
    "string_too_short": "text_too_short",
    "string_too_long": "text_too_long_for_field",
    "string_pattern_mismatch": "text_malformed",
    "too_long": "list_too_long",
    "too_short": "list_too_short",
    "greater_than": "number_not_above",
    "greater_than_equal": "number_below",
    "less_than": "number_not_below",
    "less_than_equal": "number_above",
    "finite_number": "number_not_finite",
    "int_from_float": "not_a_whole_number",
    "literal_error": "not_a_choice",
    "enum": "not_a_choice",
    **dict.fromkeys(
        ("float_type", "float_parsing", "int_type", "int_parsing", "int_parsing_size"), "field_not_a_number"
    ),
    **dict.fromkeys(("string_type", "string_unicode"), "field_not_a_text"),
    **dict.fromkeys(("bool_type", "bool_parsing"), "neither_yes_nor_no"),
    **dict.fromkeys(
        ("datetime_type", "datetime_parsing", "datetime_from_date_parsing", "timezone_aware", "date_type"),
        "not_a_date_with_time",
    ),
    **dict.fromkeys(("list_type", "tuple_type", "set_type"), "not_a_list"),
    **dict.fromkeys(("dict_type", "model_type", "model_attributes_type", "mapping_type"), "not_named_values"),
    "json_invalid": "body_not_json",
}
# Those that show what was written, where nothing was.
LEFT_EMPTY = {
    "text_malformed", "number_not_above", "number_below", "number_not_below", "number_above", "not_a_whole_number",
    "not_a_choice", "field_not_a_number", "field_not_a_text", "neither_yes_nor_no", "not_a_date_with_time",
}  # fmt: skip


def field_problem(error: Mapping[str, Any], where: str) -> Problem:
    """One of pydantic's errors (type, msg, input, ctx) as a problem; what is not known here keeps the checker's own words."""
    code = CODES.get(str(error.get("type")))
    if code is None:
        own = str(error.get("msg", "This cannot be read")).removeprefix("Value error, ").rstrip(".")
        return Problem(where, "field_refused", {"message": own})
    if code == "text_too_short" and error.get("ctx", {}).get("min_length") == 1:
        code = "field_empty"
    if "input" in error and error["input"] is None and code in LEFT_EMPTY:
        code = f"{code}_empty"
    limits = {name: _number(value) for name, value in error.get("ctx", {}).items()}
    return Problem(where, code, _NOTHING | {"shown": _shown(error["input"]) if "input" in error else "This"} | limits)


# What the checker may leave out.
_NOTHING = dict.fromkeys(("min_length", "max_length", "actual_length", "gt", "ge", "lt", "le", "expected"), "")


def _number(value: Any) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)


def _shown(value: Any) -> str:
    """As it stands there, texts in marks, long ones cut."""
    text = " ".join(str(value).split())
    text = text if len(text) <= MOST_SHOWN else text[: MOST_SHOWN - 1] + "…"
    return text if isinstance(value, int | float) else f"“{text}”"
