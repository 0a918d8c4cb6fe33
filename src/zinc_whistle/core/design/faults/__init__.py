"""What is wrong: candidate causes, what each makes every test read, and which test to do next."""

from .finder import Finder, Suspects, finder_of
from .symptoms import SYMPTOMS, Symptom

__all__ = ["SYMPTOMS", "Finder", "Suspects", "Symptom", "finder_of"]
