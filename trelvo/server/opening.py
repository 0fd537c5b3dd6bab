"""What is looked at before anything is served: the data folder, its room and its database. In words, never a traceback."""

import contextlib
import os
import shutil
import sys
from pathlib import Path

# Less free than this, and the first run that is written may fill the disk.
LEAST_FREE_BYTES = 32 * 1024 * 1024
# Exit statuses: the folder cannot be used; the database cannot.
FOLDER_TROUBLE, DATABASE_TROUBLE = 3, 4


def folder_trouble(data: Path) -> str | None:
    """Why a data folder cannot be used, in words; None where it can."""
    try:
        data.mkdir(parents=True, exist_ok=True)
    except FileExistsError:
        return f"{data} is a file, not a folder. Choose another data folder with TRELVO_DATA."
    except OSError as trouble:
        return f"The data folder {data} cannot be made ({trouble.strerror}). Choose another with TRELVO_DATA."
    attempt = data / f".write-{os.getpid()}"
    try:
        attempt.write_bytes(b"x" * 4096)
    except OSError as trouble:
        return (
            f"Nothing can be written into the data folder {data} ({trouble.strerror}). What is in it is as it was. "
            "Allow this user to write there, make room, or choose another folder with TRELVO_DATA."
        )
    finally:
        with contextlib.suppress(OSError):
            attempt.unlink(missing_ok=True)
    free = shutil.disk_usage(data).free
    if free < LEAST_FREE_BYTES:
        return (
            f"Only {free / 1e6:.0f} MB are free where the data folder {data} lies; "
            f"{LEAST_FREE_BYTES / 1e6:.0f} MB are the least. "
            "What is in it is as it was. Make room, or choose another folder with TRELVO_DATA."
        )
    return None


def insist_on_folder(data: Path) -> None:
    """Ends the program with a plain message where the data folder cannot be used."""
    if trouble := folder_trouble(data):
        sys.stderr.write(f"Trelvo cannot start. {trouble}\n")
        raise SystemExit(FOLDER_TROUBLE)
