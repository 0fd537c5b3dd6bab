"""Calls made up from the API's own document, against a real server with the demo data: every answer is one that it names."""

import os
import re
import subprocess
import sys

from tests.server.process import Served

CHECKS = "not_a_server_error,status_code_conformance,content_type_conformance,response_schema_conformance"
# Streams never end; copies and restores replace what is under test.
LEFT_OUT = "stream|copies|openapi"


def fuzz(address, folder, examples, *more, timeout_s=900):
    """What the fuzzer says, and how many calls it made: the same calls in the same order, however fast the machine is."""
    call = [
        sys.executable, "-c", "from schemathesis.cli import schemathesis; schemathesis()", "run", f"{address}/api/openapi.json",
        "--checks", CHECKS, "--phases", "fuzzing", "--exclude-path-regex", LEFT_OUT,
        "--max-examples", str(examples), "--generation-deterministic", "--workers", "1", "--warnings", "off", "--no-color",
        "--request-timeout", "90", "--suppress-health-check", "all", *more,
    ]  # fmt: skip
    ended = subprocess.run(
        call, cwd=folder, capture_output=True, text=True, timeout=timeout_s, env={**os.environ, "NO_COLOR": "1"}
    )
    made = re.search(r"(\d+) generated", ended.stdout)
    return ended.returncode, ended.stdout + ended.stderr, int(made[1]) if made else 0


def test_every_answer_is_one_that_the_document_names(tmp_path):
    with Served(tmp_path, "--demo") as server:
        code, said, made = fuzz(server.address, tmp_path, 2)
        assert code == 0, said[-6000:]
        assert made > 150
        # and it still works
        assert server.ask("/api/health")["writable"]
        assert server.integrity() == ([("ok",)], [])


def test_a_body_that_is_none_is_refused_in_words(client, db):
    answer = client.post("/api/logs/preview", b"x", content_type="multipart/form-data")
    assert (answer.status_code, answer.json()["problems"][0]["what"]) == (400, "The body cannot be read.")
    lost = client.get("/api/campaigns/true")
    assert (lost.status_code, lost.json()["problems"][0]["where"]) == (404, "address")
    wrong = client.put("/api/campaigns")
    assert (wrong.status_code, wrong.json()["problems"][0]["where"]) == (405, "address")
    assert "GET" in wrong["Allow"]
