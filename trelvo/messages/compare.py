"""What Compare says in words."""

from dataclasses import dataclass

from trelvo.core.compare import traps
from trelvo.core.compare.traps import Trap


@dataclass(frozen=True)
class TrapText:
    """A trap in words. evidence: what shows it; claims: what one would wrongly say; truth: what holds instead"""

    name: str
    evidence: str
    claims: str
    truth: str


def trap_text(trap: Trap) -> TrapText:
    """A trap with its name, what shows it, what one would wrongly say, and what holds instead."""
    return TrapText(*_words(trap.shown))


def _words(shown: traps.Shown) -> tuple[str, str, str, str]:
    match shown:
        case traps.InsideNoise():
            gain, low, high = shown.gain * 100, shown.low * 100, shown.high * 100
            more = f" {shown.more_runs} more runs on each side would probably settle it." if shown.more_runs else ""
            return (
                "winner inside the noise",
                f"{gain:+.1f} %, but the interval runs from {low:+.1f} to {high:+.1f} %.",
                f"{'Faster' if gain > 0 else 'Slower'} by {abs(gain):.1f} %.",
                f"{'A tie' if shown.tie else 'Nothing is shown yet'}.{more}",
            )
        case traps.OneRun():
            return (
                "one run only",
                "One run counts here.",
                "That this run is the rule.",
                "Single runs scatter; two more show how far.",
            )
        case traps.SeveralKnobs():
            return (
                "several knobs turned at once",
                f"Turned together: {', '.join(shown.names)}.",
                "That one of them made the difference.",
                "Nothing tells which did. Test a setting in between.",
            )
        case traps.Capped():
            return (
                "capped workload",
                f"{shown.mean_fps:.1f} frames a second, {shown.cap_fps:g} is a cap; "
                f"the runs differ by {shown.spread * 100:.2f} %.",
                "That tuning does nothing here.",
                "Above the cap nothing shows. Lift it, raise the resolution, or compare lows, watts and degrees.",
            )
        case traps.MixedPoints():
            reference, candidate = " and ".join(shown.reference), " and ".join(shown.candidate)
            return (
                "power read at different points",
                f"Watts: {reference} against {candidate}.",
                "A saving or a cost in watts.",
                "They measure different things; only what one of them read on both sides is compared.",
            )
        case traps.StaleBaseline():
            return (
                "stale baseline",
                "The reference was measured under another build."
                if shown.age_days is None
                else f"It is {shown.age_days} days old.",
                "That all of the difference is the tuning's.",
                "Driver, dust and season move results too. Measure stock again, on the same day.",
            )
        case traps.FirstRun():
            return (
                "first run kept",
                f"The first run gave {shown.first:g}, the others {shown.others:g} on average.",
                f"A mean of {shown.mean:.4g}.",
                "First runs fill caches. Set it aside; it stays in the log.",
            )
        case traps.FarOff():
            told = " and ".join(f"{value:g}" for value in shown.values)
            return (
                "run far off",
                f"{told}, while the others gave {shown.low:g} to {shown.high:g}.",
                "A mean with it in it, or that this workload varies as widely.",
                "It enters no mean. Set it aside, or run the setting again if it may be right.",
            )
        case traps.ScoreFalls():
            return (
                "score falls while the clock rises",
                f"{shown.best:g} gave {shown.best_gain * 100:+.1f} %, "
                f"{shown.worse:g} only {shown.worse_gain * 100:+.1f} %.",
                "That the higher clock is the better one, since it did not crash.",
                f"Errors are being corrected. Go back to {shown.best:g}.",
            )
        case traps.FewFrames():
            return (
                "lows from too few frames",
                f"{shown.tail} of {shown.frames} frames make the {shown.share * 100:g} % low.",
                "A difference in stutter.",
                f"Log at least {shown.enough} frames, or use the {shown.share * 1000:g} % low.",
            )
        case traps.WarmStart():
            return (
                "warm start",
                f"It began at {shown.start_c:.0f} °C in a room of {shown.room_c:.0f} °C.",
                "That this setting runs hotter.",
                "It began hotter. Let the part cool, or warm up before every run alike.",
            )
        case traps.ClockNotGot():
            return (
                "clock set but not got",
                f"Set {shown.set_more_mhz:g} MHz higher, reached {shown.got_more_mhz:+.0f} MHz.",
                "The performance of the clock that was set.",
                "Something holds the clock: power, heat or voltage. Look at the limiter.",
            )
        case traps.Drift() | traps.SuddenChange() | traps.ShortPass():
            return _in_time(shown)


def _in_time(shown: traps.Drift | traps.SuddenChange | traps.ShortPass) -> tuple[str, str, str, str]:
    match shown:
        case traps.Drift():
            return (
                "drift",
                f"Repeats of the same setting {'fall' if shown.change < 0 else 'rise'} by {abs(shown.change) * 100:.2f} % "
                f"over the {shown.session_minutes:.0f} min of the session "
                f"({shown.low * 100:+.2f} to {shown.high * 100:+.2f}).",
                "That what was run later is better or worse for its setting.",
                "Warm up longer; run what is compared in the order A B B A, or stock again at the end: "
                "then the drift falls out.",
            )
        case traps.SuddenChange():
            return (
                "sudden change",
                f"From one run on all settings stand {shown.size * 100:+.1f} % off "
                f"({shown.low * 100:+.1f} to {shown.high * 100:+.1f}).",
                "That the settings run since then are better or worse.",
                "Look in the journal for what changed: driver, window, room, another program. "
                "Run stock again before comparing.",
            )
        case traps.ShortPass():
            return (
                "short first pass",
                f"A log shows the clock {100 * shown.ahead:.0f} % higher for the first {shown.start_s:.0f} s; "
                f"the runs last {shown.lasts_s:.0f} s.",
                f"Results and watts that are up to {100 * shown.lifted:.0f} % above what it holds.",
                f"What it holds is what counts: let it run {shown.enough_s / 60:.0f} min or more, "
                "or set the first pass aside.",
            )
