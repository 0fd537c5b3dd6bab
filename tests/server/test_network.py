"""Who can reach Trelvo: this machine alone, unless accounts and https, or an explicit word, allow more."""

import asyncio
import json
import ssl
import subprocess
import sys
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from http.cookiejar import CookieJar

import pytest
from django.contrib.sessions.backends.db import SessionStore
from django.core.checks import run_checks
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import OperationalError
from django.test import Client

from tests.conftest import CORE, GORGE
from tests.drafts import run_body, run_draft
from tests.server.process import ROOT, Served
from trelvo.api import session, sign_in_guard
from trelvo.exchange.store.write_gate import RESTORING
from trelvo.logbook.commands.campaigns import create_campaign
from trelvo.logbook.commands.rigs import BuildDraft, create_rig
from trelvo.logbook.commands.runs import log_run
from trelvo.server.management.commands.serve import server_config
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
    """Settings that a test may change and that are restored."""
    settings.ACCOUNTS = False
    settings.ALLOWED_HOSTS = ["127.0.0.1", "testserver"]
    settings.SESSION_COOKIE_SECURE = False
    settings.SECURE_HSTS_SECONDS = 0
    # the real ones are slow on purpose, which is Django's to test
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
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
    session.guard.forget()
    django_user_model.objects.create_user("ada", password="a long enough one", is_staff=True)
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
        "/api/archive.zip",
        "/api/openapi.json",
    ):
        answer = guarded.get(path)
        assert (answer.status_code, answer.json()["problems"][0]["where"]) == (401, "account")
    assert guarded.get("/api/session").json() == {"needed": True, "name": "", "owner": False}
    assert sign_in(guarded, "wrong").status_code == 422
    assert sign_in(guarded, "a long enough one").json()["name"] == "ada"
    assert guarded.get("/api/campaigns").json() == []
    assert guarded.delete("/api/session").json()["name"] == ""
    assert guarded.get("/api/campaigns").status_code == 401


def test_guessing_is_slowed_down_without_locking_the_owner_out(db, guarded):
    for _ in range(sign_in_guard.FROM_ADDRESS):
        assert "do not belong" in sign_in(guarded, "wrong").json()["problems"][0]["what"]
    assert "Too many" in sign_in(guarded, "a long enough one").json()["problems"][0]["what"]
    # another address is not the guesser's
    guarded.defaults["REMOTE_ADDR"] = "10.0.0.7"
    assert sign_in(guarded, "a long enough one").json()["name"] == "ada"
    # guesses from many addresses slow strangers down, not who has been here before
    for number in range(sign_in_guard.UNDER_NAME):
        guarded.defaults["REMOTE_ADDR"] = f"10.0.1.{number}"
        sign_in(guarded, "wrong")
    guarded.defaults["REMOTE_ADDR"] = "10.0.2.1"
    assert "Too many" in sign_in(guarded, "a long enough one").json()["problems"][0]["what"]
    guarded.defaults["REMOTE_ADDR"] = "10.0.0.7"
    assert sign_in(guarded, "a long enough one").json()["name"] == "ada"


@pytest.mark.parametrize(
    ("proxies", "peer", "caller"),
    [
        ([], "127.0.0.1", "127.0.0.1"),
        (["10.0.0.2"], "10.0.0.2", "203.0.113.9"),
        (["10.0.0.2"], "127.0.0.1", "127.0.0.1"),
        (["10.0.0.2"], "10.0.0.3", "10.0.0.3"),
    ],
)
def test_a_forwarded_address_counts_only_from_a_proxy_that_was_named(monkeypatch, proxies, peer, caller):
    """Else everyone writes whom they like into X-Forwarded-For, and tries as often as they like."""
    seen = []

    async def application(scope, receive, send):
        seen.append(scope["client"][0])

    config = server_config(Reach("127.0.0.1", "", "", False, ()), proxies)
    config.app = application
    config.load()
    scope = {
        "type": "http", "method": "GET", "path": "/", "raw_path": b"/", "query_string": b"", "scheme": "http",
        "client": (peer, 1), "server": ("127.0.0.1", 1), "headers": [(b"x-forwarded-for", b"203.0.113.9")],
        "asgi": {"version": "3.0", "spec_version": "2.3"}, "http_version": "1.1", "root_path": "",
    }  # fmt: skip
    asyncio.run(config.loaded_app(scope, None, None))
    assert seen == [caller]


def test_tries_side_by_side_count_like_one_after_the_other():
    """Twenty guesses sent at once: five are looked at, as if they had come in turn."""
    guard = sign_in_guard.Guard()
    with ThreadPoolExecutor(20) as pool:
        waits = list(pool.map(lambda _: guard.begin("10.0.0.9", "ada"), range(20)))
    assert sum(wait == 0 for wait in waits) == sign_in_guard.FROM_ADDRESS
    # whoever gets in has not been wrong
    other = sign_in_guard.Guard()
    for _ in range(3 * sign_in_guard.UNDER_NAME):
        assert other.begin("10.0.0.9", "ada") == 0
        other.right("10.0.0.9", "ada")


def post(client, path, body):
    return client.post(f"/api{path}", json.dumps(body), content_type="application/json")


def test_a_bench_may_log_and_not_delete_or_replace(db, guarded, campaign, stock, gorge, now, django_user_model):
    django_user_model.objects.create_user("ben", password="another long one")
    assert post(guarded, "/session", {"name": "ben", "password": "another long one"}).json()["owner"] is False
    body = {
        "setting_id": stock.pk,
        "workload_id": gorge.pk,
        "outcome": "completed",
        "value": 90.0,
        "started_at": now.isoformat(),
    }
    assert post(guarded, f"/campaigns/{campaign.pk}/runs", run_body(**body)).status_code == 201
    refused = [
        guarded.delete(f"/api/campaigns/{campaign.pk}/workloads/{gorge.pk}"),
        post(guarded, f"/campaigns/{campaign.pk}/delete", {}),
        guarded.put(f"/api/campaigns/{campaign.pk}/archived", "{}", content_type="application/json"),
        guarded.get("/api/copies"),
        post(guarded, "/copies/restore", {"name": "x"}),
        guarded.get("/api/accounts"),
        post(guarded, f"/rigs/{campaign.rig_id}/bench-tokens", {"name": "mine"}),
    ]
    assert [(one.status_code, one.json()["problems"][0]["where"]) for one in refused] == [(403, "account")] * len(
        refused
    )
    assert guarded.delete("/api/session").status_code == 200


def test_who_is_let_in_and_that_an_owner_is_left(db, guarded, campaign, django_user_model):
    ben = django_user_model.objects.create_user("ben", password="another long one")
    other = Client()
    assert post(other, "/session", {"name": "ben", "password": "another long one"}).status_code == 200
    sign_in(guarded, "a long enough one")
    ada = guarded.get("/api/accounts").json()["accounts"][0]
    assert (ada["name"], ada["role"], ada["signed_in"]) == ("ada", "owner", 1)
    assert (
        "nobody would be an owner"
        in post(guarded, f"/accounts/{ada['id']}", {"role": "bench"}).json()["problems"][0]["what"]
    )
    assert (
        "nobody would be an owner"
        in post(guarded, f"/accounts/{ada['id']}", {"let_in": False}).json()["problems"][0]["what"]
    )
    assert guarded.get("/api/accounts").json()["accounts"][0]["role"] == "owner"
    assert post(guarded, f"/accounts/{ben.pk}", {"let_in": False}).json()["let_in"] is False
    assert other.get("/api/campaigns").status_code == 401
    assert post(guarded, f"/accounts/{ben.pk}", {"let_in": True, "role": "owner"}).json()["role"] == "owner"


def test_a_bench_account_of_one_rig_logs_there_only(db, guarded, campaign, gorge, stock, now, django_user_model):
    ben = django_user_model.objects.create_user("ben", password="another long one")
    other = create_campaign(create_rig("Elsewhere", BuildDraft(), now), "Other", "speed", "", [CORE], [GORGE], now)
    sign_in(guarded, "a long enough one")
    bound = post(guarded, f"/accounts/{ben.pk}", {"rig_id": other.rig_id})
    assert (bound.status_code, bound.json()["rig_id"]) == (200, other.rig_id)
    # what is not named stays as it is
    assert post(guarded, f"/accounts/{ben.pk}", {"let_in": True}).json()["rig_id"] == other.rig_id
    wrong = post(guarded, f"/accounts/{ben.pk}", {"rig_id": 999})
    assert (wrong.status_code, wrong.json()["problems"][0]["where"]) == (422, "rig_id")
    run = log_run(campaign, stock, gorge, run_draft("completed", now, 90.0), now)
    bench = Client()
    post(bench, "/session", {"name": "ben", "password": "another long one"})
    for path in (
        f"/campaigns/{campaign.pk}/runs", f"/campaigns/{campaign.pk}/quick-line", f"/campaigns/{campaign.pk}/live",
        f"/rigs/{campaign.rig_id}/journal", f"/runs/{run.pk}/logs",
    ):  # fmt: skip
        answer = post(bench, path, {})
        assert (answer.status_code, answer.json()["problems"][0]["what"]) == (
            403, "This account may log runs of Elsewhere only.",
        ), path  # fmt: skip
    # it reads everything, and logs on its own
    assert bench.get(f"/api/campaigns/{campaign.pk}").status_code == 200
    own = {"setting_id": other.settings.get().pk, "workload_id": other.workloads.first().pk, "outcome": "completed"}
    body = run_body(**own, value=90.0, started_at=now.isoformat())
    assert post(bench, f"/campaigns/{other.pk}/runs", body).status_code == 201
    # on every rig again; and an owner is bound to none
    assert post(guarded, f"/accounts/{ben.pk}", {"rig_id": None}).json()["rig_id"] is None
    assert post(bench, f"/rigs/{campaign.rig_id}/journal", {}).status_code == 422
    post(guarded, f"/accounts/{ben.pk}", {"rig_id": other.rig_id})
    assert post(guarded, f"/accounts/{ben.pk}", {"role": "owner"}).json()["rig_id"] is None
    assert post(guarded, f"/accounts/{ben.pk}", {"rig_id": other.rig_id}).status_code == 422


def test_a_session_that_cannot_be_stored_is_refused_in_words(db, guarded, monkeypatch):
    store = SessionStore.save

    def save(session, must_create=False):
        # made while the request is answered; what it holds is stored afterwards
        if not must_create:
            raise OperationalError(RESTORING)
        store(session, must_create)

    monkeypatch.setattr(SessionStore, "save", save)
    answer = sign_in(guarded, "a long enough one")
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "5")
    assert "a backup is being restored" in answer.json()["problems"][0]["what"]


def test_ones_own_password_and_signing_out_everywhere(db, guarded):
    other = Client()
    sign_in(guarded, "a long enough one")
    sign_in(other, "a long enough one")
    wrong = post(guarded, "/account/password", {"old": "no", "new": "quite another one"})
    assert wrong.json()["problems"][0]["where"] == "old"
    assert (
        post(guarded, "/account/password", {"old": "a long enough one", "new": "short"}).json()["problems"][0]["where"]
        == "new"
    )
    assert (
        post(guarded, "/account/password", {"old": "a long enough one", "new": "quite another one"}).status_code == 200
    )
    assert (guarded.get("/api/campaigns").status_code, other.get("/api/campaigns").status_code) == (200, 401)
    sign_in(other, "quite another one")
    assert post(guarded, "/account/sign-out-everywhere", {}).json()["name"] == ""
    assert (guarded.get("/api/campaigns").status_code, other.get("/api/campaigns").status_code) == (401, 401)


def test_accounts_of_before_there_were_roles_stay_owners(db, reachable, django_user_model):
    django_user_model.objects.create_user("ada", password="a long enough one")
    allow(Reach("10.0.0.5", plain=True))
    assert django_user_model.objects.get().is_staff


def test_the_first_account_is_an_owners(db, monkeypatch, django_user_model):
    monkeypatch.setenv("TRELVO_PASSWORD", "long and odd enough")
    with pytest.raises(CommandError, match="first account is an owner"):
        call_command("add_account", "ben", "--bench")
    call_command("add_account", "ada")
    call_command("add_account", "ben", "--bench")
    assert {user.username: user.is_staff for user in django_user_model.objects.all()} == {"ada": True, "ben": False}


def test_django_finds_nothing_to_mend_where_others_are_let_in(db, reachable, django_user_model, tmp_path, monkeypatch):
    django_user_model.objects.create_user("ada", password="a long enough one")
    monkeypatch.setattr("trelvo.server.network._try_certificate", lambda reach: None)
    for name in ("cert", "key"):
        (tmp_path / name).write_text("")
    allow(Reach("10.0.0.5", cert=str(tmp_path / "cert"), key=str(tmp_path / "key")))
    reachable.SECRET_KEY = "x7" * 30 + "abcdefghij"
    found = run_checks(include_deployment_checks=True)
    assert [one.id for one in found if not one.is_silenced()] == []
    assert reachable.SECURE_HSTS_SECONDS > 0


def test_a_bench_shows_its_token_and_nothing_else(db, guarded):
    answer = guarded.get("/api/bench/campaigns")
    assert (answer.status_code, answer.json()["problems"][0]["where"]) == (401, "token")


def serve(folder, *more):
    call = [sys.executable, "-m", "trelvo.server", "serve", "--port", "0", "--no-browser", "--host", "0.0.0.0", *more]
    return subprocess.run(
        call, cwd=ROOT, env={"TRELVO_DATA": str(folder), "PATH": ""}, capture_output=True, text=True, timeout=300
    )


def test_the_real_server_says_what_is_missing(tmp_path):
    ended = serve(tmp_path, "--plain-http")
    assert ended.returncode != 0
    assert "./run.py account NAME" in ended.stderr


def test_the_real_server_over_https(tmp_path):
    account = [sys.executable, "-m", "trelvo.server", "add_account", "ada"]
    environment = {"TRELVO_DATA": str(tmp_path), "TRELVO_PASSWORD": "long and odd enough", "PATH": "/usr/bin:/bin"}
    subprocess.run(account, cwd=ROOT, env=environment, check=True, capture_output=True, timeout=300)
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
