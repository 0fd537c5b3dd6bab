"""From a file's bytes to UTF-8 text with one kind of line end."""

import codecs

from trelvo.core.message import Message, message
from trelvo.core.problems import Problem, Refused

HEAD = 65_536
# Bytes that are in no text.
_CONTROL = bytes(byte for byte in range(32) if byte not in b"\t\n\f\r")


def as_utf8(data: bytes) -> tuple[bytes, list[Message]]:
    """UTF-8 text with line feeds, and what was assumed. Raises Refused for empty and for binary files."""
    if not data:
        raise Refused(Problem("file", "empty_file"))
    data, cut = _without_zeros(data)
    text, notes = _decoded(data)
    notes = [*cut, *notes]
    return text.replace(b"\r\n", b"\n").replace(b"\r", b"\n") if b"\r" in text else text, notes


def _without_zeros(data: bytes) -> tuple[bytes, list[Message]]:
    """The file without the zero bytes that a crash leaves at its end, where nothing else in it is zero."""
    text = data.rstrip(b"\0")
    if len(text) == len(data) or not text or b"\0" in text:
        return data, []
    zeros = len(data) - len(text)
    return text, [message("zero_bytes_left_out", count=zeros)]


def _decoded(data: bytes) -> tuple[bytes, list[Message]]:
    if wide := _wide_encoding(data):
        try:
            return data.decode(wide).removeprefix("\ufeff").encode(), [message("read_as_utf16")]
        except UnicodeDecodeError:
            pass
    data = data.removeprefix(codecs.BOM_UTF8)
    head = data[:HEAD]
    control = len(head) - len(head.translate(None, _CONTROL))
    if b"\0" in data or control > len(head) * 0.01:
        raise Refused(Problem("file", "not_a_text_file"))
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace").encode(), [message("read_as_windows_1252")]
    return data, []


def _wide_encoding(data: bytes) -> str | None:
    """UTF-16 by its mark, or by the zero that is next to nearly every character of a table."""
    if data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    head = data[: HEAD // 2 * 2]
    pairs = len(head) // 2
    if pairs < 8:
        return None
    high, low = head[0::2].count(0), head[1::2].count(0)
    if low > 0.8 * pairs and high < 0.05 * pairs:
        return "utf-16-le"
    return "utf-16-be" if high > 0.8 * pairs and low < 0.05 * pairs else None
