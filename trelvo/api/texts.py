"""Texts beside codes: whatever an answer holds of the types in `TEXTS` is sent with its numbers and with its sentences.

`trelvo.messages` writes the sentences. Pydantic asks a type for its schema, so the types of the core are told here which one that
is: none can be sent without its texts.
"""

from collections.abc import Callable, Mapping
from dataclasses import astuple, dataclass, field, fields, make_dataclass
from typing import Any, NamedTuple, get_type_hints

from pydantic import GetCoreSchemaHandler
from pydantic_core import CoreSchema, core_schema

from trelvo.core.compare.claims import Explanation
from trelvo.core.compare.fairness import Aspect
from trelvo.core.compare.traps import Trap
from trelvo.core.keep.kept_view import ChangeSaid
from trelvo.core.laws.cautions import Caution, ConnectorSum, OxygenSum
from trelvo.core.laws.heat_finding import HeatFinding
from trelvo.core.message import Message
from trelvo.core.problems import Problem
from trelvo.core.prove.approaches import Proof
from trelvo.core.registry.approaches import APPROACHES
from trelvo.core.watch.headroom import Card
from trelvo.core.watch.held_back import HeldBack
from trelvo.core.watch.limiter import Limiter
from trelvo.messages.cautions import caution_text, connectors_text, oxygen_text
from trelvo.messages.compare import trap_text
from trelvo.messages.lab import heat_text
from trelvo.messages.measured import HEADROOM, MISTAKES
from trelvo.messages.problems import problem_text
from trelvo.messages.prove import TOUCHES
from trelvo.messages.texts import text_of
from trelvo.messages.watch import levels_text, limiter_text
from trelvo.messages.wording import sendable


class _Texts(NamedTuple):
    """The fields that the texts of a type are in, and what writes them in the same order."""

    fields: tuple[str, ...]
    write: Callable[[Any], tuple[str, ...]]


# By type of result.
TEXTS: Mapping[type, _Texts] = {
    Problem: _Texts(("what", "todo"), lambda problem: (problem_text(problem).what, problem_text(problem).todo)),
    Aspect: _Texts(("name",), lambda aspect: (text_of(Message(f"aspect_{aspect.key}")),)),
    Card: _Texts(("name",), lambda card: (HEADROOM[card.kind],)),
    Caution: _Texts(("title", "why", "people", "unknown"), lambda caution: astuple(caution_text(caution))),
    ChangeSaid: _Texts(("touches",), lambda change: (TOUCHES[change.kind],)),
    ConnectorSum: _Texts(("text",), lambda load: (connectors_text(load),)),
    Explanation: _Texts(("why",), lambda explanation: (MISTAKES[explanation.mistake],)),
    HeatFinding: _Texts(("text",), lambda finding: (heat_text(finding),)),
    HeldBack: _Texts(("says",), lambda held: (levels_text(held.levels),)),
    Limiter: _Texts(("why",), lambda limiter: (limiter_text(limiter),)),
    OxygenSum: _Texts(("text",), lambda left: (oxygen_text(left),)),
    Proof: _Texts(("limits",), lambda proof: (APPROACHES[proof.approach].limits,)),
    Trap: _Texts(("code", "name", "evidence", "claims", "truth"), lambda trap: (trap.code, *astuple(trap_text(trap)))),
}


@dataclass(frozen=True)
class MessageText:
    """A statement: its code, the numbers and names in it, and the sentence. Programs go by the code."""

    code: str
    params: dict[str, Any]
    text: str


def as_sent(value: Any) -> Any:
    """One result as it is sent: what it holds by name, with its texts; a statement with its sentence. Takes dataclasses only."""
    if isinstance(value, Message):
        return {
            "code": value.code,
            "params": {name: _param(one) for name, one in value.params.items()},
            "text": text_of(value),
        }
    sent = {one.name: getattr(value, one.name) for one in fields(value)}
    if texts := TEXTS.get(type(value)):
        sent |= zip(texts.fields, texts.write(value), strict=True)
    return sent


def _param(value: Any) -> Any:
    if isinstance(value, Message):
        return as_sent(value)
    return [_param(one) for one in value] if isinstance(value, tuple | list) else sendable(value)


def _with_texts(shape: type) -> type:
    """The type of an answer with a field for each text."""
    if shape is Message:
        return MessageText
    hints = get_type_hints(shape, include_extras=True)
    every = [(one.name, hints[one.name], field()) for one in fields(shape)]
    every += [(name, str, field()) for name in TEXTS[shape].fields]
    made = make_dataclass(shape.__name__, every, frozen=True)
    made.__doc__ = shape.__doc__
    return made


def _send_with_texts(shape: type) -> None:
    sent = _with_texts(shape)

    def made(value: Any) -> Any:
        return sent(**as_sent(value)) if isinstance(value, shape) else value

    def schema(_: object, handler: GetCoreSchemaHandler) -> CoreSchema:
        found = handler.generate_schema(sent)
        # what is part of a dataclass is not looked at before it is written
        written = core_schema.wrap_serializer_function_ser_schema(lambda value, write: write(made(value)), schema=found)
        return core_schema.no_info_before_validator_function(made, found, serialization=written)

    # pydantic looks for this name
    shape.__get_pydantic_core_schema__ = staticmethod(schema)  # type: ignore[attr-defined]


for _shape in (Message, *TEXTS):
    _send_with_texts(_shape)
