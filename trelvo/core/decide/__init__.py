"""Where a campaign stands and what comes next."""
