"""Checks against the outside world, each with its source."""
