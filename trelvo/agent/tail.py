"""Follows a CSV file that another program is writing: the newest whole line of it, by columns that the user names."""

from pathlib import Path

from trelvo.agent.sensors import Channel

SEPARATORS = (";", "\t", ",", "|")
OWN_UNITS = {
    "core clock": "MHz", "memory clock": "MHz", "voltage": "V", "power": "W", "current": "A", "temperature": "°C",
    "fan": "%", "fan speed": "rpm", "load": "%", "frame rate": "fps", "other": "",
}  # fmt: skip


def column_map(words: list[str]) -> dict[str, Channel]:
    """HEADER=QUANTITY[:UNIT][@INSTRUMENT] words as channels by header. Raises ValueError saying which word is wrong."""
    found = {}
    for word in words:
        header, sign, rest = word.rpartition("=")
        said, _, instrument = rest.partition("@")
        quantity, _, unit = (part.strip() for part in said.partition(":"))
        if not sign or quantity not in OWN_UNITS:
            known = ", ".join(OWN_UNITS)
            way = "HEADER=QUANTITY, with :UNIT and @INSTRUMENT after it where they are needed"
            raise ValueError(f"--column {word}: say {way}. Quantities: {known}.")
        name = header.strip()
        found[name] = Channel(name, quantity, unit or OWN_UNITS[quantity], instrument=instrument.strip())
    return found


class CsvTail:
    """The first line names the columns. Lines that were there before are passed over; a file begun again is read again."""

    def __init__(self, path: Path, columns: dict[str, Channel]) -> None:
        if not columns:
            raise ValueError(f"Say with --column what the columns of {path} are.")
        self.path, self.columns = path, columns
        self._headers = self._read_headers()
        self._at = path.stat().st_size
        self._rest = b""

    def channels(self) -> list[Channel]:
        return list(self.columns.values())

    def read(self) -> dict[str, float]:
        """Readings of the newest whole line since the last call; nothing when none has come."""
        try:
            size = self.path.stat().st_size
            if size < self._at:
                self._at, self._rest = 0, b""
            with self.path.open("rb") as file:
                file.seek(self._at)
                fresh = file.read()
        except OSError:
            return {}
        self._at += len(fresh)
        *whole, self._rest = (self._rest + fresh).split(b"\n")
        lines = [line for line in whole if line.strip()]
        return self._numbers(lines[-1].decode("utf-8", "replace")) if lines else {}

    def _numbers(self, line: str) -> dict[str, float]:
        cells = dict(zip(self._headers, self._split(line), strict=False))
        found = {}
        for name in self.columns:
            try:
                found[name] = float(cells.get(name, "").strip().replace(",", "."))
            except ValueError:
                continue
        return found

    def _read_headers(self) -> list[str]:
        try:
            with self.path.open("rb") as file:
                first = file.readline().decode("utf-8-sig", "replace").rstrip("\r\n")
        except OSError as trouble:
            raise ValueError(f"{self.path} cannot be read: {trouble.strerror}.") from trouble
        self._separator = max(SEPARATORS, key=first.count)
        headers = self._split(first)
        if missing := [name for name in self.columns if name not in headers]:
            raise ValueError(f"{self.path} has no column {', '.join(missing)}. It has: {', '.join(headers)}.")
        return headers

    def _split(self, line: str) -> list[str]:
        return [cell.strip().strip('"') for cell in line.rstrip("\r\n").split(self._separator)]
