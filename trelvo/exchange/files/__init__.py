"""Campaign files and CSV."""
