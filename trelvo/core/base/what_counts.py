"""What counts unless the user says otherwise: numbers that a campaign keeps, and that verdicts are judged by."""

# The smallest gain that matters: half a percent.
SMALLEST_GAIN = 0.005
# How finely the baseline is to be known: a difference of 1 %.
WISHED_RESOLUTION = 0.01
# Days after which a baseline is stale. Common practice.
STALE_DAYS = 30.0
