"""How series are kept: whole logs as Parquet, what comes in live as plain numbers until the run ends."""

import io
from collections.abc import Mapping

import numpy as np
import numpy.typing as npt
import polars as pl

Numbers = npt.NDArray[np.float64]
TIME_COLUMN = "time_s"
FRAME_COLUMN = "frame_ms"
# The line in the dropped file (from 1) that a row was read from.
LINE_COLUMN = "file_line"
# What a series may unpack to: a small file can hold the same number a thousand million times.
MOST_ROWS, MOST_CELLS = 5_000_000, 80_000_000


def to_parquet(columns: Mapping[str, Numbers | npt.NDArray[np.int64]]) -> bytes:
    """Columns by name as Parquet (zstd)."""
    out = io.BytesIO()
    pl.DataFrame(dict(columns)).write_parquet(out, compression="zstd", statistics=False)
    return out.getvalue()


def from_parquet(data: bytes, names: list[str] | None = None) -> dict[str, Numbers]:
    """Columns of a kept series by name, all or those named. Raises ValueError for what unpacks to more than a log can hold."""
    schema = pl.read_parquet_schema(io.BytesIO(data))
    if any(not kind.is_numeric() for kind in schema.values()):
        raise ValueError("a column of the series holds no numbers")
    rows = int(pl.scan_parquet(io.BytesIO(data)).select(pl.len()).collect().item())
    if rows > MOST_ROWS or rows * len(names or schema) > MOST_CELLS:
        raise ValueError(f"the series unpacks to {rows} rows of {len(schema)} columns")
    frame = pl.read_parquet(io.BytesIO(data), columns=names)
    return {name: frame[name].to_numpy().astype(np.float64) for name in frame.columns}


def pack(numbers: Numbers) -> bytes:
    """Numbers as they are in memory, little-endian: a batch of ten readings costs no header and no compression."""
    return np.ascontiguousarray(numbers, dtype="<f8").tobytes()


def unpack(data: bytes | memoryview, columns: int) -> Numbers:
    """Rows of so many columns from `pack`ed bytes."""
    return np.frombuffer(bytes(data), dtype="<f8").reshape(-1, columns)
