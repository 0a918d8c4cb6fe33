"""One arrangement for plain numbers and for arrays that broadcast: what a procedure is written over.

Where a number has no logarithm or no quotient both forms give nan, so that neither stops at a place that is not asked.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np


@dataclass(frozen=True, slots=True)
class Form:
    """The functions of one form; ``within`` is a time inside a span, else 0."""

    exp: Callable[[Any], Any]
    expm1: Callable[[Any], Any]
    log: Callable[[Any], Any]
    over: Callable[[Any, Any], Any]
    within: Callable[[Any, Any], Any]
    larger: Callable[[Any, Any], Any]
    smaller: Callable[[Any, Any], Any]


NUMBERS = Form(
    exp=math.exp,
    expm1=math.expm1,
    log=lambda x: math.log(x) if x > 0 else math.nan,
    over=lambda a, b: a / b if b else math.nan,
    within=lambda t, span: t if 0 < t < span else 0.0,
    larger=max,
    smaller=min,
)
ARRAYS = Form(
    exp=np.exp,
    expm1=np.expm1,
    log=np.log,
    over=np.divide,
    within=lambda t, span: np.where((t > 0) & (t < span), t, 0.0),
    larger=np.maximum,
    smaller=np.minimum,
)
"""To be used with numpy's complaints of division and invalid numbers switched off."""
