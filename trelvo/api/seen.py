"""What a form showed when it was opened, sent along with its change: refused where it is something else by now."""

import json
from collections.abc import Mapping
from dataclasses import asdict, is_dataclass
from typing import Annotated, Any

from pydantic import Field, JsonValue

from trelvo.api.schema import Schema
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.commands.seen import refuse_if_changed

# By field, as the answer had it that the form was filled from. Left out or null: nothing is compared.
Seen = Annotated[dict[str, JsonValue] | None, Field(max_length=40)]


def check_seen(code: str, seen: Mapping[str, JsonValue] | None, now: Any, name: str = "") -> None:
    """Raise Refused where something changed since it was seen. code: of the problem; name: of what was changed

    now: as it is, in the shape of the answer that the form was filled from
    """
    if seen is None:
        return
    whole = json.loads(now.model_dump_json()) if isinstance(now, Schema) else now
    fields = asdict(whole) if is_dataclass(whole) and not isinstance(whole, type) else whole
    if unknown := [word for word in seen if word not in fields]:
        raise Refused(Problem("seen", "seen_unknown_field", {"field": unknown[0][:80], "known": tuple(fields)}))
    refuse_if_changed(code, seen, fields, name)
