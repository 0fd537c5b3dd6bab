"""All that drives the simulator: runs, queue, practice, driver."""
