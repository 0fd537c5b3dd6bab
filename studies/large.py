"""A large campaign: 10,000 runs over 400 settings and 12 workloads. As a script it fills the logbook in TRELVO_DATA.

python -m studies.large [CAMPAIGNS [RUNS EACH]]
"""

import sys
from datetime import timedelta

import numpy as np

from tests.moment import NOW

# Runs of a large campaign, and how many of its steps have a setting.
RUNS, SETTINGS = (10_000, 400)


def build_large(name: str = "Large", runs: int = RUNS):
    """Writes the campaign, on a rig of its own; answers it with its settings, stock first."""
    from trelvo.core.base.figures import BY_WORD
    from trelvo.core.base.knobs import Knob, fingerprint
    from trelvo.logbook.commands.campaigns import WorkloadDraft, create_campaign
    from trelvo.logbook.commands.instruments import instrument_at
    from trelvo.logbook.commands.rigs import BuildDraft, create_rig
    from trelvo.logbook.models import Figure, Run, Setting

    rig = create_rig(name, BuildDraft(driver="1"), NOW)
    fine = Knob("fine", "Fine", "MHz", 0, 1, 0, 1000, 1)
    drafts = [WorkloadDraft(f"Load {i}", "frame rate", "fps", True, 1.0) for i in range(12)]
    campaign = create_campaign(rig, name, "speed", "", [fine], drafts, NOW)
    settings = [campaign.settings.get()]
    for i in range(1, SETTINGS):
        values = {"fine": float(i)}
        settings.append(Setting(campaign=campaign, values=values, fingerprint=fingerprint(values), created_at=NOW))
    Setting.objects.bulk_create(settings[1:])
    workloads, rng, build = list(campaign.workloads.all()), np.random.default_rng(1), rig.present_build()
    rows = []
    for i in range(runs):
        setting, workload = settings[(i // 12) % SETTINGS], workloads[i % 12]
        value = round(100 * float(np.exp(rng.normal(setting.values.get("fine", 0) / 4000, 0.005))), 1)
        rows.append(
            Run(
                campaign=campaign, setting=setting, variant=workload, build=build, outcome="completed", value=value,
                started_at=NOW + timedelta(minutes=i),
            )
        )  # fmt: skip
    Run.objects.bulk_create(rows)
    own = instrument_at(rig, "software")
    read = {
        "power_w": 200.0, "temp_max_c": 60.0, "temp_mean_c": 55.0, "room_c": 22.0, "core_mhz": 2400.0, "memory_mhz": 9000.0,
        "voltage_v": 1.0, "low_1_fps": 80.0,
    }  # fmt: skip
    Figure.objects.bulk_create(
        Figure(
            run=run, quantity=key.quantity, part=key.part, statistic=key.statistic, value=value,
            instrument=own if word == "power_w" else None,
        )
        for run in rows
        for word, value in read.items()
        for key in [BY_WORD[word].key]
    )  # fmt: skip
    return campaign, settings


if __name__ == "__main__":
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", verbosity=0)
    many, each = (
        (int(one) for one in [*sys.argv[1:], "1", RUNS][:2]) if len(sys.argv) != 2 else (int(sys.argv[1]), RUNS)
    )
    for number in range(many):
        build_large(f"Large {number + 1}" if many > 1 else "Large", each)
