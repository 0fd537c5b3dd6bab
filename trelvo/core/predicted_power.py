"""What the power law of a campaign's readings predicts for settings that were not run."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from trelvo.core.base.runs import RunFacts
from trelvo.core.case import Case
from trelvo.core.laws.heat import Interval
from trelvo.core.laws.power_model import PowerPoint, fit_power
from trelvo.core.laws.power_prediction import Model, fit_model, predict
from trelvo.core.memo import on_snapshot
from trelvo.core.problems import Problem, Refused


@dataclass(frozen=True)
class Read:
    """What power is known: every run with it, the points of the law, the law with what predicts the knobs' part in it."""

    facts: tuple[RunFacts, ...]
    points: tuple[PowerPoint, ...]
    model: Model | None
    refused: tuple[Problem, ...]
    read_by: str


@on_snapshot
def read_power(case: Case) -> Read:
    """Readings of one instrument under the judged build: the one that read most of them."""
    build = case.campaign.judged_build
    runs = [run for run in case.campaign.runs if build and run.build_id == build.id]
    facts = [one for one in case.facts(runs) if one.outcome == "completed" and not one.set_aside and one.power_w]
    by = Counter((one.power_point, one.power_instrument) for one in facts)
    if not by:
        return Read((), (), None, (Problem("power", "no_power_read"),), "")
    (point, instrument), _ = by.most_common(1)[0]
    own = tuple(one for one in facts if (one.power_point, one.power_instrument) == (point, instrument))
    points = tuple(
        PowerPoint(one.setting_id, one.workload_id, one.core_mhz, one.voltage_v, one.power_w or 0.0, one.temp_max_c)
        for one in own
        if one.core_mhz is not None and one.voltage_v is not None
    )
    settings = {setting.id: setting.values for setting in case.campaign.settings}
    try:
        law = fit_power(points)
        model = fit_model(law, points, settings, case.campaign.knobs, case.campaign.power_limit_w)
    except Refused as refused:
        return Read(own, points, None, refused.problems, instrument or point)
    return Read(own, points, model, (), instrument or point)


def predicted_power(case: Case, values: Mapping[str, float], variant_id: int) -> Interval | None:
    """Watts of a setting under one workload, tried or not; None where nothing is known."""
    model = read_power(case).model
    if model is None or variant_id not in model.law.workloads or not model.law.fits:
        return None
    return predict(model, variant_id, values).power_w
