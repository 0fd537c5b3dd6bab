"""Values that no machine gives: refused as they come, and harmless where an older version let them in."""

import pytest

from tests.drafts import run_draft
from trelvo.core.baseline.model import noise_meter
from trelvo.core.problems import Refused
from trelvo.core.stats.comparison import compare, judge
from trelvo.core.stats.noise import PooledNoise, pool
from trelvo.logbook.commands.runs import log_run
from trelvo.logbook.models import Run


@pytest.mark.parametrize("value", [1e22, 1e-9, -1.0])
def test_a_result_that_cannot_be_is_refused(campaign, stock, gorge, now, value):
    with pytest.raises(Refused) as caught:
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    assert caught.value.problems[0].where == "value"
    assert not Run.objects.exists()


@pytest.fixture
def absurd(campaign, stock, gorge, now):
    """A campaign of an older version with 100 and 1e22 at stock."""
    for value in (100.0, 100.5):
        log_run(campaign, stock, gorge, run_draft("completed", now, value), now)
    Run.objects.filter(value=100.5).update(value=1e22)
    return campaign


def test_one_absurd_campaign_hides_no_other(absurd, client, now):
    for address in ("", f"/{absurd.pk}", f"/{absurd.pk}/ladder", f"/{absurd.pk}/baseline", f"/{absurd.pk}/climb"):
        answer = client.get(f"/api/campaigns{address}")
        assert answer.status_code == 200, address
    assert "look for a wrong value" in str(client.get(f"/api/campaigns/{absurd.pk}/baseline").json()).lower()


def test_what_scatters_beyond_all_measure_carries_no_interval():
    noise = pool([[100.0, 1e22]])
    found = compare([100.0, 1e22], [100.0], higher_is_better=True, pooled=noise)
    assert (found.low, found.high) == (None, None)
    assert judge(found).word == "too few runs"
    assert noise_meter(PooledNoise(30.0, 1), 2).now == pytest.approx(9)
