"""Reads a CSV capture: delimiter, decimal mark, header and units are found, and anything else is refused in words."""

from __future__ import annotations

import codecs
import io
import itertools
import os
import re
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, BinaryIO

import numpy as np

from .clocks import is_clock, seconds, step_told, unwrapped

if TYPE_CHECKING:
    import pandas as pd

MOST_BYTES = 300_000_000
PIECE_ROWS = 200_000
BYTE_MARK = codecs.BOM_UTF8
MOST_COLUMNS = 64
HEAD_BYTES = 65_536
DELIMITERS = ("\t", ";", ",", "|", " ")
_LINE_END = re.compile(r"\r\n|\n|\r")
_END = re.compile(rb"\r\n|\n|\r")
_NUMBER = {
    ".": re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,3})?$"),
    ",": re.compile(r"[+-]?(\d+,?\d*|,\d+)([eE][+-]?\d{1,3})?$"),
}
_SOME_NUMBER = re.compile(r"[+-]?[\d.,]+([eE][+-]?\d+)?$")
_UNIT = re.compile(r"^(?P<name>.*?)\s*[(\[/_]\s*(?P<unit>[A-Za-zµΩ/%°]{1,7})\s*[)\]]?\s*$")


class CaptureError(ValueError):
    """A capture that cannot be used; the message is a sentence for its reader."""


@dataclass(frozen=True, slots=True)
class Layout:
    """How a file is written: delimiter, decimal mark, lines before the numbers, and each column's name and unit.

    ``open_ended``: every line ends with a delimiter. ``step_s``: the time between two rows, told above the numbers
    where no column holds it. ``clocks``: columns that hold clock times or dates; they are read as seconds.
    """

    delimiter: str
    decimal: str
    skip: int
    names: tuple[str, ...]
    units: tuple[str, ...]
    open_ended: bool = False
    step_s: float | None = None
    clocks: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class SampleTable:
    """A capture as columns of equal length. ``note`` tells what of the file was left out, and why."""

    layout: Layout
    columns: tuple[np.ndarray, ...]

    every: int = 1
    note: str = ""

    @property
    def rows(self) -> int:
        return len(self.columns[0])

    def at_most(self, rows: int) -> SampleTable:
        """The same with every so manieth row, where there are more than that; ``every`` says which were kept."""
        every = -(-self.rows // rows)
        if every == 1:
            return self
        return SampleTable(self.layout, tuple(c[::every].copy() for c in self.columns), every)


def read(source: bytes | Path) -> SampleTable:
    """Read a capture from its bytes or from a file. Raises CaptureError with a sentence; never anything else.

    A file is read in pieces: what is held at once is its numbers, and a piece of its text.
    """
    with io.BytesIO(source) if isinstance(source, bytes) else source.open("rb") as stream:
        size = stream.seek(0, os.SEEK_END)
        if size > MOST_BYTES:
            raise CaptureError(
                f"The file is larger than {MOST_BYTES // 1_000_000} MB: cut the capture down to what matters."
            )
        with _as_utf8(stream) as text:
            head = text.read(HEAD_BYTES)
            if not head.strip():
                raise CaptureError("The file is empty.")
            if b"\0" in head:
                raise CaptureError("That is no text file: export the capture as CSV.")
            layout = sniff(head.removeprefix(BYTE_MARK).decode("utf-8", "replace"), whole=len(head) < HEAD_BYTES)
            columns, note = _whole_or_first(text, layout)
            return _with_time(SampleTable(layout, columns, note=note))


def _whole_or_first(text: BinaryIO, layout: Layout) -> tuple[tuple[np.ndarray, ...], str]:
    """All rows; or, where words stand between them, those of the first segment. CaptureError."""
    try:
        return _numbers(text, layout), ""
    except CaptureError:
        rows, line = _first_segment(text, layout)
        if rows < 2:
            raise
        columns = _numbers(text, layout, rows)
        return columns, f"Only the {rows} rows before line {line} were read: another segment or a remark begins there."


def _first_segment(text: BinaryIO, layout: Layout) -> tuple[int, int]:
    """How many rows stand before a line that holds no number at all, and that line's place; 0 where a row is only
    broken."""
    text.seek(0)
    rows = 0
    lines = io.TextIOWrapper(text, encoding="utf-8", errors="replace", newline=None)
    try:
        for place, line in enumerate(lines, 1):
            if place <= layout.skip or not line.strip():
                continue
            cells = _fields(line.strip(), layout.delimiter)
            if not any(_NUMBER[layout.decimal].match(c) or is_clock(c) for c in cells):
                return rows, place
            rows += 1
    finally:
        lines.detach()
    return 0, 0


def _with_time(table: SampleTable) -> SampleTable:
    """The table with a column of time in front, where the file tells its step and holds none."""
    layout = table.layout
    named = [n.lower() for n in layout.names]
    has_time = bool(layout.clocks) or any(u in ("s", "ms", "us", "µs", "ns") for u in layout.units)
    has_time = has_time or any(n in ("t", "time", "zeit", "sec", "seconds") for n in named)
    if layout.step_s is None or has_time:
        return table
    names, units = ("time", *layout.names), ("s", *layout.units)
    time = np.arange(table.rows) * layout.step_s
    return replace(table, layout=replace(layout, names=names, units=units), columns=(time, *table.columns))


@contextmanager
def _as_utf8(stream: BinaryIO) -> Iterator[BinaryIO]:
    """The stream at its beginning; one in UTF-16 is written anew first, in pieces."""
    stream.seek(0)
    mark = stream.read(2)
    stream.seek(0)
    if mark not in (codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE):
        yield stream
        return
    with tempfile.TemporaryFile() as text:
        try:
            for piece in codecs.iterdecode(iter(lambda: stream.read(HEAD_BYTES), b""), "utf-16"):
                text.write(piece.encode())
        except UnicodeError as error:
            raise CaptureError("The file cannot be read as text.") from error
        text.seek(0)
        yield text


def sniff(head: str, *, whole: bool = True) -> Layout:
    """Find out how a file is written from its first lines. Raises CaptureError."""
    lines = _LINE_END.split(head)
    if not whole and len(lines) > 1:
        lines = lines[:-1]
    best: tuple[float, Layout] | None = None
    for delimiter in DELIMITERS:
        for decimal in (".", ","):
            if delimiter == decimal:
                continue
            found = _try(lines[:400], delimiter, decimal)
            if found is not None and (best is None or found[0] > best[0]):
                best = found
    if best is None:
        raise CaptureError(
            "No table of numbers was found: the file needs at least two columns, with a comma, semicolon, tab or space "
            "between them."
        )
    return best[1]


def _fields(line: str, delimiter: str) -> list[str]:
    if delimiter == " ":
        return line.split()
    fields = [f.strip().strip('"').strip() for f in line.split(delimiter)]
    while len(fields) > 1 and fields[-1] == "":
        fields.pop()
    return fields


def _try(lines: list[str], delimiter: str, decimal: str) -> tuple[float, Layout] | None:
    """How well a pair of marks explains the lines: rows of numbers × columns; None if not at all."""
    split = [_fields(line, delimiter) for line in lines]
    widths: dict[int, int] = {}

    def holds(text: str) -> bool:
        return _NUMBER[decimal].match(text) is not None or is_clock(text)

    step = step_told(lines[: _first_row(split, holds)])
    least = 1 if step is not None else 2
    for fields in split:
        if len(fields) >= least and fields[0] and all(map(holds, fields)):
            widths[len(fields)] = widths.get(len(fields), 0) + 1
    if not widths:
        return None
    width, rows = max(widths.items(), key=lambda item: (item[1], item[0]))
    if width > MOST_COLUMNS:
        return None
    first = next(i for i, f in enumerate(split) if len(f) == width and all(map(holds, f)))
    clocks = tuple(i for i, x in enumerate(split[first]) if not _NUMBER[decimal].match(x))
    names, units = _header(split[:first], width)
    # A decimal mark that is seen at work speaks for its reading; plain whole numbers do not.
    number = _NUMBER[decimal]
    seen = sum(decimal in x and number.match(x) is not None for f in split[first : first + 20] for x in f)
    open_ended = delimiter != " " and len(lines[first].split(delimiter)) > width
    # One column speaks for itself only where nothing makes two of it.
    return rows + 0.5 * (seen > 0) + 0.01 * (decimal == ".") - (width == 1), Layout(
        delimiter=delimiter,
        decimal=decimal,
        skip=first,
        names=names,
        units=tuple("s" if i in clocks else u for i, u in enumerate(units)),
        open_ended=open_ended,
        step_s=step,
        clocks=clocks,
    )


def _first_row(split: list[list[str]], holds: Callable[[str], bool]) -> int:
    """Where the numbers begin: the first line of nothing else behind the last one with words in it."""
    return next((i for i, f in enumerate(split) if f and f[0] and all(map(holds, f))), len(split))


def _header(rows: list[list[str]], width: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Names and units from the lines above the numbers; a second line may hold the units."""
    titles = [r for r in rows if len(r) == width]
    names = [f"column {i + 1}" for i in range(width)]
    units = [""] * width
    if titles:
        main, under = titles[-1], None
        above = titles[-2] if len(titles) > 1 else []
        if (
            above
            and all(len(x.strip("()[]")) <= 5 for x in titles[-1])
            and not any(_SOME_NUMBER.match(x) for x in above)
        ):
            main, under = titles[-2], titles[-1]
        for i, title in enumerate(main):
            match = _UNIT.match(title)
            if match and match["name"]:
                names[i], units[i] = match["name"].strip(), match["unit"]
            elif title:
                names[i] = title
            if under is not None and under[i].strip("()[]"):
                units[i] = under[i].strip("()[]")
    return tuple(n[:60] for n in names), tuple(units)


def _numbers(text: BinaryIO, layout: Layout, rows: int | None = None) -> tuple[np.ndarray, ...]:
    width = len(layout.names)
    pieces: list[list[np.ndarray]] = [[] for _ in range(width)]
    longer: list[np.ndarray] = []
    try:
        for frame in _frames(text, layout, np.float64, rows):
            for i in range(width):
                pieces[i].append(seconds(frame[i]) if i in layout.clocks else frame[i].to_numpy(copy=True))
            if layout.open_ended:
                longer.append(frame[width].notna().to_numpy())
    except (ValueError, OverflowError) as error:
        raise CaptureError(_where(text, layout, str(error))) from error
    # A delimiter at the end of every line makes one column more, of nothing; a longer row puts something there.
    if longer and (wrong := np.concatenate(longer)).any():
        raise CaptureError(f"Line {layout.skip + int(np.argmax(wrong)) + 1} has more than {width} columns.")
    # Column by column, so that no more than one of them is there twice.
    columns = tuple(np.concatenate(pieces.pop(0)) for _ in range(width)) if pieces[0] else ()
    columns = tuple(unwrapped(c) if i in layout.clocks and len(c) else c for i, c in enumerate(columns))
    if not columns or len(columns[0]) < 2:
        raise CaptureError("There are fewer than two rows of numbers.")
    # A sum is finite only if all its terms are (or cancel beyond all reason): one pass instead of a mask a column.
    if not all(np.isfinite(c.sum()) for c in columns):
        bad = ~np.all([np.isfinite(c) for c in columns], axis=0)
        if bad.sum() == 1 and bad[-1]:
            columns = tuple(c[:-1] for c in columns)
        elif bad.any():
            row = layout.skip + int(np.argmax(bad)) + 1
            raise CaptureError(f"Line {row} does not hold {width} finite numbers like the others.")
    if len(columns[0]) < 2:
        raise CaptureError("There are fewer than two rows of numbers.")
    return columns


def _frames(text: BinaryIO, layout: Layout, dtype: Any, rows: int | None = None) -> Iterator[pd.DataFrame]:
    """The rows below the header, some at a time. Raises what pandas raises."""
    import pandas as pd  # half a second to import: only who reads a capture pays it

    # From its first row of numbers: asking pandas to skip lines makes it look at every line of the file.
    text.seek(0)
    head = text.read(HEAD_BYTES)
    ends = [m.end() for _, m in zip(range(layout.skip), _END.finditer(head), strict=False)]
    text.seek(ends[-1] if ends else len(BYTE_MARK) if head.startswith(BYTE_MARK) else 0)
    with pd.read_csv(
        text,
        dtype={i: str if i in layout.clocks else dtype for i in range(len(layout.names) + layout.open_ended)},
        chunksize=PIECE_ROWS,
        nrows=rows,
        sep=r"\s+" if layout.delimiter == " " else layout.delimiter,
        decimal=layout.decimal,
        header=None,
        names=list(range(len(layout.names) + layout.open_ended)),
        encoding="utf-8",
        encoding_errors="replace",
        engine="c",
        quotechar='"',
    ) as frames:
        yield from frames


def _where(text: BinaryIO, layout: Layout, words: str) -> str:
    """The line that could not be read, as a sentence."""
    import pandas as pd

    line = layout.skip + 1
    try:
        for frame in _frames(text, layout, str):
            for i in range(len(layout.names)):
                cells = frame[i].astype(str)
                number = pd.to_numeric(cells.str.replace(layout.decimal, ".", regex=False), errors="coerce")
                wrong = number.isna().to_numpy()
                if wrong.any():
                    at = int(np.argmax(wrong))
                    return f"Line {line + at}, {layout.names[i]}: “{str(cells.iloc[at])[:30]}” is not a number."
            line += len(frame)
    except (ValueError, OverflowError):
        found = re.search(r"line (\d+)", words)
        if found:
            return f"Line {layout.skip + int(found[1])} has another number of columns."
        return "The rows do not all have the same columns."
    return "A number in the file cannot be read."


def decimated(*columns: np.ndarray, most: int = 400) -> list[np.ndarray]:
    """Fewer points with no peak hidden: the lowest and the highest of the second column in every bin stay.

    All columns are thinned at the same places; the first is the abscissa.
    """
    n = len(columns[0])
    if n <= most:
        return [np.asarray(c) for c in columns]
    guide = columns[1] if len(columns) > 1 else columns[0]
    edges = np.linspace(0, n, most // 2 + 1).astype(int)
    keep = {0, n - 1}
    for a, b in itertools.pairwise(edges):
        keep |= {a + int(np.argmin(guide[a:b])), a + int(np.argmax(guide[a:b]))}
    places = np.array(sorted(keep))
    return [np.asarray(c)[places] for c in columns]
