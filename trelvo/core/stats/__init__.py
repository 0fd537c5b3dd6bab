"""Statistics of runs: noise, comparisons, time series."""
