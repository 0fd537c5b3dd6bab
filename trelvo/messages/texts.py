"""Messages of the core in English: every code with its template, or the function that writes it."""

from collections.abc import Callable, Mapping
from typing import Any

from trelvo.core.message import Message
from trelvo.messages import archive, climb, goal, keep, logs, measured, prove, tasks
from trelvo.messages.wording import fill

Template = str | Callable[..., str]
SUBJECTS = (archive, climb, goal, keep, logs, measured, prove, tasks)
TEMPLATES: Mapping[str, Template] = {
    code: template for subject in SUBJECTS for code, template in subject.TEMPLATES.items()
}


def text_of(message: Message) -> str:
    """One text: the message, and what follows it."""
    template = TEMPLATES[message.code]
    params = {name: _rendered(value) for name, value in message.params.items()}
    own = template(**params) if callable(template) else fill(template, params)
    return " ".join(text for text in (own, *map(text_of, message.more)) if text)


def _rendered(value: object) -> object:
    """A param with the messages in it rendered."""
    if isinstance(value, Message):
        return text_of(value)
    if isinstance(value, tuple):
        return tuple(_rendered(one) for one in value)
    return value


def rendered(value: Any) -> Any:
    """Plain data with every message in it as a text: for records that keep today's wording, such as a kept setting's evidence."""
    if isinstance(value, Message):
        return text_of(value)
    if isinstance(value, dict):
        return {name: rendered(one) for name, one in value.items()}
    return [rendered(one) for one in value] if isinstance(value, list | tuple) else value
