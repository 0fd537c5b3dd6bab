"""What to keep, what each component brings, and how kept settings stand."""
