"""Texts of the builder's where others read them: names that show all that is in them, cells that are no formulas."""

from __future__ import annotations

import re

HIDDEN = re.compile("[\x00-\x1f\x7f-\x9f\u061c\u200b\u200e\u200f\u202a-\u202e\u2028\u2029\u2060\u2066-\u2069\ufeff]")
"""Controls, signs without a width, and those that turn the direction of what follows."""
FORMULA = re.compile(r"'*[=+\-@\t\r]")
QUANTITY = re.compile(r"[-+]\d+(?:[.,]\d+)?(?:e[-+]?\d+)?\s*[\w°µΩ%/·²³]*", re.ASCII | re.IGNORECASE)


def shown(text: str) -> str:
    """A name in which what cannot be seen is seen: a mark in its place."""
    return HIDDEN.sub("\ufffd", text)


def guarded(text: str) -> str:
    """A cell that a spreadsheet takes for a text; ``unguarded`` gives the text back."""
    return f"'{text}" if FORMULA.match(text) and not QUANTITY.fullmatch(text) else text


def unguarded(cell: str) -> str:
    """The text of a cell that ``guarded`` made; others stay as they are."""
    return cell[1:] if cell.startswith("'") and FORMULA.match(cell) else cell
