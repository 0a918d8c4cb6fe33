"""The station supply."""
