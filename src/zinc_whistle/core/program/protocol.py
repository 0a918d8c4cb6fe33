"""The line protocol on the serial port, as docs/protocol.md tells it: text, a tilde, and a CRC-8 in two digits."""

from __future__ import annotations

VERSION = 2
LONGEST = 60
"""Characters of a line, the check included; a longer one is refused."""
POLYNOMIAL = 0x07
"""x⁸ + x² + x + 1, starting from 0, no reflection."""


def crc8(data: bytes) -> int:
    """CRC-8 of some bytes (polynomial x⁸ + x² + x + 1): 0xF4 for the digits 1 to 9."""
    value = 0
    for byte in data:
        value ^= byte
        for _ in range(8):
            value = (value << 1 ^ POLYNOMIAL if value & 0x80 else value << 1) & 0xFF
    return value


def framed(text: str) -> str:
    """A line with its check, as it goes over the wire (without the line's end). ValueError for what cannot go."""
    if not text.isascii() or not text.isprintable() or "~" in text:
        raise ValueError(f"a line holds printable ASCII without a tilde: {text!r}")
    if len(text) + 3 > LONGEST:
        raise ValueError(f"a line has at most {LONGEST - 3} characters before its check: {text!r}")
    return f"{text}~{crc8(text.encode()):02X}"


def unframed(line: str) -> str | None:
    """The text of a line whose check is right, else None."""
    text, tilde, check = line.rpartition("~")
    if not tilde or len(line) > LONGEST:
        return None
    if not text.isascii():
        return None
    return text if check == f"{crc8(text.encode()):02X}" else None


def whole(word: str) -> int | None:
    """A whole number of up to nine digits with an optional sign, else None."""
    digits = word[1:] if word[:1] in "+-" else word
    return int(word) if digits.isascii() and digits.isdigit() and len(digits) <= 9 else None
