"""Texts that can be kept and shown, and chances in words."""

import math
import unicodedata

# Line ends and tabs are the only control characters that a note may hold.
KEPT_CONTROLS = frozenset("\n\r\t")
_UNSEEN = frozenset({"Cf", "Zs", "Zl", "Zp", "Mn", "Me", "Cn", "Co"})


def unreadable(text: str) -> str | None:
    """Why a text cannot be kept, in words: control characters, halves of characters, nothing to be seen; None where it can."""
    if text.isascii() and text.isprintable():
        return None
    kinds = {unicodedata.category(sign) for sign in text if sign not in KEPT_CONTROLS}
    if kinds & {"Cc", "Cs"}:
        return "the text holds control characters"
    if text.strip() and kinds <= _UNSEEN:
        return "the text holds nothing that can be seen"
    return None


def chance_words(share: float) -> str:
    """A chance in whole percent, rounded down: what is not 90 % sure is not said to be, and nothing is wholly sure."""
    if share >= 0.995:
        return "more than 99 %"
    return f"{math.floor(100 * share + 1e-9)} %" if share >= 0.01 else "less than 1 %"
