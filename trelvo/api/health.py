from django.db import connection
from django.http import HttpRequest
from ninja import Router, Schema

router = Router(tags=["health"])


class Health(Schema):
    status: str


@router.get("/health", response=Health)
def health(request: HttpRequest) -> Health:
    """Answers when the database can be read."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT count(*) FROM logbook_campaign")
    return Health(status="ready")
