"""Compare table, fairness, traps, claims."""
