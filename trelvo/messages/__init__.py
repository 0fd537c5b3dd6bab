"""Codes and numbers in English: one module a slice, and the only place with its sentences."""
