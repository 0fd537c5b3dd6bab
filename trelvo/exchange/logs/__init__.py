"""Reading the logs of other programs."""
