"""Is it stable: schools, what was tested, triage of a failure."""
