"""What the laws predict for settings that were not run."""
