"""Every refusal in one form, mapped in one place: {"problems": [{"where", "what", "todo"}]}."""

from dataclasses import asdict
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError

from trelvo.core.base.problems import Problem, Refused


class ProblemOut(Schema):
    where: str
    what: str
    todo: str


class Problems(Schema):
    problems: list[ProblemOut]


def register_errors(api: NinjaAPI) -> None:
    """Tells the API how to answer each kind of refusal."""

    def answer(request: HttpRequest, problems: list[Problem], status: int) -> HttpResponse:
        return api.create_response(request, {"problems": [asdict(problem) for problem in problems]}, status=status)

    @api.exception_handler(Refused)
    def refused(request: HttpRequest, trouble: Refused) -> HttpResponse:
        return answer(request, list(trouble.problems), 422)

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, trouble: ValidationError) -> HttpResponse:
        return answer(request, [_from_validation(error) for error in trouble.errors], 422)

    @api.exception_handler(Http404)
    def missing(request: HttpRequest, trouble: Http404) -> HttpResponse:
        what = "There is nothing here (any more)."
        return answer(request, [Problem("address", what, "Go back to the list of campaigns.")], 404)

    @api.exception_handler(AuthenticationError)
    def unknown(request: HttpRequest, trouble: AuthenticationError) -> HttpResponse:
        what = "This token is not known, or was withdrawn."
        return answer(request, [Problem("token", what, "Make a new one on the Prepare page of the campaign.")], 401)

    @api.exception_handler(HttpError)
    def unreadable(request: HttpRequest, trouble: HttpError) -> HttpResponse:
        return answer(request, [Problem("request", str(trouble), "Send it again, corrected.")], trouble.status_code)


def _from_validation(error: dict[str, Any]) -> Problem:
    # location: ("body", <argument>, field, …); the first two name no field of the user's
    location = [str(word) for word in error.get("loc", ())]
    where = ".".join(location[2:] if location[:1] == ["body"] else location[1:]) or "request"
    what = str(error.get("msg", "This cannot be read."))
    return Problem(where, what if what.endswith(".") else f"{what}.", "Correct this field.")
