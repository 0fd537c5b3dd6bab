"""Figures of a log, or of a part of it: telemetry and frame times."""
