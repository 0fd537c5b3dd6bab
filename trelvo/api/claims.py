from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.core.judge.claim_words import parse_claim
from trelvo.core.judge.claims import Claim, Finding, check_claim

router = Router(tags=["claims"])


class ClaimIn(Schema):
    text: str = Field(min_length=1, max_length=500)


class ClaimOut(Schema):
    """How the claim was understood, and what is true of it."""

    claim: Claim
    finding: Finding


@router.post("/claims/check", response={200: ClaimOut, 422: Problems})
def check(request: HttpRequest, body: ClaimIn) -> ClaimOut:
    """What is true of something that someone said about a gain."""
    claim = parse_claim(body.text)
    return ClaimOut(claim=claim, finding=check_claim(claim))
