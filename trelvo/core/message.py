"""How the core makes a statement: a code, and the numbers and names that belong to it."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Self


@dataclass(frozen=True)
class Message:
    """One statement about a result. `trelvo.messages` renders it in English.

    params: numbers and names for the sentence; a param may be a message, or a tuple of names or messages
    more: statements that follow it
    """

    code: str
    params: Mapping[str, Any] = field(default_factory=dict)
    more: tuple["Message", ...] = ()

    def then(self, *others: "Message | None") -> Self:
        """The same, with others behind it; None is left out."""
        return replace(self, more=(*self.more, *(other for other in others if other is not None)))

    def __format__(self, format_spec: str) -> str:
        """Refuse to are in a text: what would appear there is not what anyone reads."""
        raise TypeError(f"“{self.code}” is rendered by trelvo.messages")


def message(code: str, /, **params: Any) -> Message:
    """A statement with its params."""
    return Message(code, params)
