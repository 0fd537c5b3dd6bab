"""Whatever is sent, the API answers in words: never a traceback, never half a row."""

import json
import math

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.api.test_contract import BODY, places, post
from tests.moment import NOW
from trelvo.api.rendering import FiniteJSON
from trelvo.logbook.models import Campaign, Run, Setting

scalars = (
    st.none()
    | st.booleans()
    | st.integers(-(10**6), 10**6)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=8)
)
anything = st.recursive(
    scalars, lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3)
)
relaxed = settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=60, deadline=None)


def refused_in_words(answer):
    if answer.status_code >= 400:
        assert answer.status_code in (400, 404, 422)
        assert all(problem["what"] and problem["todo"] for problem in answer.json()["problems"])
    return answer.status_code


@relaxed
@given(field=st.sampled_from(sorted(BODY)), value=anything)
def test_a_campaign_with_one_field_gone_wild(client, db, field, value):
    before = Campaign.objects.count()
    status = refused_in_words(post(client, "/campaigns", {**BODY, field: value}))
    assert Campaign.objects.count() == before + (status == 201)
    Campaign.objects.all().delete()


@relaxed
@given(field=st.sampled_from(["stock", "step", "low", "high", "away", "key", "name", "unit"]), value=anything)
def test_a_knob_gone_wild(client, db, field, value):
    refused_in_words(post(client, "/campaigns", {**BODY, "knobs": [{**BODY["knobs"][0], field: value}]}))
    Campaign.objects.all().delete()


FIELDS = ["value", "outcome", "started_at", "note", "fan", "duration_s", "figures", "setting_id", "workload_id"]


@relaxed
@given(field=st.sampled_from(FIELDS), value=anything)
def test_a_run_gone_wild(client, campaign, stock, gorge, field, value):
    before = Run.objects.count()
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.6, field: value}
    status = refused_in_words(post(client, f"/campaigns/{campaign.pk}/runs", body))
    assert Run.objects.count() == before + (status == 201)


@relaxed
@given(field=st.sampled_from(["quantity", "part", "statistic", "value", "instrument_id", "point"]), value=anything)
def test_a_figure_gone_wild(client, campaign, stock, gorge, field, value):
    before = Run.objects.count()
    figure = {"quantity": "power", "part": "graphics", "statistic": "mean", "value": 180.0, field: value}
    body = {"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 93.6, "figures": [figure]}
    status = refused_in_words(post(client, f"/campaigns/{campaign.pk}/runs", body))
    assert Run.objects.count() == before + (status == 201)


@relaxed
@given(
    field=st.sampled_from(["name", "kind", "quantity", "offset", "factor", "trust", "trust_since", "resolution"]),
    value=anything,
)
def test_an_instrument_gone_wild(client, campaign, field, value):
    before = campaign.rig.instruments.count()
    body = {"name": "meter", "kind": "wall meter", "quantity": "power", field: value}
    status = refused_in_words(post(client, f"/rigs/{campaign.rig_id}/instruments", body))
    assert campaign.rig.instruments.count() == before + (status == 201)


@relaxed
@given(values=st.dictionaries(st.sampled_from(["power", "core", "fan", ""]), scalars, max_size=3))
def test_a_setting_gone_wild(client, campaign, values):
    before = Setting.objects.count()
    status = refused_in_words(post(client, f"/campaigns/{campaign.pk}/settings", {"values": values}))
    assert Setting.objects.count() == before + (status == 201)


@relaxed
@given(data=st.binary(max_size=200))
def test_bytes_instead_of_json(client, campaign, data):
    answer = client.post(f"/api/campaigns/{campaign.pk}/settings", data, content_type="application/json")
    assert answer.status_code in (400, 422)


def test_numbers_too_large_for_the_database_are_refused(client, campaign, stock, gorge):
    body = f'{{"setting_id": {10**30}, "workload_id": {gorge.pk}, "outcome": "completed", "value": 1}}'
    answer = client.post(f"/api/campaigns/{campaign.pk}/runs", body, content_type="application/json")
    assert answer.status_code in (404, 422)
    infinite = json.dumps({"setting_id": stock.pk, "workload_id": gorge.pk, "outcome": "completed", "value": 1e308})
    client.post(f"/api/campaigns/{campaign.pk}/runs", infinite, content_type="application/json")
    answer = client.get(f"/api/campaigns/{campaign.pk}/baseline")
    assert not any(word in answer.content.decode() for word in ("NaN", "Infinity"))


@pytest.mark.parametrize("path", ["/campaigns/{}/compare?holm=perhaps", "/campaigns/{}/ladder?workload_id=x"])
def test_queries_that_cannot_be_read(client, campaign, path):
    answer = client.get("/api" + path.format(campaign.pk))
    assert answer.status_code == 422
    assert len(places(answer)) == 1


def test_an_answer_with_a_number_that_is_none_is_json_all_the_same(rf, caplog):
    answer = FiniteJSON().render(rf.get("/api/x"), {"a": [1.5, math.inf, {"b": math.nan}]}, response_status=200)
    assert json.loads(answer) == {"a": [1.5, None, {"b": None}]}
    assert "/api/x" in caplog.text
    assert FiniteJSON().render(rf.get("/api/x"), {"at": NOW}, response_status=200).startswith('{"at": "')


def test_a_page_has_nothing_asked_ahead_for_whoever_is_not_signed_in(client, db, settings, tmp_path):
    (tmp_path / "index.html").write_text("<html></html>")
    settings.WEB_DIST = tmp_path
    assert "/api/logbook" in client.get("/logbook").headers["Link"]
    assert "Link" not in client.get("/campaigns/1/climb").headers
    settings.ACCOUNTS = True
    assert "Link" not in client.get("/logbook").headers
