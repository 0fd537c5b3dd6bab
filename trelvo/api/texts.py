"""Texts for results that hold a code: `trelvo.messages` writes them, and the API sends them beside the code and its numbers.

`with_texts(View)` is the type of an answer that has them, `add_texts(view)` the answer itself.
"""

import types
from collections.abc import Callable, Mapping
from dataclasses import astuple, field, fields, is_dataclass, make_dataclass
from functools import cache, reduce
from operator import or_
from typing import Annotated, Any, Literal, NamedTuple, Union, get_args, get_origin, get_type_hints

from trelvo.core.base.problems import Problem
from trelvo.core.laws.cautions import Caution, ConnectorSum, OxygenSum
from trelvo.core.laws.heat_finding import HeatFinding
from trelvo.core.watch.held_back import HeldBack
from trelvo.core.watch.limiter import Limiter
from trelvo.messages.cautions import caution_text, connectors_text, oxygen_text
from trelvo.messages.lab import heat_text
from trelvo.messages.problems import problem_text
from trelvo.messages.watch import levels_text, limiter_text


class _Texts(NamedTuple):
    """The fields that the texts of a type are in, and what writes them in the same order."""

    fields: tuple[str, ...]
    write: Callable[[Any], tuple[str, ...]]


# By type of result.
TEXTS: Mapping[type, _Texts] = {
    Problem: _Texts(("what", "todo"), lambda problem: (problem_text(problem).what, problem_text(problem).todo)),
    Caution: _Texts(("title", "why", "people", "unknown"), lambda caution: astuple(caution_text(caution))),
    HeatFinding: _Texts(("text",), lambda finding: (heat_text(finding),)),
    HeldBack: _Texts(("says",), lambda held: (levels_text(held.levels),)),
    Limiter: _Texts(("why",), lambda limiter: (limiter_text(limiter),)),
    OxygenSum: _Texts(("text",), lambda left: (oxygen_text(left),)),
    ConnectorSum: _Texts(("text",), lambda load: (connectors_text(load),)),
}


@cache
def with_texts(shape: Any) -> Any:
    """Return the type of an answer with a field for each text; the same type where nothing in it has one."""
    if is_dataclass(shape) and isinstance(shape, type):
        hints = get_type_hints(shape, include_extras=True)
        own = {one.name: with_texts(hints[one.name]) for one in fields(shape)}
        texts = TEXTS[shape].fields if shape in TEXTS else ()
        if not texts and all(own[name] == hints[name] for name in own):
            return shape
        every = [(name, kind, field()) for name, kind in own.items()] + [(name, str, field()) for name in texts]
        made = make_dataclass(shape.__name__, every, frozen=True)
        made.__doc__ = shape.__doc__
        return made
    origin, inner = get_origin(shape), get_args(shape)
    if origin in (None, Annotated, Literal) or not inner:
        return shape
    changed = tuple(with_texts(one) for one in inner)
    if changed == inner:
        return shape
    return reduce(or_, changed) if origin in (Union, types.UnionType) else origin[changed]


def add_texts(value: Any) -> Any:
    """Return an answer with the texts of everything in it that has a code."""
    if is_dataclass(value) and not isinstance(value, type):
        shape = with_texts(type(value))
        if shape is type(value):
            return value
        own = {one.name: add_texts(getattr(value, one.name)) for one in fields(value)}
        if texts := TEXTS.get(type(value)):
            own |= zip(texts.fields, texts.write(value), strict=True)
        return shape(**own)
    if isinstance(value, list | tuple):
        return type(value)(add_texts(one) for one in value)
    if isinstance(value, dict):
        return {name: add_texts(one) for name, one in value.items()}
    return value
