"""What is said by code is sent with its sentences, wherever it is in an answer; all else stays as it is."""

from dataclasses import dataclass, is_dataclass

import orjson
from ninja import Schema
from pydantic import TypeAdapter

from trelvo.api.texts import TEXTS, as_sent
from trelvo.core.message import Message, message
from trelvo.core.problems import Problem


@dataclass(frozen=True)
class Inner:
    why: tuple[Problem, ...]
    says: Message | None


@dataclass(frozen=True)
class Outer:
    rows: list[Inner]
    by_name: dict[str, Inner]


class Answer(Schema):
    outer: Outer
    far: Message


GONE = Problem("rig_id", "no_such_rig", {"rig": 7})
CONDITION = message("one_failure_in", hours=50.0)
OPEN = message("condition_not_shown", condition=CONDITION).then(message("nothing_repeated"))
OUTER = Outer([Inner((GONE,), None)], {"x": Inner((), OPEN)})
TOLD = {
    "code": "condition_not_shown",
    "params": {
        "condition": {"code": "one_failure_in", "params": {"hours": 50.0}, "text": "at most one failure in 50 h"}
    },
    "text": "Not shown yet: at most one failure in 50 h. Nothing was run twice, so the run-to-run variation is unknown.",
}
PROBLEM = {
    "where": "rig_id",
    "code": "no_such_rig",
    "params": {"rig": 7},
    "what": "There is no rig 7.",
    "todo": "Choose one of the rigs.",
}


def test_texts_stand_beside_the_code_wherever_it_is():
    sent = Answer(outer=OUTER, far=OPEN).model_dump(mode="json")
    assert sent["outer"]["rows"] == [{"why": [PROBLEM], "says": None}]
    assert sent["outer"]["by_name"]["x"]["says"] == TOLD
    assert sent["far"] == TOLD


def test_what_was_sent_can_be_taken_in_again():
    """A card of the list is kept as it was sent, and sent again."""
    sent = Answer(outer=OUTER, far=OPEN).model_dump(mode="json")
    assert Answer(**sent).model_dump(mode="json") == sent


def test_a_stream_sends_the_same():
    written = orjson.loads(orjson.dumps(OUTER, default=as_sent, option=orjson.OPT_PASSTHROUGH_DATACLASS))
    assert written == TypeAdapter(Outer).dump_python(OUTER, mode="json")


def test_the_shape_of_an_answer_has_its_texts():
    shapes = TypeAdapter(Outer).json_schema(mode="serialization")["$defs"]
    assert set(shapes["Problem"]["properties"]) == {"where", "code", "params", "what", "todo"}
    assert set(shapes["MessageText"]["properties"]) == {"code", "params", "text"}


def test_each_type_is_one_of_the_core():
    assert all(is_dataclass(kind) and kind.__module__.startswith("trelvo.core") for kind in TEXTS)
