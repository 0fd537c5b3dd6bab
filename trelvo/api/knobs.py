from typing import Literal

from pydantic import Field

from trelvo.api.schema import Schema
from trelvo.api.seen import Seen
from trelvo.core.base.figures import Part as FigurePart
from trelvo.core.base.knobs import Knob
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.guess import guess_role
from trelvo.core.registry.roles import Role


class KnobIO(Schema):
    """role: what it turns; where left out it is taken from name and unit, and asked for where these leave a doubt"""

    key: str = Field(max_length=24)
    name: str = Field(min_length=1, max_length=80)
    unit: str = Field("", max_length=12)
    stock: float
    step: float
    low: float
    high: float
    away: Literal[1, -1] = 1
    role: Role | None = None
    part: FigurePart = "tuned part"

    def knob(self, where: str = "") -> Knob:
        """The knob; Refused where its role is left out and cannot be told. where: prefix of the field's name"""
        role = self.role
        if role is None:
            guess = guess_role(self.key, self.name, self.unit)
            if not guess.certain:
                raise Refused(
                    Problem(f"{where}role", "unknown_role", {"name": self.name, "known": tuple(guess.choices)})
                )
            role = guess.role
        return Knob(
            key=self.key,
            name=self.name,
            unit=self.unit,
            stock=self.stock,
            step=self.step,
            low=self.low,
            high=self.high,
            away=self.away,
            role=role,
            part=self.part,
        )


class KnobChange(Schema):
    """Fields left out stay as they are. Unit and stock cannot change: what was run rests on them.

    component: what the knob is kept together with; an empty text lets its part decide
    seen: the knob as it stood in the form
    """

    name: str | None = Field(None, min_length=1, max_length=80)
    role: Role | None = None
    part: FigurePart | None = None
    step: float | None = None
    low: float | None = None
    high: float | None = None
    away: Literal[1, -1] | None = None
    component: str | None = Field(None, max_length=80)
    seen: Seen = None
