"""What is kept, what each part of it brings, and what its use shows."""

import math
from collections.abc import Callable, Mapping, Sequence

from trelvo.messages.wording import times


def _hours(hours: float) -> str:
    """Rounded as it is known: two digits, never more sure than that."""
    if hours >= 10:
        digits = 10 ** (math.floor(math.log10(hours)) - 1)
        return f"{math.floor(hours / digits) * digits:.0f} h"
    return f"{hours:.1f} h" if hours >= 1 else f"{hours * 60:.0f} min"


def _use(pace: str, failures: int, one_in_h: float, sure: float) -> str:
    often = "no failure" if not failures else "one failure" if failures == 1 else f"{failures} failures"
    return f"{pace}, {often} (these hours alone say: at most one in {_hours(one_in_h)}, {sure:.0f} % sure)"


def _effect(unit: str) -> Callable[..., str]:
    def written(value: float, low: float | None, high: float | None) -> str:
        interval = "" if low is None or high is None else f" ({low:+.1f} to {high:+.1f})"
        return f"{value:+.1f}{unit}{interval}".replace("-", "−")

    return written


def _brings(effect: str, workloads: int, measured: int, watts: float | None) -> str:
    some = f" in {workloads} of {measured} workloads" if workloads < measured else ""
    price = ""
    if watts is not None and abs(watts) >= 0.5:
        price = f" for {watts:.0f} W more" if watts > 0 else f" and saves {-watts:.0f} W"
    return f"It brings {effect}{some}{price}"


def _keep_at(brings: str, why: str, values: Sequence[str]) -> str:
    return f"{brings}, but it {why}: keep it at {', '.join(values)}."


TEMPLATES: Mapping[str, str | Callable[..., str]] = {
    # Parts
    "the_tuned_part": "The tuned part",
    "the_graphics": "The graphics card",
    "the_processor": "The processor",
    "the_memory": "The memory",
    "the_board": "The board",
    "the_supply": "The power supply",
    "the_whole_machine": "The machine",
    "the_room": "The room",
    "the_part": "{part:capital}",
    # What a part brings
    "stands_at_stock": "{part} stands at stock.",
    "not_read_alike": "What it brings is not known: it was not read alike on both sides.",
    "not_measured_alike": "What it brings is not known: it was not measured alike on both sides.",
    "turned_with_others": "It was only ever turned together with others, so its share is not known.",
    "not_run_with_and_without": "What it brings is not known: no workload was run both with it and at stock.",
    "speed_effect": _effect(" %"),
    "power_effect": _effect(" % power"),
    "degrees_effect": _effect(" °C"),
    "noise_effect": _effect(" dB(A)"),
    "brings": _brings,
    "brings_as_it_is": "{brings}.",
    "brings_not_repeated": "{brings}; nothing was repeated.",
    "brings_loss": "{brings}: a loss.",
    "brings_too_little": "{brings}: less than the {least:g} % that count.",
    "brings_not_shown": "{brings}: not shown; keep it at stock unless more runs show it.",
    "failed_alone": lambda failures: f"failed {times(failures)} with nothing else turned",
    "beyond_what_holds": "stands beyond what holds",
    "look_for_another_cause": "{brings}, but it {why}: look for another cause first.",
    "keep_it_at": _keep_at,
    "shares_multiply": "The shares are assumed to multiply. No runs show otherwise.",
    "more_together": "{first} and {second:lower} bring {percent:+.1f} % more together than apart ({low:+.1f} to {high:+.1f}).",
    # Stock instead
    "stock_meets_goal": "Stock itself meets the goal. There is nothing to keep and nothing to check again.",
    "stock_misses_goal": "Stock does not meet the goal.",
    "stock_costs_nothing": "No setting tried is shown to meet the goal: stock costs nothing and holds.",
    "stock_gives_up_gains": "Stock: no tuning risk, but none of the gains above.",
    "stock_until_shown": "Stock costs nothing and holds without proof. No setting is shown to meet the goal yet.",
    # In use
    "no_use_logged": "no hours of use logged yet",
    "used_a_day": lambda a_day_h, **shown: _use(f"about {a_day_h:.0f} h a day", **shown),
    "used_in_all": lambda hours, **shown: _use(f"{_hours(hours)} in all", **shown),
    "kept_in_trouble": "Its state cannot be computed because of an impossible number in its campaign. Correct the campaign's goal.",
    "failed_in_use_next": "It failed in use. Next: {says}",
    "failed_in_use_then": "It failed in use. {says}",
    "step_down_and_keep": "Step down to {setting}, and keep that: the tuning was to blame.",
    "tried_stock": "At stock: {result}",
    "tried_another_load": "Another workload: {result}",
    "tried_earlier_driver": "Under the earlier driver: {result}",
    "tried_reseated": "After seating the connectors: {result}",
    "tried_cooler": "Cooler: {result}",
    "probe_failed": "failed after {minutes:.0f} min",
    "probe_held": "held for {minutes:.0f} min",
}  # fmt: skip
