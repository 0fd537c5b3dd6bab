"""The invented scenario, told through the same acts and imports that a user has."""
