"""Changes made on sight of something that is otherwise by now: refused, and told what has changed."""

from collections.abc import Mapping
from typing import Any

from trelvo.core.base.problems import Problem, Refused


def refuse_if_changed(what: str, seen: Mapping[str, Any], now: Mapping[str, Any]) -> None:
    """Refuse a change made on sight of something that is otherwise by now, as when another window changed it meanwhile.

    what: beginning of a sentence, such as "The goal was"; seen: what the user saw, by field; now: the same as it is
    """
    others = [word for word, value in seen.items() if word in now and value != now[word]]
    if others:
        told = "; ".join(
            f"{word.replace('_', ' ')} was {_shown(seen[word])}, now {_shown(now[word])}" for word in others
        )
        raise Refused(
            Problem(
                "seen",
                f"{what} changed meanwhile, perhaps in another window: {told}.",
                "Look at it, and save again.",
            )
        )


def _shown(value: Any) -> str:
    if value is None or value == "":
        return "empty"
    return f"{value:g}" if isinstance(value, float) else f"“{value}”" if isinstance(value, str) else str(value)
