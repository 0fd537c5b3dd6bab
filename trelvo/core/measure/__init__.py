"""What a number is worth: logs, telemetry, frames, power, noise, gains, comparison, baseline."""
