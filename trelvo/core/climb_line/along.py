"""Which settings lie along a knob: those that differ in nothing else."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence

from trelvo.core.base.knobs import Knob, fingerprint
from trelvo.core.campaign import CampaignSnapshot, Setting
from trelvo.core.memo import on_snapshot

# Where the knobs stand that are not along the line, by key; those at stock are left out.
Others = frozenset[tuple[str, float]]


@on_snapshot
def settings_along(campaign: CampaignSnapshot, knob: Knob) -> Mapping[Others, Mapping[float, Setting]]:
    """Every line along a knob, by where the others stand: its settings by the knob's value."""
    found: dict[Others, dict[float, Setting]] = defaultdict(dict)
    for setting in campaign.settings:
        value = float(setting.values.get(knob.key, knob.stock))
        found[others_of(without(setting, knob.key))][value] = setting
    return dict(found)


def others_of(values: Mapping[str, float]) -> Others:
    return frozenset(values.items())


def without(setting: Setting, key: str) -> dict[str, float]:
    """A setting's values but for one knob's."""
    return {name: value for name, value in setting.values.items() if name != key}


def turned_last(keys: Sequence[str], setting: Setting) -> str:
    """The last of the knobs that the setting has turned; the first where it has turned none."""
    return next((key for key in reversed(keys) if key in setting.values), keys[0])


@on_snapshot
def run_most(campaign: CampaignSnapshot, key: str) -> Setting:
    """A setting of the line along which the knob has been run at the most values, then most often; the newest of equals."""
    counts = Counter(run.setting_id for run in campaign.runs)
    values: dict[str, int] = defaultdict(int)
    runs: dict[str, int] = defaultdict(int)
    lines = {setting.id: fingerprint(without(setting, key)) for setting in campaign.settings}
    for setting in campaign.settings:
        if key in setting.values and setting.id in counts:
            values[lines[setting.id]] += 1
            runs[lines[setting.id]] += counts[setting.id]
    return max(campaign.settings, key=lambda setting: (values[lines[setting.id]], runs[lines[setting.id]], setting.id))
