"""The station loop."""
