"""How much is taken in one piece. Stated to the user wherever a file can be given."""

import csv

from trelvo.logbook.rows.series_bytes import MOST_ROWS

MEBIBYTE = 1024 * 1024
LOG_BYTES = 64 * MEBIBYTE
ARCHIVE_BYTES = 256 * MEBIBYTE
FORM_BYTES = 2 * MEBIBYTE
LOG_ROWS = MOST_ROWS
LOG_COLUMNS = 1000
BATCH_ROWS = 20_000
LIVE_CHANNELS = 64

# A cell of a table, in characters. Python's reader has one bound for the whole process: it is set here, once.
MOST_CELL = 4 * MEBIBYTE
csv.field_size_limit(MOST_CELL)


def in_words(size: int) -> str:
    """A size in bytes as a person says it: "64 MiB", "512 bytes"."""
    return f"{size / MEBIBYTE:.0f} MiB" if size >= MEBIBYTE else f"{size} bytes"
