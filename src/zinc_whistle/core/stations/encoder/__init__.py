"""The station encoder."""
