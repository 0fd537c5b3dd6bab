"""Writes, one noun a module; a transaction each."""
