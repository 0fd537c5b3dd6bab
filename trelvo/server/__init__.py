"""The server. Answers are computed side by side in threads: a library that shares one out among all cores makes them wait."""

import os

# read by numpy's libraries when they are loaded, so it stands before anything that loads them
for _name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"):
    os.environ.setdefault(_name, "1")
