"""The stand-in bench: invented silicon, seeded, so that Trelvo can be tried without hardware. Knows nothing of core."""
