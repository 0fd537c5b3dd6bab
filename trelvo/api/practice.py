from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.bench.practice import PracticeView, begin_practice, keep, practice_view, practise
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.logbook.models import Practice

router = Router(tags=["practice"])


class PracticeIn(Schema):
    """seed: which specimen; accepted is one failure in so many hours."""

    seed: int = Field(ge=0, le=2_000_000_000)
    budget_minutes: float = 120
    accepted_hours: float = Field(1 / ACCEPTED_PER_H, gt=0.02, le=100_000)


class TestIn(Schema):
    value: float
    minutes: float
    advised: bool = False


class KeepIn(Schema):
    value: float


class PracticeCard(Schema):
    id: int
    seed: int
    created_at: datetime
    kept: float | None
    tests: list[object]


@router.get("/practice", response=list[PracticeCard])
def list_practice(request: HttpRequest) -> list[Practice]:
    """Practices, newest first."""
    return list(Practice.objects.all()[:50])


@router.post("/practice", response={201: PracticeView, 422: Problems})
def start_practice(request: HttpRequest, body: PracticeIn) -> Status[PracticeView]:
    """Begins to climb a hidden specimen."""
    practice = begin_practice(body.seed, body.budget_minutes, body.accepted_hours, timezone.now())
    return Status(201, practice_view(practice))


@router.get("/practice/{int:practice_id}", response={200: PracticeView, 404: Problems})
def show_practice(request: HttpRequest, practice_id: int) -> PracticeView:
    """Where a practice stands; with the truth once it has ended."""
    return practice_view(get_object_or_404(Practice, pk=practice_id))


@router.post("/practice/{int:practice_id}/test", response={200: PracticeView, 404: Problems, 422: Problems})
def test_value(request: HttpRequest, practice_id: int, body: TestIn) -> PracticeView:
    """One test on the hidden specimen, answered at once."""
    practice = get_object_or_404(Practice, pk=practice_id)
    practise(practice, body.value, body.minutes, advised=body.advised)
    return practice_view(practice)


@router.post("/practice/{int:practice_id}/keep", response={200: PracticeView, 404: Problems, 422: Problems})
def keep_value(request: HttpRequest, practice_id: int, body: KeepIn) -> PracticeView:
    """Keeps a value: the practice ends, and the truth is shown."""
    practice = get_object_or_404(Practice, pk=practice_id)
    keep(practice, body.value, timezone.now())
    return practice_view(practice)
