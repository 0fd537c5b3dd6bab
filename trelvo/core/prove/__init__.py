"""Is it stable: approaches, what was tested, triage of a failure."""
