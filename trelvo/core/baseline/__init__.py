"""How far repeats at stock tell results apart, and what each setting gained."""
