"""``python -m zinc_whistle``."""

# By its whole name: a worker process of the service reads this file by its place, where nothing is relative.
from zinc_whistle.cli import app

if __name__ == "__main__":
    app()
