"""The rules of the job: pure functions and frozen dataclasses, numpy and scipy only."""
