"""Settings against each other: gains with intervals, verdicts, traps, fairness, claims."""
