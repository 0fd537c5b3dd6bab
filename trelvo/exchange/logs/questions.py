"""What only the user can say of a log's column, by code; the screen branches on it, never on the sentence."""

from typing import Literal

Question = Literal["", "decimal mark", "scale", "unit", "tuned part", "which counts", "day or month", "time format"]
