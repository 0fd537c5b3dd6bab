"""Who can reach Trelvo: this machine alone, unless accounts and https, or an explicit word, allow more."""

import json
import ssl
import subprocess
import sys
import urllib.error
import urllib.request
from http.cookiejar import CookieJar

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError

from tests.server.process import ROOT, Served
from trelvo.api import session
from trelvo.server.network import Reach, allow, is_loopback


@pytest.mark.parametrize(
    ("host", "alone"),
    [
        ("127.0.0.1", True),
        ("127.3.2.1", True),
        ("::1", True),
        ("localhost", True),
        ("0.0.0.0", False),
        ("10.0.0.5", False),
    ],
)
def test_which_addresses_are_this_machine_alone(host, alone):
    assert is_loopback(host) == alone


@pytest.fixture
def reachable(settings):
    """Settings that a test may change and that are put back."""
    settings.ACCOUNTS = False
    settings.ALLOWED_HOSTS = ["127.0.0.1", "testserver"]
    settings.SESSION_COOKIE_SECURE = False
    return settings


def test_loopback_needs_nothing(db, reachable):
    assert allow(Reach()) == []
    assert not reachable.ACCOUNTS


def test_another_address_needs_an_account_then_https_or_a_word(db, reachable, django_user_model, tmp_path):
    with pytest.raises(CommandError, match="needs an account first"):
        allow(Reach("0.0.0.0", plain=True))
    django_user_model.objects.create_user("ada", password="a long enough one")
    with pytest.raises(CommandError, match="--plain-http"):
        allow(Reach("10.0.0.5"))
    with pytest.raises(CommandError, match="both --cert and --key"):
        allow(Reach("10.0.0.5", cert="x"))
    with pytest.raises(CommandError, match="no file"):
        allow(Reach("10.0.0.5", cert=str(tmp_path / "x"), key=str(tmp_path / "y")))
    said = allow(Reach("10.0.0.5", plain=True, names=("bench.local",)))
    assert "not encrypted" in said[1]
    assert reachable.ACCOUNTS
    assert {"10.0.0.5", "bench.local", "127.0.0.1"} <= set(reachable.ALLOWED_HOSTS)


def test_an_account_from_the_command_line(db, monkeypatch, django_user_model):
    monkeypatch.setenv("TRELVO_PASSWORD", "short")
    with pytest.raises(CommandError, match="too short"):
        call_command("add_account", "ada")
    monkeypatch.setenv("TRELVO_PASSWORD", "long and odd enough")
    call_command("add_account", "ada")
    call_command("add_account", "ada")
    assert django_user_model.objects.get().check_password("long and odd enough")


@pytest.fixture
def guarded(client, reachable, django_user_model):
    reachable.ACCOUNTS = True
    session._tries.clear()
    django_user_model.objects.create_user("ada", password="a long enough one")
    return client


def sign_in(client, password):
    return client.post(
        "/api/session", json.dumps({"name": "ada", "password": password}), content_type="application/json"
    )


def test_nothing_is_told_before_one_has_signed_in(db, guarded):
    for path in (
        "/api/campaigns",
        "/api/live",
        "/api/runs/1/stream",
        "/api/campaigns/1/export.json",
        "/api/openapi.json",
    ):
        answer = guarded.get(path)
        assert (answer.status_code, answer.json()["problems"][0]["where"]) == (401, "account")
    assert guarded.get("/api/session").json() == {"needed": True, "name": ""}
    assert sign_in(guarded, "wrong").status_code == 422
    assert sign_in(guarded, "a long enough one").json()["name"] == "ada"
    assert guarded.get("/api/campaigns").json() == []
    assert guarded.delete("/api/session").json()["name"] == ""
    assert guarded.get("/api/campaigns").status_code == 401


def test_guessing_is_slowed_down(db, guarded):
    for _ in range(session.MOST_TRIES):
        assert "do not belong" in sign_in(guarded, "wrong").json()["problems"][0]["what"]
    assert "Too many" in sign_in(guarded, "a long enough one").json()["problems"][0]["what"]


def test_a_bench_shows_its_token_and_nothing_else(db, guarded):
    answer = guarded.get("/api/bench/campaigns")
    assert (answer.status_code, answer.json()["problems"][0]["where"]) == (401, "token")


def serve(folder, *more):
    call = [sys.executable, "-m", "trelvo.server", "serve", "--port", "0", "--no-browser", "--host", "0.0.0.0", *more]
    return subprocess.run(
        call, cwd=ROOT, env={"TRELVO_DATA": str(folder), "PATH": ""}, capture_output=True, text=True, timeout=120
    )


def test_the_real_server_says_what_is_missing(tmp_path):
    ended = serve(tmp_path, "--plain-http")
    assert ended.returncode != 0
    assert "./run.py account NAME" in ended.stderr


def test_the_real_server_over_https(tmp_path):
    account = [sys.executable, "-m", "trelvo.server", "add_account", "ada"]
    environment = {"TRELVO_DATA": str(tmp_path), "TRELVO_PASSWORD": "long and odd enough", "PATH": "/usr/bin:/bin"}
    subprocess.run(account, cwd=ROOT, env=environment, check=True, capture_output=True, timeout=120)
    cert, key = tmp_path / "cert.pem", tmp_path / "key.pem"
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost",
         "-addext", "subjectAltName=DNS:localhost,IP:127.0.0.1", "-keyout", str(key), "-out", str(cert)],
        check=True, capture_output=True,
    )  # fmt: skip
    with Served(tmp_path, "--host", "0.0.0.0", "--cert", str(cert), "--key", str(key)) as server:
        trust = ssl.create_default_context(cafile=str(cert))
        cookies = urllib.request.HTTPCookieProcessor(CookieJar())
        line = urllib.request.build_opener(urllib.request.HTTPSHandler(context=trust), cookies)
        address = f"https://127.0.0.1:{server.port}"
        with pytest.raises(urllib.error.HTTPError, match="401"):
            line.open(f"{address}/api/campaigns")
        body = json.dumps({"name": "ada", "password": "long and odd enough"}).encode()
        asked = urllib.request.Request(f"{address}/api/session", body, {"Content-Type": "application/json"})
        with line.open(asked) as answer:
            cookie = answer.headers["Set-Cookie"]
        assert "Secure" in cookie
        assert "HttpOnly" in cookie
        with line.open(f"{address}/api/campaigns") as answer:
            assert json.load(answer) == []
