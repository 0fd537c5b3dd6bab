"""The API's document of itself, with what any call may be answered: one place says it for all."""

from typing import Any

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

# Any call may be answered so, with problems in words.
ALWAYS = {
    400: "The request cannot be read.",
    401: "Nobody is signed in, or the token is not known.",
    403: "This account may not do it, or another page asked.",
    404: "There is nothing here (any more).",
    405: "This address is not asked in this way.",
    408: "The body stopped on its way.",
    413: "More than is taken in one piece.",
    422: "What is wrong, where, and what to do.",
    503: "Nothing can be written now; try again.",
}
PROBLEMS = {"application/json": {"schema": {"$ref": "#/components/schemas/Problems"}}}


class DocumentedAPI(NinjaAPI):
    """An API whose document names the refusals that every call shares."""

    def get_openapi_schema(self, **wish: Any) -> OpenAPISchema:
        document = super().get_openapi_schema(**wish)
        for operations in document["paths"].values():
            for operation in operations.values():
                for status, meaning in ALWAYS.items():
                    operation["responses"].setdefault(status, {"description": meaning, "content": PROBLEMS})
        return document
