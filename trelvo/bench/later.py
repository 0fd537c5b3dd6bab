"""What comes after the climb, on the simulator: hours of use in one go, what time does to a rig, and the search for a cause."""

import re
from dataclasses import asdict, replace
from datetime import datetime

import numpy as np
from django.db import transaction

from trelvo.bench.runs import ROOM_C, bench_of
from trelvo.core.climb.failures_in_use import ProbeKey
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.outcomes import FAILURES
from trelvo.logbook.commands.journal import write_entry
from trelvo.logbook.commands.kept_settings import log_probe, log_use
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft, add_build
from trelvo.logbook.models import Build, KeptSetting, Rig, UseEntry, Variant
from trelvo.simulator.bench import Bench, used_for
from trelvo.simulator.faults import Fault, Kind, draw_fault

# A driver comes along often enough without being to blame.
DRIVER_ALONG = 0.4
COOLER_K = 8.0
SETTLE_S = 300.0
# So much of what stands on either side of a driver's number is kept.
LONGEST = 50


def _own_bench(rig: Rig, number: int) -> Bench:
    """A bench of the rig whose luck is its own, so that the rig's runs are not disturbed."""
    if not rig.simulator:
        raise Refused(Problem("bench", "real_machine_hours", {"bench": rig.name}))
    bench = bench_of(rig)
    bench.rng = np.random.default_rng((rig.simulator_seed, number, 17))
    return bench


def _insist_on(bench: Bench, load: str) -> None:
    """Raises Refused for a workload that the simulator's rig does not know."""
    if load not in bench.rig.design.loads:
        raise Refused(
            Problem("workload", "simulator_lacks_workload", {"workload": load, "known": tuple(bench.rig.design.loads)})
        )


@transaction.atomic
def use_on_simulator(kept_setting: KeptSetting, hours: float, variant: Variant, now: datetime) -> UseEntry:
    """So many hours of use on the simulator, or as many as it lasts; logged like any other use."""
    if not 0 < hours <= 10_000:
        raise Refused(Problem("hours", "hours_out_of_range", {"hours": hours}))
    bench = _own_bench(kept_setting.rig, kept_setting.entries.count() + 1000 * kept_setting.pk)
    _insist_on(bench, variant.name)
    ending = used_for(bench, kept_setting.setting.values, variant.name, hours)
    failed = ending.outcome in FAILURES
    return log_use(
        kept_setting, ending.after_s / 3600 if failed else hours, now, outcome=ending.outcome if failed else "",
        minutes=ending.after_s / 60 if failed else None, variant=variant, room_c=ROOM_C, note="on the simulator",
    )  # fmt: skip


@transaction.atomic
def time_passes(
    kept_setting: KeptSetting, variant: Variant, now: datetime, seed: int | None = None, kind: Kind | None = None
) -> None:
    """Something happens to the kept setting's rig that makes its setting fail within hours; what it is stays hidden.

    seed: the same again, the same; by chance where left out; kind: chosen instead of drawn
    """
    rig = kept_setting.rig
    rng = np.random.default_rng(seed)
    bench = _own_bench(rig, 1)
    bench.fault = None
    _insist_on(bench, variant.name)
    bench.start(kept_setting.setting.values, variant.name, 20)
    bench.advance(SETTLE_S)
    if bench.now is None:
        raise RuntimeError("the bench did not run")
    present = rig.present_build()
    driver = next_version(present.driver if present and present.driver else "1.0")
    fault = draw_fault(
        rng, bench.now.core_over_mhz, bench.rig.chip.decade_mhz, bench.now.board_w, driver, variant.name, kind
    )
    if fault.kind == "new driver" or rng.random() < DRIVER_ALONG:
        _new_driver(rig, present, driver, now)
    rig.simulator_fault = asdict(fault)
    rig.save(update_fields=["simulator_fault"])


def next_version(driver: str) -> str:
    """What a driver is called after an update: its last number is one more; one without a number gets a second."""
    number = re.search(r"(\d{1,9})(\D*)$", driver)
    if number is None:
        return f"{driver[:LONGEST]} 2"
    return f"{driver[: number.start()][:LONGEST]}{int(number[1]) + 1}{number[2][:LONGEST]}"


def _new_driver(rig: Rig, present: Build | None, driver: str, now: datetime) -> None:
    parts = [PartDraft(one.role, one.name, one.specimen) for one in present.placed] if present else []
    words = {} if present is None else {w: getattr(present, w) for w in ("cooling", "enclosure", "firmware", "system")}
    add_build(rig, replace(BuildDraft(parts, driver=driver), **words), now)
    write_entry(rig, "driver", f"Driver {driver} came with an update.", now, now)


@transaction.atomic
def probe_on_simulator(entry: UseEntry, key: ProbeKey, minutes: float, now: datetime) -> UseEntry:
    """One test of the search for a cause, made on the simulator in one go."""
    kept_setting = entry.kept_setting
    rig = kept_setting.rig
    bench = _own_bench(rig, 1_000_000 + 10 * entry.pk + len(entry.probes))
    values = dict(kept_setting.setting.values)
    load = entry.variant.name if entry.variant else next(iter(bench.rig.design.loads))
    if key == "stock":
        values = {}
    elif key == "another load":
        load = str(kept_setting.proof["heaviest"])
    elif key == "earlier driver":
        bench.driver = str(kept_setting.proof["circumstances"]["driver"])
    elif key == "reseated" and bench.fault and bench.fault.kind == "supply or cable":
        bench.fault = None
    elif key == "cooler":
        bench = _cooler(bench)
    _insist_on(bench, load)
    ending = used_for(bench, values, load, minutes / 60)
    failed = ending.outcome in FAILURES
    return log_probe(entry, key, ending.after_s / 60 if failed else minutes, now, failed=failed)


def _cooler(bench: Bench) -> Bench:
    return Bench(bench.rig, ROOM_C - COOLER_K, bench.rng, fault=bench.fault, driver=bench.driver)


@transaction.atomic
def repaired(entry: UseEntry) -> None:
    """A connector that was seated stays seated."""
    rig = entry.kept_setting.rig
    if (
        entry.verdict == "supply or cable"
        and rig.simulator_fault
        and Fault(**rig.simulator_fault).kind == entry.verdict
    ):
        rig.simulator_fault = {}
        rig.save(update_fields=["simulator_fault"])
