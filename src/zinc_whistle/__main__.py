"""``python -m zinc_whistle``."""

from .cli import app

app()
