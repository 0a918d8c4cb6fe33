"""Reading and printing quantities in the notation of the trade.

One grammar of our own, by kind of quantity: a unit beats a prefix (``2m`` as a length is two metres), so the
field says what is asked for and the text is read in that light.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import lru_cache

from .units import KINDS, PREFIXES, SYNONYMS, UNITS, Kind, Unit

THIN = "\u202f"
COVERAGE = 2.0
"""``±`` in what is read and printed is an expanded uncertainty with k = 2 (JCGM 100:2008, 6.2)."""

LARGEST = 1e15
"""Beyond this (in SI units) nothing of the job lies, and squares of it could overflow."""


class QuantityError(ValueError):
    """The text is not a quantity of the kind that was asked for; the message is a sentence for its reader."""


@dataclass(frozen=True, slots=True)
class Quantity:
    """A value in SI units, its standard uncertainty (SI) where one was typed, and the unit as typed."""

    value: float
    doubt: float | None
    unit: str


_GAP = r"[ \u2009\u202f\u00a0]"
_CODE = re.compile(r"(?P<sign>[+-]?)(?P<whole>\d+)(?P<letter>[a-zA-ZµΩ])(?P<part>\d+)(?P<rest>\D.*)?$")
_NUMBER = re.compile(
    rf"(?P<sign>[+-]?){_GAP}*(?P<whole>\d{{1,3}}(?:{_GAP}\d{{3}})+(?!\d)|\d*)"
    r"(?:(?P<mark>[.,])(?P<part>\d*))?(?:[eE](?P<power>[+-]?\d{1,3})(?![\d.]))?(?P<rest>.*)$",
    re.DOTALL,
)
_FRACTION = re.compile(
    rf"(?P<sign>[+-]?){_GAP}*(?:(?P<whole>\d+){_GAP}+)?(?P<over>\d+(?:\.\d+)?){_GAP}*/{_GAP}*"
    r"(?P<under>\d+(?:\.\d+)?)(?P<rest>(?![\d.,/]).*)$",
    re.DOTALL,
)
_RATIO = re.compile(rf"(?P<left>\d+(?:\.\d+)?){_GAP}*:{_GAP}*(?P<right>\d+(?:\.\d+)?)$")
_TIDY = str.maketrans({"\u2212": "-", "\u2013": "-", "μ": "µ", "Ω": "Ω", "×": "*", "⋅": "·", "•": "·"})


@lru_cache(maxsize=64)
def _accepted(kind: Kind) -> dict[str, Unit]:
    found: dict[str, Unit] = {}
    for symbol in (*kind.units, *kind.display):
        unit = UNITS[symbol]
        found[symbol] = unit
        for letter in unit.prefixes:
            found[letter + symbol] = UNITS[letter + symbol]
    return found


def _canonical(text: str) -> str:
    text = re.sub(r"\^?2(?=$|[·/)])", "²", text.strip())
    text = re.sub(r"(?<=[A-Za-z²])[ .*-]+(?=[A-Za-z])", "·", text)
    return "µ" + text[1:] if len(text) > 1 and text[0] == "u" else text


def _base_of(unit: Unit) -> Unit:
    if len(unit.symbol) > 1 and unit.symbol[0] in PREFIXES and not unit.prefixes:
        base = UNITS.get(unit.symbol[1:])
        if base is not None and base.dimension == unit.dimension and unit.symbol[0] in base.prefixes:
            return base
    return unit


def _article(name: str) -> str:
    return f"an {name}" if name[0] in "aeiou" else f"a {name}"


def _examples(kind: Kind, default: Unit) -> str:
    names = list(dict.fromkeys([default.symbol, *(kind.display[:4]), *kind.units[:3]]))
    names = [n for n in names if n not in ("", "1")]
    return f": give a number in {', '.join(names[:5])}" if names else ": give a plain number"


def _unit_for(text: str, kind: Kind, default: Unit) -> Unit | None:
    symbol = _canonical(text)
    if not symbol:
        return default
    accepted = _accepted(kind)
    for name in (symbol, SYNONYMS.get(symbol, ""), SYNONYMS.get(symbol.replace("·", ""), "")):
        if name and name in accepted:
            return accepted[name]
    if symbol[0] in "µmkM" and (rest := SYNONYMS.get(symbol[1:])) and symbol[0] + rest in accepted:
        return accepted[symbol[0] + rest]
    letter = {"u": "µ", "K": "k", "meg": "M"}.get(symbol, symbol)
    if letter in PREFIXES and kind.name != "temperature":
        base = _base_of(default)
        if letter in base.prefixes or (letter in "kM" and not base.prefixes and base.offset == 0):
            return Unit(letter + base.symbol, base.dimension, base.factor * PREFIXES[letter])
    return None


def _digits(match: re.Match[str], text: str) -> float:
    whole, mark, part = match["whole"], match["mark"], match["part"] or ""
    if not whole and not part:
        raise QuantityError(f"“{text.strip()}” does not begin with a number.")
    if mark == "," and len(part) == 3 and whole.strip("0"):
        raise QuantityError(
            f"“{text.strip()}” can be read in two ways: write {whole}{part} or {whole}.{part}, without the comma."
        )
    if match["rest"][:1] in {",", "."}:
        raise QuantityError(f"“{text.strip()}” holds two decimal marks: write the number with one point.")
    number = re.sub(_GAP, "", whole or "0") + "." + (part or "0")
    return float(f"{match['sign']}{number}e{match['power'] or 0}")


def _begun(text: str, kind: Kind) -> tuple[float, str] | None:
    """The number that a text begins with, and what follows; None if it begins with none.

    ``1/4 in`` and ``1 1/4 in`` are fractions, ``30:1`` is a ratio of thirty; ``1:30`` is written by some for the same
    gear, so it is asked about.
    """
    tidy = text.translate(_TIDY).strip()
    if match := _FRACTION.match(tidy):
        over, under = float(match["over"]), float(match["under"])
        if under == 0:
            raise QuantityError(f"“{text.strip()}” divides by nothing.")
        number = float(match["whole"] or 0) + over / under
        return (-number if match["sign"] == "-" else number), match["rest"]
    if kind.name == "ratio" and (match := _RATIO.match(tidy)):
        left, right = float(match["left"]), float(match["right"])
        if left == 0 or right == 0:
            raise QuantityError(f"“{text.strip()}” is no ratio: neither side may be nothing.")
        if left < right:
            raise QuantityError(
                f"“{text.strip()}” can be read in two ways: write {right / left:g} or {left / right:.4g}."
            )
        return left / right, ""
    if plain := _NUMBER.match(tidy):
        return _digits(plain, text), plain["rest"]
    return None


def _ask(text: str, kind: Kind, default: Unit) -> None:
    """Refuse what two builders would read in two ways, with both."""
    begun = _begun(text, kind)
    if begun is None:
        return
    number, rest, ways = begun[0], begun[1].strip(), ""
    if kind.name == "temperature" and rest in ("K", "k"):
        ways = f"{number:g} °C, or {number - 273.15:g} °C for {number:g} kelvin"
    elif kind.name == "frequency" and rest.lower() == "mhz" and rest not in ("MHz", "mHz"):
        ways = f"{number:g} MHz or {number:g} mHz"
    elif default.symbol == "%" and not rest and 0 < abs(number) < 1:
        ways = f"{100 * number:g} % or {number:g} %"
    if ways:
        raise QuantityError(f"“{text.strip()}” can be read in two ways: write {ways}.")


def _read(text: str, kind: Kind, default: Unit) -> tuple[float, Unit]:
    tidy = text.translate(_TIDY).strip()
    code = _CODE.match(tidy)
    if code and code["letter"] not in "eE":
        joined = code["letter"] + _canonical(code["rest"] or "")
        unit = _unit_for(joined, kind, default) or (_unit_for(code["letter"], kind, default))
        if unit is not None:
            return float(f"{code['sign']}{code['whole']}.{code['part']}"), unit
    begun = _begun(text, kind)
    if begun is None:
        raise QuantityError(f"“{text.strip()}” does not begin with a number.")
    number, rest = begun
    unit = _unit_for(rest, kind, default)
    if unit is None:
        raise QuantityError(f"“{text.strip()}” is not {_article(kind.name)}{_examples(kind, default)}.")
    return number, unit


@lru_cache(maxsize=4096)
def parse(text: str, kind_name: str, unit: str = "") -> Quantity:
    """Read ``text`` as a quantity of a kind; a bare number is in ``unit``.

    ``12.05 V ± 0.07`` carries its doubt: an expanded uncertainty, halved to the standard one.
    Raises QuantityError with a sentence that names the text and what is allowed.
    """
    kind = KINDS[kind_name]
    default = UNITS[unit or kind.units[0]]
    if len(text) > 80:
        raise QuantityError(f"“{text[:20]}…” is too long for {_article(kind.name)}.")
    if not text.strip():
        raise QuantityError(f"Nothing is given{_examples(kind, default)}.")
    main, _, doubt_text = text.replace("+/-", "±").partition("±")
    if doubt_text and re.fullmatch(r"[-+\d.,eE \u202f]*", main.strip()) and not doubt_text.strip().endswith("%"):
        unit_text = re.sub(r"^[-+\d.,eE \u202f]*", "", doubt_text.strip())
        main = f"{main} {unit_text}"
    _ask(main, kind, default)
    number, used = _read(main, kind, default)
    value = number * used.factor + used.offset
    if not abs(value) <= LARGEST:
        raise QuantityError(f"“{text.strip()}” is too large to compute with.")
    doubt: float | None = None
    if doubt_text.strip():
        share = doubt_text.strip().endswith("%") and "%" not in kind.units
        spread, spread_unit = _read(doubt_text.rstrip(" %") if share else doubt_text, kind, used)
        limit = abs(value) * spread / 100 if share else spread * spread_unit.factor
        if limit < 0 or not math.isfinite(limit):
            raise QuantityError(f"“{text.strip()}” has a doubt below zero: write ± and a plain number.")
        doubt = limit / COVERAGE
    elif "±" in text.replace("+/-", "±"):
        raise QuantityError(f"“{text.strip()}” ends at its ±: write how much.")
    # A prefix on what is never printed with one (7k kilograms, 4k7 to 1) is read and shown again without it.
    return Quantity(value, doubt, used.symbol if used.symbol in UNITS else default.symbol)


def _group(number: str) -> str:
    sign, number = ("−", number[1:]) if number.startswith("-") else ("", number)
    whole, dot, part = number.partition(".")
    if len(whole) > 3:
        head = len(whole) % 3
        chunks = ([whole[:head]] if head else []) + [whole[i : i + 3] for i in range(head, len(whole), 3)]
        whole = THIN.join(chunks)
    return sign + whole + dot + part


def _places(value: float, figures: int) -> int:
    if value == 0:
        return 0
    return figures - 1 - math.floor(math.log10(abs(value)) + 1e-12)


def pick_unit(value: float, kind_name: str) -> Unit:
    """The display unit in which ``value`` reads best: the largest that leaves at least one."""
    kind = KINDS[kind_name]
    units = [UNITS[s] for s in kind.display]
    fitting = [u for u in units if abs(value) >= u.factor * 0.9995]
    if value == 0:
        return next((u for u in units if u.factor == 1.0), units[0])
    return fitting[-1] if fitting else units[0]


def fixed(number: float, places: int) -> str:
    """A number with the digits that count, grouped in thousands by thin spaces."""
    rounded = round(number, places) + 0.0
    return _group(f"{rounded:.{max(places, 0)}f}")


MILLION = 1e6
CENT_SHARE = 1e-6
"""A price is told in whole cents where it is that near to one."""
MATERIALS = ("fuse factor", "volumetric heat capacity")
"""Kinds whose SI numbers are that large by nature."""


def show(value: float, kind_name: str, unit: str = "", doubt: float | None = None, figures: int = 3) -> tuple[str, str]:
    """Number and unit as text, to the digits that the doubt (standard, SI) or ``figures`` allows.

    What no builder can read stands in words: a million and more of the largest unit, and less than nothing of what
    cannot be less (it comes of givens that contradict one another).
    """
    used = UNITS[unit] if unit else pick_unit(value, kind_name)
    number = (value - used.offset) / used.factor
    symbol = "" if used.symbol == "1" else used.symbol
    if number < 0 and not KINDS[kind_name].signed:
        return "below 0", symbol
    if abs(number) >= MILLION and kind_name not in MATERIALS:
        return ("over a million" if number > 0 else "below minus a million"), symbol
    leading_one = number != 0 and f"{abs(number):e}"[0] == "1"
    places = _places(number, figures + (1 if leading_one else 0))
    if doubt:
        places = min(_places(doubt * COVERAGE / used.factor, 2), _places(number, figures + 1))
        places = max(places, _places(number, 2))
    else:
        if abs(number - round(number)) <= 1e-9 * abs(number) and abs(number) < 1e6:
            places = 0
        cents = round(100 * number)
        if kind_name == "price" and places > 0 and cents and abs(100 * number - cents) <= CENT_SHARE:
            places = 2
        if kind_name == "fraction":
            places = min(places, 3)
        if kind_name in ("temperature", "temperature difference"):
            places = 0 if abs(number) >= 10 else 1
    return fixed(number, places), symbol


def show_doubt(doubt: float, unit: str) -> str:
    """``±0.17`` in ``unit`` for a standard uncertainty in SI; two figures, k = 2."""
    used = UNITS[unit or "1"]
    spread = doubt * COVERAGE / used.factor
    if spread >= MILLION:
        return "±over a million"
    return "±" + fixed(spread, _places(spread, 2)) if spread else "±0"


def signed_phrase(value: float, kind: str) -> str:
    """A value in words with its sign, also of a kind whose figures have none: a level below ground."""
    return ("−" if value < 0 else "") + phrase(abs(value), kind)


def phrase(value: float, kind_name: str, unit: str = "") -> str:
    """One string: ``12.8 V``."""
    number, symbol = show(value, kind_name, unit)
    return f"{number}{THIN if symbol == '%' else ' '}{symbol}" if symbol else number


def notation(value: float, kind_name: str, unit: str) -> str:
    """Text for a field such that ``parse`` gives the same value back (to 12 figures)."""
    used = UNITS[unit]
    number = f"{(value - used.offset) / used.factor:.12g}"
    symbol = "" if used.symbol == "1" else used.symbol
    return f"{number} {symbol}".strip()
