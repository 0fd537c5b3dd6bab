"""What to try next: strategies, stability, the score's top, order of knobs, planning, the ladder."""
