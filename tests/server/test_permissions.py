"""One table says which role an operation takes: every operation that changes something is in it, and the server goes by it."""

import json
import re

import pytest

from tests.server.test_network import guarded, reachable, sign_in  # noqa: F401
from trelvo.server.permissions import OPERATIONS, role_for
from trelvo.server.refusing import OPEN

READS = ("get", "head", "options")


@pytest.fixture
def document(client, db):
    return client.get("/api/openapi.json").json()


def test_every_operation_that_changes_something_is_in_the_table(document):
    found = {
        f"{method.upper()} {path}"
        for path, operations in document["paths"].items()
        for method in operations
        if method not in READS and not path.startswith(OPEN)
    }
    assert found - set(OPERATIONS) == set()
    every = {f"{method.upper()} {path}" for path, operations in document["paths"].items() for method in operations}
    # files to download are in no document
    assert set(OPERATIONS) - every <= {"GET /api/copies/{name}/file"}


@pytest.mark.parametrize("operation", [one for one, role in OPERATIONS.items() if role == "owner"])
def test_a_bench_account_is_refused(guarded, django_user_model, operation):  # noqa: F811
    django_user_model.objects.create_user("ben", password="another long one")
    body = json.dumps({"name": "ben", "password": "another long one"})
    assert guarded.post("/api/session", body, content_type="application/json").status_code == 200
    method, path = operation.split(" ", 1)
    path = re.sub(r"\{[^}]*\}", "1", path)
    call = getattr(guarded, method.lower())
    answer = call(path) if method == "GET" else call(path, "{}", content_type="application/json")
    assert (answer.status_code, answer.json()["problems"][0]["where"]) == (403, "account")


@pytest.mark.parametrize("operation", [one for one, role in OPERATIONS.items() if role == "bench"])
def test_a_bench_account_is_let_through(guarded, django_user_model, operation):  # noqa: F811
    django_user_model.objects.create_user("ben", password="another long one")
    body = json.dumps({"name": "ben", "password": "another long one"})
    guarded.post("/api/session", body, content_type="application/json")
    method, path = operation.split(" ", 1)
    path = re.sub(r"\{[^}]*\}", "1", path)
    answer = getattr(guarded, method.lower())(path, "{}", content_type="application/json")
    # what it asks for is not there, or its body is empty: but nobody says that it may not
    assert answer.status_code not in (401, 403, 405)


def test_what_is_not_in_the_table_is_for_owners_where_it_changes_something():
    assert role_for("POST", "/api/something/new") == "owner"
    assert role_for("GET", "/api/something/new") == "bench"
    assert role_for("HEAD", "/api/copies") == "owner"
    # nothing is let through by a longer or shorter path
    assert role_for("POST", "/api/campaigns/1/runs/") == "owner"
    assert role_for("POST", "/api/campaigns/1/2/runs") == "owner"
