"""Safety limits, what limits now, contact with a bench."""
