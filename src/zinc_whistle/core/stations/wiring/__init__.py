"""The station wiring."""
