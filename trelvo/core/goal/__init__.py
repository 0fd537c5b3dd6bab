"""Every setting judged by the goal: conditions, measures, trade-offs, cautions."""
