"""Answers with their sentences: each result with a code gets its text from `trelvo.messages` beside its numbers.

`worded(View)` is the shape that an answer has then, `in_words(view)` the answer itself.
"""

import types
from collections.abc import Callable, Mapping
from dataclasses import asdict, field, fields, is_dataclass, make_dataclass
from functools import cache, reduce
from operator import or_
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from trelvo.core.base.problems import Problem
from trelvo.core.laws.cautions import Caution, ConnectorSum, OxygenSum
from trelvo.core.laws.heat_finding import HeatFinding
from trelvo.core.watch.held_back import HeldBack
from trelvo.core.watch.limiter import Limiter
from trelvo.messages.cautions import caution_text, connectors_text, oxygen_text
from trelvo.messages.lab import heat_text
from trelvo.messages.problems import problem_text
from trelvo.messages.watch import levels_text, limiter_text

# What is said by code, and the texts that go with it, by field.
TEXTS: Mapping[type, Callable[[Any], dict[str, str]]] = {
    Problem: lambda problem: {"what": problem_text(problem).what, "todo": problem_text(problem).todo},
    HeatFinding: lambda finding: {"text": heat_text(finding)},
    Limiter: lambda limiter: {"why": limiter_text(limiter)},
    HeldBack: lambda held: {"says": levels_text(held.levels)},
    Caution: lambda caution: asdict(caution_text(caution)),
    OxygenSum: lambda left: {"text": oxygen_text(left)},
    ConnectorSum: lambda load: {"text": connectors_text(load)},
}
TEXT_FIELDS: Mapping[type, tuple[str, ...]] = {
    Problem: ("what", "todo"),
    Limiter: ("why",),
    HeldBack: ("says",),
    Caution: ("title", "why", "people", "unknown"),
}


@cache
def worded(shape: Any) -> Any:
    """The shape of an answer with the texts of all that is said by code; the shape itself where nothing is."""
    if is_dataclass(shape) and isinstance(shape, type):
        hints = get_type_hints(shape, include_extras=True)
        own = {one.name: worded(hints[one.name]) for one in fields(shape)}
        texts = TEXT_FIELDS.get(shape, ("text",)) if shape in TEXTS else ()
        if not texts and all(own[name] == hints[name] for name in own):
            return shape
        every = [(name, kind, field()) for name, kind in own.items()] + [(name, str, field()) for name in texts]
        made = make_dataclass(shape.__name__, every, frozen=True)
        made.__doc__ = shape.__doc__
        return made
    origin, inner = get_origin(shape), get_args(shape)
    if origin in (None, Annotated, Literal) or not inner:
        return shape
    changed = tuple(worded(one) for one in inner)
    if changed == inner:
        return shape
    return reduce(or_, changed) if origin in (Union, types.UnionType) else origin[changed]


def in_words(value: Any) -> Any:
    """An answer in its worded shape."""
    if is_dataclass(value) and not isinstance(value, type):
        shape = worded(type(value))
        if shape is type(value):
            return value
        own = {one.name: in_words(getattr(value, one.name)) for one in fields(value)}
        return shape(**own, **(TEXTS[type(value)](value) if type(value) in TEXTS else {}))
    if isinstance(value, list | tuple):
        return type(value)(in_words(one) for one in value)
    if isinstance(value, dict):
        return {name: in_words(one) for name, one in value.items()}
    return value
