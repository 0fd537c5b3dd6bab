"""Reads: a campaign's data as the core takes it, series, bytes."""
