"""Quick sums: one question, one answer with its working, from the same rules as the stations."""

from .catalogue import SUMS
from .kit import Answer, Sum, SumError, SumInput, work_out

__all__ = ["SUMS", "Answer", "Sum", "SumError", "SumInput", "work_out"]
