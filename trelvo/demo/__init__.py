"""The invented scenario, told through the same commands and imports that a user has."""
