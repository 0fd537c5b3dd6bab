"""All that drives the stand-in: runs, queue, practice, driver."""
