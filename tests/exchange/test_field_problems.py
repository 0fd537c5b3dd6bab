from datetime import datetime
from typing import Literal

import pytest
from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from trelvo.exchange.field_problems import field_problem
from trelvo.messages.problems import problem_text


class Body(BaseModel):
    model_config = ConfigDict(extra="forbid")

    name: str = Field("a", min_length=1, max_length=5)
    watts: float = Field(1.0, gt=0, le=1000, allow_inf_nan=False)
    runs: int = 1
    sure: bool = False
    at: datetime = datetime(2026, 3, 1)
    way: Literal["up", "down"] = "up"
    parts: list[str] = Field([], max_length=2)
    values: dict[str, float] = {}

    @field_validator("runs")
    @classmethod
    def _odd(cls, runs):
        if runs == 13:
            raise ValueError("thirteen is refused here")
        return runs


def said(error, where):
    return problem_text(field_problem(error, where))


@pytest.mark.parametrize(
    ("body", "what", "todo"),
    [
        ({"name": ""}, "This is empty.", "Please fill this in."),
        ({"name": "too long"}, "This is longer than 5 characters.", "Shorten it."),
        ({"name": 3}, "3 is no text.", "Write a text."),
        ({"watts": "warm"}, "“warm” is no number.", "Write a number."),
        ({"watts": None}, "Nothing stands here.", "Write a number."),
        ({"watts": 0}, "0 is too little: it must be more than 0.", "Write a larger number."),
        ({"watts": 5000}, "5000 is too much: the most is 1000.", "Write a smaller number."),
        ({"watts": float("nan")}, "This is no number that can be counted with.", "Write a number."),
        ({"runs": 1.5}, "1.5 is no whole number.", "Write a whole number."),
        ({"runs": 13}, "thirteen is refused here.", "Correct this field."),
        ({"sure": "perhaps"}, "“perhaps” is neither yes nor no.", "Write true or false."),
        ({"at": "soon"}, "“soon” is no date with a time.", "Write it like 2026-03-01T20:15:00+01:00."),
        ({"way": "left"}, "“left” is not one of the choices.", "Choose 'up' or 'down'."),
        ({"parts": ["a", "b", "c"]}, "These are 3; at most 2 can be taken.", "Leave some out."),
        ({"parts": "a"}, "This is no list.", "Write a list."),
        ({"values": [1]}, "These are no named values.", "Write names, each with its value."),
        ({"other": 1}, "There is no field of this name.", "Leave it out."),
        ({"name": "x" * 200}, "This is longer than 5 characters.", "Shorten it."),
        ({"watts": "y" * 200}, f"“{'y' * 59}…” is no number.", "Write a number."),
    ],
)
def test_what_is_wrong_is_said_in_plain_words(body, what, todo):
    with pytest.raises(ValidationError) as caught:
        Body.model_validate(body)
    problem = said(caught.value.errors()[0], "here")
    assert (problem.where, problem.what, problem.todo) == ("here", what, todo)


def test_what_is_not_told_is_not_made_up():
    # the API's own errors come without what was sent
    problem = said({"type": "float_parsing", "msg": "x", "ctx": {}}, "watts")
    assert (problem.what, problem.todo) == ("This is no number.", "Write a number.")
    few = said({"type": "greater_than_equal", "msg": "x", "ctx": {"ge": 1}}, "runs")
    assert few.what == "This is too little: the least is 1."
    assert said({"type": "unheard of", "msg": "Strange thing"}, "a").what == "Strange thing."
