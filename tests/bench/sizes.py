"""How large a benchmark is: in full by ./run.py bench, as small as it can be in ./run.py test, so that none of them rots."""

import os
from typing import TypeVar

# Set by ./run.py test: what is measured then says nothing, only that it can be measured.
SMALLEST = bool(os.environ.get("TRELVO_BENCH_SMALLEST"))
Size = TypeVar("Size")


def size(full: Size, smallest: Size) -> Size:
    """A number of specimens, runs or seconds."""
    return smallest if SMALLEST else full
