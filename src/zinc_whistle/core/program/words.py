"""Words of the builder's on their way into a program: text inside comments, and names of things.

A name is the builder's and may hold anything; a program is run. So every text passes one of these, and nothing else
puts words into a program.
"""

from __future__ import annotations

import re
import unicodedata

ENDS_OR_TURNS = ("Cc", "Cf", "Cs", "Zl", "Zp", "Co", "Cn")
"""Kinds of signs that end a line, turn its direction, or cannot be written at all."""
MARK = re.compile(r"\b(yours|made whole)(?=\s*:)")
MOST = 160


def plain(text: str) -> str:
    """One line of signs that can be seen; what a program's own marks are made of is told apart."""
    seen = "".join(" " if unicodedata.category(c) in ENDS_OR_TURNS else c for c in text[:MOST])
    return MARK.sub(r"\1’", seen)


def c_comment(text: str) -> str:
    """Text that can neither end nor begin a comment, nor join the next line to it."""
    return plain(text).replace("*", "∗").replace("\\", "/").replace("??/", "/")


def python_comment(text: str) -> str:
    """Text after ``#`` that stays on its line and names no encoding."""
    return re.sub(r"coding(?=[:=])", "coding ", plain(text))


def python_docstring(text: str) -> str:
    """Text between triple quotes that can neither end them nor escape what follows."""
    return plain(text).replace("\\", "/").replace('"', "”")


def class_name(slug: str) -> str:
    return "".join(word.capitalize() for word in slug.split("_"))


RESERVED = frozenset(
    [
        "None",
        "True",
        "False",
        "Contact",
        "Play",
        "Encoder",
        "Pulses",
        "Drive",
        "Servo",
        "Wire",
        "Pin",
        "Exception",
        "ValueError",
        "OSError",
    ]
)
"""Class names that a generated program has already, or that its language keeps."""


def identifier(name: str, taken: set[str]) -> str:
    """A name for a thing of the builder's in any of the languages: a letter, then letters, digits and lines.

    It is unlike all in ``taken``, to which it is added, also where a language writes it as a class; and unlike what the
    programs and the languages have themselves.
    """
    made = re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_")[:16].strip("_") or "drive"
    made = made if made[0].isalpha() else f"d_{made}"
    slug, more = made, 2
    others = RESERVED | {class_name(other) for other in taken}
    while class_name(slug) in others:
        slug, more = f"{made}_{more}", more + 1
    taken.add(slug)
    return slug
