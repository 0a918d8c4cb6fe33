"""What is wrong: candidate causes, what each makes every test read, and which test to do next."""

from .finder import Finder, Suspects, find, finder_of
from .symptoms import SYMPTOMS, Symptom

__all__ = ["SYMPTOMS", "Finder", "Suspects", "Symptom", "find", "finder_of"]
