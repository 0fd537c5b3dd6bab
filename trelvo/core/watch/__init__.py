"""Guard rails, what limits now, contact with a bench."""
