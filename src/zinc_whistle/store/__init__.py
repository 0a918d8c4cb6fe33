"""Keeps builds, revisions, readings, log entries and parts in one SQLite file."""
