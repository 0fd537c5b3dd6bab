"""A whole run in one typed line."""
