"""The station bench."""
