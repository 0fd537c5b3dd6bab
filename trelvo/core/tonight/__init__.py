"""What fits into an evening."""
