"""Changes made on sight of something that is otherwise by now: refused, and told what has changed."""

from collections.abc import Mapping
from typing import Any

from trelvo.core.problems import Problem, Refused


def refuse_if_changed(code: str, seen: Mapping[str, Any], now: Mapping[str, Any], name: str = "") -> None:
    """Refuse a change made on sight of something that is otherwise by now, as when another window changed it meanwhile.

    code: of the problem, such as "goal_changed"; seen: what the user saw, by field; now: the same as it is
    name: of what was changed, where there are several
    """
    changes = tuple((word, value, now[word]) for word, value in seen.items() if word in now and value != now[word])
    if changes:
        raise Refused(Problem("seen", code, {"name": name, "changes": changes}))
