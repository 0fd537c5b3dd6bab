"""Words that every room of the core shares: problems, knobs, figures, runs, workloads."""
