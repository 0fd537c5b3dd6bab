from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.core.compare.claims import (
    MOST_PAIRS,
    MOST_VALUES,
    Claim,
    Figure,
    Finding,
    Kind,
    Prefilled,
    Way,
    check_claim,
    prefill,
    typed_number,
)

router = Router(tags=["claims"])


class PairIn(Schema):
    """Both as typed: their decimals say how far they were rounded."""

    before: str = Field(max_length=40)
    after: str = Field(max_length=40)


class ClaimIn(Schema):
    """Numbers as typed. One of pairs, values (a chain) and steps (gains in percent) is given."""

    kind: Kind
    figure: Figure
    way: Way = "more"
    claimed: str = Field(max_length=40)
    pairs: list[PairIn] = Field(default_factory=list, max_length=MOST_PAIRS)
    values: list[str] = Field(default_factory=list, max_length=MOST_VALUES)
    steps: list[str] = Field(default_factory=list, max_length=MOST_VALUES)

    def claim(self) -> Claim:
        pairs = tuple(
            (typed_number(one.before, f"pairs.{i}.before"), typed_number(one.after, f"pairs.{i}.after"))
            for i, one in enumerate(self.pairs)
        )
        values = tuple(typed_number(text, f"values.{i}") for i, text in enumerate(self.values))
        steps = tuple(typed_number(text, f"steps.{i}") for i, text in enumerate(self.steps))
        return Claim(self.kind, self.figure, typed_number(self.claimed, "claimed"), self.way, pairs, values, steps)


class PastedLine(Schema):
    text: str = Field(max_length=500)


@router.post("/claims/check", response={200: Finding, 422: Problems})
def check(request: HttpRequest, body: ClaimIn) -> Finding:
    """What is true of something that someone said about a gain."""
    return check_claim(body.claim())


class PrefilledOut(Schema):
    """fields: None where the line is not certain, and has to be typed into the form"""

    fields: Prefilled | None


@router.post("/claims/prefill", response={200: PrefilledOut, 422: Problems})
def fill_in(request: HttpRequest, body: PastedLine) -> PrefilledOut:
    """Fields of a claim from a pasted line."""
    return PrefilledOut(fields=prefill(body.text))
