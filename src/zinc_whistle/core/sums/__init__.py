"""Quick sums: one question, one answer with its working, from the same rules as the stations."""

from .catalogue import SUMS
from .kit import Answer, Ask, Sum, SumError, work_out

__all__ = ["SUMS", "Answer", "Ask", "Sum", "SumError", "work_out"]
