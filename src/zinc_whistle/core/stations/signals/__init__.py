"""The station signals."""
