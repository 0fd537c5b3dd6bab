"""Prints five climbs by the numbers, step by step, as docs/methods.md shows them: specimens of the study, invented."""

from tests.core.climb.played import climb, row_named
from trelvo.core.climb.policy import Policy

SHOWN = (("base", 3), ("base", 8), ("cliff", 2), ("better while cold", 5), ("downwards", 4))


def main() -> None:
    for name, seed in SHOWN:
        row = row_named(name)
        silicon = row.draw(seed)
        kept = climb(row, silicon, Policy(minutes_left=90.0), seed)
        unit, knob = row.knob.unit, row.knob
        best = knob.stock + knob.away * silicon.safe_to(knob)
        steps = [
            f"{step.advice.value:+g} {'failed after' if step.failed else 'held'} {step.lasted:.0f} min"
            for step in kept.steps
        ]
        print(f"- *{name}*, in truth safe to {best:+g} {unit}: {'; '.join(steps)}. Kept {kept.value:+g} {unit}.")


if __name__ == "__main__":
    main()
