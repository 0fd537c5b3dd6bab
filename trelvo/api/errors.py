"""Every refusal in one form, mapped in one place: {"problems": [{"where", "what", "todo", "code", "params"}]}."""

import logging
from dataclasses import asdict
from typing import Any

from django.core.exceptions import SuspiciousOperation
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from trelvo.api.schema import Schema
from trelvo.core.problems import Problem, Refused
from trelvo.exchange.field_problems import field_problem
from trelvo.exchange.store.write_gate import RESTORING
from trelvo.messages.problems import problem_text, problems_body

log = logging.getLogger(__name__)
# What the database says, and what it means.
TROUBLES = (
    (RESTORING, "database_being_restored"),
    ("full", "disk_full"),
    ("locked", "database_held"),
    ("readonly", "data_folder_read_only"),
    ("malformed", "database_malformed"),
    ("disk i/o", "disk_unreadable"),
)


class ProblemOut(Schema):
    """code, params: what a program tells the problem by"""

    where: str
    what: str
    todo: str
    code: str
    params: dict[str, Any]


class Problems(Schema):
    problems: list[ProblemOut]


def database_trouble(trouble: OperationalError) -> tuple[dict[str, Any], dict[str, str]]:
    """Return the problem and the headers of an answer to a request that the database could not serve."""
    code = next((code for sign, code in TROUBLES if sign in str(trouble).lower()), "database_refuses")
    return asdict(problem_text(Problem("database", code))), {"Retry-After": "5"}


def register_errors(api: NinjaAPI) -> None:
    """Tells the API how to answer each kind of refusal."""

    def answer(request: HttpRequest, problems: list[Problem], status: int) -> HttpResponse:
        return api.create_response(request, problems_body(*problems), status=status)

    @api.exception_handler(Refused)
    def refused(request: HttpRequest, trouble: Refused) -> HttpResponse:
        return answer(request, list(trouble.problems), 422)

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, trouble: ValidationError) -> HttpResponse:
        return answer(request, [_from_validation(error) for error in trouble.errors], 422)

    @api.exception_handler(Http404)
    def missing(request: HttpRequest, trouble: Http404) -> HttpResponse:
        return answer(request, [Problem("address", "nothing_here")], 404)

    @api.exception_handler(AuthenticationError)
    def unknown(request: HttpRequest, trouble: AuthenticationError) -> HttpResponse:
        return answer(request, [Problem("token", "unknown_token")], 401)

    @api.exception_handler(OperationalError)
    def not_stored(request: HttpRequest, trouble: OperationalError) -> HttpResponse:
        log.error("%s %s: %s", request.method, request.path, trouble)
        problem, headers = database_trouble(trouble)
        response = api.create_response(request, {"problems": [problem]}, status=503)
        for name, value in headers.items():
            response[name] = value
        return response

    @api.exception_handler(SuspiciousOperation)
    @api.exception_handler(MultiPartParserError)
    def garbled(request: HttpRequest, trouble: Exception) -> HttpResponse:
        return answer(request, [Problem("request", "unreadable_body")], 400)

    @api.exception_handler(OverflowError)
    def far_too_large(request: HttpRequest, trouble: OverflowError) -> HttpResponse:
        return answer(request, [Problem("request", "number_far_too_large")], 422)

    @api.exception_handler(Exception)
    def fault(request: HttpRequest, trouble: Exception) -> HttpResponse:
        log.error("%s %s", request.method, request.path, exc_info=trouble)
        return answer(request, [Problem("server", "program_fault")], 500)

    @api.exception_handler(HttpError)
    def unreadable(request: HttpRequest, trouble: HttpError) -> HttpResponse:
        return answer(request, [Problem("request", "request_refused", {"reason": str(trouble)})], trouble.status_code)


def _from_validation(error: dict[str, Any]) -> Problem:
    # location: ("body", <argument>, field, …); the first two name no field of the user's
    location = [str(word) for word in error.get("loc", ())]
    where = ".".join(location[2:] if location[:1] == ["body"] else location[1:]) or "request"
    return field_problem(error, where)
