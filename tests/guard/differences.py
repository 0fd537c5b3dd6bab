"""Two sets of answers, field by field."""

import json
import math
from collections.abc import Iterator, Mapping
from typing import Any


def differences(old: Any, new: Any, where: str = "", renamed: Mapping[str, str] | None = None) -> Iterator[str]:
    """Fields that differ, each with both values. renamed: fields by their old name that are called otherwise now"""
    renamed = renamed or {}
    if isinstance(old, dict) and isinstance(new, dict):
        old = {renamed.get(word, word): value for word, value in old.items()}
        for word in sorted({*old, *new}):
            if word not in new or word not in old:
                yield f"{where}/{word}: {'gone' if word in old else 'new'}"
            else:
                yield from differences(old[word], new[word], f"{where}/{word}", renamed)
    elif isinstance(old, list) and isinstance(new, list) and len(old) == len(new):
        for place, (before, after) in enumerate(zip(old, new, strict=True)):
            yield from differences(before, after, f"{where}/{place}", renamed)
    elif old != new and not _both_nan(old, new):
        yield f"{where}: {json.dumps(old)[:200]} -> {json.dumps(new)[:200]}"


def _both_nan(old: Any, new: Any) -> bool:
    return all(isinstance(one, float) and math.isnan(one) for one in (old, new))
