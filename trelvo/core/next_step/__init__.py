"""Where a campaign stands, and the one thing to do next."""
