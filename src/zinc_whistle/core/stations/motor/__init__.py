"""The station motor."""
