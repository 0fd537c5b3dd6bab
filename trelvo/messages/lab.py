"""What the laboratory says in words."""

from trelvo.core.laws.heat import WITHIN_C
from trelvo.core.laws.heat_finding import HeatFinding
from trelvo.core.problems import Refused
from trelvo.messages.problems import refusal_text


def heat_text(finding: HeatFinding) -> str:
    """One sentence: where the temperature settles, how surely, and how long that takes."""
    settles = f"{finding.settles_c:.1f} °C ± {finding.give_or_take_c:.1f}" if finding.settles_c is not None else ""
    at = f" at {finding.power_w:.0f} W" if finding.power_w is not None else ""
    match finding.code:
        case "unreadable":
            return refusal_text(Refused(*finding.problems))
        case "does_not_fit":
            return (
                f"Where it settles cannot be told. The readings lie {finding.misfit_c:.1f} °C from any warming at the power "
                "read: fan, room or power changed in a way that the log does not show, or the sensor jumps."
            )
        case "settled":
            return f"Settled: it is within {WITHIN_C:g} °C of {settles}{at}."
        case "settles":
            known = "The end is known closely enough to stop. " if finding.known else ""
            at = at or ", if its power stays as it is (it was not read)"
            return f"{known}Settles at {settles}{at}; about {finding.more_min} min more to be within {WITHIN_C:g} °C of that."
