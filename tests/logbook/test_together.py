"""Several kinds of rows in one question are what each would be by itself, to the last digit."""

import math

import pytest
from django.db import connection
from django.db.models import F
from django.test.utils import CaptureQueriesContext

from trelvo.logbook.models import Campaign, Figure, Fitting, Keeper, KnobRow, Part, Rig, Run, Setting, Variant
from trelvo.logbook.rows.together import read_together


def told(row):
    return {field.attname: getattr(row, field.attname) for field in row._meta.concrete_fields}


def test_the_same_rows_in_one_question(story):
    Run.objects.filter(value__isnull=False).update(value=F("value") * math.pi)
    wanted = {
        "campaigns": Campaign.objects.all(), "rigs": Rig.objects.order_by("-id"), "fittings": Fitting.objects.all(),
        "parts": Part.objects.filter(fitting__rig__name__contains="e"), "settings": Setting.objects.all(),
        "knobs": KnobRow.objects.all(), "runs": Run.objects.filter(outcome="completed").order_by("started_at", "id"),
        "keepers": Keeper.objects.all(), "figures": Figure.objects.all(),
        "none": Run.objects.filter(pk=-1),
    }  # fmt: skip
    with CaptureQueriesContext(connection) as asked:
        found = read_together(**wanted)
    assert len(asked) == 1
    for name, rows in wanted.items():
        assert [told(one) for one in found[name]] == [told(one) for one in rows], name
    assert len(found["runs"]) > 50
    assert not found["none"]


def test_annotations_come_along(story):
    rows = Variant.objects.annotate(campaign_pk=F("campaigns")).order_by("id", "campaign_pk")
    (found,) = read_together(variants=rows).values()
    assert [(one.pk, one.campaign_pk) for one in found] == [(one.pk, one.campaign_pk) for one in rows]


@pytest.mark.parametrize("value", [0.1 + 0.2, 1e-300, 123456789.123456789, -0.0, 1 / 3, 1e300])
def test_no_digit_is_lost(campaign, value):
    knob = campaign.knobs.first()
    KnobRow.objects.filter(pk=knob.pk).update(high=value)
    (found,) = read_together(knobs=KnobRow.objects.filter(pk=knob.pk))["knobs"]
    assert found.high == value
