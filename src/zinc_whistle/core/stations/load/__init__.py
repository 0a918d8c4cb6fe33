"""The station load."""
